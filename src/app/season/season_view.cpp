// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/season/season_view.h"
#include "app/season/compare_sheet.h"
#include "app/season/season_end.h"
#include "app/season/season_tries.h"
#include "app/settings/settings.h"
#include "app/shell/empty_page.h"
#include "app/shell/stack.h"
#include "app/theme/theme.h"
#include "wording/wording.h"

#include <QComboBox>
#include <QHBoxLayout>
#include <QMenu>
#include <QPrinter>
#include <QSplitter>
#include <QToolButton>
#include <QVBoxLayout>
#include <utility>

namespace marram {

SeasonView::SeasonView(Workspace& workspace, QWidget* parent)
    : QWidget(parent), workspace_(workspace), stack_(new Stack), canvas_(new SeasonCanvas),
      inspector_(new SeasonInspector) {
    auto* layout = new QHBoxLayout(this);
    layout->setContentsMargins(0, 0, 0, 0);
    layout->addWidget(stack_);
    auto* split = new QSplitter(Qt::Horizontal);
    auto* left = new QWidget;
    auto* above = new QVBoxLayout(left);
    above->setContentsMargins(0, 0, 0, 0);
    above->setSpacing(0);
    above->addWidget(makeStrip());
    ground_ = new Stack;
    races_ = new RacesPage(workspace_);
    ground_->addWidget(canvas_);
    ground_->addWidget(races_);
    above->addWidget(ground_, 1);
    split->addWidget(left);
    split->addWidget(inspector_);
    split->setStretchFactor(0, 1);
    split->setSizes({930, 340});
    split->setCollapsible(0, false);
    inspector_->setMinimumWidth(300);
    stack_->addWidget(makeEmpty());
    stack_->addWidget(split);

    inspectLater_.setSingleShot(true);
    waitForPlan_.setSingleShot(true);
    connect(&waitForPlan_, &QTimer::timeout, this, &SeasonView::gather);
    connect(&inspectLater_, &QTimer::timeout, this, &SeasonView::inspect);
    connect(&workspace_.plans, &PlanService::seasonShown, this, [this] {
        // While the hand moves the plan follows within a few milliseconds: painting waits for it.
        if (!workspace_.plans.trying())
            refresh();
    });
    connect(&workspace_.chosen, &ChosenRider::ridesChanged, this, &SeasonView::refresh);
    connect(&workspace_.plans, &PlanService::planChanged, this, &SeasonView::refresh);
    connect(&workspace_.plans, &PlanService::limitsChanged, this, &SeasonView::refresh);
    connect(&workspace_.chosen, &ChosenRider::riderChanged, this, [this] {
        if (std::exchange(rider_, workspace_.chosen.id()) != rider_)
            canvas_->select(std::nullopt, -1);
        refresh();
    });
    connect(canvas_, &SeasonCanvas::selected, this, [this] {
        refresh();
        if (waitForPlan_.isActive())
            inspect(); // what is chosen is told of what is drawn
    });
    connect(canvas_, &SeasonCanvas::tried, &workspace_.plans, &PlanService::trySeason);
    connect(canvas_, &SeasonCanvas::letGo, &workspace_.plans, &PlanService::stopTrying);
    connect(canvas_, &SeasonCanvas::changed, this, &SeasonView::change);
    connect(inspector_, &SeasonInspector::changed, this, &SeasonView::change);
    connect(races_, &RacesPage::changed, this, &SeasonView::change);
    connect(races_, &RacesPage::chosen, this, &SeasonView::openOn);
    connect(races_, &RacesPage::wantsRace, this, [this] { addRace(workspace_.today() + 56); });
    connect(canvas_, &SeasonCanvas::wantsRace, this, [this](Date day) { addRace(day); });
    connect(canvas_, &SeasonCanvas::wantsMenu, this, &SeasonView::menu);
    refresh();
}

QWidget* SeasonView::makeStrip() {
    auto* strip = new QWidget;
    auto* layout = new QHBoxLayout(strip);
    layout->setContentsMargins(14, 2, 10, 0);
    which_ = new QComboBox;
    which_->setObjectName("whichSeason");
    which_->setAccessibleName(wording("The season shown"));
    which_->setSizeAdjustPolicy(QComboBox::AdjustToContents);
    layout->addWidget(which_);
    const auto button = [&](const QString& words, const QString& name, const QString& tip) {
        auto* b = new QToolButton;
        b->setText(words);
        b->setObjectName(name);
        b->setToolTip(tip);
        b->setFocusPolicy(Qt::TabFocus);
        layout->addWidget(b);
        return b;
    };
    try_ = button(wording("Try"), "tryButton",
                  wording("Change something beside the season, and see what it does"));
    try_->setMenu(new QMenu(try_));
    try_->setPopupMode(QToolButton::InstantPopup);
    connect(try_->menu(), &QMenu::aboutToShow, this, &SeasonView::fillTries);
    keep_ = button(wording("Keep it"), "keepButton", wording("The alternative becomes the season"));
    drop_ = button(wording("Drop it"), "dropButton", wording("Back to the season as it was"));
    connect(keep_, &QToolButton::clicked, this, &SeasonView::keepAlternative);
    connect(drop_, &QToolButton::clicked, this, &SeasonView::dropAlternative);
    over_ = button(wording("It is over: what next"), "overButton",
                   wording("How it went, and the next season from it"));
    connect(over_, &QToolButton::clicked, this, &SeasonView::lookBack);
    for (QToolButton* b : {keep_, drop_, over_})
        b->hide(); // until there is something to keep, to drop, or to look back on
    layout->addStretch();
    raceList_ = button(wording("Races"), "racesButton", wording("The races in a list, and what each asks"));
    raceList_->setCheckable(true);
    connect(raceList_, &QToolButton::toggled, this, &SeasonView::showRaces);
    connect(button(wording("Side by side"), "compareButton",
                   wording("Schools, rhythms, orders, tapers and alternatives at once")),
            &QToolButton::clicked, this, &SeasonView::compare);
    connect(button(wording("On a page"), "pageButton",
                   wording("For the wall: PDF, SVG, PNG, print, calendar, CSV")),
            &QToolButton::clicked, this, &SeasonView::showPage);
    connect(which_, &QComboBox::activated, this,
            [this](int i) { workspace_.plans.lookAt(which_->itemData(i).toLongLong()); });
    return strip;
}

void SeasonView::fillStrip() {
    std::vector<std::pair<QString, qint64>> seasons{{wording("the season"), 0}};
    for (const SeasonRecord& s : workspace_.chosen.seasons())
        if (s.standing == SeasonStanding::Alternative)
            seasons.emplace_back(s.name.isEmpty() ? wording("alternative") : s.name, s.id);
    // A list that is open under the hand is not made anew for nothing.
    if (seasons != listed_) {
        which_->clear();
        for (const auto& [name, id] : seasons)
            which_->addItem(name, id);
        listed_ = seasons;
    }
    which_->setCurrentIndex(std::max(0, which_->findData(workspace_.plans.alternative())));
    which_->setVisible(which_->count() > 1);
    keep_->setVisible(workspace_.plans.alternative() != 0);
    drop_->setVisible(workspace_.plans.alternative() != 0);
    const auto& season = workspace_.chosen.season();
    over_->setVisible(season && season->end < workspace_.today());
}

void SeasonView::fillTries() {
    QMenu* menu = try_->menu();
    menu->clear();
    const auto& decided = workspace_.plans.decided();
    if (!decided)
        return;
    menu->addAction(wording("A copy, to change by hand"), this,
                    [this] { tryOut({}, *workspace_.plans.decided()); });
    menu->addSeparator();
    SeasonPicture p = picture_;
    p.season = *decided;
    if (const RiderRecord* r = workspace_.chosen.rider())
        p.season.hours = r->hours;
    std::map<QString, QMenu*> groups;
    for (const SeasonTry& change : changesToTry(p, canvas_->marks().day.value_or(p.today))) {
        QMenu* in = menu;
        if (!change.group.isEmpty()) {
            if (!groups.contains(change.group))
                groups[change.group] = menu->addMenu(change.group);
            in = groups[change.group];
        }
        QString words = change.name;
        words[0] = words[0].toUpper();
        in->addAction(words, this, [this, change] { tryOut(change.name, change.season); });
    }
}

const SeasonRecord* SeasonView::alternative() const {
    for (const SeasonRecord& s : workspace_.chosen.seasons())
        if (s.id == workspace_.plans.alternative())
            return &s;
    return nullptr;
}

void SeasonView::tryOut(const QString& name, const Season& season) {
    if (!workspace_.chosen.season())
        return;
    SeasonRecord branch;
    branch.rider = workspace_.chosen.id();
    branch.standing = SeasonStanding::Alternative;
    int count = 1;
    for (const SeasonRecord& s : workspace_.chosen.seasons())
        count += s.standing == SeasonStanding::Alternative ? 1 : 0;
    branch.name = name.isEmpty() ? wording("alternative %1").arg(count) : name;
    branch.branchedFrom = workspace_.chosen.seasonId();
    branch.season = season;
    workspace_.roster.edits().editAlternative(std::nullopt, branch, wording("Try %1", branch.name),
                                              [&plans = workspace_.plans](qint64 id) { plans.lookAt(id); });
}

void SeasonView::keepAlternative() {
    if (const SeasonRecord* branch = alternative()) {
        const qint64 id = branch->id;
        const QString what = wording("Keep %1", branch->name);
        workspace_.plans.lookAt(0);
        workspace_.roster.edits().keepAlternative(workspace_.chosen.seasonId(), id, what);
    }
}

void SeasonView::dropAlternative() {
    if (const SeasonRecord* branch = alternative()) {
        const SeasonRecord gone = *branch;
        workspace_.plans.lookAt(0);
        workspace_.roster.edits().editAlternative(gone, std::nullopt, wording("Drop %1", gone.name));
    }
}

void SeasonView::renameAlternative(const QString& name) {
    const SeasonRecord* branch = alternative();
    if (!branch || name.trimmed().isEmpty())
        return;
    SeasonRecord after = *branch;
    after.name = name.trimmed();
    workspace_.roster.edits().editAlternative(*branch, after, wording("Rename an alternative"));
}

void SeasonView::compare() {
    if (!workspace_.plans.decided())
        return;
    auto* sheet = new CompareSheet(workspace_, this);
    connect(sheet, &CompareSheet::wantsTry, this, &SeasonView::tryOut);
    sheet->show();
}

void SeasonView::lookBack() {
    if (!workspace_.chosen.seasons().empty())
        (new SeasonEnd(workspace_, this))->show();
}

void SeasonView::showRaces(bool on) {
    raceList_->setChecked(on);
    ground_->setCurrentIndex(on ? 1 : 0);
    refresh();
}

QWidget* SeasonView::makeEmpty() {
    return emptyPage(
        wording("No season yet"),
        wording(
            "A season begins with a race. Start with one about half a year ahead and move it to its day."),
        wording("Start a season"), [this] {
            if (workspace_.chosen.rider())
                workspace_.chosen.edits().setSeason(workspace_.chosen.facts().freshSeason(),
                                                    wording("Start a season"));
        });
}

void SeasonView::change(qint64 season, const Season& before, const Season& after, const QString& what) {
    workspace_.roster.edits().editSeason(season, before, after, what);
    workspace_.plans.stopTrying(); // where nothing came of it
}

void SeasonView::showEvent(QShowEvent* event) {
    QWidget::showEvent(event);
    if (std::exchange(behind_, false))
        refresh();
}

void SeasonView::refresh() {
    // Out of sight nothing is gathered; it is caught up with when the view is shown.
    behind_ = !isVisible();
    if (behind_)
        return;
    // While this version is being solved the picture of the one before, whole as it is, stays for a moment:
    // most plans are there before an eye could see the gap.
    constexpr int blink = 150; // ms
    if (workspace_.plans.season() && !workspace_.plans.shown() && workspace_.plans.solving() &&
        picture_.hasPlan && picture_.subject == workspace_.plans.seasonId() &&
        picture_.rider == workspace_.chosen.id()) {
        if (!waitForPlan_.isActive())
            waitForPlan_.start(blink);
        return;
    }
    gather();
}

void SeasonView::gather() {
    waitForPlan_.stop();
    stack_->setCurrentIndex(workspace_.plans.season() ? 1 : 0);
    picture_ = pictureOf(workspace_);
    if (!workspace_.plans.season())
        return;
    if (!workspace_.plans.trying())
        fillStrip();
    canvas_->show(picture_);
    if (ground_->currentIndex() == 1)
        races_->show(picture_, canvas_->marks().race);
    if (!workspace_.plans.trying())
        inspect();
    else
        inspectLater_.start(120); // once the hand rests: what it does stands beside it until then
}

void SeasonView::inspect() {
    inspectLater_.stop();
    picture_.dayWhy.clear();
    if (picture_.of && canvas_->marks().day && !picture_.of->trying)
        picture_.dayWhy = whyDay(picture_.of->whole, *picture_.of->solved, *canvas_->marks().day);
    if (picture_.subject != 0)
        inspector_->show(picture_, canvas_->marks(), picture_.limits, picture_.explained);
}

void SeasonView::openOn(std::optional<Date> day, int race) {
    canvas_->select(day, race);
    refresh();
}

void SeasonView::edit(const Season& after, const QString& what) {
    if (workspace_.plans.decided())
        change(workspace_.plans.seasonId(), *workspace_.plans.decided(), after, what);
}

void SeasonView::addRace(Date day, Priority priority) {
    if (!workspace_.plans.decided())
        return;
    Season s = *workspace_.plans.decided();
    Race race;
    race.name = phrase("New race %1", nameOf(priority));
    race.date = std::clamp(day, s.start, s.end);
    race.priority = priority;
    // By its name and day it is known from the others.
    const auto taken = [&](const std::string& name) {
        return std::any_of(s.races.begin(), s.races.end(),
                           [&](const Race& r) { return r.name == name && r.date == race.date; });
    };
    const std::string plain = race.name;
    for (int n = 2; taken(race.name); ++n)
        race.name = plain + " " + std::to_string(n);
    s.races.push_back(race);
    edit(s, wording("Add a race"));
    canvas_->selectRace(race.name, race.date);
    refresh();
}

/// The chosen race in the season as the coach set it now, or null.
Race* SeasonView::chosenRaceOf(Season& season) const {
    const int at = canvas_->marks().race;
    if (at < 0 || static_cast<size_t>(at) >= picture_.season.races.size())
        return nullptr;
    const Race& shown = picture_.season.races[static_cast<size_t>(at)];
    for (Race& r : season.races)
        if (r.name == shown.name && r.date == shown.date)
            return &r;
    return nullptr;
}

void SeasonView::removeSelectedRace() {
    if (!workspace_.plans.decided())
        return;
    Season s = *workspace_.plans.decided();
    const Race* race = chosenRaceOf(s);
    if (!race)
        return;
    const QString name = QString::fromStdString(race->name);
    s.races.erase(s.races.begin() + (race - s.races.data()));
    canvas_->select(canvas_->marks().day, -1);
    edit(s, wording("Remove %1", name));
}

void SeasonView::setSelectedPriority(Priority priority) {
    if (!workspace_.plans.decided())
        return;
    Season s = *workspace_.plans.decided();
    Race* chosen = chosenRaceOf(s);
    if (!chosen)
        return;
    Race& r = *chosen;
    if (r.priority == priority)
        return;
    r.priority = priority;
    r.gate.reset();
    edit(s, wording("Make %1 a %2 race").arg(QString::fromStdString(r.name), wording(nameOf(priority))));
}

void SeasonView::pinSelectedWeek(WeekKind kind) {
    if (!workspace_.plans.decided() || !canvas_->marks().day)
        return;
    Season s = *workspace_.plans.decided();
    const Date week = monday(*canvas_->marks().day);
    auto found =
        std::find_if(s.weeks.begin(), s.weeks.end(), [&](const WeekPin& p) { return p.start == week; });
    if (found == s.weeks.end())
        found = s.weeks.insert(s.weeks.end(), WeekPin{week, std::nullopt, std::nullopt, std::nullopt});
    const bool same = found->kind == kind;
    found->kind = same ? std::nullopt : std::optional(kind);
    if (found->empty())
        s.weeks.erase(found);
    edit(s, QString(same ? wording("Unpin the %1 of %2") : wording("Pin a %1 in the week of %2"))
                .arg(wording(nameOf(kind)), QString::fromStdString(dayText(week))));
}

void SeasonView::away(std::optional<Date> day, AwayWhy why) {
    if (!workspace_.plans.decided())
        return;
    Season s = *workspace_.plans.decided();
    const Date week = monday(day.value_or(canvas().marks().day.value_or(workspace_.today())));
    if (week > s.end || week + 6 < s.start)
        return;
    s.away.push_back({week, week + 6, why, why == AwayWhy::Camp ? std::optional(800.0) : std::nullopt});
    edit(s, wording("Put a %1 in the week of %2")
                .arg(wording(nameOf(why)), QString::fromStdString(dayText(week))));
}

void SeasonView::menu(Date day, int race, const QPoint& place) {
    if (!workspace_.plans.decided())
        return;
    // Not waited for: what changes while it is open changes under it, and what is chosen is looked up anew.
    auto* opened = new QMenu(this);
    QMenu& menu = *opened;
    menu.setAttribute(Qt::WA_DeleteOnClose);
    menu.setObjectName("seasonMenu");
    if (race >= 0) {
        for (const Priority p : {Priority::A, Priority::B, Priority::C})
            menu.addAction(wording("Make it a %1 race").arg(wording(nameOf(p))), this,
                           [this, p] { setSelectedPriority(p); });
        menu.addAction(wording("Remove the race"), this, &SeasonView::removeSelectedRace);
    } else {
        menu.addAction(wording("Add a race on this day"), this, [this, day] { addRace(day); });
        menu.addSeparator();
        for (const WeekKind k : {WeekKind::Deload, WeekKind::Build, WeekKind::Break})
            menu.addAction(wording("Pin this week as %1").arg(wording(nameOf(k))), this,
                           [this, k] { pinSelectedWeek(k); });
        menu.addSeparator();
        for (const AwayWhy w : {AwayWhy::Holiday, AwayWhy::Illness, AwayWhy::Camp})
            menu.addAction(wording("This week: %1").arg(wording(nameOf(w))), this,
                           [this, day, w] { away(day, w); });
        const Season& s = *workspace_.plans.decided();
        for (size_t i = 0; i < s.away.size(); ++i)
            if (s.away[i].from <= day && day <= s.away[i].to)
                menu.addAction(wording("Take out the %1").arg(wording(nameOf(s.away[i].why))), this,
                               [this, gone = s.away[i]] {
                                   if (!workspace_.plans.decided())
                                       return;
                                   Season after = *workspace_.plans.decided();
                                   const auto found = std::find(after.away.begin(), after.away.end(), gone);
                                   if (found == after.away.end())
                                       return;
                                   after.away.erase(found);
                                   edit(after, wording("Take out days away"));
                               });
    }
    menu.popup(place);
}

void SeasonView::print(QPrinter& printer) {
    if (workspace_.plans.season() && behind_)
        picture_ = pictureOf(workspace_);
    if (!picture_.hasPlan)
        return;
    QPainter painter(&printer);
    const QRectF page = printer.pageLayout().paintRectPixels(printer.resolution());
    paintWallPage(painter, page.size(), picture_, wallWords());
}

WallWords SeasonView::wallWords() const {
    const RiderRecord* rider = workspace_.chosen.rider();
    if (!rider)
        return {};
    return {rider->name, setting("healthOnPaper").toBool() ? rider->cautions : QString()};
}

void SeasonView::showPage() {
    if (behind_ || !picture_.hasPlan)
        picture_ = pictureOf(workspace_);
    if (!picture_.of)
        return;
    const WallWords words = wallWords();
    auto* page = new WallPage(
        picture_, picture_.of->whole, words,
        QString("%1-%2").arg(words.rider.toLower().remove(' ')).arg(workspace_.chosen.id()), this);
    connect(page, &WallPage::wantsPrint, this, &SeasonView::wantsPrint);
    connect(page, &WallPage::saved, &workspace_.notices, &Notices::said);
    connect(page, &WallPage::failed, &workspace_.notices, &Notices::failed);
    page->show();
}

} // namespace marram

#include "moc_season_view.cpp"
