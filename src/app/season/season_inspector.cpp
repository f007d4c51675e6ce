// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/season/season_inspector.h"
#include "app/season/season_edits.h"
#include "app/season/season_words.h"
#include "app/shell/dates.h"
#include "app/shell/fields.h"
#include "app/theme/theme.h"
#include "wording/wording.h"

#include <QGridLayout>
#include <QVBoxLayout>
#include <utility>

namespace marram {
namespace {

const std::array demandWords{marked("unstated"), marked("steady"), marked("long"),
                             marked("punchy"),   marked("road"),   marked("stage")};
const std::array demands{Demand::Unstated, Demand::Steady, Demand::Long,
                         Demand::Punchy,   Demand::Road,   Demand::Stage};
const std::array kindWords{marked("as the season has it"), marked("build"), marked("deload"),
                           marked("recovery"), marked("break")};
const std::array<std::optional<WeekKind>, 5> kinds{std::nullopt, WeekKind::Build, WeekKind::Deload,
                                                   WeekKind::Recovery, WeekKind::Break};

const std::array phases{Phase::Transition, Phase::Base, Phase::Build, Phase::Specialise};

QDate qdate(Date d) {
    const CivilDate c = toCivil(d);
    return {c.year, c.month, c.day};
}

} // namespace

SeasonInspector::SeasonInspector(QWidget* parent)
    : QWidget(parent), title_(new QLabel), rules_(new RulesPanel), words_(new QTextBrowser) {
    auto* layout = new QVBoxLayout(this);
    layout->setContentsMargins(16, 10, 12, 6);
    title_->setWordWrap(true);
    layout->addWidget(title_);
    raceFields_ = makeRaceFields();
    weekFields_ = makeWeekFields();
    layout->addWidget(raceFields_);
    layout->addWidget(weekFields_);
    words_->setObjectName("seasonWords");
    words_->setAccessibleName(wording("Explanation"));
    words_->setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
    words_->setOpenLinks(false);
    words_->document()->setDocumentMargin(0);
    connect(rules_, &RulesPanel::changed, this, &SeasonInspector::changed);
    layout->addWidget(rules_, 5);
    layout->addWidget(words_, 2);
}

QWidget* SeasonInspector::makeRaceFields() {
    auto* box = new QWidget;
    auto* grid = new QGridLayout(box);
    grid->setContentsMargins(0, 2, 0, 4);
    grid->setHorizontalSpacing(10);
    name_ = new QLineEdit;
    name_->setObjectName("raceName");
    name_->setFont(typeface(Type::Title, true));
    name_->setAccessibleName(wording("Name of the race"));
    date_ = new QDateEdit;
    showAsDate(date_);
    date_->setObjectName("raceDate");
    date_->setKeyboardTracking(false);
    date_->setButtonSymbols(QAbstractSpinBox::NoButtons);
    priority_ = new QComboBox;
    priority_->addItems(
        {wording("A: peak for it"), wording("B: freshen for it"), wording("C: train through")});
    priority_->setObjectName("racePriority");
    demand_ = new QComboBox;
    for (const char* w : demandWords)
        demand_->addItem(wording(w));
    demand_->setObjectName("raceDemand");
    demand_->setAccessibleName(wording("What the race asks for"));
    stress_ = numberField(0, 5000, 10, 0, wording(" pts"), "raceStress", wording("Stress of the race"));
    days_ = new QSpinBox;
    days_->setObjectName("raceDays");
    days_->setAccessibleName(wording("Days the race lasts"));
    days_->setRange(1, 30);
    days_->setSuffix(" d");
    days_->setAlignment(Qt::AlignRight);
    days_->setButtonSymbols(QAbstractSpinBox::NoButtons);
    days_->setKeyboardTracking(false);
    gateLow_ = numberField(-60, 60, 1, 0, "", "gateLow", wording("Gate, lower edge"));
    gateHigh_ = numberField(-60, 60, 1, 0, "", "gateHigh", wording("Gate, upper edge"));
    remove_ = new QPushButton(wording("Remove race"));
    const auto label = [&](const QString& text, int row, int column) {
        auto* l = new QLabel(text);
        l->setForegroundRole(QPalette::PlaceholderText);
        grid->addWidget(l, row, column);
    };
    grid->addWidget(name_, 0, 0, 1, 4);
    grid->addWidget(date_, 1, 0, 1, 2);
    grid->addWidget(priority_, 1, 2, 1, 2);
    label(wording("Stress"), 2, 0);
    grid->addWidget(stress_, 2, 1);
    label(wording("over"), 2, 2);
    grid->addWidget(days_, 2, 3);
    label(wording("Gate"), 3, 0);
    grid->addWidget(gateLow_, 3, 1);
    label(wording("to"), 3, 2);
    grid->addWidget(gateHigh_, 3, 3);
    label(wording("Demand"), 4, 0);
    grid->addWidget(demand_, 4, 1);
    grid->addWidget(remove_, 4, 2, 1, 2);
    nameBound_ = Binding::text(name_, [this](qint64 race, const QVariant& v) {
        if (!v.toString().isEmpty())
            changeRace(race, wording("Rename a race"), [&](Race& r) { r.name = v.toString().toStdString(); });
    });
    dateBound_ = Binding::date(date_, [this](qint64 race, const QVariant& v) {
        changeRace(race, wording("Move a race"), [&](Race& r) {
            r.date = fromCivil(v.toDate().year(), v.toDate().month(), v.toDate().day());
        });
    });
    priorityBound_ = Binding::choice(priority_, [this](qint64 race, const QVariant& v) {
        changeRace(race, wording("Change a race's priority"), [&](Race& r) {
            if (const auto to = static_cast<Priority>(v.toInt()); to != r.priority) {
                r.priority = to;
                r.gate.reset(); // a gate belongs to what the race is for
            }
        });
    });
    demandBound_ = Binding::choice(demand_, [this](qint64 race, const QVariant& v) {
        changeRace(race, wording("Change a race's demand"),
                   [&](Race& r) { r.demand = demands[static_cast<size_t>(v.toInt())]; });
    });
    stressBound_ = Binding::number(stress_, [this](qint64 race, const QVariant& v) {
        changeRace(race, wording("Change a race's stress"), [&](Race& r) { r.stress = v.toDouble(); });
    });
    daysBound_ = Binding::whole(days_, [this](qint64 race, const QVariant& v) {
        changeRace(race, wording("Change a race's length"), [&](Race& r) { r.days = v.toInt(); });
    });
    const auto gate = [this](QDoubleSpinBox* field, bool lower) {
        return Binding::number(field, [this, lower](qint64 race, const QVariant& v) {
            changeRace(race, wording("Change a gate"), [&](Race& r) {
                Gate g = gateInForce(r, picture_.plan).value_or(Gate{});
                (lower ? g.low : g.high) = v.toDouble();
                r.gate = Gate{std::min(g.low, g.high), std::max(g.low, g.high)};
            });
        });
    };
    lowBound_ = gate(gateLow_, true);
    highBound_ = gate(gateHigh_, false);
    connect(remove_, &QPushButton::clicked, this, [this] {
        Season s = picture_.season;
        const auto at = static_cast<size_t>(marks_.race);
        if (at >= s.races.size())
            return;
        const QString name = QString::fromStdString(s.races[at].name);
        s.races.erase(s.races.begin() + marks_.race);
        change(s, wording("Remove %1", name));
    });
    return box;
}

QWidget* SeasonInspector::makeWeekFields() {
    auto* box = new QWidget;
    auto* grid = new QGridLayout(box);
    grid->setContentsMargins(0, 2, 0, 4);
    grid->setHorizontalSpacing(4);
    auto* caption = new QLabel(wording("Hours this week"));
    caption->setForegroundRole(QPalette::PlaceholderText);
    grid->addWidget(caption, 0, 0, 1, 7);
    for (int i = 0; i < 7; ++i) {
        auto* label = new QLabel(QString::fromStdString(shortestWeekdayText(i)));
        label->setAlignment(Qt::AlignRight);
        label->setForegroundRole(QPalette::PlaceholderText);
        grid->addWidget(label, 1, i);
        auto*& h = hours_[static_cast<size_t>(i)];
        h = numberField(
            0, 24, 0.25, 2, "", QString("hours%1").arg(i),
            wording("Hours on %1 of this week").arg(QString::fromStdString(weekdayText(Date{4 + i}))));
        h->setMinimumWidth(QFontMetrics(typeface(Type::Body)).horizontalAdvance("24.00") + 10);
        grid->addWidget(h, 2, i);
        hoursBound_[static_cast<size_t>(i)] = Binding::number(h, [this, i](qint64 week, const QVariant& v) {
            changeWeek(week, wording("Change the hours of a week"), [&](WeekPin& p) {
                WeekHours hours = p.hours.value_or(picture_.season.hours);
                hours[static_cast<size_t>(i)] = v.toDouble();
                p.hours = hours == picture_.season.hours ? std::nullopt : std::optional(hours);
            });
        });
    }
    auto* label = new QLabel(wording("This week is"));
    label->setForegroundRole(QPalette::PlaceholderText);
    grid->addWidget(label, 3, 0, 1, 3);
    kind_ = new QComboBox;
    for (const char* w : kindWords)
        kind_->addItem(wording(w));
    kind_->setObjectName("weekKind");
    kind_->setAccessibleName(wording("Kind of week"));
    grid->addWidget(kind_, 3, 3, 1, 4);
    auto* of = new QLabel(wording("in"));
    of->setForegroundRole(QPalette::PlaceholderText);
    grid->addWidget(of, 4, 0, 1, 3);
    phase_ = new QComboBox;
    phase_->addItem(wording("the phase the season has"));
    for (const Phase p : phases)
        phase_->addItem(wording(nameOf(p)));
    phase_->setObjectName("weekPhase");
    phase_->setAccessibleName(wording("Phase of the week"));
    grid->addWidget(phase_, 4, 3, 1, 4);
    phaseBound_ = Binding::choice(phase_, [this](qint64 week, const QVariant& v) {
        changeWeek(week, wording("Pin a week's phase"), [&](WeekPin& p) {
            p.phase =
                v.toInt() == 0 ? std::nullopt : std::optional(phases[static_cast<size_t>(v.toInt() - 1)]);
        });
    });
    unpin_ = new QPushButton(wording("As every week"));
    grid->addWidget(unpin_, 5, 3, 1, 4);
    kindBound_ = Binding::choice(kind_, [this](qint64 week, const QVariant& v) {
        changeWeek(week, wording("Pin a week"),
                   [&](WeekPin& p) { p.kind = kinds[static_cast<size_t>(v.toInt())]; });
    });
    connect(unpin_, &QPushButton::clicked, this, [this] {
        Season s = picture_.season;
        if (!marks_.day)
            return;
        std::erase_if(s.weeks, [&](const WeekPin& p) { return p.start == monday(*marks_.day); });
        change(s, wording("Unpin a week"));
    });
    return box;
}

void SeasonInspector::show(const SeasonPicture& picture, const SeasonMarks& marks,
                           const std::vector<Limit>& limits, bool limitsReady) {
    const auto whatShows = [](const SeasonPicture& p, const SeasonMarks& m) {
        const auto at = static_cast<size_t>(m.race);
        return m.race >= 0 && at < p.season.races.size() ? raceKey(p.subject, p.season.races[at]) : 0;
    };
    // What is being typed belongs to what was shown until now.
    if (picture.subject != picture_.subject || marks.day != marks_.day ||
        whatShows(picture, marks) != whatShows(picture_, marks_))
        Binding::finishWithin(this);
    picture_ = picture;
    marks_ = marks;
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
        title_->setText(wording("Week of %1", QString::fromStdString(dayText(monday(*marks.day)))));
        fillWeek();
        words = inspectDay(picture, *marks.day);
    } else {
        title_->setText(wording("How this season is made"));
    }
    const bool season = !race && !marks.day;
    rules_->setVisible(season);
    if (season)
        rules_->show(picture);
    words_->setFont(typeface(Type::Body));
    const QString html = semiBold(withPeoplesDates(
        words + differences(picture) + (season ? sinceLastWeek(picture) : QString()) + inspectSeason(picture),
        picture.today));
    if (std::exchange(html_, html) != html) // to lay them out takes longer than all the rest
        words_->setHtml(html);
}

