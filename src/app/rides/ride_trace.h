// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "core/ride/grid.h"
#include <QWidget>

class QCustomPlot;
class QCPItemText;

namespace marram {

/// One ride over its elapsed time: power smoothed over thirty seconds against threshold, heart rate above it.
/// Drag to move, wheel to zoom, double-click for the whole ride.
class RideTrace : public QWidget {
    Q_OBJECT
public:
    explicit RideTrace(QWidget* parent = nullptr);
    void show(const Ride& ride, double thresholdPower);
    void clear();

protected:
    void changeEvent(QEvent* event) override;

private:
    void paintTheme();

    QCustomPlot* plot_;
    QCPItemText* thresholdWords_;
    std::optional<Ride> ride_;
    double threshold_ = 0;
};

} // namespace marram
