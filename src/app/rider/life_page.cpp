// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/rider/life_page.h"
#include "app/settings/settings.h"
#include "app/shell/fields.h"
#include "app/shell/tables.h"
#include "wording/wording.h"

#include <QGridLayout>
#include <QVBoxLayout>
#include <algorithm>
#include <cmath>

namespace marram {
namespace {

double sumOf(const WeekHours& hours) {
    double sum = 0;
    for (const double h : hours)
        sum += h;
    return sum;
}

QString hoursText(double h) {
    return decimal(h, h == std::floor(h) ? 0 : 2);
}

QWidget* boxOf(QVBoxLayout*& layout, const QString& heading) {
    auto* box = new QWidget;
    layout = new QVBoxLayout(box);
    layout->setContentsMargins(0, 0, 0, 0);
    layout->addWidget(headingLabel(heading));
    return box;
}

} // namespace

LifePage::LifePage(Workspace& workspace, QWidget* parent) : QWidget(parent), workspace_(workspace) {
    auto* columns = new QHBoxLayout(this);
    columns->setContentsMargins(0, 6, 8, 0);
    columns->setSpacing(44);
    const auto column = [&](std::initializer_list<QWidget*> parts) {
        auto* layout = new QVBoxLayout;
        layout->setSpacing(12);
        for (QWidget* part : parts)
            layout->addWidget(part);
        layout->addStretch();
        columns->addLayout(layout, 1);
    };
    column({makeHours(), makeWeeks(), makeInjuries()});
    column({makeBackground(), makeCare(), makeWords()});
}

QWidget* LifePage::makeHours() {
    QVBoxLayout* layout = nullptr;
    QWidget* box = boxOf(layout, wording("Hours a usual week has"));
    auto* grid = new QGridLayout;
    for (int i = 0; i < 7; ++i) {
        auto*& label = hourDays_[static_cast<size_t>(i)];
        label = captionLabel(QString::fromStdString(shortWeekdayText(i)));
        label->setAlignment(Qt::AlignRight);
        auto*& h = hours_[static_cast<size_t>(i)];
        h = numberField(0, 24, 0.25, 2, "", QString("riderHours%1").arg(i),
                        wording("Hours on %1").arg(QString::fromStdString(weekdayText(Date{4 + i}))));
        hoursBound_[static_cast<size_t>(i)] = Binding::number(h, [this, i](qint64 rider, const QVariant& v) {
            change(rider, wording("Change the usual hours"),
                   [&](RiderRecord& r) { r.hours[static_cast<size_t>(i)] = v.toDouble(); });
        });
    }
    hourGrid_ = grid;
    layDays();
    layout->addLayout(grid);
    total_ = captionLabel({});
    layout->addWidget(total_);
    auto* lately = new QHBoxLayout;
    lately->addWidget(captionLabel(wording("A usual week lately")));
    usual_ = numberField(0, 60, 0.5, 1, " h", "usualWeek");
    usual_->setSpecialValueText(wording("not stated"));
    usual_->setAccessibleName(wording("Hours ridden in a usual week lately"));
    usual_->setToolTip(
        wording("What was ridden in a usual week before the rides in this roster begin. With under six "
                "weeks of rides it is all that says what a rider is used to."));
    usualBound_ = Binding::number(usual_, [this](qint64 rider, const QVariant& v) {
        change(rider, wording("Change the hours of a usual week lately"), [&](RiderRecord& r) {
            r.usualWeekHours = v.toDouble() > 0 ? std::optional(v.toDouble()) : std::nullopt;
        });
    });
    lately->addWidget(usual_);
    lately->addStretch();
    layout->addLayout(lately);
    return box;
}

void LifePage::layDays() {
    const size_t first = firstWeekday() == Qt::Sunday ? 6 : 0;
    for (size_t place = 0; place < 7; ++place) {
        const size_t day = (first + place) % 7;
        hourGrid_->addWidget(hourDays_[day], 0, static_cast<int>(place));
        hourGrid_->addWidget(hours_[day], 1, static_cast<int>(place));
        if (place > 0 && hours_[day]->parentWidget())
            setTabOrder(hours_[(day + 6) % 7], hours_[day]);
    }
}

QWidget* LifePage::makeWeeks() {
    QVBoxLayout* layout = nullptr;
    QWidget* box = boxOf(layout, wording("Weeks with other hours"));
    QStringList columns{wording("Week of")};
    for (int d = 0; d < 7; ++d)
        columns << QString::fromStdString(shortWeekdayText(d));
    columns << wording("Sum");
    weeks_ = quietTable(columns, "otherWeeks");
    weeks_->setSelectionBehavior(QAbstractItemView::SelectItems);
    weeks_->setEditTriggers(QAbstractItemView::DoubleClicked | QAbstractItemView::EditKeyPressed |
                            QAbstractItemView::AnyKeyPressed);
    weeks_->horizontalHeader()->setSectionResizeMode(QHeaderView::Stretch);
    weeks_->horizontalHeader()->setSectionResizeMode(0, QHeaderView::ResizeToContents);
    weeks_->setMinimumHeight(qRound(90 * textScale()));
    weeks_->setMaximumHeight(qRound(120 * textScale()));
    layout->addWidget(weeks_, 1);
    auto* buttons = new QHBoxLayout;
    auto* add = new QPushButton(wording("Add a week"));
    add->setObjectName("addWeek");
    auto* remove = new QPushButton(wording("Back to the usual"));
    remove->setObjectName("removeWeek");
    buttons->addWidget(add);
    buttons->addWidget(remove);
    buttons->addStretch();
    layout->addLayout(buttons);
    whenTyped(weeks_, this, [this] { refresh(); });
    connect(weeks_, &QTableWidget::cellChanged, this, &LifePage::takeWeek);
    connect(add, &QPushButton::clicked, this, &LifePage::addWeek);
    connect(remove, &QPushButton::clicked, this, &LifePage::removeWeek);
    return box;
}

QWidget* LifePage::makeBackground() {
    QVBoxLayout* layout = nullptr;
    QWidget* box = boxOf(layout, wording("Background"));
    auto* grid = new QGridLayout;
    years_ = new QSpinBox;
    years_->setObjectName("trainingYears");
    years_->setAccessibleName(wording("Years of training"));
    years_->setRange(-1, 80);
    years_->setSpecialValueText(wording("not stated"));
    years_->setButtonSymbols(QAbstractSpinBox::NoButtons);
    years_->setKeyboardTracking(false);
    slow_ = new QCheckBox(wording("Recovers slowly"));
    slow_->setObjectName("slowRecoverer");
    grid->addWidget(captionLabel(wording("Years of training")), 0, 0);
    grid->addWidget(years_, 0, 1);
    grid->addWidget(slow_, 0, 2);
    int row = 1;
    const auto line = [&](const QString& name, const char* key, const QString& hint,
                          std::function<void(RiderRecord&, const QString&)> put) {
        auto* edit = new QLineEdit;
        edit->setObjectName(key);
        edit->setAccessibleName(wording(wordsOfName(name)));
        edit->setPlaceholderText(hint);
        grid->addWidget(captionLabel(name), row, 0);
        grid->addWidget(edit, row++, 1, 1, 2);
        return Binding::text(edit, [this, name, put](qint64 rider, const QVariant& v) {
            change(rider, wording("Change %1", name.toLower()),
                   [&](RiderRecord& r) { put(r, v.toString()); });
        });
    };
    groups_ = line(wording("Groups"), "riderGroups", wording("Parted by commas"),
                   [](RiderRecord& r, const QString& text) {
                       r.groups.clear();
                       for (const QString& g : text.split(',', Qt::SkipEmptyParts))
                           if (!g.trimmed().isEmpty())
                               r.groups << g.trimmed();
                       r.groups.removeDuplicates();
                   });
    strengths_ = line(wording("Strengths"), "strengths", wording("What wins races for them"),
                      [](RiderRecord& r, const QString& text) { r.strengths = text; });
    weaknesses_ = line(wording("Weaknesses"), "weaknesses", wording("What loses them"),
                       [](RiderRecord& r, const QString& text) { r.weaknesses = text; });
    grid->setColumnStretch(2, 1);
    layout->addLayout(grid);
    layout->addSpacing(8);
    layout->addWidget(headingLabel(wording("Proposed rhythm and ramp")));
    proposed_ = wordsLabel({});
    proposed_->setObjectName("proposal");
    layout->addWidget(proposed_);
    use_ = new QPushButton(wording("Use it in the season"));
    use_->setObjectName("useProposal");
    layout->addWidget(use_, 0, Qt::AlignLeft);
    yearsBound_ = Binding::whole(years_, [this](qint64 rider, const QVariant& v) {
        change(rider, wording("Change the years of training"), [&](RiderRecord& r) {
            r.trainingYears = v.toInt() >= 0 ? std::optional(v.toInt()) : std::nullopt;
        });
    });
    slowBound_ = Binding::check(slow_, [this](qint64 rider, const QVariant& v) {
        change(rider, wording("Change how fast a rider recovers"),
               [&](RiderRecord& r) { r.slowRecoverer = v.toBool(); });
    });
    connect(use_, &QPushButton::clicked, this, &LifePage::useProposal);
    return box;
}

QWidget* LifePage::makeInjuries() {
    QVBoxLayout* layout = nullptr;
    QWidget* box = boxOf(layout, wording("Injuries and long illness"));
    injuries_ = quietTable({wording("From"), wording("To"), wording("What")}, "injuries", 3);
    injuries_->setSelectionBehavior(QAbstractItemView::SelectItems);
    injuries_->setEditTriggers(QAbstractItemView::DoubleClicked | QAbstractItemView::EditKeyPressed |
                               QAbstractItemView::AnyKeyPressed);
    injuries_->horizontalHeader()->setSectionResizeMode(2, QHeaderView::Stretch);
    injuries_->setMinimumHeight(qRound(80 * textScale()));
    injuries_->setMaximumHeight(qRound(120 * textScale()));
    layout->addWidget(injuries_, 1);
    auto* buttons = new QHBoxLayout;
    auto* add = new QPushButton(wording("Add from today"));
    add->setObjectName("addInjury");
    auto* remove = new QPushButton(wording("Remove"));
    remove->setObjectName("removeInjury");
    buttons->addWidget(add);
    buttons->addWidget(remove);
    buttons->addStretch();
    layout->addLayout(buttons);
    whenTyped(injuries_, this, [this] { refresh(); });
    connect(injuries_, &QTableWidget::cellChanged, this, &LifePage::takeInjury);
    connect(add, &QPushButton::clicked, this, [this] {
        if (!workspace_.chosen.rider())
            return;
        RiderRecord r = *workspace_.chosen.rider();
        r.injuries.push_back({workspace_.today(), std::nullopt, ""});
        workspace_.chosen.edits().setRider(r, wording("Add an injury"));
    });
    connect(remove, &QPushButton::clicked, this, [this] {
        if (!workspace_.chosen.rider())
            return;
        const RiderRecord before = *workspace_.chosen.rider();
        RiderRecord r = before;
        const Injury* gone = injuryOf(injuries_->currentRow(), r);
        if (!gone || subjectOf(injuries_) != r.id)
            return;
        r.injuries.erase(r.injuries.begin() + (gone - r.injuries.data()));
        workspace_.roster.edits().editRider(before, r, wording("Remove an injury"));
    });
    return box;
}

/// What the training is held to for a rider's care, in the order of Care.
QWidget* LifePage::makeCare() {
    constexpr std::array<std::array<const char*, 2>, careNames.size()> words{
        {{marked("Pregnancy"), marked("a pregnancy")},
         {marked("After birth"), marked("the time after a birth")},
         {marked("Heart"), marked("a heart condition")},
         {marked("Metabolism"), marked("a metabolic condition")},
         {marked("Energy"), marked("low energy availability")},
         {marked("Bone"), marked("bone health")},
         {marked("Other"), marked("another reason for care")}}};
    QVBoxLayout* layout = nullptr;
    QWidget* whole = boxOf(layout, wording("Under licensed care for"));
    auto* grid = new QGridLayout;
    grid->setHorizontalSpacing(14);
    grid->setVerticalSpacing(4);
    for (size_t i = 0; i < words.size(); ++i) {
        auto* box = new QCheckBox(wording(words[i][0]));
        box->setObjectName(QString("care-") + careNames[i]);
        box->setAccessibleName(wording("Under licensed care for %1", words[i][1]));
        grid->addWidget(box, static_cast<int>(i) / 4, static_cast<int>(i) % 4);
        careBound_[i] = Binding::check(box, [this, i](qint64 rider, const QVariant& v) {
            change(rider, wording("Change what a rider is under care for"),
                   [&](RiderRecord& r) { r.care.set(static_cast<Care>(i), v.toBool()); });
        });
    }
    auto* cleared = new QCheckBox(wording("Cleared for hard training"));
    cleared->setObjectName("cleared");
    cleared->setToolTip(
        wording("A licensed practitioner has cleared this rider for hard training. Until then a rider "
                "under care rides in the low band, without tests and without weights."));
    grid->addWidget(cleared, 2, 0, 1, 4);
    clearedBound_ = Binding::check(cleared, [this](qint64 rider, const QVariant& v) {
        change(rider, wording("Change whether a rider is cleared for hard training"),
               [&](RiderRecord& r) { r.care.cleared = v.toBool(); });
    });
    layout->addLayout(grid);
    careSays_ = wordsLabel({});
    careSays_->setObjectName("careSays");
    layout->addWidget(careSays_);
    return whole;
}

QWidget* LifePage::makeWords() {
    QVBoxLayout* layout = nullptr;
    QWidget* box = boxOf(layout, wording("Cautions and notes"));
    const auto area = [&](const char* name, const QString& hint, const QString& what,
                          QString RiderRecord::*text) {
        auto* edit = new QPlainTextEdit;
        edit->setFrameShape(QFrame::NoFrame);
        edit->setObjectName(name);
        edit->setAccessibleName(wording(wordsOfName(name)));
        edit->setPlaceholderText(hint);
        edit->setTabChangesFocus(true);
        edit->setMinimumHeight(qRound(48 * textScale()));
        edit->setMaximumHeight(qRound(64 * textScale()));
        layout->addWidget(edit, 1);
        return Binding::area(edit, [this, what, text](qint64 rider, const QVariant& v) {
            change(rider, what, [&](RiderRecord& r) { r.*text = v.toString(); });
        });
    };
    cautions_ =
        area("cautions", wording("What must not be forgotten: conditions, medication, what a doctor said."),
             wording("Change the cautions"), &RiderRecord::cautions);
    note_ = area("note", wording("What a coach should remember of this rider."), wording("Change the notes"),
                 &RiderRecord::note);
    auto* caution = wordsLabel(
        wording(
            "Marram advises a coach; it does not diagnose. Minors, pregnancy, heart or metabolic disease, "
            "and "
            "return from illness or injury belong under licensed care. Maximal tests only after screening."),
        true);
    caution->setFont(typeface(Type::Small));
    layout->addWidget(caution);
    return box;
}

void LifePage::refresh() {
    const RiderRecord* r = workspace_.chosen.rider();
    if (!r)
        return;
    filling_ = true;
    layDays();
    for (size_t i = 0; i < 7; ++i)
        hoursBound_[i]->show(r->id, r->hours[i]);
    total_->setText(wording("%1 hours a week").arg(hoursText(sumOf(r->hours))));
    usualBound_->show(r->id, r->usualWeekHours.value_or(0));
    yearsBound_->show(r->id, r->trainingYears.value_or(-1));
    slowBound_->show(r->id, r->slowRecoverer);
    for (size_t i = 0; i < careBound_.size(); ++i)
        careBound_[i]->show(r->id, r->care.has(static_cast<Care>(i)));
    clearedBound_->show(r->id, r->care.cleared);
    sayCare(*r);
    groups_->show(r->id, r->groups.join(", "));
    strengths_->show(r->id, r->strengths);
    weaknesses_->show(r->id, r->weaknesses);
    cautions_->show(r->id, r->cautions);
    note_->show(r->id, r->note);
    fillInjuries(*r);
    fillWeeks();
    const Proposal p = proposal();
    QStringList why;
    for (const std::string& w : p.why)
        why << QString::fromStdString(w);
    const auto& season = workspace_.chosen.season();
    const bool same = season && season->rules.buildWeeks == p.buildWeeks &&
                      season->rules.deloadWeeks == p.deloadWeeks && season->rules.ramp == p.ramp;
    if (!p.offered)
        proposed_->setText(wording("No proposal. %1", why.join(' ')));
    else
        proposed_->setText(wording("%1:%2, ramp %3 points a week. %4%5")
                               .arg(p.buildWeeks)
                               .arg(p.deloadWeeks)
                               .arg(p.ramp, 0, 'f', 0)
                               .arg(why.join(' '), !season ? wording(" There is no season yet to use it in.")
                                                   : same  ? wording(" The season uses this already.")
                                                           : wording(" The season now has %1:%2 and %3.")
                                                                .arg(season->rules.buildWeeks)
                                                                .arg(season->rules.deloadWeeks)
                                                                .arg(season->rules.ramp)));
    use_->setEnabled(p.offered && season && !same);
    filling_ = false;
}

/// What their age and care ask of the season, in its own sentences.
void LifePage::sayCare(const RiderRecord& rider) {
    QStringList said;
    if (const auto& season = workspace_.chosen.season())
        for (const std::string& sentence : careOf(workspace_.chosen.facts().completed(*season)).said)
            said << QString::fromStdString(sentence);
    careSays_->setText(said.isEmpty() && rider.care.any() && !rider.care.cleared
                           ? wording("A season for this rider stays in the low band until they are cleared.")
                           : said.join(' '));
    careSays_->setVisible(!careSays_->text().isEmpty());
}

Proposal LifePage::proposal() const {
    return workspace_.chosen.facts().proposedRhythm();
}

void LifePage::useProposal() {
    if (!workspace_.chosen.season())
        return;
    Season s = *workspace_.chosen.season();
    const Proposal p = proposal();
    s.rules.buildWeeks = p.buildWeeks;
    s.rules.deloadWeeks = p.deloadWeeks;
    s.rules.ramp = p.ramp;
    workspace_.chosen.edits().setSeason(s, wording("Use the proposed rhythm and ramp"));
}

void LifePage::change(qint64 rider, const QString& what, const std::function<void(RiderRecord&)>& edit) {
    const RiderRecord* now = workspace_.roster.rider(rider);
    if (!now)
        return;
    const RiderRecord before = *now;
    RiderRecord after = before;
    edit(after);
    workspace_.roster.edits().editRider(before, after, what);
}

void LifePage::fillWeeks() {
    if (isBeingTyped(weeks_))
        return; // filled when the typing has ended
    const auto& season = workspace_.chosen.season();
    setSubject(weeks_, workspace_.chosen.seasonId());
    std::vector<WeekPin> shown;
    if (season)
        for (const WeekPin& w : season->weeks)
            if (w.hours)
                shown.push_back(w);
    std::sort(shown.begin(), shown.end(),
              [](const WeekPin& a, const WeekPin& b) { return a.start < b.start; });
    weeks_->setRowCount(static_cast<int>(shown.size()));
    for (int row = 0; row < weeks_->rowCount(); ++row) {
        const WeekPin& w = shown[static_cast<size_t>(row)];
        auto* date = tableCell(QString::fromStdString(shortDayText(w.start, workspace_.today())), false);
        date->setData(Qt::UserRole, w.start.days);
        weeks_->setItem(row, 0, date);
        for (int i = 0; i < 7; ++i)
            weeks_->setItem(row, 1 + i, tableCell(hoursText((*w.hours)[static_cast<size_t>(i)])));
        auto* sum = tableCell(hoursText(sumOf(*w.hours)));
        sum->setFlags(Qt::ItemIsEnabled);
        weeks_->setItem(row, 8, sum);
    }
}

void LifePage::takeWeek(int row, int column) {
    if (filling_ || !workspace_.chosen.season() || column > 7 ||
        subjectOf(weeks_) != workspace_.chosen.seasonId())
        return;
    Season s = *workspace_.chosen.season();
    const Date start{weeks_->item(row, 0)->data(Qt::UserRole).toInt()};
    const QString text = weeks_->item(row, column)->text().trimmed();
    const auto pin =
        std::find_if(s.weeks.begin(), s.weeks.end(), [&](const WeekPin& w) { return w.start == start; });
    QString wrong;
    if (pin == s.weeks.end())
        return;
    if (column == 0) {
        const auto to = parseDayText(text.toStdString(), workspace_.today());
        if (!to)
            wrong = wording("A day reads like 4 January, or 4 January 2027.");
        else if (monday(*to) != start && std::any_of(s.weeks.begin(), s.weeks.end(), [&](const WeekPin& w) {
                     return w.start == monday(*to);
                 }))
            wrong = wording("That week has hours of its own already.");
        else
            pin->start = monday(*to);
    } else {
        bool ok = false;
        const double v = QString(text).replace(',', '.').toDouble(&ok);
        if (ok && v >= 0 && v <= 24)
            (*pin->hours)[static_cast<size_t>(column - 1)] = v;
        else
            wrong = wording("Hours of a day are 0 to 24.");
    }
    if (wrong.isEmpty())
        workspace_.chosen.edits().setSeason(s, wording("Change the hours of a week"));
    else
        emit workspace_.notices.failed(wording("%1 Nothing was changed.", wrong));
    refresh();
}

void LifePage::addWeek() {
    const RiderRecord* r = workspace_.chosen.rider();
    if (!r)
        return;
    if (!workspace_.chosen.season()) {
        emit workspace_.notices.failed(wording("Weeks belong to a season: make one under Season first."));
        return;
    }
    Season s = *workspace_.chosen.season();
    Date start = std::max(monday(workspace_.today()), monday(s.start));
    const auto pinned = [&](Date d) {
        return std::find_if(s.weeks.begin(), s.weeks.end(), [&](const WeekPin& w) { return w.start == d; });
    };
    while (pinned(start) != s.weeks.end() && pinned(start)->hours)
        start = start + 7;
    if (pinned(start) != s.weeks.end())
        pinned(start)->hours = r->hours;
    else
        s.weeks.push_back({start, r->hours, std::nullopt});
    workspace_.chosen.edits().setSeason(s, wording("Give a week hours of its own"));
    refresh();
}

void LifePage::removeWeek() {
    const int row = weeks_->currentRow();
    if (row < 0 || !workspace_.chosen.season())
        return;
    Season s = *workspace_.chosen.season();
    const Date start{weeks_->item(row, 0)->data(Qt::UserRole).toInt()};
    for (WeekPin& w : s.weeks)
        if (w.start == start)
            w.hours.reset();
    std::erase_if(s.weeks, [](const WeekPin& w) { return !w.hours && !w.kind; });
    workspace_.chosen.edits().setSeason(s, wording("Give a week its usual hours back"));
    refresh();
}

void LifePage::fillInjuries(const RiderRecord& r) {
    if (isBeingTyped(injuries_))
        return; // filled when the typing has ended
    setSubject(injuries_, r.id);
    injuries_->setRowCount(static_cast<int>(r.injuries.size()));
    for (int row = 0; row < injuries_->rowCount(); ++row) {
        const Injury& i = r.injuries[static_cast<size_t>(row)];
        auto* from = tableCell(QString::fromStdString(shortDayText(i.from, workspace_.today())), false);
        // A row is known by what it says, not by its place: another window may remove the one above it.
        from->setData(Qt::UserRole, i.from.days);
        from->setData(Qt::UserRole + 1, i.to ? QVariant(i.to->days) : QVariant());
        from->setData(Qt::UserRole + 2, QString::fromStdString(i.what));
        injuries_->setItem(row, 0, from);
        injuries_->setItem(row, 1,
                           tableCell(i.to ? QString::fromStdString(shortDayText(*i.to, workspace_.today()))
                                          : wording("not over"),
                                     false));
        injuries_->setItem(row, 2, tableCell(QString::fromStdString(i.what), false));
    }
}

Injury* LifePage::injuryOf(int row, RiderRecord& in) const {
    const QTableWidgetItem* cell = row >= 0 ? injuries_->item(row, 0) : nullptr;
    if (!cell)
        return nullptr;
    Injury shown{Date{cell->data(Qt::UserRole).toInt()}, std::nullopt,
                 cell->data(Qt::UserRole + 2).toString().toStdString()};
    if (const QVariant to = cell->data(Qt::UserRole + 1); to.isValid())
        shown.to = Date{to.toInt()};
    const auto found = std::find(in.injuries.begin(), in.injuries.end(), shown);
    return found == in.injuries.end() ? nullptr : &*found;
}

void LifePage::takeInjury(int row, int column) {
    const RiderRecord* now = workspace_.roster.rider(subjectOf(injuries_));
    if (filling_ || !now)
        return;
    const RiderRecord before = *now;
    RiderRecord r = before;
    Injury* found = injuryOf(row, r);
    if (!found) {
        emit workspace_.notices.failed(
            wording("That row was changed or removed in another window meanwhile. Nothing was "
                    "changed here."));
        refresh();
        return;
    }
    Injury& i = *found;
    const QString text = injuries_->item(row, column)->text().trimmed();
    const auto date = parseDayText(text.toStdString(), workspace_.today());
    QString wrong;
    if (column == 2)
        i.what = text.toStdString();
    else if (column == 1 && (text.isEmpty() || text == wording("not over")))
        i.to.reset();
    else if (!date)
        wrong = wording("A day reads like 4 January, or 4 January 2027.");
    else if (column == 0)
        i.from = *date;
    else
        i.to = *date;
    if (i.to && *i.to < i.from)
        wrong = wording("It can't end before it begins.");
    if (wrong.isEmpty())
        workspace_.roster.edits().editRider(before, r, wording("Change an injury"));
    else
        emit workspace_.notices.failed(wording("%1 Nothing was changed.", wrong));
    refresh();
}

void LifePage::takeFocus(bool lately) {
    QDoubleSpinBox* field = lately ? usual_ : hours_[0];
    field->setFocus();
    field->selectAll();
}

} // namespace marram

#include "moc_life_page.cpp"