void SeasonInspector::fillRace() {
    const Race& r = picture_.season.races[static_cast<size_t>(marks_.race)];
    const qint64 race = raceKey(picture_.subject, r);
    const auto gate = gateInForce(r, picture_.plan);
    nameBound_->show(race, QString::fromStdString(r.name));
    {
        const QSignalBlocker quiet(date_); // a range moves the date with it
        date_->setDateRange(qdate(picture_.season.start), qdate(picture_.season.end - (r.days - 1)));
    }
    dateBound_->show(race, qdate(r.date));
    priorityBound_->show(race, static_cast<int>(r.priority));
    demandBound_->show(race, static_cast<int>(r.demand));
    stressBound_->show(race, raceStress(r));
    daysBound_->show(race, r.days);
    gateLow_->setEnabled(gate.has_value());
    gateHigh_->setEnabled(gate.has_value());
    lowBound_->show(race, gate ? gate->low : 0);
    highBound_->show(race, gate ? gate->high : 0);
}

void SeasonInspector::fillWeek() {
    WeekHours hours = picture_.season.hours;
    std::optional<WeekKind> kind;
    std::optional<Phase> phase;
    bool pinned = false;
    for (const WeekPin& p : picture_.season.weeks)
        if (p.start == monday(*marks_.day)) {
            hours = p.hours.value_or(hours);
            kind = p.kind;
            phase = p.phase;
            pinned = true;
        }
    const qint64 week = picture_.subject * 1000000 + monday(*marks_.day).days;
    for (size_t i = 0; i < 7; ++i)
        hoursBound_[i]->show(week, hours[i]);
    const auto found = std::find(kinds.begin(), kinds.end(), kind);
    kindBound_->show(week, found == kinds.end() ? 0 : static_cast<int>(found - kinds.begin()));
    phaseBound_->show(
        week,
        phase ? static_cast<int>(std::find(phases.begin(), phases.end(), *phase) - phases.begin()) + 1 : 0);
    unpin_->setVisible(pinned);
}

void SeasonInspector::change(const Season& after, const QString& what) {
    emit changed(picture_.subject, picture_.season, after, what);
}

void SeasonInspector::changeRace(qint64 subject, const QString& what,
                                 const std::function<void(Race&)>& edit) {
    Season s = picture_.season;
    Race* race = raceOfKey(subject, picture_.subject, s);
    if (!race)
        return;
    edit(*race);
    change(s, what);
}

void SeasonInspector::changeWeek(qint64 subject, const QString& what,
                                 const std::function<void(WeekPin&)>& edit) {
    if (subject / 1000000 != picture_.subject)
        return;
    change(withPin(picture_.season, Date{static_cast<int>(subject % 1000000)}, edit), what);
}

} // namespace marram

#include "moc_season_inspector.cpp"
