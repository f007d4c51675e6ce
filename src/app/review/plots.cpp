// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/review/plots.h"
#include "app/shell/dates.h"
#include "app/theme/theme.h"
#include "core/review/history.h"

namespace marram {

void dressPlot(QCustomPlot& plot) {
    const Shore& c = shore();
    plot.setBackground(c.paper);
    for (QCPAxisRect* rect : plot.axisRects())
        for (QCPAxis* axis : rect->axes()) {
            axis->setTickLabelFont(typeface(Type::Small));
            axis->setLabelFont(typeface(Type::Small));
            axis->setTickLabelColor(c.muted);
            axis->setLabelColor(c.muted);
            axis->setBasePen(QPen(c.hairline));
            axis->setTickPen(QPen(c.hairline));
            axis->setSubTickPen(Qt::NoPen);
            axis->grid()->setPen(QPen(c.hairline, 0.6));
            axis->grid()->setZeroLinePen(QPen(c.hairline, 0.6));
        }
}

double noonOf(Date day) {
    return day.days * 86400.0 + 43200;
}

void useDates(QCPAxis& axis) {
    const QSharedPointer<QCPAxisTickerDateTime> ticker(new QCPAxisTickerDateTime);
    ticker->setDateTimeSpec(Qt::UTC);
    ticker->setDateTimeFormat(dateFormat(false).replace(" yyyy", "\nyyyy"));
    ticker->setTickCount(6);
    axis.setTicker(ticker);
}

void useDurations(QCPAxis& axis) {
    axis.setScaleType(QCPAxis::stLogarithmic);
    const QSharedPointer<QCPAxisTickerText> ticker(new QCPAxisTickerText);
    for (const int s : {1, 5, 15, 60, 300, 1200, 3600, 10800})
        ticker->addTick(s, QString::fromStdString(durationText(s)));
    axis.setTicker(ticker);
}

} // namespace marram
