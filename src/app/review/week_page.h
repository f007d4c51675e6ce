// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "app/owners/workspace.h"
#include "core/load/monotony.h"
#include <QLabel>
#include <QTableWidget>

class QCustomPlot;
class QCPBars;
class QCPGraph;
class QCPAxisRect;

namespace marram {

/// One week of the rider's record.
struct WeekLine {
    Date start;
    WeekStrain strain;
    std::optional<double> wellness; ///< mean of the check-ins
    int ill = 0;                    ///< days
};

/// The last `count` weeks up to the one of `today`, newest first. Pure.
std::vector<WeekLine> weekLines(const std::map<Date, double>& ridden, const std::vector<CheckIn>& checkIns,
                                Date today, int count);

/// Load and how the rider was, day by day under one time axis, and every week's monotony and strain.
class WeekPage : public QWidget {
    Q_OBJECT
public:
    explicit WeekPage(Workspace& workspace, QWidget* parent = nullptr);
    void refresh();

protected:
    void changeEvent(QEvent* event) override;

private:
    void paintTheme();

    Workspace& workspace_;
    QCustomPlot* plot_;
    QCPAxisRect *load_, *feel_, *heart_;
    QCPBars* stress_;
    QCPGraph *fitness_, *wellness_, *ill_, *resting_;
    QTableWidget* table_;
    QLabel *unscored_, *words_;
};

} // namespace marram
