// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "app/owners/workspace.h"
#include "app/rides/ride_panel.h"
#include <QLabel>
#include <QProgressBar>
#include <QPushButton>
#include <QSplitter>
#include <QStackedWidget>
#include <QTableView>

namespace marram {

/// What was done: rides against the plan, one ride's trace and figures, and the ways rides come in.
class RidesView : public QWidget {
    Q_OBJECT
public:
    explicit RidesView(Workspace& workspace, QWidget* parent = nullptr);

    void chooseFiles();
    void sync();
    void rideToday();
    void removeSelected();
    RidePanel& panel() { return *panel_; }
    /// Shows a ride by its id, where it is in the list.
    void showRide(qint64 ride);
    /// The folder a bike computer's rides are synced from, remembered.
    static QString deviceFolder();

protected:
    void dragEnterEvent(QDragEnterEvent* event) override;
    void dropEvent(QDropEvent* event) override;
    void showEvent(QShowEvent*) override;
    void changeEvent(QEvent* event) override;

private:
    QWidget* makeList();
    void makeBar();
    void follow();
    void refresh();
    void fitColumns();
    void refreshWhenSeen();
    void open(int row);
    void finished(qint64 rider, const ImportReport& report);

    Workspace& workspace_;
    QStackedWidget* stack_;
    RideTable* model_;
    QTableView* table_;
    RidePanel* panel_;
    QSplitter* split_ = nullptr;
    QWidget* underWay_;
    QProgressBar* progress_;
    QLabel* progressWords_;
    bool stale_ = false; ///< something changed while nobody looked
};

/// What an import did, in words: counts first, then every file that was left out and why. Pure.
QString describeImport(const ImportReport& report);

} // namespace marram
