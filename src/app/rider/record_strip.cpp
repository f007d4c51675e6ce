// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/rider/record_strip.h"
#include "app/theme/theme.h"
#include "wording/wording.h"

#include <QPainter>
#include <algorithm>
#include <cmath>

namespace marram {
namespace {

QString monthText(Date d) {
    const CivilDate c = toCivil(d);
    return c.month == 1 ? QString::number(c.year) : QString::fromStdString(shortMonthText(c.month));
}

} // namespace

RecordStrip::RecordStrip(QWidget* parent) : QWidget(parent) {
    offerParts();
    setAccessibleName(wording("Threshold power and hours through the record"));
    setMinimumHeight(qRound(190 * textScale()));
}

void RecordStrip::show(const LearntValues& said, const std::vector<RideRecord>& rides,
                       const std::vector<DatedValue>& entered) {
    said_ = said;
    entered_ = entered;
    weeks_.clear();
    for (const RideRecord& r : rides)
        if (!r.excluded)
            weeks_[monday(r.day)] += r.score.duration / 3600.0;
    QStringList words;
    for (const LearntValue& v : said.thresholdPower)
        words << QString(v.atLeast ? wording("at least %1 W from %2") : wording("%1 W from %2"))
                     .arg(v.value, 0, 'f', 0)
                     .arg(QString::fromStdString(dayText(v.from)));
    setAccessibleDescription(words.join("; "));
    partsChanged(this);
    update();
}

double RecordStrip::gutter() const {
    return QFontMetricsF(typeface(Type::Small)).horizontalAdvance("388 W ") + 8;
}

double RecordStrip::xOf(Date day) const {
    const Date first = weeks_.begin()->first, last = std::prev(weeks_.end())->first + 7;
    return gutter() +
           (day - first) / static_cast<double>(std::max(1, last - first)) * (width() - gutter() - 8);
}

std::vector<SpokenPart> RecordStrip::spokenParts() const {
    std::vector<SpokenPart> all;
    if (weeks_.empty())
        return all;
    // What is said of the threshold, each until the next; then the hours, a month at a time.
    for (size_t i = 0; i < said_.thresholdPower.size(); ++i) {
        const LearntValue& v = said_.thresholdPower[i];
        const double to =
            i + 1 < said_.thresholdPower.size() ? xOf(said_.thresholdPower[i + 1].from) : width();
        all.push_back(
            {QString(v.atLeast ? wording("From %1: at least %2 W") : wording("From %1: %2 W, %3 to %4"))
                 .arg(QString::fromStdString(dayText(v.from)))
                 .arg(v.value, 0, 'f', 0)
                 .arg(v.low, 0, 'f', 0)
                 .arg(v.high.value_or(v.value), 0, 'f', 0),
             QRectF(xOf(v.from), 0, to - xOf(v.from), 0.7 * height()).toAlignedRect()});
    }
    std::map<std::pair<int, int>, std::pair<double, Date>> months;
    for (const auto& [week, hours] : weeks_) {
        const CivilDate civil = toCivil(week);
        auto& month = months[{civil.year, civil.month}];
        month.first += hours;
        month.second = month.second == Date{} ? week : month.second;
    }
    for (const auto& [month, sum] : months)
        all.push_back(
            {wording("Weeks beginning in %1 %2: %3 h ridden")
                 .arg(QString::fromStdString(monthText(month.second)))
                 .arg(month.first)
                 .arg(sum.first, 0, 'f', 0),
             QRectF(xOf(sum.second), 0.7 * height(), xOf(sum.second + 30) - xOf(sum.second), 0.3 * height())
                 .toAlignedRect()});
    return all;
}

void RecordStrip::paintEvent(QPaintEvent*) {
    if (weeks_.empty())
        return;
    QPainter p(this);
    p.setLayoutDirection(Qt::LeftToRight); // time runs to the right in every language
    p.setRenderHint(QPainter::Antialiasing);
    p.setFont(typeface(Type::Small));
    const double line = QFontMetricsF(p.font()).height();
    // Months on one axis for both.
    const double axis = height() - line - 2, top = axis - 0.3 * axis;
    paintMonths(p, axis);
    paintHours(p, axis, top);
    Powers powers;
    auto& [low, high, from, tall] = powers;
    for (const LearntValue& v : said_.thresholdPower) {
        low = std::min(low, v.low);
        high = std::max(high, v.high.value_or(v.value * 1.06));
    }
    for (const DatedValue& v : entered_) {
        low = std::min(low, v.value);
        high = std::max(high, v.value);
    }
    if (high <= 0) {
        p.setPen(shore().muted);
        p.drawText(QRectF(gutter(), 4, (width() - gutter() - 8), top - 8), Qt::AlignCenter,
                   wording("No power in this record"));
        return;
    }
    from = 8 + line;
    tall = top - 16 - line;
    paintLearnt(p, powers);
    paintEntered(p, powers);
    paintFigures(p, powers);
}

void RecordStrip::paintMonths(QPainter& p, double axis) const {
    const Shore& c = shore();
    const QFontMetricsF metrics(p.font());
    const Date first = weeks_.begin()->first, last = std::prev(weeks_.end())->first + 7;
    Date named = first - 1000;
    for (Date d = first; d < last; d = d + 1) {
        const CivilDate civil = toCivil(d);
        if (civil.day != 1)
            continue;
        p.setPen(QPen(c.hairline, 1));
        p.drawLine(QPointF(xOf(d), 4), QPointF(xOf(d), axis));
        if (xOf(d) - xOf(named) < metrics.horizontalAdvance("2026 ") + 6 || xOf(d) + 30 > width())
            continue;
        named = d;
        p.setPen(c.muted);
        p.drawText(QPointF(xOf(d) + 2, height() - 4), monthText(d));
    }
}

void RecordStrip::paintHours(QPainter& p, double axis, double top) const {
    const Shore& c = shore();
    const double line = QFontMetricsF(p.font()).height();
    double most = 1;
    for (const auto& each : weeks_)
        most = std::max(most, each.second);
    p.setPen(Qt::NoPen);
    p.setBrush(c.grass);
    for (const auto& [week, hours] : weeks_) {
        const double high = (axis - top - 4) * hours / most;
        p.drawRect(QRectF(xOf(week), axis - high, std::max(1.0, xOf(week + 7) - xOf(week) - 1), high));
    }
    p.setPen(c.muted);
    p.drawText(QRectF(0, top, gutter() - 6, line), Qt::AlignRight, QString("%1 h").arg(most, 0, 'f', 0));
    p.setPen(QPen(c.hairline, 1));
    p.drawLine(QPointF(gutter(), top - 3), QPointF(width() - 8, top - 3));
}

double RecordStrip::Powers::y(double watts) const {
    const double span = std::max(high - low, 0.08 * high);
    return top + (high - watts) / span * tall;
}

/// What the record says: a band where it knows one, open at its top where it is a lower bound.
void RecordStrip::paintLearnt(QPainter& p, const Powers& powers) const {
    const Shore& c = shore();
    const Date last = std::prev(weeks_.end())->first + 7;
    const auto y = [&](double w) { return powers.y(w); };
    for (size_t i = 0; i < said_.thresholdPower.size(); ++i) {
        const LearntValue& v = said_.thresholdPower[i];
        const double from = xOf(v.from), to = i + 1 < said_.thresholdPower.size()
                                                  ? xOf(said_.thresholdPower[i + 1].from)
                                                  : xOf(last);
        QColor body = c.sand;
        p.setPen(Qt::NoPen);
        if (v.high) {
            p.setBrush(body);
            p.drawRect(QRectF(from, y(*v.high), to - from, y(v.low) - y(*v.high)));
        } else {
            // It is this or more: open at its top.
            QLinearGradient up(0, y(v.value), 0, y(v.value * 1.06));
            up.setColorAt(0, body);
            body.setAlpha(0);
            up.setColorAt(1, body);
            p.setBrush(up);
            p.drawRect(QRectF(from, y(v.value * 1.06), to - from, y(v.value) - y(v.value * 1.06)));
        }
        p.setPen(QPen(c.ochre, 2));
        p.drawLine(QPointF(from, y(v.value)), QPointF(to, y(v.value)));
    }
}

/// What is entered: as a dashed line, like all that is only said.
void RecordStrip::paintEntered(QPainter& p, const Powers& powers) const {
    const Date first = weeks_.begin()->first, last = std::prev(weeks_.end())->first + 7;
    const auto y = [&](double w) { return powers.y(w); };
    p.setPen(QPen(shore().ink, 1.2, Qt::DashLine));
    for (size_t i = 0; i < entered_.size(); ++i) {
        const double from = i == 0 ? xOf(first) : std::max(xOf(first), xOf(entered_[i].from));
        const double to = i + 1 < entered_.size() ? xOf(entered_[i + 1].from) : xOf(last);
        if (to > from)
            p.drawLine(QPointF(from, y(entered_[i].value)),
                       QPointF(std::min(to, xOf(last)), y(entered_[i].value)));
    }
}

void RecordStrip::paintFigures(QPainter& p, const Powers& powers) const {
    const Shore& c = shore();
    const QFontMetricsF metrics(p.font());
    const double line = metrics.height();
    const auto y = [&](double w) { return powers.y(w); };
    p.setPen(c.muted);
    double labelled = -1000;
    for (const double w : {powers.high, powers.low}) {
        if (std::abs(y(w) - labelled) < line)
            continue;
        labelled = y(w);
        p.drawText(QRectF(0, y(w) - line / 2, gutter() - 6, line), Qt::AlignRight | Qt::AlignVCenter,
                   QString("%1 W").arg(w, 0, 'f', 0));
    }
    p.setPen(c.ink);
    double free = -1;
    for (const LearntValue& v : said_.thresholdPower) {
        const QString words = (v.atLeast ? QString("≥ ") : QString()) + decimal(v.value, 0);
        const double at = xOf(v.from) + 3;
        if (at < free || at + metrics.horizontalAdvance(words) > width())
            continue;
        free = at + metrics.horizontalAdvance(words) + 8;
        p.drawText(QPointF(at, y(v.high.value_or(v.value * 1.02)) - 3), words);
    }
}

} // namespace marram

#include "moc_record_strip.cpp"
