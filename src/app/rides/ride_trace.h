// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "app/shell/read_aloud.h"
#include "core/ride/efforts.h"
#include <QWidget>

class QCustomPlot;
class QCPAxisRect;
class QCPGraph;
class QCPItemRect;
class QCPItemText;

namespace marram {

/// One ride over its elapsed time in strata: power against threshold, heart rate, cadence, altitude. Drag to
/// brush a part, drag with the right button or Shift to move, wheel to zoom, double-click for the whole ride.
/// With the keyboard: left and right move the brush, Shift with them widens it, Escape clears it, plus and
/// minus zoom.
class RideTrace : public QWidget, public ReadAloud {
    Q_OBJECT
public:
    explicit RideTrace(QWidget* parent = nullptr);
    /// Shows a ride; `marks` are stretches to be marked above the power.
    void show(const Ride& ride, double thresholdPower, const std::vector<Stretch>& marks);
    /// Lays what was meant over the power: watts for every second, not a number for none; empty takes it
    /// away.
    void lay(const std::vector<double>& meant);
    void clear();
    /// The brushed part, in seconds of the ride shown; empty length for none.
    Stretch selection() const { return selection_; }
    void select(Stretch part);
    /// Zooms to a part with some room around it.
    void lookAt(Stretch part);
    /// The marked efforts, or the ride a quarter at a time.
    std::vector<SpokenPart> spokenParts() const override;
    /// Where a second is, in pixels of this widget.
    QPoint placeOf(int second) const;
    std::pair<double, double> shownSeconds() const;

signals:
    void selected(marram::Stretch part); ///< the brush has moved

protected:
    void changeEvent(QEvent* event) override;
    bool eventFilter(QObject* watched, QEvent* event) override;
    void keyPressEvent(QKeyEvent* event) override;

private:
    struct Stratum {
        QCPAxisRect* rect = nullptr;
        QCPGraph* graph = nullptr;
        QCPItemRect* brush = nullptr;
        QCPItemText* name = nullptr;
    };
    enum { Power, HeartRate, Cadence, Altitude, StratumCount };

    void makeStrata();
    void paintTheme();
    void place();
    int secondAt(double x) const;
    void zoom(double factor, double around);
    void setRange(double from, double to);
    void paintBrush();

    QCustomPlot* plot_;
    std::array<Stratum, StratumCount> strata_;
    QCPGraph *threshold_, *meant_;
    QCPItemText* thresholdWords_;
    std::vector<QCPItemRect*> marks_;
    struct Told {
        Stretch part;
        QString words;
    };
    std::vector<Told> told_;
    int length_ = 0;
    bool hasThreshold_ = false;
    Stretch selection_;
    int anchor_ = 0;
    double grabbed_ = 0;
    enum class Hand { Idle, Brushing, Moving } hand_ = Hand::Idle;
};

} // namespace marram
