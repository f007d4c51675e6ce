// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/block/block_view.h"
#include "app/block/block_words.h"
#include "app/block/rider_page.h"
#include "app/settings/settings.h"
#include "app/shell/dates.h"
#include "app/shell/stack.h"
#include "app/theme/theme.h"
#include "formats/files/files.h"
#include "formats/ical/calendar.h"
#include "formats/workouts/workouts.h"
#include "wording/wording.h"

#include <QClipboard>
#include <QDateTime>
#include <QFileDialog>
#include <QGuiApplication>
#include <QHBoxLayout>
#include <QMenu>
#include <QPainter>
#include <QPrinter>
#include <QSettings>
#include <QSplitter>
#include <QTimer>
#include <QVBoxLayout>
#include <utility>

namespace marram {

BlockView::BlockView(Workspace& workspace, QWidget* parent)
    : QWidget(parent), workspace_(workspace), stack_(new Stack), side_(new Stack), canvas_(new BoardCanvas),
      panel_(new SessionPanel), families_(new FamilyPanel), span_(new QLabel), state_(new QLabel),
      emptyWords_(new QLabel), emptyButton_(new QPushButton),
      book_(std::make_shared<FamilyBook>(FamilyBook::standard())) {
    auto* layout = new QHBoxLayout(this);
    layout->setContentsMargins(0, 0, 0, 0);
    layout->addWidget(stack_);
    auto* split = new QSplitter(Qt::Horizontal);
    auto* left = new QWidget;
    auto* above = new QVBoxLayout(left);
    above->setContentsMargins(0, 0, 0, 0);
    above->setSpacing(0);
    above->addWidget(makeStrip());
    above->addWidget(canvas_, 1);
    split->addWidget(left);
    side_->addWidget(panel_);
    side_->addWidget(families_);
    side_->setMinimumWidth(300);
    split->addWidget(side_);
    split->setStretchFactor(0, 1);
    split->setSizes({930, 340});
    split->setCollapsible(0, false);
    stack_->addWidget(makeEmpty());
    stack_->addWidget(split);

    connect(&workspace_.blocks, &BlockService::blockChanged, this, &BlockView::refresh);
    connect(&workspace_.blocks, &BlockService::laidChanged, this, &BlockView::refresh);
    connect(&workspace_.plans, &PlanService::seasonShown, this, &BlockView::refresh);
    connect(&workspace_.chosen, &ChosenRider::ridesChanged, this, &BlockView::refresh);
    connect(&workspace_.chosen, &ChosenRider::riderChanged, this, [this] {
        if (std::exchange(rider_, workspace_.chosen.id()) != rider_) {
            panel_->finishTyping();
            showFamilies(false);
        }
        refresh();
    });
    connect(canvas_, &BoardCanvas::chosenChanged, this,
            [this] { panel_->show(picture_, book_, canvas_->chosen()); });
    connect(canvas_, &BoardCanvas::changed, this, &BlockView::change);
    connect(canvas_, &BoardCanvas::wantsWeeks, this, &BlockView::goOn);
    connect(canvas_, &BoardCanvas::wantsMoreWeeks, this,
            [this](int more) { showWeeks(workspace_.blocks.weeks() + more); });
    connect(canvas_, &BoardCanvas::wantsWords, this, &BlockView::typeWords);
    connect(canvas_, &BoardCanvas::wantsNote, panel_, &SessionPanel::typeNote);
    connect(canvas_, &BoardCanvas::wantsFamilies, this, [this] { showFamilies(true); });
    connect(canvas_, &BoardCanvas::wantsWeekText, this, &BlockView::copyWeekText);
    connect(canvas_, &BoardCanvas::wantsMenu, this, &BlockView::menu);
    connect(panel_, &SessionPanel::changed, this, &BlockView::change);
    connect(panel_, &SessionPanel::wantsFamilies, this, [this] { showFamilies(true); });
    connect(panel_, &SessionPanel::wantsRide, this, &BlockView::wantsRide);
    connect(panel_, &SessionPanel::done, this, &BlockView::takeFocus);
    connect(families_, &FamilyPanel::closed, this, [this] { showFamilies(false); });
    connect(families_, &FamilyPanel::failed, &workspace_.notices, &Notices::failed);
    connect(families_, &FamilyPanel::edited, &workspace_.roster,
            [this](const std::vector<Family>& before, const std::vector<Family>& after, const QString& what) {
                workspace_.roster.edits().editFamilies(before, after, what);
            });
    connect(families_, &FamilyPanel::picked, this, [this](const QString& family) {
        if (!canvas_->chosen())
            return;
        DayContent c;
        c.family = family.toStdString();
        // What the day's length is, it stays; the rung is the one the rider has come to.
        change(picture_.subject, picture_.season, withContent(picture_, *canvas_->chosen(), c),
               wording("Put %1 on a day", family));
        showFamilies(false);
    });
    refresh();
}

QWidget* BlockView::makeStrip() {
    auto* strip = new QWidget;
    auto* row = new QHBoxLayout(strip);
    row->setContentsMargins(12, 6, 12, 2);
    const auto button = [&](const QString& text, const char* name, const QString& tip, auto what) {
        auto* b = new QToolButton;
        b->setText(text);
        b->setObjectName(name);
        b->setToolTip(tip);
        b->setFocusPolicy(Qt::TabFocus);
        connect(b, &QToolButton::clicked, this, what);
        row->addWidget(b);
        return b;
    };
    button(wording("Earlier"), "earlierButton", wording("A week earlier (Page Up)"), [this] { goOn(-1); });
    button(wording("This week"), "thisWeekButton", wording("From this week on (Home)"),
           [this] { thisWeek(); });
    button(wording("Later"), "laterButton", wording("A week later (Page Down)"), [this] { goOn(1); });
    row->addSpacing(10);
    row->addWidget(span_);
    row->addSpacing(14);
    state_->setForegroundRole(QPalette::PlaceholderText);
    state_->setObjectName("blockState");
    state_->setSizePolicy(QSizePolicy::Ignored, QSizePolicy::Preferred);
    row->addWidget(state_, 1);
    button(wording("Families"), "familiesButton", wording("Families of sessions at the side (F)"),
           [this] { showFamilies(!showsFamilies()); });
    handOut_ = button(wording("Hand out"), "handOutButton",
                      wording("Text, pages, workouts, a calendar for the rider"), [this] { handOutMenu(); });
    return strip;
}

QWidget* BlockView::makeEmpty() {
    auto* page = new QWidget;
    auto* layout = new QVBoxLayout(page);
    layout->setContentsMargins(72, 24, 72, 24);
    layout->addStretch(2);
    auto* head = new QLabel(wording("The block, week by week"));
    head->setFont(typeface(Type::Title, true));
    layout->addWidget(head);
    emptyWords_->setWordWrap(true);
    emptyWords_->setMaximumWidth(qRound(560 * textScale()));
    layout->addWidget(emptyWords_);
    emptyButton_->setObjectName("blockEmptyButton");
    layout->addWidget(emptyButton_, 0, Qt::AlignLeft);
    layout->addStretch(3);
    connect(emptyButton_, &QPushButton::clicked, this, [this] {
        if (workspace_.chosen.rider())
            emit wantsSeason();
        else
            emit wantsRider();
    });
    return page;
}

void BlockView::takeFocus() {
    canvas_->setFocus();
    if (!canvas_->chosen())
        canvas_->choose(workspace_.today());
}

void BlockView::showEvent(QShowEvent* event) {
    QWidget::showEvent(event);
    if (std::exchange(behind_, false))
        refresh();
    QTimer::singleShot(0, this, [this] { fillState(); });
}

namespace {

/// The board's picture, week by week and day by day.
class BoardMaker {
public:
    BoardMaker(const Workspace& workspace, const Season& season, const RiderRecord& rider)
        : w_(workspace), season_(season) {
        p_.subject = w_.plans.seasonId();
        p_.version = w_.chosen.seasonVersion();
        p_.season = season;
        p_.today = w_.today();
        p_.alternative = w_.plans.alternative() != 0;
        p_.lowThreshold = rider.values.on(Quantity::LowThreshold, p_.today).value_or(defaultLowThreshold);
        p_.thresholdPower = rider.values.on(Quantity::ThresholdPower, p_.today);
        p_.bound = boundSentence(rider, p_.today);
        p_.heartRate = heartRateRangeOn(rider, p_.today);
        p_.longest = 3600;
        if (const Solved* s = w_.plans.solved()) {
            for (const PlannedDay& d : s->plan.days)
                planned_[d.date] = &d;
            for (const PlannedWeek& w : s->plan.weeks)
                weeks_[monday(w.start)] = &w;
        }
        for (const SessionPin& pin : season.sessions)
            pins_[pin.date] = &pin;
        for (const RideRecord& r : w_.chosen.rides())
            if (!r.excluded && r.day >= blocks().from() && r.day < blocks().from() + 7 * blocks().weeks())
                ridden_[r.day].push_back(&r);
    }

