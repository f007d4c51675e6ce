// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "app/workspace/workspace.h"
#include <QCheckBox>
#include <QDoubleSpinBox>
#include <QLabel>
#include <QLineEdit>
#include <QPlainTextEdit>
#include <QPushButton>
#include <QSpinBox>
#include <QTableWidget>

namespace marram {

/// The rider's life: hours by weekday and weeks that differ, background, injuries, what the coach should
/// remember – and the rhythm and ramp they propose.
class LifePage : public QWidget {
    Q_OBJECT
public:
    explicit LifePage(Workspace& workspace, QWidget* parent = nullptr);
    void refresh();

protected:
    bool eventFilter(QObject* watched, QEvent* event) override;

private:
    QWidget* makeHours();
    QWidget* makeWeeks();
    QWidget* makeBackground();
    QWidget* makeInjuries();
    QWidget* makeWords();
    void take(const QString& what);
    void fillWeeks();
    void fillInjuries(const RiderRecord& rider);
    void takeWeek(int row, int column);
    void takeInjury(int row, int column);
    void addWeek();
    void removeWeek();
    Proposal proposal() const;
    void useProposal();

    Workspace& workspace_;
    bool filling_ = false;
    std::array<QDoubleSpinBox*, 7> hours_{};
    QLabel *total_, *proposed_;
    QPushButton* use_;
    QSpinBox* years_;
    QCheckBox* slow_;
    QLineEdit *groups_, *strengths_, *weaknesses_;
    QTableWidget *weeks_, *injuries_;
    QPlainTextEdit *cautions_, *note_;
};

} // namespace marram
