// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/rides/zone_bars.h"
#include "app/rides/ride_table.h"
#include "app/theme/theme.h"
#include "wording/wording.h"

#include <QPainter>

namespace marram {
namespace {

QColor blend(const QColor& a, const QColor& b, double t) {
    return QColor::fromRgbF(static_cast<float>(a.redF() + (b.redF() - a.redF()) * t),
                            static_cast<float>(a.greenF() + (b.greenF() - a.greenF()) * t),
                            static_cast<float>(a.blueF() + (b.blueF() - a.blueF()) * t));
}

template <size_t N>
std::vector<ZoneLine> linesOf(const std::array<double, N>& seconds) {
    double all = 0;
    for (const double s : seconds)
        all += s;
    std::vector<ZoneLine> lines;
    for (size_t z = 0; z < N; ++z)
        lines.push_back({QString("%1 %2").arg(z + 1).arg(wording(zoneNames[z])), seconds[z],
                         all > 0 ? seconds[z] / all : 0});
    return lines;
}

} // namespace

std::vector<ZoneLine> zoneLines(const Score& s) {
    if (s.zoneSeconds)
        return linesOf(*s.zoneSeconds);
    if (s.heartRateZoneSeconds)
        return linesOf(*s.heartRateZoneSeconds);
    return {};
}

ZoneBars::ZoneBars(QWidget* parent) : QWidget(parent) {
    offerParts();
    setAccessibleName(wording("Time in zones"));
    setToolTip(
        wording("Every recorded second counts in the zone of its own reading; an edge belongs to the zone "
                "below. By heart "
                "rate there are five zones: it comes too late for the two above."));
    setSizePolicy(QSizePolicy::Expanding, QSizePolicy::Fixed);
}

void ZoneBars::show(const Score& score) {
    lines_ = zoneLines(score);
    by_ = lines_.empty()      ? QString()
          : score.zoneSeconds ? wording("Time in zones, by power")
                              : wording("Time in zones, by heart rate");
    QStringList words;
    for (const ZoneLine& l : lines_)
        words << QString("%1 %2").arg(l.name, clockText(static_cast<int>(l.seconds)));
    setAccessibleDescription(words.join(", "));
    partsChanged(this);
    updateGeometry();
    update();
}

QSize ZoneBars::sizeHint() const {
    const int line = QFontMetrics(typeface(Type::Small)).height() + 3;
    return {220, lines_.empty() ? 0 : line * (static_cast<int>(lines_.size()) + 1) + 4};
}

std::vector<SpokenPart> ZoneBars::spokenParts() const {
    std::vector<SpokenPart> all;
    const int line = QFontMetrics(typeface(Type::Small)).height() + 3;
    for (size_t i = 0; i < lines_.size(); ++i)
        all.push_back({QString("%1: %2, %3 %")
                           .arg(lines_[i].name, clockText(static_cast<int>(lines_[i].seconds)))
                           .arg(100 * lines_[i].part, 0, 'f', 0),
                       QRect(0, line * (static_cast<int>(i) + 1), width(), line)});
    return all;
}

void ZoneBars::paintEvent(QPaintEvent*) {
    if (lines_.empty())
        return;
    const Shore& c = shore();
    QPainter p(this);
    p.setLayoutDirection(Qt::LeftToRight);
    p.setFont(typeface(Type::Small));
    const QFontMetrics metrics = p.fontMetrics();
    const int line = metrics.height() + 3;
    const int wide = metrics.horizontalAdvance(wording("5 Aerobic ceiling ")) + 6;
    const int times = metrics.horizontalAdvance("00:00  100 %") + 6;
    // Where there is no room for names their numbers stand alone.
    const bool named = width() > wide + times + 40;
    const int names = named ? wide : metrics.horizontalAdvance("7 ") + 6;
    p.setPen(c.muted);
    p.drawText(QRect(0, 0, width(), line), Qt::AlignVCenter | Qt::AlignLeft, by_);
    double most = 0.01;
    for (const ZoneLine& l : lines_)
        most = std::max(most, l.part);
    for (size_t i = 0; i < lines_.size(); ++i) {
        const ZoneLine& l = lines_[i];
        const int y = line * (static_cast<int>(i) + 1);
        p.setPen(c.ink);
        p.drawText(QRect(0, y, names, line), Qt::AlignVCenter | Qt::AlignLeft,
                   named ? l.name : l.name.left(1));
        const double room = std::max(10, width() - names - times);
        const double depth = 0.15 + 0.85 * static_cast<double>(i) / 6;
        p.fillRect(QRectF(names, y + 2, std::max(l.seconds > 0 ? 1.0 : 0.0, room * l.part / most), line - 5),
                   blend(blend(c.grass, c.paper, 0.55), c.deepGrass, depth));
        p.drawText(
            QRect(width() - times, y, times, line), Qt::AlignVCenter | Qt::AlignRight,
            QString("%1  %2 %").arg(clockText(static_cast<int>(l.seconds))).arg(100 * l.part, 2, 'f', 0));
    }
}

} // namespace marram

#include "moc_zone_bars.cpp"
