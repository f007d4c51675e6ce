// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/roster/squad_dialog.h"
#include "app/shell/dates.h"
#include "app/shell/fields.h"
#include "app/shell/tables.h"
#include "core/review/wording.h"
#include "core/session/shorthand.h"
#include "wording/wording.h"

#include <QGridLayout>
#include <QSignalBlocker>

namespace marram {
namespace {

using What = SquadAddition::What;

QDateEdit* dayField() {
    auto* field = new QDateEdit;
    showAsDate(field);
    openCalendar(field);
    return field;
}

QSpinBox* wholeField(int least, int most, int step, const QString& suffix) {
    auto* field = new QSpinBox;
    field->setRange(least, most);
    field->setSingleStep(step);
    field->setSuffix(suffix);
    field->setButtonSymbols(QAbstractSpinBox::NoButtons);
    return field;
}

} // namespace

SquadDialog::SquadDialog(Workspace& workspace, QWidget* parent)
    : QDialog(parent), workspace_(workspace), today_(workspace.today()), kind_(new QComboBox),
      name_(new QComboBox), priority_(new QComboBox), family_(new QComboBox), moved_(new QComboBox),
      rule_(new QComboBox), like_(new QComboBox), words_(new QLineEdit), from_(dayField()), to_(dayField()),
      days_(wholeField(1, 30, 1, wording(" d"))), stress_(wholeField(0, 5000, 10, wording(" pts"))),
      minutes_(wholeField(15, 720, 15, " min")), rung_(wholeField(1, 40, 1, "")),
      times_(wholeField(1, 52, 1, wording(" time"))), every_(wholeField(1, 12, 1, wording(" week"))),
      state_(wordsLabel({}, true)), table_(new TrialTable), put_(new QPushButton) {
    setObjectName("squadDialog");
    setWindowTitle(wording("Put on all"));
    auto* layout = new QVBoxLayout(this);
    auto* columns = new QHBoxLayout;
    auto* grid = new QGridLayout;
    grid->setHorizontalSpacing(16);
    for (const auto& [words, kind] : {std::pair{wording("a race"), What::Race},
                                      {wording("a camp"), What::Camp},
                                      {wording("days away"), What::Away},
                                      {wording("a session ridden together"), What::Team},
                                      {wording("deload weeks together"), What::Deloads},
                                      {wording("a race of the squad to another day"), What::Move},
                                      {wording("a rule as one rider has it"), What::Rule},
                                      {wording("all rules as one rider has them"), What::Rules},
                                      {wording("a season begun from one rider's"), What::Season}})
        kind_->addItem(words, static_cast<int>(kind));
    priority_->addItems(
        {wording("A: peak for it"), wording("B: freshen for it"), wording("C: train through")});
    priority_->setCurrentIndex(2);
    name_->setEditable(true);
    name_->setInsertPolicy(QComboBox::NoInsert);
    name_->setMinimumWidth(qRound(260 * textScale()));
    from_->setDate(toQt(monday(today_) + 27));
    stress_->setSpecialValueText(wording("as is usual"));
    minutes_->setValue(150);
    words_->setPlaceholderText(wording("in words instead: 15 min 50 to 90, 3 × 8 min 95 …"));
    using W = std::set<What>;
    add(grid, wording("&What"), kind_, "squadKind");
    add(grid, wording("&Name"), name_, "squadName", W{What::Race, What::Team});
    add(grid, wording("&Session"), family_, "squadFamily", W{What::Team});
    add(grid, wording("R&ung"), rung_, "squadRung", W{What::Team});
    add(grid, wording("&Length"), minutes_, "squadMinutes", W{What::Team});
    add(grid, wording("In wor&ds"), words_, "squadWords", W{What::Team});
    add(grid, wording("&Race"), moved_, "squadMoved", W{What::Move});
    add(grid, wording("&First day"), from_, "squadFrom",
        W{What::Race, What::Camp, What::Away, What::Team, What::Deloads});
    add(grid, wording("&To"), to_, "squadTo", W{What::Move});
    add(grid, wording("Fo&r"), days_, "squadDays", W{What::Race, What::Camp, What::Away});
    add(grid, wording("&Priority"), priority_, "squadPriority", W{What::Race});
    add(grid, wording("S&tress"), stress_, "squadStress", W{What::Race, What::Camp});
    add(grid, wording("Ho&w often"), times_, "squadTimes", W{What::Race, What::Team, What::Deloads});
    add(grid, wording("&Every"), every_, "squadEvery", W{What::Race, What::Team, What::Deloads});
    add(grid, wording("Ru&le"), rule_, "squadRule", W{What::Rule});
    add(grid, wording("&As it is with"), like_, "squadLike", W{What::Rule, What::Rules, What::Season});
    grid->setRowStretch(grid->rowCount(), 1);
    columns->addLayout(grid);
    columns->addSpacing(20);
    auto* right = new QVBoxLayout;
    state_->setObjectName("squadTrialState");
    right->addWidget(state_);
    right->addWidget(table_, 1);
    columns->addLayout(right, 1);
    layout->addLayout(columns, 1);
    auto* cancel = new QPushButton(wording("Cancel"));
    put_->setObjectName("squadPut");
    put_->setDefault(true);
    auto* buttons = new QHBoxLayout;
    buttons->addWidget(wordsLabel(wording("Each is solved on its own. One step to undo."), true), 1);
    buttons->addWidget(cancel);
    buttons->addWidget(put_);
    layout->addLayout(buttons);
    resize(qRound(980 * textScale()), qRound(560 * textScale()));
    fillLists();
    wait_.setSingleShot(true);
    wait_.setInterval(300);
    connect(&wait_, &QTimer::timeout, this, &SquadDialog::reckon);
    connect(kind_, &QComboBox::currentIndexChanged, this, [this] {
        if (what() == What::Deloads)
            every_->setValue(4);
        else
            every_->setValue(1);
        times_->setValue(1);
        follow();
    });
    connect(name_, &QComboBox::activated, this, &SquadDialog::takeKnownRace);
    connect(name_, &QComboBox::editTextChanged, this, &SquadDialog::follow);
    connect(words_, &QLineEdit::textChanged, this, &SquadDialog::follow);
    for (QComboBox* box : {priority_, family_, moved_, rule_, like_})
        connect(box, &QComboBox::currentIndexChanged, this, &SquadDialog::follow);
    for (QSpinBox* box : {days_, stress_, minutes_, rung_, times_, every_})
        connect(box, &QSpinBox::valueChanged, this, &SquadDialog::follow);
    for (QDateEdit* field : {from_, to_})
        connect(field, &QDateEdit::dateChanged, this, &SquadDialog::follow);
    connect(table_, &TrialTable::changed, this, &SquadDialog::showTrials);
    connect(&workspace_.squads, &Squads::tried, this, [this] {
        table_->show(chosen(), workspace_.squads.trials(), today_);
        showTrials();
    });
    connect(cancel, &QPushButton::clicked, this, &QDialog::reject);
    connect(put_, &QPushButton::clicked, this, [this] {
        emit answered(chosen(), table_->chosen());
        accept();
    });
    follow();
    name_->setFocus();
}

SquadDialog::~SquadDialog() {
    workspace_.squads.stopTrying();
}

QWidget* SquadDialog::add(QGridLayout* grid, const QString& words, QWidget* field, const char* name,
                          std::set<What> of) {
    auto* label = captionLabel(words);
    label->setBuddy(field);
    field->setObjectName(name);
    field->setAccessibleName(QString(words).remove('&'));
    const int row = static_cast<int>(rows_.size());
    grid->addWidget(label, row, 0);
    grid->addWidget(field, row, 1);
    rows_.push_back({label, field, std::move(of)});
    return field;
}

/// Each race once, and with its course where one of them has it.
static void know(std::vector<Race>& known, const Race& r) {
    const auto same = std::find_if(known.begin(), known.end(),
                                   [&](const Race& k) { return k.name == r.name && k.date == r.date; });
    if (same == known.end())
        known.push_back(r);
    else if (same->course.empty())
        *same = r;
}

static bool riddenByMany(const Family& f) {
    return f.name == "endurance" || f.name == "long ride" || !f.work.empty();
}

/// What there is to choose from: races, families, riders.
void SquadDialog::fillLists() {
    for (const SquadRow& row : workspace_.squads.rows()) {
        if (!row.season)
            continue;
        like_->addItem(row.name, row.rider);
        for (const Race& r : row.season->races) {
            if (r.date < today_)
                continue;
            know(known_, r);
            if (r.squad && moved_->findData(QString::fromStdString(r.name + isoText(*r.squad))) < 0)
                moved_->addItem(QString::fromStdString(r.name + ", " + dayText(*r.squad, today_)),
                                QString::fromStdString(r.name + isoText(*r.squad)));
        }
    }
    std::stable_sort(known_.begin(), known_.end(),
                     [](const Race& a, const Race& b) { return a.date < b.date; });
    for (const Race& r : known_)
        name_->addItem(QString::fromStdString(r.name));
    name_->setCurrentIndex(-1);
    name_->clearEditText();
    const FamilyBook book = FamilyBook::standard().with(workspace_.roster.ownFamilies());
    for (const bool together : {true, false})
        for (const Family& f : book.all())
            if (f.together == together && riddenByMany(f))
                family_->addItem(wording(QString::fromStdString(f.name)), QString::fromStdString(f.name));
    family_->setCurrentIndex(family_->findData("long ride"));
    for (const RuleName rule : allRules)
        rule_->addItem(QString::fromStdString(labelOf(rule)), static_cast<int>(rule));
    to_->setDate(from_->date());
}

/// A race somebody has is put on the others as they have it.
void SquadDialog::takeKnownRace(int index) {
    if (index < 0 || index >= static_cast<int>(known_.size()) || what() != What::Race)
        return;
    const Race& r = known_[static_cast<size_t>(index)];
    from_->setDate(toQt(r.date));
    days_->setValue(r.days);
    priority_->setCurrentIndex(static_cast<int>(r.priority));
    stress_->setValue(r.stress ? qRound(*r.stress) : 0);
    alike_ = r;
    follow();
}

SquadAddition SquadDialog::chosen() const {
    SquadAddition a;
    a.what = what();
    a.name = name_->currentText().trimmed().toStdString();
    a.from = fromQt(from_->date());
    a.days = days_->value();
    a.priority = static_cast<Priority>(priority_->currentIndex());
    if (stress_->value() > 0)
        a.stress = stress_->value();
    a.times = times_->value();
    a.everyWeeks = every_->value();
    if (alike_ && alike_->name == a.name) {
        a.course = alike_->course;
        a.demand = alike_->demand;
    }
    a.family = family_->currentData().toString().toStdString();
    if (rung_->isEnabled())
        a.rung = rung_->value();
    a.minutes = minutes_->value();
    a.words = writtenShorthand(words_->text().trimmed().toStdString());
    if (a.what == What::Move) {
        const QString key = moved_->currentData().toString();
        a.name = key.chopped(10).toStdString();
        a.from = parseDate(key.right(10).toStdString()).value_or(today_);
        a.to = fromQt(to_->date());
    }
    a.rule = static_cast<RuleName>(rule_->currentData().toInt());
    if (a.what == What::Rule || a.what == What::Rules || a.what == What::Season)
        for (const SquadRow& row : workspace_.squads.rows())
            if (row.season && row.rider == like_->currentData().toLongLong()) {
                a.of = *row.season;
                a.from = a.of->start;
            }
    return a;
}

void SquadDialog::show(const SquadAddition& a) {
    {
        const QSignalBlocker quiet(kind_);
        kind_->setCurrentIndex(kind_->findData(static_cast<int>(a.what)));
    }
    if (a.what == What::Move) {
        moved_->setCurrentIndex(moved_->findData(QString::fromStdString(a.name + isoText(a.from))));
        to_->setDate(toQt(a.to));
    }
    follow();
}

bool SquadDialog::complete(const SquadAddition& a) const {
    switch (a.what) {
    case What::Race:
        return !a.name.empty();
    case What::Team:
        return !a.name.empty() && (a.words.empty() || readShorthand(a.words));
    case What::Move:
        return !a.name.empty() && a.to != a.from;
    case What::Rule:
    case What::Rules:
    case What::Season:
        return a.of.has_value();
    default:
        return true;
    }
}

void SquadDialog::follow() {
    for (const Row& row : rows_) {
        const bool asked = row.of.empty() || row.of.contains(what());
        row.label->setVisible(asked);
        row.field->setVisible(asked);
    }
    const FamilyBook book = FamilyBook::standard().with(workspace_.roster.ownFamilies());
    const Family* family = book.named(family_->currentData().toString().toStdString());
    const bool worded = !words_->text().trimmed().isEmpty();
    rung_->setEnabled(family && family->work.size() > 1 && !worded && family->name != "long ride");
    if (family && !family->work.empty())
        rung_->setMaximum(static_cast<int>(family->work.size()));
    minutes_->setEnabled(!worded);
    every_->setEnabled(times_->value() > 1);
    every_->setSuffix(countedWording(every_->value(), " week", " weeks"));
    times_->setSuffix(countedWording(times_->value(), " time", " times"));
    wait_.start();
    showTrials();
}

void SquadDialog::reckon() {
    const SquadAddition a = chosen();
    if (complete(a))
        workspace_.squads.tryOut(a);
    else
        workspace_.squads.stopTrying();
    table_->show(a, workspace_.squads.trials(), today_);
    showTrials();
}

static QString whatIsMissing(const SquadAddition& a, bool racesAhead) {
    if (const auto read = readShorthand(a.words);
        a.what == SquadAddition::What::Team && !a.words.empty() && !read)
        return wording("The words can't be read: character %1, %2.")
            .arg(read.error().place)
            .arg(QString::fromStdString(read.error().sentence));
    if (a.what == SquadAddition::What::Move)
        return racesAhead ? wording("Choose the other day.")
                          : wording("No race that lies ahead was put on from here.");
    if (a.what == SquadAddition::What::Race || a.what == SquadAddition::What::Team)
        return wording("Give it a name.");
    return wording("Nobody shown has a season to take it from.");
}

void SquadDialog::showTrials() {
    const SquadAddition a = chosen();
    const bool ready = complete(a), busy = wait_.isActive() || workspace_.squads.trying();
    const int on = static_cast<int>(table_->chosen().size());
    QString words;
    if (!ready)
        words = whatIsMissing(a, moved_->count() > 0);
    else if (busy)
        words = wording("Reckoning what it does to each: %1 of %2…")
                    .arg(workspace_.squads.trials().size())
                    .arg(workspace_.squads.total());
    else if (a.what == What::Rule && a.of)
        words = QString::fromStdString(upper(labelOf(a.rule)) + ": " + valueText(a.rule, a.of->rules));
    else if (on == 0)
        words = wording("Nobody would get it.");
    state_->setText(words);
    state_->setVisible(!words.isEmpty());
    put_->setText(on == 1 ? wording("&Put on one rider") : wording("&Put on %1 riders").arg(on));
    put_->setEnabled(ready && !busy && on > 0);
}

} // namespace marram

#include "moc_squad_dialog.cpp"
