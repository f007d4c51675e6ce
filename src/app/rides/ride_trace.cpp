// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/rides/ride_trace.h"
#include "app/theme/theme.h"

#include <QEvent>
#include <QVBoxLayout>
#include <cmath>
#include <qcustomplot.h>

namespace marram {
namespace {

/// Mean over the thirty seconds before each second, missing values left out; gaps stay gaps.
QVector<double> smoothed(const std::vector<float>& series, const std::vector<Stretch>& stretches,
                         int window) {
    QVector<double> out(static_cast<qsizetype>(series.size()), std::nan(""));
    for (const Stretch& s : stretches) {
        double sum = 0;
        int count = 0;
        for (int t = s.begin; t < s.end; ++t) {
            const auto add = [&](int at, int sign) {
                const float v = series[static_cast<size_t>(at)];
                if (!std::isnan(v)) {
                    sum += sign * static_cast<double>(v);
                    count += sign;
                }
            };
            add(t, 1);
            if (t - s.begin >= window)
                add(t - window, -1);
            if (count > 0)
                out[t] = sum / count;
        }
    }
    return out;
}

} // namespace

RideTrace::RideTrace(QWidget* parent) : QWidget(parent), plot_(new QCustomPlot) {
    auto* layout = new QVBoxLayout(this);
    layout->setContentsMargins(0, 0, 0, 0);
    layout->addWidget(plot_);
    plot_->setObjectName("rideTrace");
    plot_->setInteractions(QCP::iRangeDrag | QCP::iRangeZoom);
    plot_->axisRect()->setRangeZoom(Qt::Horizontal);
    plot_->axisRect()->setRangeDrag(Qt::Horizontal);
    plot_->addGraph();
    plot_->addGraph(plot_->xAxis, plot_->yAxis2);
    plot_->addGraph();
    thresholdWords_ = new QCPItemText(plot_);
    thresholdWords_->setPositionAlignment(Qt::AlignRight | Qt::AlignBottom);
    plot_->yAxis2->setVisible(true);
    const QSharedPointer<QCPAxisTickerTime> clock(new QCPAxisTickerTime);
    clock->setTimeFormat("%h:%m");
    plot_->xAxis->setTicker(clock);
    connect(plot_, &QCustomPlot::mouseDoubleClick, this, [this] {
        plot_->xAxis->rescale();
        plot_->replot();
    });
    setAccessibleName("Trace of the ride");
    clear();
}

void RideTrace::paintTheme() {
    const Shore& c = shore();
    plot_->setBackground(c.paper);
    for (QCPAxis* axis : {plot_->xAxis, plot_->yAxis, plot_->yAxis2}) {
        axis->setTickLabelFont(typeface(Type::Small));
        axis->setLabelFont(typeface(Type::Small));
        axis->setTickLabelColor(c.muted);
        axis->setLabelColor(c.muted);
        axis->setBasePen(QPen(c.hairline));
        axis->setTickPen(QPen(c.hairline));
        axis->setSubTickPen(Qt::NoPen);
        axis->grid()->setPen(QPen(c.hairline, 0.6));
        axis->grid()->setZeroLinePen(Qt::NoPen);
    }
    plot_->xAxis->setLabel("hours and minutes");
    plot_->yAxis->setLabel("power, W (30 s)");
    plot_->yAxis2->setLabel("heart rate, bpm");
    QColor fill = c.grass;
    fill.setAlphaF(0.35F);
    plot_->graph(0)->setPen(QPen(c.grass, 1.2));
    plot_->graph(0)->setBrush(fill);
    plot_->graph(1)->setPen(QPen(c.ochre, 1.4));
    plot_->graph(2)->setPen(QPen(c.driftwood, 1, Qt::DashLine));
    thresholdWords_->setFont(typeface(Type::Small));
    thresholdWords_->setColor(c.muted);
}

void RideTrace::clear() {
    ride_.reset();
    thresholdWords_->setVisible(false);
    for (int i = 0; i < plot_->graphCount(); ++i)
        plot_->graph(i)->data()->clear();
    paintTheme();
    plot_->replot();
}

void RideTrace::show(const Ride& ride, double thresholdPower) {
    ride_ = ride;
    threshold_ = thresholdPower;
    QVector<double> seconds(ride.elapsed());
    for (int t = 0; t < ride.elapsed(); ++t)
        seconds[t] = t;
    plot_->graph(0)->setData(seconds, smoothed(ride.power, ride.stretches, 30), true);
    plot_->graph(1)->setData(seconds, smoothed(ride.heartRate, ride.stretches, 8), true);
    const double end = ride.elapsed();
    if (threshold_ > 0 && ride.hasPower)
        plot_->graph(2)->setData({0, end}, {threshold_, threshold_}, true);
    else
        plot_->graph(2)->data()->clear();
    thresholdWords_->setVisible(threshold_ > 0 && ride.hasPower);
    thresholdWords_->setText(QString("threshold %1 W").arg(threshold_, 0, 'f', 0));
    thresholdWords_->position->setCoords(end, threshold_);
    paintTheme();
    plot_->xAxis->setRange(0, end);
    plot_->yAxis->rescale();
    plot_->yAxis->setRange(0, std::max(threshold_ * 1.3, plot_->yAxis->range().upper * 1.08));
    plot_->yAxis2->setVisible(ride.hasHeartRate);
    plot_->yAxis2->setRange(40, 215);
    plot_->replot();
}

void RideTrace::changeEvent(QEvent* event) {
    if (event->type() == QEvent::PaletteChange || event->type() == QEvent::FontChange) {
        paintTheme();
        plot_->replot();
    }
    QWidget::changeEvent(event);
}

} // namespace marram