    BoardPicture make() {
        for (int w = 0; w < blocks().weeks(); ++w)
            p_.weeks.push_back(week(blocks().from() + 7 * w));
        if (const SessionBlock* block = blocks().block())
            for (const std::string& sentence : block->unmet)
                p_.unmet.push_back(withPeoplesDates(QString::fromStdString(sentence), p_.today));
        return std::move(p_);
    }

private:
    const BlockService& blocks() const { return w_.blocks; }

    BoardWeek week(Date start) {
        BoardWeek week;
        week.start = start;
        if (const auto of = weeks_.find(start); of != weeks_.end()) {
            week.planned = true;
            week.kind = of->second->kind;
            week.phase = of->second->phase;
        }
        const BlockWeek* solved = blocks().weekOf(start);
        if (solved) {
            week.target = solved->target;
            week.sum = solved->sum;
            week.summed = true;
        }
        for (int i = 0; i < 7; ++i) {
            if (const auto kept = w_.chosen.facts().plannedOn(start + i))
                week.meant += kept->stress;
            BoardDay& d = week.days[static_cast<size_t>(i)];
            d.date = start + i;
            whatIsPlanned(d, solved);
            if (const auto rides = ridden_.find(d.date); rides != ridden_.end())
                week.ridden += whatWasRidden(d, rides->second);
            if (d.past)
                whatWasMeant(d);
            d.verdict = blocks().verdictOn(d.date);
            d.judged = d.pin.verdict.has_value();
        }
        return week;
    }

