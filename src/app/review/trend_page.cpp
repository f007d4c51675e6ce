// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/review/trend_page.h"
#include "app/review/plots.h"
#include "app/shell/tables.h"
#include "core/review/history.h"
#include "wording/wording.h"

#include <QGridLayout>
#include <set>

namespace marram {
namespace {

void fitDates(QCPAxis& axis, const std::vector<TestResult>& checks) {
    if (checks.empty())
        return;
    const double from = noonOf(checks.front().day), to = noonOf(checks.back().day);
    const double room = std::max(14 * 86400.0, 0.06 * (to - from));
    axis.setRange(from - room, to + room);
}

void fitValues(QCPAxis& axis, const std::vector<double>& values, double least) {
    if (values.empty())
        return;
    const auto [low, high] = std::minmax_element(values.begin(), values.end());
    const double room = std::max(least, 0.25 * (*high - *low));
    axis.setRange(*low - room, *high + room);
}

} // namespace

QString describeTrends(std::span<const TestResult> results) {
    QStringList lines;
    for (int i = 0; i < protocolCount; ++i) {
        const auto p = static_cast<Protocol>(i);
        if (p == Protocol::AerobicCheck || p == Protocol::DurabilityCheck)
            continue;
        std::set<std::string> places;
        for (const TestResult& r : results)
            if (r.protocol == p)
                places.insert(r.place);
        for (const std::string& place : places) {
            QStringList steps;
            for (const TestResult& r : trendOf(results, p, place))
                steps << QString("%1 W (%2)")
                             .arg(atSeaLevel(r), 0, 'f', 0)
                             .arg(QString::fromStdString(dayText(r.day)));
            if (!steps.isEmpty())
                lines << QString("<b>%1%2</b>: %3")
                             .arg(wording(wordsFor(p).name),
                                  place.empty() ? "" : ", " + QString::fromStdString(place).toHtmlEscaped(),
                                  steps.join(" → "));
        }
    }
    return lines.isEmpty() ? wording("No other test yet. Protocols and results are under Rider, Tests.")
                           : semiBold(lines.join("<br>"));
}

TrendPage::TrendPage(Workspace& workspace, QWidget* parent)
    : QWidget(parent), workspace_(workspace), aerobic_(new QCustomPlot), durable_(new QCustomPlot) {
    auto* grid = new QGridLayout(this);
    grid->setContentsMargins(0, 6, 0, 0);
    grid->setHorizontalSpacing(40);
    aerobic_->setObjectName("aerobicPlot");
    aerobic_->setAccessibleName(wording("Power at a heart rate through time"));
    durable_->setObjectName("durablePlot");
    aerobicWords_ = wordsLabel({});
    aerobicWords_->setObjectName("aerobicWords");
    durableWords_ = wordsLabel({});
    durableWords_->setObjectName("durableWords");
    testWords_ = wordsLabel({});
    testWords_->setObjectName("testTrends");
    testWords_->setTextFormat(Qt::RichText);
    grid->addWidget(headingLabel(wording("Aerobic checks")), 0, 0);
    grid->addWidget(aerobicWords_, 1, 0, Qt::AlignTop);
    grid->addWidget(aerobic_, 2, 0);
    grid->addWidget(headingLabel(wording("Durability")), 0, 1);
    grid->addWidget(durableWords_, 1, 1, Qt::AlignTop);
    grid->addWidget(durable_, 2, 1);
    grid->addWidget(headingLabel(wording("Other tests, each against itself")), 3, 0, 1, 2);
    grid->addWidget(testWords_, 4, 0, 1, 2);
    grid->setColumnStretch(0, 7);
    grid->setColumnStretch(1, 5);
    grid->setRowStretch(2, 1);
    for (QCustomPlot* p : {aerobic_, durable_}) {
        p->setMinimumHeight(qRound(200 * textScale()));
        useDates(*p->xAxis);
    }
    efficiency_ = aerobic_->addGraph();
    drift_ = aerobic_->addGraph(aerobic_->xAxis, aerobic_->yAxis2);
    aerobic_->yAxis2->setVisible(true);
    aerobic_->yAxis->setLabel(wording("efficiency, W/bpm (full line)"));
    aerobic_->yAxis2->setLabel(wording("drift, % (diamonds)"));
    loss_ = durable_->addGraph();
    durable_->yAxis->setLabel(wording("power lost, %"));
    paintTheme();
}

void TrendPage::refresh() {
    const auto results = workspace_.chosen.facts().testResults();
    const AerobicTrend a = aerobicTrend(results, workspace_.today());
    const DurabilityTrend d = durabilityTrend(results);
    aerobicWords_->setText(QString::fromStdString(a.words));
    durableWords_->setText(QString::fromStdString(d.words));
    testWords_->setText(describeTrends(results));
    QVector<double> x, y, z;
    for (const TestResult& r : a.checks) {
        x << noonOf(r.day);
        y << r.value;
        z << r.second;
    }
    efficiency_->setData(x, y, true);
    drift_->setData(x, z, true);
    fitDates(*aerobic_->xAxis, a.checks);
    fitValues(*aerobic_->yAxis, {y.begin(), y.end()}, 0.05);
    aerobic_->yAxis2->setRange(std::min(-2.0, z.isEmpty() ? 0 : *std::min_element(z.begin(), z.end()) - 1),
                               std::max(10.0, z.isEmpty() ? 0 : *std::max_element(z.begin(), z.end()) + 1));
    QVector<double> u, v;
    for (const TestResult& r : d.checks) {
        u << noonOf(r.day);
        v << durabilityLoss(r);
    }
    loss_->setData(u, v, true);
    fitDates(*durable_->xAxis, d.checks);
    durable_->yAxis->setRange(std::min(0.0, v.isEmpty() ? 0 : *std::min_element(v.begin(), v.end()) - 1),
                              std::max(8.0, v.isEmpty() ? 0 : *std::max_element(v.begin(), v.end()) + 1));
    aerobic_->setVisible(!a.checks.empty());
    durable_->setVisible(!d.checks.empty());
    for (QCustomPlot* p : {aerobic_, durable_})
        p->replot(QCustomPlot::rpQueuedReplot);
}

void TrendPage::paintTheme() {
    const Shore& c = shore();
    for (QCustomPlot* p : {aerobic_, durable_})
        dressPlot(*p);
    efficiency_->setPen(QPen(c.deepGrass, 1.8));
    efficiency_->setScatterStyle(QCPScatterStyle(QCPScatterStyle::ssDisc, c.deepGrass, c.deepGrass, 8));
    drift_->setPen(QPen(c.driftwood, 1, Qt::DotLine));
    drift_->setScatterStyle(QCPScatterStyle(QCPScatterStyle::ssDiamond, c.driftwood, c.paper, 10));
    loss_->setPen(QPen(c.ochre, 1.8));
    loss_->setScatterStyle(QCPScatterStyle(QCPScatterStyle::ssDisc, c.ochre, c.ochre, 8));
    for (QCustomPlot* p : {aerobic_, durable_})
        p->replot(QCustomPlot::rpQueuedReplot);
}

void TrendPage::changeEvent(QEvent* event) {
    if (event->type() == QEvent::PaletteChange)
        paintTheme();
    QWidget::changeEvent(event);
}

} // namespace marram

#include "moc_trend_page.cpp"
