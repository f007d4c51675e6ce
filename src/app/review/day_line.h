// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "app/shell/read_aloud.h"
#include "core/review/monday.h"
#include <QWidget>

namespace marram {

/// Fourteen days in a row, seven gone and seven to come: what was meant as an outline on the left half of
/// each day, what was ridden filled on the right half, to one scale of points, the session under it, and in a
/// word how it went. A day with a ride can be clicked, or chosen with the arrows and opened with Return. Read
/// aloud as a list of days.
class DayLine : public QWidget, public ReadAloud {
    Q_OBJECT
public:
    explicit DayLine(QWidget* parent = nullptr);
    void show(const Monday& monday);
    QSize sizeHint() const override;
    QSize minimumSizeHint() const override { return sizeHint(); }

    std::vector<SpokenPart> spokenParts() const override;
    /// A day in words, as it is read aloud.
    static QString spoken(const MondayDay& day, bool gone);

signals:
    void wantsRide(qint64 ride);

protected:
    void paintEvent(QPaintEvent*) override;
    void mouseReleaseEvent(QMouseEvent*) override;
    void mouseMoveEvent(QMouseEvent*) override;
    void keyPressEvent(QKeyEvent*) override;
    void focusInEvent(QFocusEvent*) override { update(); }
    void focusOutEvent(QFocusEvent*) override { update(); }

private:
    const MondayDay& at(int i) const;
    QRectF column(int i) const;
    int dayAt(const QPointF& point) const;
    void paintDay(QPainter& p, int i, double most, double bars) const;
    QFont fittingNames() const;
    void choose(int day);

    Monday monday_;
    bool any_ = false;
    int chosen_ = 0;
};

} // namespace marram
