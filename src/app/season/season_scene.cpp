// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/season/season_scene.h"

#include <algorithm>
#include <cmath>

namespace marram {
namespace {

constexpr double grip = 6; ///< pixels around a stake or gate that take hold of it

double roundUp(double v, double step) {
    return std::ceil(v / step) * step;
}

} // namespace

void SeasonScene::layOut(const SeasonPicture& picture, const QRectF& area, double lineHeight,
                         const std::vector<double>& labelWidths) {
    first = monday(picture.season.start);
    last = monday(picture.season.end) + 6;
    const double left = lineHeight * 4.2, right = lineHeight * 2.6;
    plot = area.adjusted(left, lineHeight * 0.3, -right, -lineHeight * 0.4);
    dayWidth_ = plot.width() / std::max(7, last - first + 1);

    mostLoad = 100;
    mostFitness = 20;
    for (const auto& [week, points] : picture.plannedWeek)
        mostLoad = std::max(mostLoad, points);
    for (const auto& [week, points] : picture.riddenWeek)
        mostLoad = std::max(mostLoad, points);
    lowestForm = -15;
    highestForm = 25;
    for (const PlannedDay& d : picture.plan.days) {
        mostFitness = std::max(mostFitness, d.fitness);
        lowestForm = std::min(lowestForm, d.form);
        highestForm = std::max(highestForm, d.form);
    }
    for (const PlannedRace& r : picture.plan.races)
        if (r.gate) {
            highestForm = std::max(highestForm, r.gate->high + 2);
            lowestForm = std::min(lowestForm, r.gate->low - 2);
        }
    mostLoad = roundUp(mostLoad * 1.06, 100);
    mostFitness = roundUp(mostFitness * 1.1, 10);
    lowestForm = -roundUp(-lowestForm + 2, 5);
    highestForm = roundUp(highestForm + 2, 5);

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
    load = take(rest * 0.46).adjusted(0, lineHeight * 0.6, 0, -lineHeight * 0.4);
    form = take(rest * 0.40).adjusted(0, lineHeight * 0.6, 0, -lineHeight * 0.5);
    split = take(rest * 0.14).adjusted(0, lineHeight * 0.4, 0, 0);
}

void SeasonScene::placeLabels(const SeasonPicture& picture, double lineHeight,
                              const std::vector<double>& widths) {
    const auto& races = picture.season.races;
    std::vector<size_t> order(races.size());
    for (size_t i = 0; i < order.size(); ++i)
        order[i] = i;
    // The most important races choose first.
    std::sort(order.begin(), order.end(), [&](size_t a, size_t b) {
        return races[a].priority != races[b].priority ? races[a].priority < races[b].priority
                                                      : races[a].date < races[b].date;
    });
    labels_.assign(order.size(), {});
    labelRows_ = 1;
    const double pennant = lineHeight * 0.9, height = lineHeight * 2.1, most = lineHeight * 13;
    for (const size_t i : order) {
        const double stake = xOf(races[i].date) + dayWidth_ / 2;
        const double width = std::min(most, i < widths.size() ? widths[i] : most) + pennant;
        Label best;
        bool placed = false;
        for (int row = 0; row < 4 && !placed; ++row)
            for (const bool left : {false, true}) {
                const QRectF box(left ? stake - width : stake, months.bottom() + row * height, width, height);
                const bool inside =
                    box.left() >= plot.left() - lineHeight && box.right() <= plot.right() + lineHeight * 2;
                const bool free = std::none_of(labels_.begin(), labels_.end(), [&](const Label& l) {
                    return l.box.isValid() && l.box.adjusted(-4, 1, 4, -1).intersects(box);
                });
                if (!inside || !free)
                    continue;
                best = {box, left};
                labelRows_ = std::max(labelRows_, row + 1);
                placed = true;
                break;
            }
        if (!placed)
            best = {QRectF(stake, months.bottom(), width, height), false};
        labels_[i] = best;
    }
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
    return load.bottom() - value / mostFitness * load.height();
}
double SeasonScene::yOfLoad(double points) const {
    return load.bottom() - points / mostLoad * load.height();
}

SeasonHit SeasonScene::hit(const SeasonPicture& picture, QPointF at) const {
    SeasonHit hit;
    if (!plot.adjusted(-grip, 0, grip, grip).contains(at))
        return hit;
    hit.part = SeasonHit::Part::Day;
    hit.date = dateAt(at.x());
    double nearest = 1e9;
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
        if (distance < grip && distance < nearest && (label || at.y() > stakes.top())) {
            nearest = distance;
            hit.part = SeasonHit::Part::Race;
            hit.race = static_cast<int>(r);
        }
    }
    return hit;
}

} // namespace marram
