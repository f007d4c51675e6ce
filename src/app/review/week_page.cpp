// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/review/week_page.h"
#include "app/review/plots.h"
#include "app/shell/tables.h"
#include "core/load/history.h"
#include "core/review/attention.h"
#include "wording/wording.h"

#include <QVBoxLayout>
#include <cmath>

namespace marram {

std::vector<WeekLine> weekLines(const std::map<Date, double>& ridden, const std::vector<CheckIn>& checkIns,
                                Date today, int count) {
    std::vector<WeekLine> lines;
    for (int i = 0; i < count; ++i) {
        WeekLine w;
        // The first line is the last seven completed days; weeks follow once they are over.
        w.start = i == 0 ? today - 7 : monday(today) - 7 * i;
        std::array<double, 7> daily{};
        for (int d = 0; d < 7; ++d)
            if (const auto found = ridden.find(w.start + d); found != ridden.end())
                daily[static_cast<size_t>(d)] = found->second;
        w.strain = strainOf(daily);
        double sum = 0;
        int answers = 0;
        for (const CheckIn& c : checkIns)
            if (c.day >= w.start && c.day < w.start + 7) {
                w.ill += c.ill ? 1 : 0;
                if (const auto v = wellness(c)) {
                    sum += *v;
                    ++answers;
                }
            }
        if (answers > 0)
            w.wellness = sum / answers;
        lines.push_back(w);
    }
    return lines;
}

WeekPage::WeekPage(Workspace& workspace, QWidget* parent)
    : QWidget(parent), workspace_(workspace), plot_(new QCustomPlot) {
    auto* layout = new QVBoxLayout(this);
    layout->setContentsMargins(0, 6, 0, 0);
    plot_->setObjectName("weekPlot");
    plot_->setMinimumHeight(qRound(280 * textScale()));
    plot_->plotLayout()->clear();
    auto* margins = new QCPMarginGroup(plot_);
    const auto rect = [&](int row, double share, const QString& name) {
        auto* r = new QCPAxisRect(plot_);
        r->setMarginGroup(QCP::msLeft | QCP::msRight, margins);
        r->setAutoMargins(QCP::msLeft | QCP::msRight | QCP::msBottom);
        r->setMargins(QMargins(0, 4, 8, 0));
        plot_->plotLayout()->addElement(row, 0, r);
        plot_->plotLayout()->setRowStretchFactor(row, share);
        r->axis(QCPAxis::atLeft)->setLabel(name);
        r->axis(QCPAxis::atLeft)->ticker()->setTickCount(3);
        useDates(*r->axis(QCPAxis::atBottom));
        r->axis(QCPAxis::atBottom)->setTickLabels(row == 2);
        r->setRangeZoom(Qt::Horizontal);
        r->setRangeDrag(Qt::Horizontal);
        return r;
    };
    load_ = rect(0, 5, wording("stress, pts"));
    feel_ = rect(1, 2.4, wording("check-in"));
    heart_ = rect(2, 2.4, wording("resting bpm"));
    plot_->setInteractions(QCP::iRangeDrag | QCP::iRangeZoom);
    // The three strata move as one.
    const std::array rects{load_, feel_, heart_};
    for (QCPAxisRect* a : rects)
        for (QCPAxisRect* b : rects)
            if (a != b)
                connect(a->axis(QCPAxis::atBottom), qOverload<const QCPRange&>(&QCPAxis::rangeChanged),
                        b->axis(QCPAxis::atBottom), qOverload<const QCPRange&>(&QCPAxis::setRange));
    const auto graph = [&](QCPAxisRect* r) {
        return plot_->addGraph(r->axis(QCPAxis::atBottom), r->axis(QCPAxis::atLeft));
    };
    stress_ = new QCPBars(load_->axis(QCPAxis::atBottom), load_->axis(QCPAxis::atLeft));
    stress_->setWidth(86400 * 0.8);
    fitness_ = graph(load_);
    wellness_ = graph(feel_);
    ill_ = graph(feel_);
    resting_ = graph(heart_);
    feel_->axis(QCPAxis::atLeft)->setRange(0.7, 5.3);
    unscored_ = wordsLabel({});
    unscored_->setObjectName("unscoredWeeks");
    layout->addWidget(unscored_);
    layout->addWidget(plot_, 5);
    words_ = wordsLabel(
        wording(
            "Bars are ridden stress, the line is fitness. Check-ins run from 1 poor to 5 very good; a cross "
            "marks illness. Monotony is the mean day over the deviation of the days, strain is load × "
            "monotony (Foster 1998), over seven completed days; over 2 is high and says the easy days are "
            "not "
            "easy "
            "enough (common practice)."),
        true);
    layout->addWidget(words_);
    table_ = quietTable({wording("Week of"), wording("Load\npts"), wording("Mean day\npts"),
                         wording("Deviation\npts"), wording("Monotony"), wording("Strain\npts"),
                         wording("Check-ins\nof 5"), wording("Ill\ndays")},
                        "weeks");
    table_->horizontalHeader()->setSectionResizeMode(QHeaderView::Stretch);
    table_->horizontalHeader()->setSectionResizeMode(0, QHeaderView::ResizeToContents);
    layout->addWidget(table_, 4);
    paintTheme();
}

static QStringList cellsOf(const WeekLine& w, bool latest) {
    const auto n = [](const std::optional<double>& v, int decimals) {
        return v ? decimal(*v, decimals) : QString("–");
    };
    return {latest ? wording("Last seven days") : QString::fromStdString(dayText(w.start)),
            n(w.strain.load, 0),
            n(w.strain.mean, 0),
            n(w.strain.deviation, 0),
            n(w.strain.monotony, 2) +
                (w.strain.monotony.value_or(0) > highMonotony ? wording(", high") : QString()),
            n(w.strain.strain, 0),
            n(w.wellness, 1),
            w.ill > 0 ? QString::number(w.ill) : QString()};
}

void WeekPage::refresh() {
    const auto& ridden = workspace_.chosen.counted().points;
    const Counted& counted = workspace_.chosen.counted();
    const RiderRecord* who = workspace_.chosen.rider();
    const QString bound = who ? boundSentence(*who, workspace_.today()) : QString();
    unscored_->setText(counted.byHours ? QString::fromStdString(unscoredSentence(counted.unscored)) +
                                             workspace_.listening.proposedWords()
                                       : bound);
    unscored_->setVisible(!unscored_->text().isEmpty());
    QVector<double> days, stress, fitness, answered, wellness_y, illDays, illY, restDays, rest;
    if (!ridden.empty()) {
        const LoadHistory& history = workspace_.chosen.history();
        const Date first = ridden.begin()->first;
        for (Date d = first; d <= workspace_.today(); d = d + 1) {
            days << noonOf(d);
            stress << history.ridden(d);
            fitness << history.before(d + 1).fitness;
        }
    }
    double lowest = 200, highest = 0;
    for (const CheckIn& c : workspace_.chosen.checkIns()) {
        if (const auto v = wellness(c)) {
            answered << noonOf(c.day);
            wellness_y << *v;
        }
        if (c.ill) {
            illDays << noonOf(c.day);
            illY << 1.1;
        }
        if (c.restHeartRate) {
            restDays << noonOf(c.day);
            rest << *c.restHeartRate;
            lowest = std::min(lowest, *c.restHeartRate);
            highest = std::max(highest, *c.restHeartRate);
        }
    }
    stress_->setData(days, stress, true);
    fitness_->setData(days, fitness, true);
    wellness_->setData(answered, wellness_y, true);
    ill_->setData(illDays, illY, true);
    resting_->setData(restDays, rest, true);
    load_->axis(QCPAxis::atBottom)->setRange(noonOf(workspace_.today() - 84), noonOf(workspace_.today() + 2));
    load_->axis(QCPAxis::atLeft)
        ->setRange(0, stress.isEmpty() ? 100 : *std::max_element(stress.begin(), stress.end()) * 1.05);
    if (lowest < highest)
        heart_->axis(QCPAxis::atLeft)->setRange(lowest - 2, highest + 2);
    plot_->replot(QCustomPlot::rpQueuedReplot);
    const auto lines = weekLines(ridden, workspace_.chosen.checkIns(), workspace_.today(), 26);
    table_->setRowCount(static_cast<int>(lines.size()));
    for (int row = 0; row < table_->rowCount(); ++row) {
        const QStringList cells = cellsOf(lines[static_cast<size_t>(row)], row == 0);
        for (int column = 0; column < cells.size(); ++column)
            table_->setItem(row, column, tableCell(cells[column], column > 0));
    }
}

void WeekPage::paintTheme() {
    dressPlot(*plot_);
    const Shore& c = shore();
    stress_->setPen(Qt::NoPen);
    stress_->setBrush(c.grass);
    fitness_->setPen(QPen(c.ochre, 1.8));
    wellness_->setPen(QPen(c.deepGrass, 1, Qt::DotLine));
    wellness_->setScatterStyle(QCPScatterStyle(QCPScatterStyle::ssDisc, c.deepGrass, c.deepGrass, 5));
    ill_->setLineStyle(QCPGraph::lsNone);
    ill_->setScatterStyle(QCPScatterStyle(QCPScatterStyle::ssCross, c.rust, c.rust, 8));
    resting_->setPen(QPen(c.tide, 1.2));
    plot_->replot(QCustomPlot::rpQueuedReplot);
}

void WeekPage::changeEvent(QEvent* event) {
    if (event->type() == QEvent::PaletteChange)
        paintTheme();
    QWidget::changeEvent(event);
}

} // namespace marram

#include "moc_week_page.cpp"
