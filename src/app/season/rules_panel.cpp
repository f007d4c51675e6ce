// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/season/rules_panel.h"
#include "app/shell/dates.h"
#include "app/shell/fields.h"
#include "app/theme/theme.h"
#include "core/season/frame.h"
#include "wording/wording.h"

#include <QGridLayout>
#include <QToolButton>
#include <cmath>

namespace marram {
namespace {

constexpr std::array orders{Order::BaseFirst, Order::Mixed, Order::IntensityFirst};
constexpr std::array schools{School::Polarised, School::Pyramidal, School::ThresholdLed, School::Even,
                             School::Own};
constexpr std::array shapes{TaperShape::Falling, TaperShape::DeepThenModerate, TaperShape::OneWeek};
constexpr std::array splitPhases{Phase::Base, Phase::Build, Phase::Specialise};

template <class List, class Value>
int placeOf(const List& list, Value value) {
    return static_cast<int>(std::find(list.begin(), list.end(), value) - list.begin());
}

QComboBox* list(const QStringList& words, const QString& name) {
    auto* box = new QComboBox;
    box->addItems(words);
    box->setSizeAdjustPolicy(QComboBox::AdjustToMinimumContentsLengthWithIcon);
    box->setMinimumContentsLength(6);
    box->setObjectName(name);
    box->setAccessibleName(name);
    return box;
}

QDateEdit* dateField(const QString& name) {
    auto* field = new QDateEdit;
    showAsDate(field);
    field->setObjectName(name);
    field->setAccessibleName(name);
    field->setKeyboardTracking(false);
    field->setButtonSymbols(QAbstractSpinBox::NoButtons);
    return field;
}

double volumeOf(const Season& s, Phase phase) {
    const auto said = s.rules.volume.find(phase);
    if (said != s.rules.volume.end())
        return said->second;
    return phase == Phase::Base ? 1 : phase == Phase::Build ? 0.97 : 0.95;
}

/// The demand the first A race to come leans the season to.
Demand demandOf(const Season& s) {
    for (const Race& race : s.races)
        if (race.priority == Priority::A)
            return race.demand;
    return Demand::Unstated;
}

/// The split a phase settles at: in base that of its third month.
Bands splitOf(const Season& s, Phase phase) {
    return phaseSplit(s.rules, phase, demandOf(s), phase == Phase::Base ? 9 : 2);
}

double part(const Bands& b, int band) {
    return band == 0 ? b.low : band == 1 ? b.middle : b.high;
}

} // namespace

RulesPanel::RulesPanel(QWidget* parent) : QScrollArea(parent) {
    setAccessibleName(wording("How this season is made"));
    setFrameShape(QFrame::NoFrame);
    setWidgetResizable(true);
    setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
    auto* inside = new QWidget;
    grid_ = new QGridLayout(inside);
    grid_->setContentsMargins(0, 0, 8, 8);
    grid_->setHorizontalSpacing(8);
    grid_->setVerticalSpacing(3);
    grid_->setColumnStretch(0, 1);
    for (int i = 1; i <= 3; ++i)
        grid_->setColumnMinimumWidth(i, 64);
    setWidget(inside);
    questions();
    rows();
    splits();
    grid_->setRowStretch(line_, 1);
}

void RulesPanel::heading(const QString& words) {
    auto* label = new QLabel(words);
    label->setFont(typeface(Type::Body, true));
    label->setContentsMargins(0, line_ > 0 ? 12 : 0, 0, 2);
    grid_->addWidget(label, line_++, 0, 1, 4);
}

/// One rule: its name, its fields, what is proposed beside "take", and the reason when asked for.
void RulesPanel::begin(const QString& name, RuleName rule, std::initializer_list<QWidget*> fields) {
    // Three fields have a line of their own under their name.
    const bool wide = fields.size() == 3;
    auto* label = new QLabel(name);
    label->setWordWrap(true); // in some languages a rule's name is longer than its column
    grid_->addWidget(label, line_, 0, 1, wide ? 4 : 1);
    line_ += wide ? 1 : 0;
    int column = 1;
    for (QWidget* field : fields) {
        field->setMinimumWidth(40);
        field->setAccessibleName(fields.size() == 1 ? name : QString("%1, %2").arg(name).arg(column));
        const int span = fields.size() == 1 || (fields.size() == 2 && column == 2) ? 4 - column : 1;
        grid_->addWidget(field, line_, column, 1, span);
        column += span;
    }
    ++line_;
    Row row{rule, new QLabel, new QLabel, new QPushButton(wording("take")), false};
    row.note->setFont(typeface(Type::Small));
    row.note->setForegroundRole(QPalette::PlaceholderText);
    row.note->setTextInteractionFlags(Qt::LinksAccessibleByMouse | Qt::LinksAccessibleByKeyboard);
    row.note->setWordWrap(true);
    row.take->setFont(typeface(Type::Small));
    row.take->setObjectName("take" + QString::number(static_cast<int>(rule)));
    row.take->setAccessibleName(wording("Take what is proposed for %1", name));
    row.why->setFont(typeface(Type::Small));
    row.why->setForegroundRole(QPalette::PlaceholderText);
    row.why->setWordWrap(true);
    row.why->setVisible(false);
    grid_->addWidget(row.note, line_, 0, 1, 3);
    grid_->addWidget(row.take, line_++, 3);
    grid_->addWidget(row.why, line_++, 0, 1, 4);
    connect(row.take, &QPushButton::clicked, this, [this, rule] { take(rule); });
    const size_t place = row_.size();
    connect(row.note, &QLabel::linkActivated, this, [this, place] {
        row_[place].open = !row_[place].open;
        fillNotes();
    });
    row_.push_back(row);
}

Binding* RulesPanel::number(QDoubleSpinBox* field, const QString& what,
                            const std::function<void(Season&, double)>& edit) {
    return Binding::number(field, [this, what, edit](qint64 season, const QVariant& v) {
        change(season, what, [&](Season& s) { edit(s, v.toDouble()); });
    });
}

Binding* RulesPanel::choice(QComboBox* field, const QString& what,
                            const std::function<void(Season&, int)>& edit) {
    return Binding::choice(field, [this, what, edit](qint64 season, const QVariant& v) {
        change(season, what, [&](Season& s) { edit(s, v.toInt()); });
    });
}

Binding* RulesPanel::date(QDateEdit* field, const QString& what,
                          const std::function<void(Season&, Date)>& edit) {
    return Binding::date(field, [this, what, edit](qint64 season, const QVariant& v) {
        change(season, what, [&](Season& s) { edit(s, fromQt(v.toDate())); });
    });
}

void RulesPanel::questions() {
    heading(wording("First"));
    winter_ = list({wording("not asked"), wording("wanted"), wording("not wanted")}, "askWinter");
    lasts_ = list({wording("by the record"), wording("yes"), wording("not yet")}, "askLasts");
    weak_ = list({wording("not asked"), wording("endurance"), wording("speed")}, "askWeak");
    const auto ask = [this](const QString& name, QComboBox* field) {
        auto* label = new QLabel(name);
        label->setWordWrap(true);
        grid_->addWidget(label, line_, 0, 1, 2);
        field->setSizeAdjustPolicy(QComboBox::AdjustToContents); // the question gives way, it has lines
        field->setAccessibleName(name);
        grid_->addWidget(field, line_++, 2, 1, 2);
        connect(field, &QComboBox::activated, this, [this] {
            const int winter = winter_->currentIndex(), lasts = lasts_->currentIndex();
            asked_.longWinterRides = winter == 0 ? std::nullopt : std::optional(winter == 1);
            asked_.lastsDistance = lasts == 0 ? std::nullopt : std::optional(lasts == 1);
            asked_.weakness = static_cast<Questions::Weakness>(weak_->currentIndex());
            fillNotes();
        });
    };
    ask(wording("Long winter rides"), winter_);
    ask(wording("Lasts the race's length"), lasts_);
    ask(wording("The weakness"), weak_);
    answers_ = new QLabel;
    answers_->setFont(typeface(Type::Small));
    answers_->setForegroundRole(QPalette::PlaceholderText);
    answers_->setWordWrap(true);
    answers_->setObjectName("answers");
    grid_->addWidget(answers_, line_++, 0, 1, 4);
}

void RulesPanel::rows() {
    heading(wording("Rules"));
    const auto bind = [this](Binding* binding, std::function<QVariant(const Season&)> read) {
        bound_.emplace_back(binding, std::move(read));
    };
    order_ = list({wording("base first"), wording("mixed"), wording("intensity first")}, "ruleOrder");
    begin(wording("Order"), RuleName::Order, {order_});
    bind(choice(order_, wording("Change the order of the season"),
                [](Season& s, int i) { s.rules.order = orders[static_cast<size_t>(i)]; }),
         [](const Season& s) { return placeOf(orders, s.rules.order); });
    school_ = list({wording("polarised"), wording("pyramidal"), wording("threshold-led"), wording("even"),
                    wording("a split of one's own")},
                   "ruleSchool");
    begin(wording("School"), RuleName::School, {school_});
    bind(choice(school_, wording("Change the school"),
                [](Season& s, int i) {
                    const School to = schools[static_cast<size_t>(i)];
                    if (to == School::Own && s.rules.school != School::Own) {
                        // It begins as what it comes from.
                        std::map<Phase, Bands> own;
                        for (const Phase phase : splitPhases)
                            own[phase] = splitOf(s, phase);
                        s.rules.ownSplits = own;
                    }
                    s.rules.school = to;
                    if (to != School::Own)
                        s.rules.ownSplits.clear();
                }),
         [](const Season& s) { return placeOf(schools, s.rules.school); });
    build_ = numberField(1, 8, 1, 0, wording(" build"), "ruleBuild");
    deload_ = numberField(1, 3, 1, 0, wording(" deload"), "ruleDeloadWeeks");
    begin(wording("Rhythm"), RuleName::Rhythm, {build_, deload_});
    bind(number(build_, wording("Change the rhythm"),
                [](Season& s, double v) { s.rules.buildWeeks = static_cast<int>(v); }),
         [](const Season& s) { return s.rules.buildWeeks; });
    bind(number(deload_, wording("Change the rhythm"),
                [](Season& s, double v) { s.rules.deloadWeeks = static_cast<int>(v); }),
         [](const Season& s) { return s.rules.deloadWeeks; });
    ramp_ = numberField(0.5, 15, 0.5, 1, wording(" pts a week"), "ruleRamp");
    begin(wording("Ramp, at most"), RuleName::Ramp, {ramp_});
    bind(number(ramp_, wording("Change the ramp"), [](Season& s, double v) { s.rules.ramp = v; }),
         [](const Season& s) { return s.rules.ramp; });
    floor_ = numberField(-100, -1, 1, 0, wording(" pts a day"), "ruleFloor");
    begin(wording("Floor of form"), RuleName::Floor, {floor_});
    bind(number(floor_, wording("Change the floor of form"),
                [](Season& s, double v) { s.rules.formFloor = v; }),
         [](const Season& s) { return s.rules.formFloor; });
    share_ = numberField(30, 90, 5, 0, wording(" % of the week"), "ruleDeload");
    begin(wording("Deload"), RuleName::Deload, {share_});
    bind(number(share_, wording("Change the deload"), [](Season& s, double v) { s.rules.deload = v / 100; }),
         [](const Season& s) { return 100 * s.rules.deload; });
    taper_ = numberField(4, 28, 1, 0, wording(" days"), "ruleTaper");
    taperBest_ = list({wording("as said"), wording("or the best")}, "ruleTaperBest");
    begin(wording("Taper"), RuleName::Taper, {taper_, taperBest_});
    bind(number(taper_, wording("Change the taper"),
                [](Season& s, double v) {
                    s.rules.taperDays = static_cast<int>(v);
                    s.rules.taperBest = false;
                    s.rules.taperSet = true;
                }),
         [](const Season& s) { return s.rules.taperDays; });
    bind(choice(taperBest_, wording("Change how the taper is chosen"),
                [](Season& s, int i) { s.rules.taperBest = i == 1; }),
         [](const Season& s) { return s.rules.taperBest ? 1 : 0; });
    shape_ = list({wording("falling step by step"), wording("a deep week, then a moderate one"),
                   wording("a single week"), wording("what solves best")},
                  "ruleShape");
    begin(wording("Its shape"), RuleName::Shape, {shape_});
    bind(choice(shape_, wording("Change the shape of the taper"),
                [](Season& s, int i) {
                    s.rules.shapeBest = i == 3;
                    if (i < 3)
                        s.rules.taperShape = shapes[static_cast<size_t>(i)];
                }),
         [](const Season& s) { return s.rules.shapeBest ? 3 : placeOf(shapes, s.rules.taperShape); });
    overreach_ = list({wording("no"), wording("yes, a week over what is usual")}, "ruleOverreach");
    begin(wording("Overreaching"), RuleName::Overreach, {overreach_});
    bind(choice(overreach_, wording("Change the overreaching"),
                [](Season& s, int i) { s.rules.overreach = i == 1; }),
         [](const Season& s) { return s.rules.overreach ? 1 : 0; });
    for (size_t i = 0; i < 3; ++i)
        volume_[i] = numberField(30, 100, 1, 0, " %", QString("ruleVolume%1").arg(i));
    begin(wording("Hours used in base, build, specialise"), RuleName::Volume,
          {volume_[0], volume_[1], volume_[2]});
    for (size_t i = 0; i < 3; ++i)
        bind(number(volume_[i], wording("Change the volume"),
                    [i](Season& s, double v) { s.rules.volume[splitPhases[i]] = v / 100; }),
             [i](const Season& s) { return 100 * volumeOf(s, splitPhases[i]); });
    hard_ = numberField(0, 5, 1, 0, wording(" a week"), "ruleHardDays");
    begin(wording("Hard days"), RuleName::HardDays, {hard_});
    bind(number(hard_, wording("Change the hard days"),
                [](Season& s, double v) { s.rules.hardDays = static_cast<int>(v); }),
         [](const Season& s) { return s.rules.hardDays; });
    for (size_t i = 0; i < 3; ++i)
        gym_[i] = numberField(0, 4, 1, 0, "", QString("ruleGym%1").arg(i));
    begin(wording("Gym in transition, base, season"), RuleName::Gym, {gym_[0], gym_[1], gym_[2]});
    for (size_t i = 0; i < 3; ++i)
        bind(number(gym_[i], wording("Change the gym"),
                    [i](Season& s, double v) {
                        std::array<int, 3> gym = gymOf(s);
                        gym[i] = static_cast<int>(v);
                        s.rules.gym = gym;
                    }),
             [i](const Season& s) { return gymOf(s)[i]; });
    price_ = numberField(0.25, 4, 0.25, 2, wording(" fitness a point"), "ruleGatePrice");
    begin(wording("Insisting on gates"), RuleName::GatePrice, {price_});
    bind(number(price_, wording("Change how much gates are insisted on"),
                [](Season& s, double v) { s.rules.gatePrice = v; }),
         [](const Season& s) { return s.rules.gatePrice; });

    heading(wording("The season"));
    start_ = dateField("seasonStart");
    end_ = dateField("seasonEnd");
    layOff_ = list({wording("as fitness says"), wording("four weeks and more off the bike"),
                    wording("riding all along")},
                   "seasonLayOff");
    const auto plain = [this](const QString& name, QWidget* field) {
        grid_->addWidget(new QLabel(name), line_, 0);
        field->setAccessibleName(name);
        grid_->addWidget(field, line_++, 1, 1, 3);
    };
    plain(wording("From"), start_);
    plain(wording("To"), end_);
    plain(wording("It begins after"), layOff_);
    bind(date(start_, wording("Change the season's start"),
              [](Season& s, Date d) { s.start = std::min(d, s.end); }),
         [](const Season& s) { return toQt(s.start); });
    bind(date(end_, wording("Change the season's end"),
              [](Season& s, Date d) { s.end = std::clamp(d, s.start, s.start + 1099); }),
         [](const Season& s) { return toQt(s.end); });
    bind(choice(layOff_, wording("Change what the season begins after"),
                [](Season& s, int i) { s.layOff = i == 0 ? std::nullopt : std::optional(i == 1); }),
         [](const Season& s) { return !s.layOff   ? 0
                                      : *s.layOff ? 1
                                                  : 2; });
}

void RulesPanel::splits() {
    heading(wording("Shares of time: low, middle, high"));
    for (size_t p = 0; p < splitPhases.size(); ++p) {
        grid_->addWidget(new QLabel(wording(nameOf(splitPhases[p]))), line_, 0);
        for (int b = 0; b < 3; ++b) {
            auto*& field = split_[p][static_cast<size_t>(b)];
            field = numberField(0, 100, 1, 0, " %", QString("split%1%2").arg(p).arg(b));
            field->setMinimumWidth(40);
            field->setAccessibleName(wording("Share of %1, %2")
                                         .arg(wording(nameOf(splitPhases[p])), b == 0   ? wording("low")
                                                                               : b == 1 ? wording("middle")
                                                                                        : wording("high")));
            grid_->addWidget(field, line_, 1 + b);
            bound_.emplace_back(
                number(field, wording("Change the split of %1").arg(wording(nameOf(splitPhases[p]))),
                       [this, p, b](Season& s, double v) { setShare(splitPhases[p], b, v, s); }),
                [p, b](const Season& s) { return std::round(100 * part(splitOf(s, splitPhases[p]), b)); });
        }
        ++line_;
        auto*& note = splitNote_[p];
        note = new QLabel;
        note->setFont(typeface(Type::Small));
        note->setForegroundRole(QPalette::PlaceholderText);
        note->setWordWrap(true);
        grid_->addWidget(note, line_++, 0, 1, 4);
    }
    high_ = new QLabel;
    high_->setFont(typeface(Type::Small));
    high_->setForegroundRole(QPalette::PlaceholderText);
    high_->setWordWrap(true);
    high_->setObjectName("highMinutes");
    grid_->addWidget(high_, line_++, 0, 1, 4);
}

/// One share of a phase; the other two give way in proportion, so that the three sum to a hundred.
void RulesPanel::setShare(Phase phase, int band, double percent, Season& s) const {
    std::map<Phase, Bands> own = s.rules.ownSplits;
    if (s.rules.school != School::Own)
        for (const Phase p : splitPhases)
            own[p] = splitOf(s, p);
    Bands b = own.contains(phase) ? own[phase] : splitOf(s, phase);
    const double to = std::clamp(percent / 100, 0.0, 1.0), rest = 1 - to, others = 1 - part(b, band);
    const auto give = [&](double share, int of) {
        return of == band ? to : others > 1e-9 ? share / others * rest : rest / 2;
    };
    b = {give(b.low, 0), give(b.middle, 1), give(b.high, 2)};
    // Whole percents, the low share taking what is left.
    b.middle = std::round(100 * b.middle) / 100;
    b.high = std::round(100 * b.high) / 100;
    b.low = std::round(100 * (1 - b.middle - b.high)) / 100;
    own[phase] = b;
    s.rules.school = School::Own;
    s.rules.ownSplits = own;
}

void RulesPanel::show(const SeasonPicture& picture) {
    if (askedFor_ != picture.subject) {
        askedFor_ = picture.subject;
        asked_ = {};
        for (QComboBox* field : {winter_, lasts_, weak_})
            field->setCurrentIndex(0);
    }
    picture_ = picture;
    const Season& s = picture.season;
    for (QDateEdit* field : {start_, end_}) {
        const QSignalBlocker quiet(field);
        field->setDateRange(QDate(1990, 1, 1), QDate(2150, 1, 1));
    }
    for (const auto& [binding, read] : bound_)
        binding->show(picture.subject, read(s));
    fillNotes();
}

RuleProposals RulesPanel::proposals() const {
    Questions q = picture_.answers;
    q.longWinterRides = asked_.longWinterRides;
    if (asked_.lastsDistance)
        q.lastsDistance = asked_.lastsDistance;
    q.weakness = asked_.weakness;
    return proposeRules(picture_.season, q, picture_.rhythm);
}

/// What is known without asking; whether the length can be ridden only where nobody was asked.
static QStringList knownOf(const Questions& answers, bool askedForLength) {
    QStringList known;
    if (answers.hours > 0)
        known << wording("%1 hours a week").arg(answers.hours, 0, 'g', 3);
    if (answers.years)
        known << wording("%1 years of training").arg(*answers.years);
    if (answers.lastsDistance && !askedForLength)
        known << (*answers.lastsDistance
                      ? wording("by the record the first A race's length can be ridden")
                      : wording("by the record the first A race's length is not there yet"));
    return known;
}

void RulesPanel::fillNotes() {
    const RuleProposals p = proposals();
    for (Row& row : row_) {
        const bool same = asProposed(row.rule, picture_.season.rules, p.rules);
        const auto why = p.why.find(row.rule);
        const QString value = QString::fromStdString(valueText(row.rule, p.rules)).toHtmlEscaped();
        row.note->setText(QString("<a href='why' style='color:%1; text-decoration:none'>%2 %3</a>")
                              .arg(shore().muted.name(),
                                   same ? wording("as proposed:") : wording("proposed:"),
                                   value + (row.open ? " ▴" : " ▾")));
        row.take->setVisible(!same);
        row.why->setText(why == p.why.end() ? QString() : QString::fromStdString(why->second));
        row.why->setVisible(row.open && why != p.why.end());
    }
    const QStringList known = knownOf(picture_.answers, asked_.lastsDistance.has_value());
    answers_->setText(known.isEmpty() ? wording("Order and school are proposed from the answers.")
                                      : wording("Known already: %1.", known.join(", ")));
    for (size_t i = 0; i < splitPhases.size(); ++i) {
        const Bands b = splitOf(picture_.season, splitPhases[i]);
        const auto index = polarisationIndex(b);
        splitNote_[i]->setText(index ? wording("Polarisation index %1, %2 (Treff et al. 2019)")
                                           .arg(*index, 0, 'f', 2)
                                           .arg(*index > 2 ? wording("polarised") : wording("not polarised"))
                                     : wording("No polarisation index: high is not between middle and low."));
    }
    const double minutes = highMinutes(picture_.season.rules, picture_.answers.hours);
    high_->setText(
        wording("With %1 hours a week that is %2 minutes of high work a week in build, by purpose.%3")
            .arg(picture_.answers.hours, 0, 'g', 3)
            .arg(minutes, 0, 'f', 0)
            .arg(minutes < 30 ? wording(" That is little: a wider spread, or threshold-led, gives more.")
                              : ""));
}

void RulesPanel::take(RuleName rule) {
    const RuleProposals p = proposals();
    change(picture_.subject,
           QString::fromStdString(phrase("Take what is proposed: %1", valueText(rule, p.rules))),
           [&](Season& s) { s.rules = withRule(rule, s.rules, p.rules); });
}

void RulesPanel::change(qint64 season, const QString& what, const Edit& edit) {
    if (season != picture_.subject)
        return;
    Season after = picture_.season;
    edit(after);
    emit changed(picture_.subject, picture_.season, after, what);
}

} // namespace marram

#include "moc_rules_panel.cpp"
