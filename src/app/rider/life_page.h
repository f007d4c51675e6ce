// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "app/owners/workspace.h"
#include "app/shell/binding.h"
#include <QCheckBox>
#include <QDoubleSpinBox>
#include <QGridLayout>
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
    /// Puts the cursor into the hours of Monday, or of a usual week lately.
    void takeFocus(bool lately);

private:
    QWidget* makeHours();
    /// Puts the weekdays in the order that is set.
    void layDays();
    QWidget* makeWeeks();
    QWidget* makeBackground();
    QWidget* makeInjuries();
    QWidget* makeCare();
    QWidget* makeWords();
    void change(qint64 rider, const QString& what, const std::function<void(RiderRecord&)>& edit);
    void sayCare(const RiderRecord& rider);
    void fillWeeks();
    void fillInjuries(const RiderRecord& rider);
    void takeWeek(int row, int column);
    /// The injury a row of the table shows, in a rider; null where it is no longer there.
    Injury* injuryOf(int row, RiderRecord& in) const;
    void takeInjury(int row, int column);
    void addWeek();
    void removeWeek();
    Proposal proposal() const;
    void useProposal();

    Workspace& workspace_;
    bool filling_ = false;
    std::array<QLabel*, 7> hourDays_{};
    QGridLayout* hourGrid_ = nullptr;
    std::array<QDoubleSpinBox*, 7> hours_{};
    QDoubleSpinBox* usual_;
    QLabel *total_, *proposed_, *careSays_;
    QPushButton* use_;
    QSpinBox* years_;
    QCheckBox* slow_;
    std::array<Binding*, 7> hoursBound_{};
    std::array<Binding*, careNames.size()> careBound_{};
    Binding *usualBound_, *yearsBound_, *slowBound_, *clearedBound_, *groups_, *strengths_, *weaknesses_,
        *cautions_, *note_;
    QTableWidget *weeks_, *injuries_;
};

} // namespace marram
