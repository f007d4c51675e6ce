// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "app/owners/workspace.h"
#include <QLabel>

class QCustomPlot;
class QCPGraph;

namespace marram {

/// Efficiency and drift over successive aerobic checks, durability over its checks, and every other test as a
/// trend of its own protocol, each said in words.
class TrendPage : public QWidget {
    Q_OBJECT
public:
    explicit TrendPage(Workspace& workspace, QWidget* parent = nullptr);
    void refresh();

protected:
    void changeEvent(QEvent* event) override;

private:
    void paintTheme();

    Workspace& workspace_;
    QCustomPlot *aerobic_, *durable_;
    QCPGraph *efficiency_, *drift_, *loss_;
    QLabel *aerobicWords_, *durableWords_, *testWords_;
};

/// The trend of every protocol that has results and none of its own plot, a line each. Pure.
QString describeTrends(std::span<const TestResult> results);

} // namespace marram
