// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/season/season_view.h"
#include "app/shell/empty_page.h"
#include "app/theme/theme.h"

#include <QHBoxLayout>
#include <QMenu>
#include <QPrinter>
#include <QSplitter>
#include <utility>

namespace marram {
namespace {

/// Load of the weeks: what is planned, from the plan and what was kept of earlier ones; what was ridden.
void fillWeeks(const Workspace& workspace, SeasonPicture& p) {
    std::map<Date, double> trained, whole;
    for (const PlannedDay& d : p.plan.days) {
        const auto kept = d.past ? workspace.chosen.plannedOn(d.date) : std::nullopt;
        const double stress = d.past ? (kept ? kept->stress : 0) : d.stress;
        const bool race =
            (d.past ? kept && kept->role == Role::Race : d.role == Role::Race) || (!d.past && d.hours <= 0);
        (race ? whole : trained)[monday(d.date)] += stress;
    }
    // What was planned before this season began.
    for (auto it = workspace.chosen.planned().begin();
         it != workspace.chosen.planned().end() && it->first < p.season.start; ++it)
        (it->second.role == Role::Race ? whole : trained)[monday(it->first)] += it->second.stress;
    std::map<Date, Bands> hours;
    for (const PlannedWeek& w : p.plan.weeks)
        hours[monday(w.start)] = w.bandHours;
    for (const auto* part : {&trained, &whole})
        for (const auto& [week, points] : *part)
            p.planned[week] = layersOf(hours[week], trained[week], whole[week], p.season.lowThreshold);
    struct Done {
        Bands hours;
        double inBands = 0, whole = 0;
    };
    std::map<Date, Done> done;
    for (const RideRecord& r : workspace.chosen.rides()) {
        if (r.excluded)
            continue;
        Done& week = done[monday(r.day)];
        (r.score.bandSeconds ? week.inBands : week.whole) += r.score.stress.value_or(0);
        if (r.score.bandSeconds) {
            week.hours.low += r.score.bandSeconds->low / 3600;
            week.hours.middle += r.score.bandSeconds->middle / 3600;
            week.hours.high += r.score.bandSeconds->high / 3600;
        }
    }
    for (const auto& [week, d] : done)
        p.ridden[week] = layersOf(d.hours, d.inBands, d.whole, p.season.lowThreshold);
}

/// Fitness and form of the record before the plan, and fitness a year before each day of it.
void fillRecord(const Workspace& workspace, SeasonPicture& p) {
    const LoadHistory& history = workspace.chosen.history();
    const Date begin = history.begin();
    if (workspace.chosen.rides().empty())
        return;
    for (Date d = begin; d < std::min(p.season.start, p.today); d = d + 1) {
        p.record[d] = history.before(d + 1).fitness;
        p.recordForm[d] = history.before(d).form();
    }
    constexpr int year = 364; // whole weeks
    for (Date d = std::max(begin + year, p.season.start); d <= p.season.end && d - year < p.today; d = d + 1)
        p.lastYear[d] = history.before(d - year + 1).fitness;
}

SeasonPicture pictureOf(const Workspace& workspace) {
    SeasonPicture p;
    const auto& shown = workspace.plans.season();
    if (!shown)
        return p;
    p.subject = workspace.plans.seasonId();
    p.version = workspace.chosen.seasonVersion();
    p.season = *shown;
    p.today = workspace.today();
    if (const RiderRecord* r = workspace.chosen.rider())
        p.season.hours = r->hours;
    if (const Solved* s = workspace.plans.solved()) {
        p.plan = s->plan;
        p.hasPlan = true;
        p.misses = workspace.plans.misses();
        p.chance = chanceByDay(workspace.plans.whole(), p.plan, p.misses.rate);
    }
    if (const Plan* beside = workspace.plans.beside()) {
        p.beside = *beside;
        p.besideName = workspace.plans.alternative() != 0 ? "the season in force" : "before";
    }
    p.races = workspace.plans.chances();
    if (!workspace.plans.trying()) {
        p.answers = workspace.chosen.knownAnswers(p.season);
        p.rhythm = workspace.chosen.proposedRhythm();
    }
    fillWeeks(workspace, p);
    fillRecord(workspace, p);
    for (const CheckIn& c : workspace.chosen.checkIns()) {
        bool low = false;
        for (const CheckInScale& s : checkInScales)
            low = low || (c.*s.value && *(c.*s.value) <= 2);
        p.checks[c.day] = {c.ill, low};
    }
    return p;
}

} // namespace

SeasonView::SeasonView(Workspace& workspace, QWidget* parent)
    : QWidget(parent), workspace_(workspace), stack_(new QStackedWidget), canvas_(new SeasonCanvas),
      inspector_(new SeasonInspector) {
    auto* layout = new QHBoxLayout(this);
    layout->setContentsMargins(0, 0, 0, 0);
    layout->addWidget(stack_);
    auto* split = new QSplitter(Qt::Horizontal);
    split->addWidget(canvas_);
    split->addWidget(inspector_);
    split->setStretchFactor(0, 1);
    split->setSizes({930, 340});
    split->setCollapsible(0, false);
    inspector_->setMinimumWidth(300);
    stack_->addWidget(makeEmpty());
    stack_->addWidget(split);

    inspectLater_.setSingleShot(true);
    connect(&inspectLater_, &QTimer::timeout, this, &SeasonView::inspect);
    connect(&workspace_.plans, &PlanService::seasonShown, this, [this] {
        // While the hand moves the plan follows within a few milliseconds: painting waits for it.
        if (!workspace_.plans.trying())
            refresh();
    });
    connect(&workspace_.chosen, &ChosenRider::ridesChanged, this, &SeasonView::refresh);
    connect(&workspace_.plans, &PlanService::planChanged, this, [this] {
        limitsReady_ = false;
        refresh();
    });
    connect(&workspace_.plans, &PlanService::limitsChanged, this, [this] {
        limitsReady_ = true;
        refresh();
    });
    connect(&workspace_.chosen, &ChosenRider::riderChanged, this, [this] {
        if (std::exchange(rider_, workspace_.chosen.id()) != rider_)
            canvas_->select(std::nullopt, -1);
        refresh();
    });
    connect(canvas_, &SeasonCanvas::selected, this, &SeasonView::refresh);
    connect(canvas_, &SeasonCanvas::tried, &workspace_.plans, &PlanService::trySeason);
    connect(canvas_, &SeasonCanvas::letGo, &workspace_.plans, &PlanService::stopTrying);
    connect(canvas_, &SeasonCanvas::changed, this, &SeasonView::change);
    connect(inspector_, &SeasonInspector::changed, this, &SeasonView::change);
    connect(canvas_, &SeasonCanvas::wantsRace, this, [this](Date day) { addRace(day); });
    connect(canvas_, &SeasonCanvas::wantsMenu, this, &SeasonView::menu);
    refresh();
}

QWidget* SeasonView::makeEmpty() {
    return emptyPage(
        "No season yet",
        "A season begins with a race. Start with one about half a year ahead and move it to its day.",
        "Start a season", [this] {
            if (workspace_.chosen.rider())
                workspace_.chosen.setSeason(workspace_.chosen.freshSeason(), "Start a season");
        });
}

void SeasonView::change(qint64 season, const Season& before, const Season& after, const QString& what) {
    workspace_.roster.editSeason(season, before, after, what);
    workspace_.plans.stopTrying(); // where nothing came of it
}

void SeasonView::refresh() {
    stack_->setCurrentIndex(workspace_.plans.season() ? 1 : 0);
    picture_ = pictureOf(workspace_);
    if (!workspace_.chosen.season())
        return;
    canvas_->show(picture_);
    if (!workspace_.plans.trying())
        inspect();
    else if (!inspectLater_.isActive())
        inspectLater_.start(120);
}

void SeasonView::inspect() {
    inspectLater_.stop();
    if (workspace_.chosen.season())
        inspector_->show(picture_, canvas_->marks(), workspace_.plans.limits(), limitsReady_);
}

void SeasonView::openOn(std::optional<Date> day, int race) {
    canvas_->select(day, race);
    refresh();
}

void SeasonView::addRace(Date day, Priority priority) {
    if (!workspace_.chosen.season())
        return;
    Season s = *workspace_.chosen.season();
    Race race;
    race.name = std::string("New race ") + nameOf(priority);
    race.date = std::clamp(day, s.start, s.end);
    race.priority = priority;
    s.races.push_back(race);
    workspace_.chosen.setSeason(s, "Add a race");
    openOn(race.date, static_cast<int>(s.races.size()) - 1);
}

void SeasonView::removeSelectedRace() {
    const int race = canvas_->marks().race;
    if (!workspace_.chosen.season() || race < 0)
        return;
    Season s = *workspace_.chosen.season();
    const QString name = QString::fromStdString(s.races[static_cast<size_t>(race)].name);
    s.races.erase(s.races.begin() + race);
    canvas_->select(canvas_->marks().day, -1);
    workspace_.chosen.setSeason(s, "Remove " + name);
}

void SeasonView::setSelectedPriority(Priority priority) {
    const int race = canvas_->marks().race;
    if (!workspace_.chosen.season() || race < 0)
        return;
    Season s = *workspace_.chosen.season();
    Race& r = s.races[static_cast<size_t>(race)];
    if (r.priority == priority)
        return;
    r.priority = priority;
    r.gate.reset();
    workspace_.chosen.setSeason(
        s, QString("Make %1 a %2 race").arg(QString::fromStdString(r.name), nameOf(priority)));
}

void SeasonView::pinSelectedWeek(WeekKind kind) {
    if (!workspace_.chosen.season() || !canvas_->marks().day)
        return;
    Season s = *workspace_.chosen.season();
    const Date week = monday(*canvas_->marks().day);
    auto found =
        std::find_if(s.weeks.begin(), s.weeks.end(), [&](const WeekPin& p) { return p.start == week; });
    if (found == s.weeks.end())
        found = s.weeks.insert(s.weeks.end(), WeekPin{week, std::nullopt, std::nullopt, std::nullopt});
    const bool same = found->kind == kind;
    found->kind = same ? std::nullopt : std::optional(kind);
    if (found->empty())
        s.weeks.erase(found);
    workspace_.chosen.setSeason(s, QString(same ? "Unpin the %1 of %2" : "Pin a %1 in the week of %2")
                                       .arg(nameOf(kind), QString::fromStdString(dayText(week))));
}

void SeasonView::away(Date day, AwayWhy why) {
    Season s = *workspace_.chosen.season();
    const Date week = monday(day);
    s.away.push_back({week, week + 6, why, why == AwayWhy::Camp ? std::optional(800.0) : std::nullopt});
    workspace_.chosen.setSeason(
        s, QString("Put a %1 in the week of %2").arg(nameOf(why), QString::fromStdString(dayText(week))));
}

void SeasonView::menu(Date day, int race, const QPoint& place) {
    QMenu menu(this);
    if (race >= 0) {
        for (const Priority p : {Priority::A, Priority::B, Priority::C})
            menu.addAction(QString("Make it a %1 race").arg(nameOf(p)), this,
                           [this, p] { setSelectedPriority(p); });
        menu.addAction("Remove the race", this, &SeasonView::removeSelectedRace);
    } else {
        menu.addAction("Add a race on this day", this, [this, day] { addRace(day); });
        menu.addSeparator();
        for (const WeekKind k : {WeekKind::Deload, WeekKind::Build, WeekKind::Break})
            menu.addAction(QString("Pin this week as %1").arg(nameOf(k)), this,
                           [this, k] { pinSelectedWeek(k); });
        menu.addSeparator();
        for (const AwayWhy w : {AwayWhy::Holiday, AwayWhy::Illness, AwayWhy::Camp})
            menu.addAction(QString("This week: %1").arg(nameOf(w)), this, [this, day, w] { away(day, w); });
        const Season& s = *workspace_.chosen.season();
        for (size_t i = 0; i < s.away.size(); ++i)
            if (s.away[i].from <= day && day <= s.away[i].to)
                menu.addAction(QString("Take out the %1").arg(nameOf(s.away[i].why)), this, [this, i] {
                    Season after = *workspace_.chosen.season();
                    after.away.erase(after.away.begin() + static_cast<long>(i));
                    workspace_.chosen.setSeason(after, "Take out days away");
                });
    }
    menu.exec(place);
}

void SeasonView::print(QPrinter& printer) {
    if (!picture_.hasPlan)
        return;
    QPainter painter(&printer);
    const QRectF page = printer.pageLayout().paintRectPixels(printer.resolution());
    // Painted at screen size and scaled, so that paper and screen look the same.
    const double width = 1100, factor = page.width() / width, height = page.height() / factor;
    painter.scale(factor, factor);
    painter.setFont(typeface(Type::Title, true));
    painter.setPen(Qt::black);
    const RiderRecord* rider = workspace_.chosen.rider();
    painter.drawText(QRectF(0, 0, width, 30), Qt::AlignLeft,
                     (rider ? rider->name : QString()) + " · season to " +
                         QString::fromStdString(dayText(picture_.season.end, picture_.today)));
    SeasonScene scene;
    const double footer = 40;
    scene.layOut(picture_, QRectF(0, 34, width, height - 34 - footer),
                 QFontMetricsF(typeface(Type::Small)).height(), raceLabelWidths(picture_));
    paintSeason(painter, scene, picture_, {});
    painter.setFont(typeface(Type::Small));
    painter.setPen(Qt::black);
    painter.drawText(QRectF(0, height - footer + 4, width, footer), Qt::AlignLeft | Qt::TextWordWrap,
                     "A plan is advice to a coach, not a diagnosis. Stop and see a doctor for fever, chest "
                     "pain, fainting, palpitations or unusual breathlessness, and for fatigue that does not "
                     "lift in two weeks. Minors, pregnancy, heart or metabolic disease and return from "
                     "illness or injury: under licensed care.");
}

} // namespace marram
