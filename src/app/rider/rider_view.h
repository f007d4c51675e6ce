// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "app/workspace/workspace.h"
#include <QComboBox>
#include <QDoubleSpinBox>
#include <QLabel>
#include <QLineEdit>
#include <QPlainTextEdit>
#include <QSpinBox>
#include <QStackedWidget>
#include <QTableWidget>

namespace marram {

/// What the chosen rider can do and has time for: dated thresholds, zones from them, hours by weekday.
class RiderView : public QWidget {
    Q_OBJECT
public:
    explicit RiderView(Workspace& workspace, QWidget* parent = nullptr);

protected:
    bool eventFilter(QObject* watched, QEvent* event) override;

private:
    QWidget* makeWho();
    QWidget* makeHours();
    QWidget* makeThresholds();
    QWidget* makeZones();
    void refresh();
    void fillThresholds(const RiderRecord& rider);
    void fillZones(const RiderRecord& rider);
    void take(const QString& what);
    void takeThreshold(int row, int column);

    Workspace& workspace_;
    QStackedWidget* stack_;
    bool filling_ = false;
    QLineEdit* name_;
    QComboBox* sex_;
    QSpinBox* born_;
    QDoubleSpinBox *rest_, *max_;
    std::array<QDoubleSpinBox*, 7> hours_{};
    QLabel* total_;
    QPlainTextEdit* note_;
    QTableWidget *thresholds_, *zones_;
    QLabel* zonesFrom_;
};

} // namespace marram
