// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/season/season_scene.h"

#include <algorithm>
#include <cmath>
#include <numeric>

namespace marram {
namespace {

double roundUp(double v, double step) {
    return std::ceil(v / step) * step;
}

Span bounded(Date first, int days) {
    days = std::clamp(days, SeasonScene::shortest, SeasonScene::longest);
    return {first, first + days - 1};
}

} // namespace

Sediment layersOf(const Bands& hours, double trained, double whole, double lowThreshold) {
    Bands points{hours.low * stressPerHour(Bands{1, 0, 0}, lowThreshold),
                 hours.middle * stressPerHour(Bands{0, 1, 0}, lowThreshold),
                 hours.high * stressPerHour(Bands{0, 0, 1}, lowThreshold)};
    if (points.sum() <= 0)
        return {{}, trained + whole};
    const double factor = trained / points.sum();
    return {{points.low * factor, points.middle * factor, points.high * factor}, whole};
}

void SeasonScene::weekScales(const SeasonPicture& picture) {
    const auto within = [&](Date week) { return week + 6 >= first && week <= last; };
    mostLoad = 100;
    mostHours = 5;
    for (const auto* weeks : {&picture.planned, &picture.ridden})
        for (const auto& [week, column] : *weeks)
            if (within(week))
                mostLoad = std::max(mostLoad, column.sum());
    for (const PlannedWeek& w : picture.plan.weeks)
        if (within(w.start))
            mostHours = std::max(mostHours, w.availableHours);
    mostLoad = roundUp(mostLoad * 1.06, 100);
    mostHours = roundUp(mostHours * 1.05, 2);
}

void SeasonScene::scales(const SeasonPicture& picture) {
    weekScales(picture);
    const auto within = [&](Date d) { return first <= d && d <= last; };
    mostFitness = 20;
    leastFitness = 400;
    lowestForm = -15;
    highestForm = 25;
    const auto days = [&](const Plan& plan) {
        for (const PlannedDay& d : plan.days)
            if (within(d.date)) {
                mostFitness = std::max(mostFitness, d.fitness);
                leastFitness = std::min(leastFitness, d.fitness);
                lowestForm = std::min(lowestForm, d.form);
                highestForm = std::max(highestForm, d.form);
            }
    };
    days(picture.plan);
    if (picture.beside)
        days(*picture.beside);
    for (const auto* line : {&picture.record, &picture.lastYear})
        for (const auto& [day, fitness] : *line)
            if (within(day)) {
                mostFitness = std::max(mostFitness, fitness);
                leastFitness = std::min(leastFitness, fitness);
            }
    for (const auto& [day, value] : picture.recordForm)
        if (within(day)) {
            lowestForm = std::min(lowestForm, value);
            highestForm = std::max(highestForm, value);
        }
    for (const PlannedRace& r : picture.plan.races)
        if (r.gate && within(r.date)) {
            highestForm = std::max(highestForm, r.gate->high + 2);
            lowestForm = std::min(lowestForm, r.gate->low - 2);
        }
    mostFitness = roundUp(mostFitness * 1.06, 10);
    // A dune is told by its crest: what never changes under it need not be shown.
    leastFitness = std::floor(0.75 * std::min(leastFitness, mostFitness) / 10) * 10;
    lowestForm = -roundUp(-lowestForm + 2, 5);
    highestForm = roundUp(highestForm + 2, 5);
}

void SeasonScene::layOut(const SeasonPicture& picture, const QRectF& area, double lineHeight,
                         const std::vector<double>& labelWidths, const std::optional<Span>& shown) {
    first = shown ? shown->first : monday(picture.season.start);
    last = shown ? shown->last : std::max(monday(picture.season.end) + 6, first + shortest - 1);
    const double left = std::max(lineHeight * 4.2, namesWidth + 10), right = lineHeight * 1.3;
    plot = area.adjusted(left, lineHeight * 0.3, -right, -lineHeight * 0.4);
    dayWidth_ = plot.width() / std::max(7, last - first + 1);
    scales(picture);

    months = QRectF(plot.left(), plot.top(), plot.width(), lineHeight * 1.5);
    placeLabels(picture, lineHeight, labelWidths);

    double y = plot.top();
    const auto take = [&](double height) {
        const QRectF r(plot.left(), y, plot.width(), height);
        y += height;
        return r;
    };
    months = take(lineHeight * 1.5);
    stakes = take(labelRows_ * lineHeight * 2.15 + lineHeight * 0.4);
    phases = take(lineHeight * 2.1);
    const double rest = plot.bottom() - y;
    load = take(rest * 0.32).adjusted(0, lineHeight * 0.6, 0, -lineHeight * 0.3);
    dune = take(rest * 0.20).adjusted(0, lineHeight * 0.5, 0, -lineHeight * 0.3);
    form = take(rest * 0.33).adjusted(0, lineHeight * 0.5, 0, -lineHeight * 0.4);
    life = take(rest * 0.15).adjusted(0, lineHeight * 0.4, 0, 0);
}

/// The most important races choose first.
static std::vector<size_t> byImportance(const std::vector<Race>& races) {
    std::vector<size_t> order(races.size());
    std::iota(order.begin(), order.end(), size_t{0});
    std::sort(order.begin(), order.end(), [&](size_t a, size_t b) {
        return std::pair(races[a].priority, races[a].date) < std::pair(races[b].priority, races[b].date);
    });
    return order;
}

/// Whether a label stands where another would: under it, under its stake, or with its own stake through it.
static bool inTheWay(const SeasonScene::Label& l, const QRectF& box, double stake) {
    if (!l.box.isValid())
        return false;
    const auto over = [](double x, const QRectF& b) { return x > b.left() - 3 && x < b.right() + 3; };
    const double other = l.left ? l.box.right() : l.box.left();
    return l.box.adjusted(-4, 1, 4, -1).intersects(box) || (l.box.top() <= box.top() && over(other, box)) ||
           (l.box.top() >= box.top() && over(stake, l.box));
}

void SeasonScene::placeLabels(const SeasonPicture& picture, double lineHeight,
                              const std::vector<double>& widths) {
    const auto& races = picture.season.races;
    const std::vector<size_t> order = byImportance(races);
    labels_.assign(order.size(), {});
    labelRows_ = 1;
    const double pennant = lineHeight * 0.9, height = lineHeight * 2.1, most = lineHeight * 13;
    for (const size_t i : order) {
        if (races[i].date < first || races[i].date > last)
            continue;
        const double stake = xOf(races[i].date) + dayWidth_ / 2;
        const double width = std::min(most, i < widths.size() ? widths[i] : most) + pennant;
        Label best;
        bool placed = false;
        for (int row = 0; row < 4 && !placed; ++row)
            for (const bool left : {false, true}) {
                const QRectF box(left ? stake - width : stake, months.bottom() + row * height, width, height);
                const bool inside =
                    box.left() >= plot.left() - lineHeight && box.right() <= plot.right() + lineHeight * 1.2;
                const bool free = std::none_of(labels_.begin(), labels_.end(),
                                               [&](const Label& l) { return inTheWay(l, box, stake); });
                if (!inside || !free)
                    continue;
                best = {box, left};
                labelRows_ = std::max(labelRows_, row + 1);
                placed = true;
                break;
            }
        // Where races crowd, those trained through stand by their stakes alone.
        if (!placed && races[i].priority != Priority::C)
            best = {QRectF(stake, months.bottom(), width, height), false};
        labels_[i] = best;
    }
}

Span SeasonScene::zoomed(double factor, Date around) const {
    const int days = last - first + 1;
    const int to = std::clamp(static_cast<int>(std::lround(days * factor)), shortest, longest);
    // What is under the hand stays under it.
    const double share = static_cast<double>(around - first) / days;
    return bounded(around - static_cast<int>(std::lround(share * to)), to);
}

Span SeasonScene::moved(int days) const {
    return bounded(first + days, last - first + 1);
}

double SeasonScene::xOf(Date date) const {
    return plot.left() + (date - first) * dayWidth_;
}

Date SeasonScene::dateAt(double x) const {
    const int day = static_cast<int>(std::floor((x - plot.left()) / dayWidth_));
    return std::clamp(first + day, first, last);
}

double SeasonScene::yOfForm(double value) const {
    return form.bottom() - (value - lowestForm) / (highestForm - lowestForm) * form.height();
}
double SeasonScene::formAt(double y) const {
    return lowestForm + (form.bottom() - y) / form.height() * (highestForm - lowestForm);
}
double SeasonScene::yOfFitness(double value) const {
    return dune.bottom() - (value - leastFitness) / (mostFitness - leastFitness) * dune.height();
}
double SeasonScene::yOfLoad(double points) const {
    return load.bottom() - points / mostLoad * load.height();
}
double SeasonScene::loadAt(double y) const {
    return (load.bottom() - y) / load.height() * mostLoad;
}

QRectF SeasonScene::ribbonOf(const Away& away) const {
    const double height = std::min(life.height() * 0.36, 15.0);
    const Date from = std::max(away.from, first), to = std::min(away.to, last);
    if (to < from)
        return {};
    return {xOf(from), life.bottom() - height, (to - from + 1) * dayWidth_, height};
}

SeasonHit SeasonScene::hit(const SeasonPicture& picture, QPointF at, double grip) const {
    SeasonHit hit;
    if (!plot.adjusted(-grip, 0, grip, grip).contains(at))
        return hit;
    hit.part = SeasonHit::Part::Day;
    hit.date = dateAt(at.x());
    double nearest = grip;
    for (size_t r = 0; r < picture.season.races.size(); ++r) {
        const Race& race = picture.season.races[r];
        const double stake = xOf(race.date) + dayWidth_ / 2, away = std::abs(at.x() - stake);
        if (const auto gate = gateInForce(race, picture.plan); gate && away < grip + 3 && form.contains(at)) {
            const double low = std::abs(at.y() - yOfForm(gate->low)),
                         high = std::abs(at.y() - yOfForm(gate->high));
            if (std::min(low, high) < grip) {
                hit.part = low < high ? SeasonHit::Part::GateLow : SeasonHit::Part::GateHigh;
                hit.race = static_cast<int>(r);
                return hit;
            }
        }
        const bool label = labels_[r].box.contains(at);
        const double distance = label ? std::min(away, grip - 1) : away;
        // In the strip of phases and over the days away other things are taken hold of.
        const bool elsewhere = phases.contains(at) || life.contains(at);
        if (distance < grip && distance < nearest && (label || (at.y() > stakes.top() && !elsewhere))) {
            nearest = distance;
            hit.part = SeasonHit::Part::Race;
            hit.race = static_cast<int>(r);
        }
    }
    if (hit.race >= 0)
        return hit;
    if (life.contains(at))
        for (size_t i = 0; i < picture.season.away.size(); ++i) {
            const QRectF ribbon = ribbonOf(picture.season.away[i]);
            if (!ribbon.adjusted(-3, 0, 3, 2).contains(at))
                continue;
            const double edge = std::min(grip, ribbon.width() / 3);
            hit.away = static_cast<int>(i);
            hit.part = at.x() < ribbon.left() + edge    ? SeasonHit::Part::AwayFrom
                       : at.x() > ribbon.right() - edge ? SeasonHit::Part::AwayTo
                                                        : SeasonHit::Part::Away;
            return hit;
        }
    const auto& weeks = picture.plan.weeks;
    for (size_t w = 0; w < weeks.size(); ++w) {
        if (monday(weeks[w].start) + 6 < picture.today)
            continue;
        const double x = xOf(monday(weeks[w].start));
        if (phases.contains(at)) {
            if (w > 0 && weeks[w].phase != weeks[w - 1].phase && std::abs(at.x() - x) < grip) {
                hit.part =
                    weeks[w].phase == Phase::Taper ? SeasonHit::Part::TaperEdge : SeasonHit::Part::PhaseEdge;
                hit.date = monday(weeks[w].start);
                return hit;
            }
            if (weeks[w].kind == WeekKind::Deload && at.x() >= x && at.x() < x + 7 * dayWidth_)
                hit.part = SeasonHit::Part::Deload;
        } else if (load.adjusted(0, -grip, 0, 0).contains(at) && at.x() >= x && at.x() < x + 7 * dayWidth_ &&
                   weeks[w].hours > 0 && std::abs(at.y() - yOfLoad(weeks[w].stress)) < grip) {
            hit.part = SeasonHit::Part::WeekTop;
        }
    }
    return hit;
}

qint64 raceKey(qint64 season, const Race& race) {
    // FNV-1a (Fowler, Noll & Vo; constants from memory), kept positive.
    quint64 hash = 14695981039346656037ULL;
    const auto mix = [&hash](quint64 byte) { hash = (hash ^ byte) * 1099511628211ULL; };
    for (const char c : race.name)
        mix(static_cast<unsigned char>(c));
    for (const qint64 number : {season, static_cast<qint64>(race.date.days)})
        for (int shift = 0; shift < 64; shift += 8)
            mix((static_cast<quint64>(number) >> shift) & 0xff);
    return static_cast<qint64>(hash >> 1);
}

Race* raceOfKey(qint64 key, qint64 season, Season& in) {
    for (Race& race : in.races)
        if (raceKey(season, race) == key)
            return &race;
    return nullptr;
}

} // namespace marram
