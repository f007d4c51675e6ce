// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/rides/ride_trace.h"
#include "app/rides/ride_words.h"
#include "app/theme/theme.h"
#include "core/ride/span_figures.h"
#include "wording/wording.h"

#include <QEvent>
#include <QKeyEvent>
#include <QVBoxLayout>
#include <cmath>
#include <qcustomplot.h>

namespace marram {
namespace {

/// Mean over the `window` seconds before each second, missing values left out; gaps stay gaps.
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

bool anyFinite(const std::vector<float>& series) {
    return std::any_of(series.begin(), series.end(), [](float v) { return std::isfinite(v); });
}

/// A part as it is read aloud: from when, how long, at what power and heart rate.
QString toldOf(const Ride& ride, const Stretch& part) {
    const SpanFigures f = figuresOver(ride, part);
    QString words = wording(": from %1, %2 long").arg(preciseClock(part.begin), preciseClock(part.length()));
    if (f.meanPower)
        words += QString(", %1 W").arg(*f.meanPower, 0, 'f', 0);
    if (f.meanHeartRate)
        words += QString(", %1 bpm").arg(*f.meanHeartRate, 0, 'f', 0);
    return words;
}

struct Look {
    const char* name;
    int share;  ///< of the height
    int window; ///< s of smoothing
};
constexpr std::array<Look, 4> looks{{{marked("power, W"), 5, 10},
                                     {marked("heart rate, bpm"), 3, 5},
                                     {marked("cadence, rpm"), 2, 15},
                                     {marked("altitude, m"), 2, 5}}};

} // namespace

RideTrace::RideTrace(QWidget* parent) : QWidget(parent), plot_(new QCustomPlot) {
    auto* layout = new QVBoxLayout(this);
    layout->setContentsMargins(0, 0, 0, 0);
    layout->addWidget(plot_);
    plot_->setObjectName("rideTrace");
    plot_->setMinimumHeight(qRound(225 * textScale()));
    plot_->installEventFilter(this);
    setFocusPolicy(Qt::StrongFocus);
    offerParts();
    setAccessibleName(wording("Trace of the ride"));
    makeStrata();
    clear();
}

void RideTrace::makeStrata() {
    plot_->plotLayout()->clear();
    plot_->setNoAntialiasingOnDrag(true);
    plot_->plotLayout()->setRowSpacing(2);
    auto* margins = new QCPMarginGroup(plot_);
    for (int i = 0; i < StratumCount; ++i) {
        Stratum& s = strata_[static_cast<size_t>(i)];
        s.rect = new QCPAxisRect(plot_);
        s.rect->setMarginGroup(QCP::msLeft | QCP::msRight, margins);
        s.rect->setAutoMargins(QCP::msLeft | QCP::msRight | QCP::msBottom);
        s.rect->setMargins(QMargins(0, 2, 0, 0));
        s.rect->setMinimumSize(40, 14);
        s.rect->setMinimumMargins(QMargins(0, 0, 0, 2));
        plot_->plotLayout()->addElement(i, 0, s.rect);
        plot_->plotLayout()->setRowStretchFactor(i, looks[static_cast<size_t>(i)].share);
        s.graph = plot_->addGraph(s.rect->axis(QCPAxis::atBottom), s.rect->axis(QCPAxis::atLeft));
        s.graph->setAdaptiveSampling(true);
        s.rect->axis(QCPAxis::atLeft)->ticker()->setTickCount(i == Power ? 4 : 2);
        s.brush = new QCPItemRect(plot_);
        s.brush->setClipAxisRect(s.rect);
        for (QCPItemPosition* p : {s.brush->topLeft, s.brush->bottomRight}) {
            p->setAxes(s.rect->axis(QCPAxis::atBottom), s.rect->axis(QCPAxis::atLeft));
            p->setAxisRect(s.rect);
            p->setTypeX(QCPItemPosition::ptPlotCoords);
            p->setTypeY(QCPItemPosition::ptAxisRectRatio);
        }
        s.name = new QCPItemText(plot_);
        s.name->setClipToAxisRect(false);
        s.name->position->setAxisRect(s.rect);
        s.name->position->setType(QCPItemPosition::ptAxisRectRatio);
        s.name->position->setCoords(0.004, 0.02);
        s.name->setPositionAlignment(Qt::AlignLeft | Qt::AlignTop);
        s.name->setText(wording(looks[static_cast<size_t>(i)].name));
    }
    QCPAxisRect* power = strata_[Power].rect;
    threshold_ = plot_->addGraph(power->axis(QCPAxis::atBottom), power->axis(QCPAxis::atLeft));
    meant_ = plot_->addGraph(power->axis(QCPAxis::atBottom), power->axis(QCPAxis::atLeft));
    meant_->setAdaptiveSampling(true);
    thresholdWords_ = new QCPItemText(plot_);
    thresholdWords_->setPositionAlignment(Qt::AlignRight | Qt::AlignBottom);
    thresholdWords_->position->setAxes(power->axis(QCPAxis::atBottom), power->axis(QCPAxis::atLeft));
    thresholdWords_->position->setAxisRect(power);
    thresholdWords_->position->setTypeX(QCPItemPosition::ptAxisRectRatio);
    thresholdWords_->position->setTypeY(QCPItemPosition::ptPlotCoords);
}

void RideTrace::paintTheme() {
    const Shore& c = shore();
    plot_->setBackground(c.paper);
    for (Stratum& s : strata_) {
        for (QCPAxis* axis : s.rect->axes()) {
            axis->setTickLabelFont(typeface(Type::Small));
            axis->setTickLabelColor(c.muted);
            axis->setBasePen(QPen(c.hairline));
            axis->setTickPen(QPen(c.hairline));
            axis->setSubTickPen(Qt::NoPen);
            axis->grid()->setPen(QPen(c.hairline, 0.6));
            axis->grid()->setZeroLinePen(Qt::NoPen);
        }
        QColor brush = c.tide;
        brush.setAlphaF(0.18F);
        s.brush->setBrush(brush);
        s.brush->setPen(QPen(c.tide, 0.8));
        s.name->setFont(typeface(Type::Small));
        s.name->setColor(c.muted);
        QColor behind = c.paper;
        behind.setAlphaF(0.8F);
        s.name->setBrush(behind);
    }
    const auto faded = [](QColor colour, float alpha) {
        colour.setAlphaF(alpha);
        return colour;
    };
    strata_[Power].graph->setPen(QPen(c.grass, 1.1));
    strata_[Power].graph->setBrush(faded(c.grass, 0.35F));
    meant_->setPen(QPen(c.ink, 1.1));
    strata_[HeartRate].graph->setPen(QPen(c.ochre, 1.3));
    strata_[Cadence].graph->setPen(QPen(c.driftwood, 1));
    strata_[Altitude].graph->setPen(QPen(c.tide, 1));
    strata_[Altitude].graph->setBrush(faded(c.tide, 0.14F));
    threshold_->setPen(QPen(c.driftwood, 1, Qt::DashLine));
    thresholdWords_->setFont(typeface(Type::Small));
    thresholdWords_->setColor(c.muted);
    for (QCPItemRect* mark : marks_) {
        mark->setBrush(c.deepGrass);
        mark->setPen(Qt::NoPen);
    }
}

void RideTrace::lay(const std::vector<double>& meant) {
    QVector<double> seconds(static_cast<qsizetype>(meant.size())), watts = seconds;
    for (qsizetype t = 0; t < seconds.size(); ++t) {
        seconds[t] = static_cast<double>(t);
        watts[t] = meant[static_cast<size_t>(t)];
    }
    meant_->setData(seconds, watts, true);
    meant_->setVisible(!meant.empty());
    plot_->replot(QCustomPlot::rpQueuedReplot);
}

void RideTrace::clear() {
    show(Ride{}, 0, {});
}

std::vector<SpokenPart> RideTrace::spokenParts() const {
    std::vector<SpokenPart> all;
    for (const Told& t : told_) {
        const QPoint from = placeOf(t.part.begin), to = placeOf(t.part.end);
        all.push_back({t.words, QRect(from.x(), 0, std::max(2, to.x() - from.x()), height())});
    }
    return all;
}

/// None of what is shorter than four seconds.
static std::vector<Stretch> quartersOf(int length) {
    constexpr int quarters = 4;
    std::vector<Stretch> parts;
    for (int q = 0; q < quarters && length >= quarters; ++q)
        parts.push_back({q * length / quarters, (q + 1) * length / quarters});
    return parts;
}

/// At the head of the stratum of power.
static void placeMark(QCPItemRect& mark, QCPAxisRect* power, const Stretch& m) {
    mark.setClipAxisRect(power);
    for (QCPItemPosition* p : {mark.topLeft, mark.bottomRight}) {
        p->setAxes(power->axis(QCPAxis::atBottom), power->axis(QCPAxis::atLeft));
        p->setAxisRect(power);
        p->setTypeX(QCPItemPosition::ptPlotCoords);
        p->setTypeY(QCPItemPosition::ptAxisRectRatio);
    }
    mark.topLeft->setCoords(m.begin, 0);
    mark.bottomRight->setCoords(m.end, 0.025);
}

void RideTrace::show(const Ride& ride, double thresholdPower, const std::vector<Stretch>& marks) {
    length_ = ride.elapsed();
    selection_ = {};
    told_.clear();
    const std::vector<Stretch> parts = marks.empty() ? quartersOf(length_) : marks;
    for (size_t i = 0; i < parts.size(); ++i)
        told_.push_back(
            {parts[i], QString(marks.empty() ? wording("Quarter %1 of %2") : wording("Effort %1 of %2"))
                               .arg(i + 1)
                               .arg(parts.size()) +
                           toldOf(ride, parts[i])});
    partsChanged(this);
    meant_->data()->clear();
    const std::array<const std::vector<float>*, StratumCount> series{&ride.power, &ride.heartRate,
                                                                     &ride.cadence, &ride.altitude};
    QVector<double> seconds(length_);
    for (int t = 0; t < length_; ++t)
        seconds[t] = t;
    int lowest = 0;
    for (int i = 0; i < StratumCount; ++i) {
        Stratum& s = strata_[static_cast<size_t>(i)];
        const bool has = anyFinite(*series[static_cast<size_t>(i)]);
        s.rect->setVisible(has);
        s.brush->setVisible(false);
        s.name->setVisible(has);
        s.graph->setVisible(has);
        // A stratum the ride has nothing for takes no room.
        plot_->plotLayout()->setRowStretchFactor(i, has ? looks[static_cast<size_t>(i)].share : 0.01);
        s.rect->setMaximumSize(QSize(QWIDGETSIZE_MAX, has ? QWIDGETSIZE_MAX : 0));
        if (!has) {
            s.graph->data()->clear();
            continue;
        }
        lowest = i;
        s.graph->setData(
            seconds,
            smoothed(*series[static_cast<size_t>(i)], ride.stretches, looks[static_cast<size_t>(i)].window),
            true);
        QCPAxis* y = s.rect->axis(QCPAxis::atLeft);
        s.graph->rescaleValueAxis();
        const QCPRange r = y->range();
        if (i == Power)
            y->setRange(0, std::max(thresholdPower * 1.3, r.upper * 1.22));
        else
            y->setRange(r.lower - 0.06 * r.size() - 1, r.upper + 0.5 * r.size() + 1);
    }
    for (int i = 0; i < StratumCount; ++i) {
        Stratum& s = strata_[static_cast<size_t>(i)];
        QCPAxis* x = s.rect->axis(QCPAxis::atBottom);
        const QSharedPointer<QCPAxisTickerTime> clock(new QCPAxisTickerTime);
        clock->setTimeFormat("%h:%m");
        x->setTicker(clock);
        x->setTickLabels(i == lowest);
    }
    hasThreshold_ = thresholdPower > 0 && ride.hasPower;
    threshold_->setVisible(hasThreshold_);
    thresholdWords_->setVisible(hasThreshold_);
    if (hasThreshold_) {
        threshold_->setData({0, static_cast<double>(length_)}, {thresholdPower, thresholdPower}, true);
        thresholdWords_->setText(wording("threshold %1 W").arg(thresholdPower, 0, 'f', 0));
        thresholdWords_->position->setCoords(0.995, thresholdPower);
    }
    for (QCPItemRect* mark : marks_)
        plot_->removeItem(mark);
    marks_.clear();
    QCPAxisRect* power = strata_[Power].rect;
    for (const Stretch& m : marks) {
        marks_.push_back(new QCPItemRect(plot_));
        placeMark(*marks_.back(), power, m);
    }
    paintTheme();
    setRange(0, std::max(1, length_));
}

void RideTrace::setRange(double from, double to) {
    const double width = std::clamp(to - from, std::min(20.0, static_cast<double>(length_)),
                                    static_cast<double>(std::max(1, length_)));
    const double begin = std::clamp(from, 0.0, std::max(0.0, length_ - width));
    for (Stratum& s : strata_)
        s.rect->axis(QCPAxis::atBottom)->setRange(begin, begin + width);
    plot_->replot(QCustomPlot::rpQueuedReplot);
}

std::pair<double, double> RideTrace::shownSeconds() const {
    const QCPRange r = strata_[Power].rect->axis(QCPAxis::atBottom)->range();
    return {r.lower, r.upper};
}

void RideTrace::paintBrush() {
    for (Stratum& s : strata_) {
        s.brush->setVisible(selection_.length() > 0 && s.rect->visible());
        s.brush->topLeft->setCoords(selection_.begin, 0);
        s.brush->bottomRight->setCoords(selection_.end, 1);
    }
    plot_->replot(QCustomPlot::rpQueuedReplot);
}

void RideTrace::select(Stretch part) {
    part = {std::clamp(part.begin, 0, length_), std::clamp(part.end, 0, length_)};
    if (part.length() <= 0)
        part = {};
    selection_ = part;
    paintBrush();
    emit selected(selection_);
}

void RideTrace::lookAt(Stretch part) {
    const double room = std::max(30.0, 0.4 * part.length());
    setRange(part.begin - room, part.end + room);
}

int RideTrace::secondAt(double x) const {
    return static_cast<int>(std::lround(strata_[Power].rect->axis(QCPAxis::atBottom)->pixelToCoord(x)));
}

QPoint RideTrace::placeOf(int second) const {
    for (const Stratum& s : strata_)
        if (s.rect->visible())
            return plot_->mapTo(this, QPoint(qRound(s.rect->axis(QCPAxis::atBottom)->coordToPixel(second)),
                                             s.rect->center().y()));
    return {};
}

void RideTrace::zoom(double factor, double around) {
    const auto [from, to] = shownSeconds();
    setRange(around - (around - from) * factor, around + (to - around) * factor);
}

bool RideTrace::eventFilter(QObject* watched, QEvent* event) {
    if (watched != plot_ || length_ == 0)
        return false;
    switch (event->type()) {
    case QEvent::MouseButtonPress: {
        const auto* e = static_cast<QMouseEvent*>(event);
        setFocus();
        const bool move = e->button() != Qt::LeftButton || e->modifiers() & Qt::ShiftModifier;
        hand_ = move ? Hand::Moving : Hand::Brushing;
        anchor_ = std::clamp(secondAt(e->position().x()), 0, length_);
        grabbed_ = e->position().x();
        return true;
    }
    case QEvent::MouseMove: {
        const auto* e = static_cast<QMouseEvent*>(event);
        const int now = std::clamp(secondAt(e->position().x()), 0, length_);
        if (hand_ == Hand::Brushing && std::abs(e->position().x() - grabbed_) > 2)
            select({std::min(anchor_, now), std::max(anchor_, now)});
        if (hand_ == Hand::Moving) {
            const auto [from, to] = shownSeconds();
            const double by =
                anchor_ - strata_[Power].rect->axis(QCPAxis::atBottom)->pixelToCoord(e->position().x());
            setRange(from + by, to + by);
        }
        return true;
    }
    case QEvent::MouseButtonRelease: {
        const auto* e = static_cast<QMouseEvent*>(event);
        // A click without a drag lifts the brush.
        if (hand_ == Hand::Brushing && std::abs(e->position().x() - grabbed_) <= 2)
            select({});
        hand_ = Hand::Idle;
        return true;
    }
    case QEvent::MouseButtonDblClick:
        setRange(0, length_);
        return true;
    case QEvent::Wheel: {
        const auto* e = static_cast<QWheelEvent*>(event);
        zoom(e->angleDelta().y() > 0 ? 0.75 : 1 / 0.75, secondAt(e->position().x()));
        return true;
    }
    default:
        return false;
    }
}

void RideTrace::keyPressEvent(QKeyEvent* event) {
    const auto [from, to] = shownSeconds();
    const int step = std::max(1, static_cast<int>((to - from) / 100));
    const int direction = event->key() == Qt::Key_Left ? -1 : event->key() == Qt::Key_Right ? 1 : 0;
    if (direction != 0) {
        Stretch s = selection_.length() > 0 ? selection_
                                            : Stretch{static_cast<int>((from + to) / 2),
                                                      static_cast<int>((from + to) / 2) + 5 * step};
        if (!(event->modifiers() & Qt::ShiftModifier))
            s.begin += direction * step;
        s.end += direction * step;
        if (s.begin >= 0 && s.end <= length_ && s.length() > 0)
            select(s);
    } else if (event->key() == Qt::Key_Escape) {
        select({});
    } else if (event->key() == Qt::Key_Plus || event->key() == Qt::Key_Equal) {
        zoom(0.75, (from + to) / 2);
    } else if (event->key() == Qt::Key_Minus) {
        zoom(1 / 0.75, (from + to) / 2);
    } else {
        QWidget::keyPressEvent(event);
    }
}

void RideTrace::changeEvent(QEvent* event) {
    if (event->type() == QEvent::PaletteChange || event->type() == QEvent::FontChange) {
        paintTheme();
        plot_->replot();
    }
    QWidget::changeEvent(event);
}

} // namespace marram

#include "moc_ride_trace.cpp"
