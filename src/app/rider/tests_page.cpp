// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/rider/tests_page.h"
#include "app/shell/dates.h"
#include "app/shell/fields.h"
#include "app/shell/tables.h"
#include "core/review/history.h"
#include "core/rider/physiology.h"
#include "wording/wording.h"

#include <QGridLayout>
#include <QVBoxLayout>
#include <cmath>

namespace marram {
namespace {

QString text(const std::string& s) {
    return QString::fromUtf8(s.data(), static_cast<qsizetype>(s.size()));
}

QString resultText(const TestResult& r) {
    const QString unit = wordsFor(r.protocol).unit;
    switch (r.protocol) {
    case Protocol::AerobicCheck:
        return wording("%1 %2, drift %3 %").arg(r.value, 0, 'f', 2).arg(unit).arg(r.second, 0, 'f', 1);
    case Protocol::DurabilityCheck:
        return pattern("%1 → %2 W, −%3 %")
            .arg(r.value, 0, 'f', 0)
            .arg(r.second, 0, 'f', 0)
            .arg(durabilityLoss(r), 0, 'f', 1)
            .replace("−-", "+");
    default:
        return QString("%1 %2").arg(r.value, 0, 'f', 0).arg(unit);
    }
}

QString verdictText(const TestResult& r) {
    switch (r.verdict) {
    case Verdict::Accepted:
        return wording("taken");
    case Verdict::Declined:
        return wording("set aside");
    case Verdict::Open:
        break;
    }
    return wording("waits for you");
}

} // namespace

QString describeModel(const Result<CriticalPower>& model, std::optional<double> tested,
                      std::optional<double> kg, std::optional<double> fiveMinutes) {
    QString out;
    const auto n = [](double v, int decimals = 0) {
        return decimal(v, decimals).replace('-', QChar(0x2212));
    };
    if (model) {
        QStringList efforts;
        for (const MaximalPower& p : model->used)
            efforts
                << wording("%1 W over %2").arg(n(p.power), text(durationText(static_cast<int>(p.seconds))));
        out += QString(wording("<p>Critical power <b>%1 W</b> (95 %: %2–%3), W′ <b>%4 kJ</b> (%5 to %6). "
                               "Expected threshold "
                               "<b>%7 to %8 W</b>, 96 % of critical power"))
                   .arg(n(model->power.value), n(model->power.low), n(model->power.high),
                        n(model->work.value / 1000, 1), n(model->work.low / 1000, 1),
                        n(model->work.high / 1000, 1), n(model->expectedThreshold.low),
                        n(model->expectedThreshold.high));
        out += tested ? wording("; %1 W is in force.</p>").arg(n(*tested)) : ".</p>";
        const double wide = (model->power.high - model->power.low) / 2 / model->power.value;
        out +=
            wording("<p style='color:%1'>From %2, the maximal efforts you confirmed in the last 90 days; P = "
                    "W′/t + CP by "
                    "least squares, efforts %3 W from the curve. The intervals hold that one effort varies "
                    "by 3 % "
                    "from day to day%4.</p>")
                .arg(shore().muted.name(), efforts.join(", "), n(model->scatter, 1),
                     wide > 0.1 ? wording(": the interval is wide, so test before you trust it") : QString());
    } else {
        out += QString("<p>%1</p>").arg(text(model.error().sentence).toHtmlEscaped());
    }
    if (fiveMinutes && kg)
        out += wording("<p>Five minutes at %1 W is %2 W/kg: oxygen uptake <b>%3 to %4 ml/kg/min</b> "
                       "<span style='color:%5'>(10.8 × W/kg + 7, ACSM; riders differ in efficiency, so it "
                       "misses one "
                       "by some 7 %)</span>.</p>")
                   .arg(n(*fiveMinutes), n(*fiveMinutes / *kg, 2),
                        n(oxygenUptake(*fiveMinutes / *kg) * (1 - oxygenUptakeError)),
                        n(oxygenUptake(*fiveMinutes / *kg) * (1 + oxygenUptakeError)), shore().muted.name());
    return semiBold(out);
}

TestsPage::TestsPage(Workspace& workspace, QWidget* parent) : QWidget(parent), workspace_(workspace) {
    auto* grid = new QGridLayout(this);
    grid->setContentsMargins(0, 6, 8, 0);
    grid->setHorizontalSpacing(44);
    grid->addWidget(makeResults(), 0, 0);
    grid->addWidget(makeEntry(), 0, 1);
    grid->setColumnStretch(0, 6);
    grid->setColumnStretch(1, 5);
}

QWidget* TestsPage::makeResults() {
    auto* box = new QWidget;
    auto* layout = new QVBoxLayout(box);
    layout->setContentsMargins(0, 0, 0, 0);
    layout->addWidget(headingLabel(wording("Results")));
    results_ = quietTable({wording("Day"), wording("Test"), wording("Result"), wording("Your word")},
                          "testResults", 4);
    results_->horizontalHeader()->setSectionResizeMode(1, QHeaderView::Stretch);
    results_->setMinimumHeight(qRound(150 * textScale()));
    layout->addWidget(results_, 3);
    words_ = wordsLabel({});
    words_->setObjectName("resultWords");
    layout->addWidget(words_);
    auto* buttons = new QHBoxLayout;
    const auto button = [&](const QString& label, const char* name, auto slot) {
        auto* b = new QPushButton(label);
        b->setObjectName(name);
        connect(b, &QPushButton::clicked, this, slot);
        buttons->addWidget(b);
        return b;
    };
    yes_ = button(wording("Yes, it holds"), "acceptTest", [this] { judge(Verdict::Accepted); });
    no_ = button(wording("No, set aside"), "declineTest", [this] { judge(Verdict::Declined); });
    remove_ = button(wording("Remove"), "removeTest", [this] { removeResult(); });
    buttons->addStretch();
    layout->addLayout(buttons);
    layout->addSpacing(8);
    layout->addWidget(headingLabel(wording("From the hardest efforts")));
    model_ = wordsLabel({});
    model_->setObjectName("powerModel");
    model_->setTextFormat(Qt::RichText);
    layout->addWidget(model_);
    layout->addStretch(1);
    connect(results_, &QTableWidget::currentCellChanged, this, &TestsPage::showResult);
    return box;
}

QWidget* TestsPage::makeEntry() {
    auto* box = new QWidget;
    auto* layout = new QVBoxLayout(box);
    layout->setContentsMargins(0, 0, 0, 0);
    layout->addWidget(headingLabel(wording("Due")));
    due_ = wordsLabel({});
    due_->setObjectName("testsDue");
    layout->addWidget(due_);
    layout->addSpacing(8);
    layout->addWidget(headingLabel(wording("Protocol and result")));
    protocol_ = new QComboBox;
    protocol_->setObjectName("protocol");
    protocol_->setAccessibleName(wording("Protocol"));
    for (int i = 0; i < protocolCount; ++i)
        protocol_->addItem(wording(wordsFor(static_cast<Protocol>(i)).name));
    layout->addWidget(protocol_);
    instructions_ = wordsLabel({});
    instructions_->setObjectName("instructions");
    layout->addWidget(instructions_);
    caution_ = wordsLabel({});
    caution_->setObjectName("testCaution");
    caution_->setFont(typeface(Type::Small));
    layout->addWidget(caution_);
    auto* grid = new QGridLayout;
    day_ = new QDateEdit;
    day_->setObjectName("testDay");
    day_->setAccessibleName(wording("Day of the test"));
    showAsDate(day_, false);
    openCalendar(day_);
    value_ = numberField(0, 2500, 1, 0, "", "testValue", wording("Result of the test"));
    second_ = numberField(-50, 2500, 1, 1, "", "testSecond", wording("Second figure of the test"));
    work_ = numberField(0, 20000, 50, 0, " kJ", "testWork", wording("Work before it"));
    altitude_ = numberField(0, 5000, 50, 0, " m", "testAltitude", wording("Altitude it was ridden at"));
    altitude_->setSpecialValueText(wording("sea level"));
    acclimatised_ = new QComboBox;
    acclimatised_->setObjectName("testAcclimatised");
    acclimatised_->setAccessibleName(wording("Acclimatised to the altitude"));
    acclimatised_->addItems({wording("acclimatised?"), wording("not acclimatised"), wording("acclimatised")});
    length_ = numberField(0, 60, 0.5, 1, " min", "testLength", wording("Length of the effort"));
    place_ = new QLineEdit;
    place_->setObjectName("testPlace");
    place_->setAccessibleName(wording("Place of the test"));
    measures_ = captionLabel({});
    measures_->setWordWrap(true);
    int row = 0;
    const auto line = [&](QLabel* name, QWidget* field, QWidget* more = nullptr) {
        grid->addWidget(name, row, 0);
        grid->addWidget(field, row, 1);
        if (more)
            grid->addWidget(more, row, 2);
        ++row;
        return name;
    };
    line(captionLabel(wording("Day")), day_);
    line(measures_, value_);
    lengthName_ = line(captionLabel(wording("Length of the effort")), length_);
    secondName_ = line(captionLabel({}), second_);
    workName_ = line(captionLabel(wording("Work between")), work_);
    altitudeName_ = line(captionLabel(wording("Altitude")), altitude_, acclimatised_);
    placeName_ = line(captionLabel(wording("Climb")), place_);
    grid->setColumnStretch(0, 1);
    layout->addLayout(grid);
    auto* enter = new QPushButton(wording("Write the result down"));
    enter->setObjectName("enterTest");
    layout->addWidget(enter, 0, Qt::AlignLeft);
    layout->addStretch();
    connect(enter, &QPushButton::clicked, this, &TestsPage::enter);
    connect(protocol_, &QComboBox::currentIndexChanged, this, &TestsPage::showProtocol);
    showProtocol();
    return box;
}

void TestsPage::showProtocol() {
    const auto p = static_cast<Protocol>(protocol_->currentIndex());
    const ProtocolWords& w = wordsFor(p);
    const bool check = p == Protocol::AerobicCheck, durability = p == Protocol::DurabilityCheck;
    instructions_->setText(wording(w.instructions));
    caution_->setText(w.maximal ? wording(maximalCaution) : QString());
    caution_->setVisible(w.maximal);
    QString measures = wording(w.measures);
    measures[0] = measures[0].toUpper();
    measures_->setText(measures.section(',', 0, -2));
    value_->setDecimals(check ? 2 : 0);
    value_->setSuffix(QString(" ") + w.unit);
    secondName_->setText(check ? wording("Drift") : wording("Power of the second effort"));
    second_->setSuffix(check ? " %" : " W");
    for (QWidget* each : {static_cast<QWidget*>(secondName_), static_cast<QWidget*>(second_)})
        each->setVisible(check || durability);
    for (QWidget* each : {static_cast<QWidget*>(workName_), static_cast<QWidget*>(work_)})
        each->setVisible(durability);
    for (QWidget* each : {static_cast<QWidget*>(altitudeName_), static_cast<QWidget*>(altitude_),
                          static_cast<QWidget*>(acclimatised_)})
        each->setVisible(w.aerobic > 0);
    for (QWidget* each : {static_cast<QWidget*>(lengthName_), static_cast<QWidget*>(length_)})
        each->setVisible(p == Protocol::Climb || p == Protocol::MaximalEffort);
    for (QWidget* each : {static_cast<QWidget*>(placeName_), static_cast<QWidget*>(place_)})
        each->setVisible(p == Protocol::Climb);
}

const TestRecord* TestsPage::chosen() const {
    for (const TestRecord& t : workspace_.chosen.tests())
        if (t.id == shown_)
            return &t;
    return nullptr;
}

void TestsPage::refresh() {
    const RiderRecord* r = workspace_.chosen.rider();
    if (!r)
        return;
    const Date today = workspace_.today();
    day_->setDate(toQt(today));
    {
        const QSignalBlocker quiet(results_);
        const auto& tests = workspace_.chosen.tests();
        results_->setRowCount(static_cast<int>(tests.size()));
        int keep = -1;
        for (int row = 0; row < results_->rowCount(); ++row) {
            // Newest first.
            const TestRecord& t = tests[tests.size() - 1 - static_cast<size_t>(row)];
            auto* day = tableCell(text(shortDayText(t.result.day, today)), false);
            day->setData(Qt::UserRole, t.id);
            results_->setItem(row, 0, day);
            results_->setItem(row, 1,
                              tableCell(wording(wordsFor(t.result.protocol).name) +
                                            (t.result.place.empty() ? "" : ", " + text(t.result.place)),
                                        false));
            results_->setItem(row, 2, tableCell(resultText(t.result), false));
            results_->setItem(row, 3, tableCell(verdictText(t.result), false));
            if (t.id == shown_)
                keep = row;
        }
        if (results_->rowCount() > 0)
            results_->selectRow(std::max(0, keep));
    }
    showResult();
    QStringList due;
    for (const DueTest& d : workspace_.chosen.facts().dueTests(workspace_.plans.deloadEnds()))
        due << QString("<b>%1</b> %2. %3")
                   .arg(wording(wordsFor(d.protocol).name),
                        d.from <= today ? wording("is due") : wording("from %1", text(dayText(d.from))),
                        text(d.why).toHtmlEscaped());
    due_->setText(semiBold(due.isEmpty()
                               ? wording("Tests by power need a threshold power; enter one, or ride a ramp.")
                               : due.join("<br>")));
    const auto known = [&](Quantity q) { return r->values.on(q, today); };
    std::optional<double> five;
    for (const RideRecord& ride : workspace_.chosen.rides())
        for (const BestEffort& b : ride.best)
            if (b.seconds == 300 && !ride.excluded && today - ride.day <= 90 && b.power > five.value_or(0))
                five = b.power;
    model_->setText(describeModel(workspace_.chosen.facts().criticalPower(today),
                                  known(Quantity::ThresholdPower), known(Quantity::Weight), five));
}

void TestsPage::showResult() {
    const int row = results_->currentRow();
    shown_ = row >= 0 ? results_->item(row, 0)->data(Qt::UserRole).toLongLong() : 0;
    const TestRecord* t = chosen();
    yes_->setEnabled(t && t->result.verdict != Verdict::Accepted);
    no_->setEnabled(t && t->result.verdict != Verdict::Declined);
    remove_->setEnabled(t);
    if (!t) {
        words_->setText(wording("No test yet. Choose a protocol beside, or find one in a ride under Rides."));
        return;
    }
    QString said = text(describeResult(t->result, workspace_.chosen.facts().testResults(),
                                       workspace_.chosen.rider()->values));
    if (thresholdFrom(t->result) && t->result.verdict == Verdict::Open)
        said += wording(" A yes makes it the threshold from that day on and scores the rides since again.");
    if (!t->result.note.empty())
        said += " " + text(t->result.note);
    words_->setText(said);
}

void TestsPage::enter() {
    TestRecord t;
    TestResult& r = t.result;
    r.protocol = static_cast<Protocol>(protocol_->currentIndex());
    const ProtocolWords& w = wordsFor(r.protocol);
    r.day = fromQt(day_->date());
    r.value = value_->value();
    if (second_->isVisibleTo(this))
        r.second = second_->value();
    if (work_->isVisibleTo(this))
        r.workKj = work_->value();
    r.seconds = w.seconds;
    if (length_->isVisibleTo(this) && length_->value() > 0)
        r.seconds = 60 * length_->value();
    if (w.aerobic > 0 && altitude_->value() > 0) {
        r.altitudeM = altitude_->value();
        r.acclimatised = acclimatised_->currentIndex() == 2;
        constexpr double matters = 500; // m
        if (*r.altitudeM >= matters && acclimatised_->currentIndex() == 0) {
            emit workspace_.notices.failed(
                wording("At that altitude it matters whether the rider was acclimatised (some two "
                        "weeks up there): choose it. Nothing was written."));
            return;
        }
    }
    if (r.protocol == Protocol::Climb)
        r.place = place_->text().trimmed().toStdString();
    if (r.day > workspace_.today()) {
        emit workspace_.notices.failed(wording("A result can't be from a day to come. Nothing was written."));
        return;
    }
    if (const std::string wrong = whyImpossible(r); !wrong.empty()) {
        emit workspace_.notices.failed(wording("%1 Nothing was written.", text(wrong)));
        return;
    }
    // Only a threshold waits for the coach's word; the others change nothing.
    r.verdict = thresholdFrom(r) ? Verdict::Open : Verdict::Accepted;
    shown_ = 0;
    workspace_.chosen.edits().setTest(std::nullopt, t, wording("Write a test down"));
    for (const TestRecord& each : workspace_.chosen.tests())
        shown_ = std::max(shown_, each.id);
    refresh();
}

void TestsPage::judge(Verdict verdict) {
    if (shown_ != 0)
        workspace_.chosen.edits().judgeTest(shown_, verdict);
}

void TestsPage::removeResult() {
    if (const TestRecord* t = chosen())
        workspace_.chosen.edits().setTest(TestRecord(*t), std::nullopt, wording("Remove a test"));
}

} // namespace marram

#include "moc_tests_page.cpp"
