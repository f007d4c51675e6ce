// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/season/season_inspector.h"
#include "app/season/season_words.h"
#include "app/shell/fields.h"
#include "app/theme/theme.h"

#include <QGridLayout>
#include <QVBoxLayout>

namespace marram {
namespace {

const std::array demandWords{"unstated", "steady", "long", "punchy", "road", "stage"};
const std::array demands{Demand::Unstated, Demand::Steady, Demand::Long,
                         Demand::Punchy,   Demand::Road,   Demand::Stage};
const std::array kindWords{"as the season has it", "build", "deload", "recovery", "break"};
const std::array<std::optional<WeekKind>, 5> kinds{std::nullopt, WeekKind::Build, WeekKind::Deload,
                                                   WeekKind::Recovery, WeekKind::Break};

QDate qdate(Date d) {
    const CivilDate c = toCivil(d);
    return {c.year, c.month, c.day};
}

} // namespace

SeasonInspector::SeasonInspector(QWidget* parent)
    : QWidget(parent), title_(new QLabel), words_(new QTextBrowser) {
    auto* layout = new QVBoxLayout(this);
    layout->setContentsMargins(16, 10, 12, 6);
    title_->setWordWrap(true);
    layout->addWidget(title_);
    raceFields_ = makeRaceFields();
    weekFields_ = makeWeekFields();
    layout->addWidget(raceFields_);
    layout->addWidget(weekFields_);
    words_->setObjectName("seasonWords");
    words_->setAccessibleName("Explanation");
    words_->setOpenLinks(false);
    words_->document()->setDocumentMargin(0);
    layout->addWidget(words_, 1);
}

QWidget* SeasonInspector::makeRaceFields() {
    auto* box = new QWidget;
    auto* grid = new QGridLayout(box);
    grid->setContentsMargins(0, 2, 0, 4);
    grid->setHorizontalSpacing(10);
    name_ = new QLineEdit;
    name_->setObjectName("raceName");
    name_->setFont(typeface(Type::Title, true));
    name_->setAccessibleName("Name of the race");
    date_ = new QDateEdit;
    date_->setDisplayFormat("ddd d MMM yyyy");
    date_->setObjectName("raceDate");
    date_->setKeyboardTracking(false);
    date_->setButtonSymbols(QAbstractSpinBox::NoButtons);
    priority_ = new QComboBox;
    priority_->addItems({"A: peak for it", "B: freshen for it", "C: train through"});
    priority_->setObjectName("racePriority");
    demand_ = new QComboBox;
    for (const char* w : demandWords)
        demand_->addItem(w);
    stress_ = numberField(0, 5000, 10, 0, " pts", "raceStress");
    days_ = new QSpinBox;
    days_->setRange(1, 30);
    days_->setSuffix(" d");
    days_->setAlignment(Qt::AlignRight);
    days_->setButtonSymbols(QAbstractSpinBox::NoButtons);
    days_->setKeyboardTracking(false);
    gateLow_ = numberField(-60, 60, 1, 0, "", "gateLow");
    gateHigh_ = numberField(-60, 60, 1, 0, "", "gateHigh");
    remove_ = new QPushButton("Remove race");
    const auto label = [&](const QString& text, int row, int column) {
        auto* l = new QLabel(text);
        l->setForegroundRole(QPalette::PlaceholderText);
        grid->addWidget(l, row, column);
    };
    grid->addWidget(name_, 0, 0, 1, 4);
    grid->addWidget(date_, 1, 0, 1, 2);
    grid->addWidget(priority_, 1, 2, 1, 2);
    label("Stress", 2, 0);
    grid->addWidget(stress_, 2, 1);
    label("over", 2, 2);
    grid->addWidget(days_, 2, 3);
    label("Gate", 3, 0);
    grid->addWidget(gateLow_, 3, 1);
    label("to", 3, 2);
    grid->addWidget(gateHigh_, 3, 3);
    label("Demand", 4, 0);
    grid->addWidget(demand_, 4, 1);
    grid->addWidget(remove_, 4, 2, 1, 2);
    connect(name_, &QLineEdit::editingFinished, this, [this] { takeRace("Rename a race"); });
    connect(date_, &QDateEdit::dateChanged, this, [this] { takeRace("Move a race"); });
    connect(priority_, &QComboBox::activated, this, [this] { takeRace("Change a race's priority"); });
    connect(demand_, &QComboBox::activated, this, [this] { takeRace("Change a race's demand"); });
    connect(stress_, &QDoubleSpinBox::valueChanged, this, [this] { takeRace("Change a race's stress"); });
    connect(days_, &QSpinBox::valueChanged, this, [this] { takeRace("Change a race's length"); });
    connect(gateLow_, &QDoubleSpinBox::valueChanged, this, [this] { takeRace("Change a gate"); });
    connect(gateHigh_, &QDoubleSpinBox::valueChanged, this, [this] { takeRace("Change a gate"); });
    connect(remove_, &QPushButton::clicked, this, [this] {
        Season s = picture_.season;
        const QString name = QString::fromStdString(s.races[static_cast<size_t>(marks_.race)].name);
        s.races.erase(s.races.begin() + marks_.race);
        emit changed(s, "Remove " + name);
    });
    return box;
}

QWidget* SeasonInspector::makeWeekFields() {
    auto* box = new QWidget;
    auto* grid = new QGridLayout(box);
    grid->setContentsMargins(0, 2, 0, 4);
    grid->setHorizontalSpacing(4);
    const std::array names{"Mo", "Tu", "We", "Th", "Fr", "Sa", "Su"};
    auto* caption = new QLabel("Hours this week");
    caption->setForegroundRole(QPalette::PlaceholderText);
    grid->addWidget(caption, 0, 0, 1, 7);
    for (int i = 0; i < 7; ++i) {
        auto* label = new QLabel(names[static_cast<size_t>(i)]);
        label->setAlignment(Qt::AlignRight);
        label->setForegroundRole(QPalette::PlaceholderText);
        grid->addWidget(label, 1, i);
        auto*& h = hours_[static_cast<size_t>(i)];
        h = numberField(0, 24, 0.25, 2, "", QString("hours%1").arg(i));
        h->setMinimumWidth(QFontMetrics(typeface(Type::Body)).horizontalAdvance("24.00") + 10);
        grid->addWidget(h, 2, i);
        connect(h, &QDoubleSpinBox::valueChanged, this, [this] { takeWeek("Change the hours of a week"); });
    }
    auto* label = new QLabel("This week is");
    label->setForegroundRole(QPalette::PlaceholderText);
    grid->addWidget(label, 3, 0, 1, 3);
    kind_ = new QComboBox;
    for (const char* w : kindWords)
        kind_->addItem(w);
    kind_->setObjectName("weekKind");
    kind_->setAccessibleName("Kind of week");
    grid->addWidget(kind_, 3, 3, 1, 4);
    unpin_ = new QPushButton("As every week");
    grid->addWidget(unpin_, 4, 3, 1, 4);
    connect(kind_, &QComboBox::activated, this, [this] { takeWeek("Pin a week"); });
    connect(unpin_, &QPushButton::clicked, this, [this] {
        Season s = picture_.season;
        std::erase_if(s.weeks, [&](const WeekPin& p) { return p.start == monday(*marks_.day); });
        emit changed(s, "Unpin a week");
    });
    return box;
}

void SeasonInspector::show(const SeasonPicture& picture, const SeasonMarks& marks,
                           const std::vector<Limit>& limits, bool limitsReady) {
    picture_ = picture;
    marks_ = marks;
    filling_ = true;
    const bool race = marks.race >= 0 && static_cast<size_t>(marks.race) < picture.season.races.size();
    raceFields_->setVisible(race);
    weekFields_->setVisible(!race && marks.day.has_value());
    title_->setFont(typeface(Type::Title, true));
    title_->setVisible(!race); // a race is named where its name can be changed
    QString words;
    if (race) {
        fillRace();
        words = inspectRace(picture, marks.race, limits, limitsReady);
    } else if (marks.day) {
        title_->setText("Week of " + QString::fromStdString(dayText(monday(*marks.day))));
        fillWeek();
        words = inspectDay(picture, *marks.day);
    } else {
        title_->setText("The season");
        words =
            "<p>Choose a race, a week or a day. Drag a stake to move a race; drag the bars of its gate.</p>";
    }
    words_->setFont(typeface(Type::Body));
    words_->setHtml(words + inspectSeason(picture));
    filling_ = false;
}

void SeasonInspector::fillRace() {
    const Race& r = picture_.season.races[static_cast<size_t>(marks_.race)];
    if (!name_->hasFocus())
        name_->setText(QString::fromStdString(r.name));
    date_->setDateRange(qdate(picture_.season.start), qdate(picture_.season.end - (r.days - 1)));
    date_->setDate(qdate(r.date));
    priority_->setCurrentIndex(static_cast<int>(r.priority));
    demand_->setCurrentIndex(static_cast<int>(r.demand));
    stress_->setValue(raceStress(r));
    days_->setValue(r.days);
    const auto gate = raceGate(r);
    gateLow_->setEnabled(gate.has_value());
    gateHigh_->setEnabled(gate.has_value());
    gateLow_->setValue(gate ? gate->low : 0);
    gateHigh_->setValue(gate ? gate->high : 0);
}

void SeasonInspector::fillWeek() {
    WeekHours hours = picture_.season.hours;
    std::optional<WeekKind> kind;
    bool pinned = false;
    for (const WeekPin& p : picture_.season.weeks)
        if (p.start == monday(*marks_.day)) {
            hours = p.hours.value_or(hours);
            kind = p.kind;
            pinned = true;
        }
    for (size_t i = 0; i < 7; ++i)
        hours_[i]->setValue(hours[i]);
    const auto found = std::find(kinds.begin(), kinds.end(), kind);
    kind_->setCurrentIndex(found == kinds.end() ? 0 : static_cast<int>(found - kinds.begin()));
    unpin_->setVisible(pinned);
}

void SeasonInspector::takeRace(const QString& what) {
    if (filling_ || marks_.race < 0)
        return;
    Season s = picture_.season;
    Race& r = s.races[static_cast<size_t>(marks_.race)];
    const Race before = r;
    if (!name_->text().trimmed().isEmpty())
        r.name = name_->text().trimmed().toStdString();
    const QDate d = date_->date();
    r.date = fromCivil(d.year(), d.month(), d.day());
    r.priority = static_cast<Priority>(priority_->currentIndex());
    r.demand = demands[static_cast<size_t>(demand_->currentIndex())];
    if (stress_->value() != raceStress(before))
        r.stress = stress_->value();
    r.days = days_->value();
    if (r.priority != before.priority)
        r.gate.reset(); // a gate belongs to what the race is for
    else if (const auto gate = raceGate(before);
             gate && (gate->low != gateLow_->value() || gate->high != gateHigh_->value()))
        r.gate = Gate{std::min(gateLow_->value(), gateHigh_->value()),
                      std::max(gateLow_->value(), gateHigh_->value())};
    const bool same = r.name == before.name && r.date == before.date && r.priority == before.priority &&
                      r.demand == before.demand && r.stress == before.stress && r.days == before.days &&
                      r.gate == before.gate;
    if (!same)
        emit changed(s, what);
}

void SeasonInspector::takeWeek(const QString& what) {
    if (filling_ || !marks_.day)
        return;
    Season s = picture_.season;
    const Date week = monday(*marks_.day);
    std::erase_if(s.weeks, [&](const WeekPin& p) { return p.start == week; });
    WeekPin pin;
    pin.start = week;
    WeekHours hours{};
    for (size_t i = 0; i < 7; ++i)
        hours[i] = hours_[i]->value();
    if (hours != picture_.season.hours)
        pin.hours = hours;
    pin.kind = kinds[static_cast<size_t>(kind_->currentIndex())];
    if (pin.hours || pin.kind)
        s.weeks.push_back(pin);
    emit changed(s, what);
}

} // namespace marram
