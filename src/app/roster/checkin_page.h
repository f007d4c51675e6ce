// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "app/owners/workspace.h"
#include <QLabel>
#include <QPushButton>
#include <QTableWidget>

namespace marram {

/// Check-ins of the whole roster on one day, entered without leaving the keyboard: a digit fills a scale and
/// moves on, Enter edits numbers and the note, Y marks illness, Delete clears, PageUp and PageDown change the
/// day.
class CheckInPage : public QWidget {
    Q_OBJECT
public:
    explicit CheckInPage(Workspace& workspace, QWidget* parent = nullptr);
    Date day() const { return day_; }
    void goTo(Date day);
    /// On the row of a rider, where there is one.
    void beginAt(qint64 rider);

protected:
    bool eventFilter(QObject* watched, QEvent* event) override;
    void focusInEvent(QFocusEvent*) override { table_->setFocus(); }
    void showEvent(QShowEvent*) override { refresh(); }

private:
    void refresh();
    void take(int row, int column);
    bool key(int key, const QString& text);
    void moveOn();
    void change(qint64 rider, const CheckIn& after);
    void writeFile();
    void readFile();

    Workspace& workspace_;
    Date day_;
    QLabel* title_;
    QTableWidget* table_;
    bool filling_ = false;
};

} // namespace marram
