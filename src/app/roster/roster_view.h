// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "app/owners/workspace.h"
#include "app/roster/checkin_page.h"
#include "app/roster/glance.h"
#include "app/roster/squad_page.h"
#include "app/shell/pages.h"
#include <QCheckBox>
#include <QComboBox>
#include <QLineEdit>
#include <QStackedWidget>
#include <QTableWidget>

namespace marram {

/// One rider in the list.
struct RosterRow {
    qint64 rider = 0;
    QString name;
    std::vector<Reason> reasons; ///< most urgent first
    Standing standing;
    std::optional<double> threshold; ///< W
};

/// Which riders the coach wants to see.
struct RosterFilter {
    QString letters; ///< in name, group or note
    QString group;   ///< empty for all
    bool archived = false;
};

/// The riders that pass the filter, most urgent first, then by name. Pure.
std::vector<RosterRow> rosterRows(const std::vector<RiderRecord>& riders, const RosterFilter& filter,
                                  const std::function<const Standing&(qint64)>& standing, Date today);

/// Every rider with where they stand today, and a sentence on why to look; and today's check-ins of all.
class RosterView : public QWidget {
    Q_OBJECT
public:
    explicit RosterView(Workspace& workspace, QWidget* parent = nullptr);
    void openCheckIns();
    /// The riders of the list beside each other: their seasons, or their week.
    void openSquad(bool week);
    SquadPage& squad() { return *squad_; }
    void find() { search_->setFocus(); }
    void takeFocus();
    void exportChosen();
    void bringRiders();
    /// Gives every row the height its words need at the width there is.
    void fitRows();
    void archiveChosen();

signals:
    void wantsSeason(); ///< the coach opened a rider
    void wantsRider();  ///< a new one
    void wantsDemo();

protected:
    void showEvent(QShowEvent*) override;
    void resizeEvent(QResizeEvent*) override;

private:
    QWidget* makeList();
    void refresh();
    void fill(const std::vector<RosterRow>& rows);
    /// The list comes first: what stands under it is brief where its first riders need the room.
    void fitGlance();
    void refreshWhenSeen();
    void watch(JobKind kind, const QString& what);
    void exported(const QString& folder, const Damage& damage);
    void brought(const std::vector<qint64>& riders);

    Workspace& workspace_;
    QStackedWidget* stack_;
    Pages* pages_;
    QLineEdit* search_;
    QComboBox* group_;
    QCheckBox* archived_;
    QTableWidget* table_;
    Glance* glance_;
    QPushButton* archive_;
    CheckInPage* checkIns_;
    SquadPage* squad_;
    double filledScale_ = 0;
    bool filledDark_ = false;
    bool filling_ = false;
    bool stale_ = false; ///< something changed while nobody looked
};

} // namespace marram
