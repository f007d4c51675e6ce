// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "app/shell/read_aloud.h"
#include "core/learn/values.h"
#include "records/records.h"
#include <QWidget>

namespace marram {

/// The record along time in two strata: threshold power as it was said, with its band, beside what is
/// entered; and the hours of every week under it, gaps left white. A lower bound is open at its top.
class RecordStrip : public QWidget, public ReadAloud {
    Q_OBJECT
public:
    explicit RecordStrip(QWidget* parent = nullptr);
    void show(const LearntValues& said, const std::vector<RideRecord>& rides,
              const std::vector<DatedValue>& entered);

    std::vector<SpokenPart> spokenParts() const override;

protected:
    void paintEvent(QPaintEvent*) override;

private:
    double gutter() const;
    double xOf(Date day) const;
    /// The scale of power: what is shown, W, and where.
    struct Powers {
        double low = 1e9, high = 0, top = 0, tall = 0;
        double y(double watts) const;
    };
    void paintMonths(QPainter& p, double axis) const;
    void paintHours(QPainter& p, double axis, double top) const;
    void paintLearnt(QPainter& p, const Powers& powers) const;
    void paintEntered(QPainter& p, const Powers& powers) const;
    void paintFigures(QPainter& p, const Powers& powers) const;
    LearntValues said_;
    std::vector<DatedValue> entered_;
    std::map<Date, double> weeks_; ///< h, by Monday
};

} // namespace marram