    /// Its race, and why the rider is away.
    void whatTheSeasonHas(BoardDay& d) const {
        for (const Race& r : season_.races)
            if (d.date >= r.date && d.date < r.date + r.days)
                d.race = QString::fromStdString(r.name);
        for (const Away& a : season_.away)
            if (d.date >= a.from && d.date <= a.to)
                d.away = capital(translated(nameOf(a.why)));
    }

    void whatIsPlanned(BoardDay& d, const BlockWeek* solved) {
        d.inSeason = d.date >= season_.start && d.date <= season_.end;
        d.today = d.date == p_.today;
        const auto of = planned_.find(d.date);
        d.past = d.date < p_.today || (of != planned_.end() && of->second->past);
        if (of != planned_.end())
            d.availableHours = of->second->availableHours;
        whatTheSeasonHas(d);
        if (const auto pin = pins_.find(d.date); pin != pins_.end())
            d.pin = *pin->second;
        else
            d.pin.date = d.date;
        if (!solved || d.past)
            return;
        for (const BlockSession& s : solved->sessions)
            if (s.date == d.date) {
                d.sessions.push_back(s);
                p_.longest = std::max(p_.longest, s.ridden() ? s.seconds : 0);
            }
    }

    /// Points of the day's rides; the longest of them stands for it.
    double whatWasRidden(BoardDay& d, const std::vector<const RideRecord*>& rides) {
        BoardDay::Ridden r;
        int most = 0;
        for (const RideRecord* each : rides) {
            r.seconds += each->score.duration;
            r.stress += w_.chosen.facts().pointsOf(*each);
            if (each->score.duration > most) {
                most = each->score.duration;
                r.ride = each->id;
            }
        }
        if (const LaidRide* laid = blocks().laidOn(d.date); laid && laid->ride == r.ride) {
            r.trace = laid->trace;
            r.traceStep = laid->traceStep;
            d.against = laid->against;
        }
        p_.longest = std::max(p_.longest, most);
        const double points = r.stress;
        d.ridden = std::move(r);
        return points;
    }

    void whatWasMeant(BoardDay& d) {
        const MeantSession* meant = blocks().meantOn(d.date);
        if (!meant)
            return;
        d.meant = *meant;
        d.again = blocks().againOn(d.date);
        const Family* family = blocks().book().named(meant->family);
        d.ladder = family && family->work.size() > 1 && meant->rung > 0;
        if (const auto read = readShorthand(meant->words))
            d.meantSession = *read;
        p_.longest = std::max(p_.longest, figuresOf(d.meantSession).seconds);
    }

