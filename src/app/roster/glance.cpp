// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/roster/glance.h"
#include "app/shell/tables.h"
#include "app/theme/theme.h"
#include "wording/wording.h"

#include <QHBoxLayout>
#include <QPainter>
#include <QVBoxLayout>
#include <algorithm>
#include <utility>

namespace marram {
namespace {

QString pointsText(const WeekRidden& w) {
    return w.planned ? wording("%1 of %2", decimal(w.ridden, 0), decimal(*w.planned, 0))
                     : decimal(w.ridden, 0);
}

/// What stands in figures, a line each.
QString factsOf(const Standing& s, std::optional<double> threshold) {
    QStringList lines;
    if (s.nextRace && s.nextRaceDay)
        lines << wording("Next race: %1, %2", QString::fromStdString(*s.nextRace),
                         QString::fromStdString(dayText(*s.nextRaceDay, s.today)));
    if (threshold && s.thresholdFrom)
        lines << wording(s.thresholdAtLeast ? marked("Threshold at least %1 W since %2")
                                            : marked("Threshold %1 W since %2"),
                         decimal(*threshold, 0), QString::fromStdString(dayText(*s.thresholdFrom, s.today)));
    if (s.lastRide && s.unscored == 0 && s.loadKnown)
        lines << wording("Fitness moved by %1 in a week; the limit is %2",
                         QString::fromStdString(signedText(s.ramp, 1)), decimal(s.rampLimit, 1));
    return lines.join('\n');
}

} // namespace

RecentWeeks::RecentWeeks(QWidget* parent) : QWidget(parent) {
    offerParts();
    setObjectName("recentWeeks");
    setAccessibleName(wording("The last weeks, ridden and meant"));
}

void RecentWeeks::show(std::vector<WeekRidden> weeks) {
    weeks_ = std::move(weeks);
    partsChanged(this);
    updateGeometry();
    update();
}

double RecentWeeks::line() const {
    return QFontMetricsF(typeface(Type::Small)).height() * 1.25;
}

QSize RecentWeeks::sizeHint() const {
    return QSize(qRound(380 * textScale()), qRound(line() * static_cast<double>(weeks_.size())));
}

QSize RecentWeeks::minimumSizeHint() const {
    return QSize(qRound(260 * textScale()), sizeHint().height());
}

std::vector<SpokenPart> RecentWeeks::spokenParts() const {
    std::vector<SpokenPart> all;
    for (size_t i = 0; i < weeks_.size(); ++i)
        all.push_back({wording("Week of %1: %2 points", QString::fromStdString(dayText(weeks_[i].start)),
                               pointsText(weeks_[i])),
                       QRectF(0, line() * static_cast<double>(i), width(), line()).toAlignedRect()});
    return all;
}

void RecentWeeks::paintEvent(QPaintEvent*) {
    QPainter p(this);
    p.setRenderHint(QPainter::Antialiasing);
    p.setFont(typeface(Type::Small));
    const Shore& c = shore();
    const QFontMetricsF metrics(p.font());
    double most = 1, day = 0, figures = 0;
    for (const WeekRidden& w : weeks_) {
        most = std::max({most, w.ridden, w.planned.value_or(0)});
        day = std::max(day, metrics.horizontalAdvance(QString::fromStdString(dayText(w.start))));
        figures = std::max(figures, metrics.horizontalAdvance(pointsText(w)));
    }
    const bool mirrored = layoutDirection() == Qt::RightToLeft;
    const double from = day + 12, room = width() - from - figures - 14, high = line();
    const auto placed = [&](double x, double wide, double top, double tall) {
        return QRectF(mirrored ? width() - x - wide : x, top, wide, tall);
    };
    for (size_t i = 0; i < weeks_.size(); ++i) {
        const WeekRidden& w = weeks_[i];
        const double top = high * static_cast<double>(i), bar = 0.5 * high;
        p.setPen(c.muted);
        p.drawText(placed(0, day + 2, top, high), Qt::AlignVCenter | Qt::AlignLeading,
                   QString::fromStdString(dayText(w.start)));
        p.setPen(c.ink);
        p.drawText(placed(width() - figures - 2, figures + 2, top, high),
                   Qt::AlignVCenter | Qt::AlignTrailing, pointsText(w));
        p.setPen(Qt::NoPen);
        p.setBrush(c.grass);
        p.drawRect(placed(from, room * w.ridden / most, top + (high - bar) / 2, bar));
        if (w.planned) {
            // What was meant is where it ends, as a stake.
            const double end = from + room * *w.planned / most;
            p.setPen(QPen(c.driftwood, 2));
            const QRectF stake = placed(end, 0, top + 0.1 * high, 0.8 * high);
            p.drawLine(stake.topLeft(), stake.bottomLeft());
        }
    }
}

Glance::Glance(QWidget* parent)
    : QWidget(parent), name_(headingLabel({})), reasons_(wordsLabel({})), facts_(wordsLabel({}, true)),
      ridden_(new QWidget), weeks_(new RecentWeeks) {
    reasons_->setObjectName("otherReasons");
    facts_->setObjectName("riderFacts");
    name_->setWordWrap(true);
    for (QLabel* label : {name_, reasons_, facts_})
        label->setTextFormat(Qt::PlainText);
    auto* across = new QHBoxLayout(this);
    across->setContentsMargins(0, 12, 0, 8);
    auto* words = new QVBoxLayout;
    for (QLabel* label : {name_, reasons_, facts_})
        words->addWidget(label);
    words->addStretch();
    across->addLayout(words, 1);
    across->addSpacing(32);
    auto* right = new QVBoxLayout(ridden_);
    right->setContentsMargins(0, 0, 0, 0);
    right->addWidget(captionLabel(wording("Points ridden of those meant, by week")));
    right->addWidget(weeks_);
    right->addStretch();
    across->addWidget(ridden_);
}

void Glance::show(const QString& name, const std::vector<Reason>& reasons, const Standing& standing,
                  std::optional<double> threshold) {
    who_ = name;
    more_.clear();
    for (size_t i = 1; i < reasons.size(); ++i)
        more_ << QString::fromStdString(reasons[i].sentence);
    facts_->setText(factsOf(standing, threshold));
    weeks_->show(standing.weeks);
    hasWeeks_ = !standing.weeks.empty();
    arrange();
}

void Glance::show(const QString& words) {
    who_.clear();
    more_ = words.isEmpty() ? QStringList() : QStringList{words};
    arrange();
}

void Glance::setBrief(bool brief) {
    if (std::exchange(brief_, brief) != brief)
        arrange();
}

int Glance::wholeHeight() const {
    const int line = QFontMetrics(typeface(Type::Body)).lineSpacing();
    return std::max(who_.isEmpty() ? 0 : 7 * line, hasWeeks_ ? ridden_->sizeHint().height() : 0) + 2 * line;
}

void Glance::arrange() {
    const bool whole = !brief_ && !who_.isEmpty();
    name_->setText(who_);
    name_->setVisible(whole);
    reasons_->setText(brief_ && !who_.isEmpty() && !more_.isEmpty()
                          ? wording("%1, also: %2", who_, more_.join(' '))
                          : more_.join('\n'));
    reasons_->setVisible(!more_.isEmpty());
    facts_->setVisible(whole && !facts_->text().isEmpty());
    ridden_->setVisible(whole && hasWeeks_);
}

} // namespace marram

#include "moc_glance.cpp"
