// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "app/owners/workspace.h"
#include "app/shell/binding.h"
#include <QComboBox>
#include <QGridLayout>
#include <QLabel>
#include <QLineEdit>
#include <QSpinBox>
#include <QTableWidget>

namespace marram {

/// Who the rider is and what they can do: every quantity with its dates, and the zones that follow today.
class ValuesPage : public QWidget {
    Q_OBJECT
public:
    explicit ValuesPage(Workspace& workspace, QWidget* parent = nullptr);
    void refresh();
    /// Puts the cursor into the name, all of it chosen.
    void nameFirst();
    /// A row of values from today on, to be filled.
    void addToday();

protected:
    void resizeEvent(QResizeEvent* event) override;

private:
    QWidget* makeWho();
    QWidget* makeValues();
    QWidget* makeZones();
    void fillValues(const RiderRecord& rider);
    void fillZones(const RiderRecord& rider);
    void change(qint64 rider, const QString& what, const std::function<void(RiderRecord&)>& edit);
    void takeValue(int row, int column);
    /// A row's values to the day that was typed; what is wrong with it, or nothing.
    QString moveRow(int row, Date day, const QString& text, RiderRecord& r);
    void removeRow();

    Workspace& workspace_;
    bool filling_ = false;
    qint64 rowsOf_ = 0;           ///< whose rows are shown
    std::optional<Date> pending_; ///< a row asked for that has no value yet
    QLineEdit* name_;
    QComboBox* sex_;
    QSpinBox* born_;
    Binding *nameBound_, *sexBound_, *bornBound_;
    void arrange();
    bool wantsOneColumn() const;
    bool arranged_ = false; ///< in one column

    QGridLayout* grid_;
    QWidget *known_, *beside_;
    QTableWidget *values_, *zones_;
    QLabel *zonesFrom_, *scales_;
};

/// What is learned about scoring without power, and what is only expected, in words. Pure.
QString describeScales(const RiderRecord& rider, Date today);

} // namespace marram