    const Workspace& w_;
    const Season& season_;
    BoardPicture p_;
    std::map<Date, const PlannedDay*> planned_;
    std::map<Date, const PlannedWeek*> weeks_;
    std::map<Date, const SessionPin*> pins_;
    std::map<Date, std::vector<const RideRecord*>> ridden_;
};

} // namespace

BoardPicture boardOf(const Workspace& workspace) {
    const auto& season = workspace.plans.decided();
    const RiderRecord* rider = workspace.chosen.rider();
    return season && rider ? BoardMaker(workspace, *season, *rider).make() : BoardPicture{};
}

void BlockView::refresh() {
    behind_ = !isVisible();
    if (behind_)
        return;
    const bool any = workspace_.plans.decided().has_value() && workspace_.chosen.rider() != nullptr;
    if (!any)
        picture_ = {}; // nothing of before is edited or handed out
    stack_->setCurrentIndex(any ? 1 : 0);
    if (!any) {
        const bool rider = workspace_.chosen.rider() != nullptr;
        emptyWords_->setText(
            rider ? wording(
                        "Sessions are made of a season: it says how much and of what kind each week is, and "
                        "here "
                        "stand the sessions that make it up, week beside week. This rider has no season yet.")
                  : wording("Here stand the sessions of a rider's weeks, week beside week. There is no rider "
                            "yet."));
        emptyButton_->setText(rider ? wording("Begin a season") : wording("Add a rider"));
        return;
    }
    picture_ = boardOf(workspace_);
    book_ = workspace_.blocks.sharedBook();
    canvas_->show(picture_, book_);
    panel_->show(picture_, book_, canvas_->chosen());
    families_->show(book_, workspace_.blocks.basis().injuries, picture_.lowThreshold);
    const auto text = [&](Date d) { return QString::fromStdString(dayText(d, picture_.today)); };
    span_->setText(semiBold(wording("<b>%1 to %2</b>", text(picture_.weeks.front().start),
                                    text(picture_.weeks.back().start + 6))));
    fillState();
}

void BlockView::resizeEvent(QResizeEvent* event) {
    QWidget::resizeEvent(event);
    QTimer::singleShot(0, this, [this] { fillState(); }); // once everything has its place
}

void BlockView::fillState() {
    QString state = picture_.alternative ? wording("The alternative looked at. ") : "";
    if (workspace_.blocks.solving() && !workspace_.blocks.block())
        state += wording("Working the sessions out…");
    else if (!picture_.unmet.empty())
        state += wording("%1 of its targets not met: see the side").arg(picture_.unmet.size());
    const QFontMetrics metrics(state_->font());
    if (!picture_.unmet.empty() && metrics.horizontalAdvance(state) > state_->width())
        state = wording("%1 not met").arg(picture_.unmet.size());
    state_->setText(metrics.horizontalAdvance(state) > state_->width() ? QString() : state);
    QStringList all;
    for (const QString& s : picture_.unmet)
        all << s;
    state_->setToolTip(all.join('\n'));
}

void BlockView::change(qint64 season, const Season& before, const Season& after, const QString& what) {
    workspace_.roster.edits().editSeason(season, before, after, what);
}

void BlockView::showFamilies(bool on) {
    side_->setCurrentIndex(on ? 1 : 0);
    if (on) {
        families_->find();
        if (const BoardDay* d = canvas_->chosen() ? picture_.day(*canvas_->chosen()) : nullptr)
            if (const BlockSession* s = d->ride())
                families_->choose(QString::fromStdString(s->family));
    } else if (isVisible()) {
        canvas_->setFocus();
    }
}

void BlockView::goOn(int weeks) {
    const Date to = workspace_.blocks.from() + 7 * weeks;
    if (const auto& season = workspace_.plans.decided())
        workspace_.blocks.look(std::clamp(to, monday(season->start) - 7 * 52, monday(season->end)),
                               workspace_.blocks.weeks());
}

void BlockView::showWeeks(int count) {
    workspace_.blocks.look(workspace_.blocks.from(), std::clamp(count, 2, 8));
    refresh();
}

void BlockView::thisWeek() {
    workspace_.blocks.look(monday(workspace_.today()), workspace_.blocks.weeks());
    canvas_->choose(workspace_.today());
}

QString BlockView::riderName() const {
    const RiderRecord* r = workspace_.chosen.rider();
    return r ? r->name : QString();
}

void BlockView::copyWeekText() {
    const Date week = monday(canvas_->chosen().value_or(workspace_.today()));
    for (const BoardWeek& w : picture_.weeks)
        if (w.start == week) {
            QGuiApplication::clipboard()->setText(weekText(picture_, w, riderName()));
            emit workspace_.notices.said(wording("The week of %1 is in the clipboard as text.",
                                                 QString::fromStdString(dayText(week, picture_.today))));
        }
}

void BlockView::pinWeek() {
    if (canvas_->chosen())
        change(picture_.subject, picture_.season, weekPinned(picture_, monday(*canvas_->chosen())),
               wording("Pin a week's sessions"));
}

void BlockView::layRaceWeek(bool matters) {
    if (!canvas_->chosen())
        return;
    const Season after = raceWeek(picture_, monday(*canvas_->chosen()), matters);
    if (after.sessions == picture_.season.sessions)
        emit workspace_.notices.said(wording("There is no race in the chosen week."));
    else
        change(picture_.subject, picture_.season, after, wording("Lay out a race week"));
}

void BlockView::layOffWeeks() {
    if (canvas_->chosen())
        change(picture_.subject, picture_.season, marram::layOffWeeks(picture_, monday(*canvas_->chosen())),
               wording("Lay out the weeks after a lay-off"));
}

void BlockView::menu(const QPoint& at) {
    const auto chosen = canvas_->chosen();
    const BoardDay* d = chosen ? picture_.day(*chosen) : nullptr;
    if (!d)
        return;
    auto* menu = new QMenu(this);
    menu->setAttribute(Qt::WA_DeleteOnClose);
    menu->setObjectName("boardMenu");
    // What is chosen in the menu is done to what was shown when it opened.
    const BoardPicture then = picture_;
    const auto book = book_;
    const auto add = [&](const QString& name, const QString& what, auto make, bool enabled = true) {
        auto* a = menu->addAction(
            name, this, [this, then, make, what] { change(then.subject, then.season, make(then), what); });
        a->setEnabled(enabled);
    };
    const Date day = *chosen;
    const BlockSession* s = d->ride();
    const bool open = d->open();
    add(
        wording("Climb a rung"), wording("Climb a rung"),
        [=](const auto& p) { return climbed(p, *book, day, 1); }, open && s);
    add(
        wording("Step down a rung"), wording("Step down a rung"),
        [=](const auto& p) { return climbed(p, *book, day, -1); }, open && s);
    menu->addAction(wording("Replace by a family…"), this, [this] { showFamilies(true); })->setEnabled(open);
    menu->addAction(wording("Write it in words"), this, &BlockView::typeWords)->setEnabled(open);
    add(
        wording("Rest on this day"), wording("Give a day's rest"),
        [=](const auto& p) { return withContent(p, day, {}); }, open);
    add(
        d->pin.holds() ? wording("Unpin the day") : wording("Pin the day"),
        d->pin.holds() ? wording("Unpin a day") : wording("Pin a day"),
        [=, held = d->pin.holds()](const BoardPicture& p) {
            return held ? freed(p, day) : withContent(p, day, contentOf(*p.day(day)));
        },
        open);
    menu->addSeparator();
    add(wording("Pin the week, or unpin it"), wording("Pin a week's sessions"),
        [=](const auto& p) { return weekPinned(p, monday(day)); });
    menu->addAction(wording("Race week that matters"), this, [this] { layRaceWeek(true); });
    menu->addAction(wording("Race week, trained through"), this, [this] { layRaceWeek(false); });
    menu->addAction(wording("Four weeks after a lay-off"), this, &BlockView::layOffWeeks);
    menu->addSeparator();
    menu->addAction(wording("Copy the week as text"), this, &BlockView::copyWeekText);
    if (d->ridden)
        menu->addAction(wording("See the ride"), this,
                        [this, ride = d->ridden->ride] { emit wantsRide(ride); });
    menu->popup(at);
}

void BlockView::handOutMenu() {
    auto* menu = new QMenu(this);
    menu->setAttribute(Qt::WA_DeleteOnClose);
    menu->setObjectName("handOutMenu");
    menu->addAction(wording("The chosen week as text, into the clipboard"), this, &BlockView::copyWeekText);
    menu->addAction(wording("These weeks as pages for the rider (PDF)…"), this, [this] { savePages(); });
    menu->addAction(wording("Workouts for the bike computer (FIT)…"), this, [this] { saveWorkouts(); });
    menu->addAction(wording("A calendar of these weeks…"), this, [this] { saveCalendar(); });
    menu->popup(handOut_->mapToGlobal(QPoint(0, handOut_->height())));
}

QByteArray BlockView::pages() const {
    const RiderRecord* r = workspace_.chosen.rider();
    return riderPdf(picture_, riderName(), r && setting("healthOnPaper").toBool() ? r->cautions : QString());
}

std::vector<BlockSession> BlockView::shownSessions() const {
    std::vector<BlockSession> all;
    for (const BoardWeek& w : picture_.weeks)
        for (const BoardDay& d : w.days)
            if (!d.past)
                all.insert(all.end(), d.sessions.begin(), d.sessions.end());
    return all;
}

void BlockView::savePages(QString path) {
    const BoardPicture then = picture_; // what is shown when it is asked for is what is saved
    const QByteArray bytes = pages();
    if (path.isEmpty())
        path = QFileDialog::getSaveFileName(
            this, wording("Pages for the rider"),
            QSettings().value("handOutFolder").toString() + "/" + riderName() + ".pdf", "PDF (*.pdf)");
    if (path.isEmpty())
        return;
    QSettings().setValue("handOutFolder", QFileInfo(path).absolutePath());
    if (workspace_.notices.passed(writeWholeFile(path, bytes)))
        emit workspace_.notices.said(wording("The pages are in %1.", path));
}

void BlockView::saveWorkouts(QString folder) {
    const auto sessions = shownSessions();
    const auto threshold = picture_.thresholdPower;
    const double low = picture_.lowThreshold;
    const auto heartRate = picture_.heartRate;
    if (folder.isEmpty())
        folder = QFileDialog::getExistingDirectory(this, wording("Folder for the workouts"),
                                                   QSettings().value("workoutFolder").toString());
    if (folder.isEmpty())
        return;
    QSettings().setValue("workoutFolder", folder);
    const auto count =
        writeWorkouts(folder, sessions, threshold, low, QDateTime::currentSecsSinceEpoch(), heartRate);
    if (!count)
        emit workspace_.notices.failed(QString::fromStdString(count.error().sentence));
    else
        emit workspace_.notices.said(wording("%1 workouts are in %2.").arg(*count).arg(folder));
}

void BlockView::saveCalendar(QString path) {
    SessionBlock shown;
    for (const BoardWeek& w : picture_.weeks)
        if (const BlockWeek* of = workspace_.blocks.weekOf(w.start))
            shown.weeks.push_back(*of);
    const QByteArray bytes =
        writeCalendar(shown, picture_.today, riderName(), QString::number(workspace_.chosen.id()));
    if (path.isEmpty())
        path = QFileDialog::getSaveFileName(this, wording("A calendar of these weeks"),
                                            QSettings().value("handOutFolder").toString() + "/" +
                                                riderName() + ".ics",
                                            wording("Calendars (*.ics)"));
    if (path.isEmpty())
        return;
    QSettings().setValue("handOutFolder", QFileInfo(path).absolutePath());
    if (workspace_.notices.passed(writeWholeFile(path, bytes)))
        emit workspace_.notices.said(wording("The calendar is in %1.", path));
}

void BlockView::print(QPrinter& printer) {
    QPainter painter(&printer);
    const Shore& colours = paperShore();
    constexpr double width = 1123; ///< laid out at screen size and scaled
    const double factor = painter.viewport().width() / width;
    painter.scale(factor, factor);
    const double height = painter.viewport().height() / factor;
    painter.setFont(typeface(Type::Title, true));
    painter.setPen(colours.ink);
    painter.drawText(QRectF(24, 16, width - 48, 28), Qt::AlignLeft | Qt::AlignVCenter, riderName());
    BoardScene scene;
    scene.layOut(QRectF(24, 50, width - 48, height - 96), static_cast<int>(picture_.weeks.size()),
                 QFontMetricsF(typeface(Type::Small)).height());
    paintBoard(painter, scene, picture_, {}, colours);
    painter.setFont(typeface(Type::Small));
    painter.setPen(colours.ink);
    painter.drawText(QRectF(24, height - 40, width - 48, 36), Qt::TextWordWrap, wording(riderCaution));
}

} // namespace marram

#include "moc_block_view.cpp"
