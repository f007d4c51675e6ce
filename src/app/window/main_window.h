// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "app/block/block_view.h"
#include "app/review/review_view.h"
#include "app/rider/rider_view.h"
#include "app/rides/rides_view.h"
#include "app/roster/roster_view.h"
#include "app/season/season_view.h"
#include <QButtonGroup>
#include <QMainWindow>
#include <QToolButton>

namespace marram {

/// The six places, in the order of the work.
enum class Place { Roster, Rider, Season, Block, Rides, Review };

/// The window: places along the top, one of them open below, one line at the foot for what happened.
class MainWindow : public QMainWindow {
    Q_OBJECT
public:
    explicit MainWindow(Workspace& workspace);

    void go(Place place);
    Place place() const { return static_cast<Place>(places_->currentIndex()); }
    SeasonView& seasonView() { return *season_; }
    BlockView& blockView() { return *block_; }
    RidesView& ridesView() { return *rides_; }
    RosterView& rosterView() { return *roster_; }
    RiderView& riderView() { return *rider_; }
    ReviewView& reviewView() { return *review_; }
    QString lastSaid() const { return line_->text(); }
    void useDark(bool dark);
    void useTextScale(double scale);

signals:
    void wantsDemo();

protected:
    void closeEvent(QCloseEvent* event) override;

private:
    QWidget* makeHeader();
    void makeActions();
    void addRider();
    void bringOrOpen();
    void renameAlternative();
    QAction* act(const QString& name, const QKeySequence& keys, std::function<void()> what,
                 bool needsRider = false);
    void say(const QString& sentence, bool trouble);
    void newRoster();
    void openRoster();
    void print();
    void showKeys();
    void refreshRiders();
    void redress();
    void askOverlap(quint64 question, const RideRecord& now, const RideRecord& there);
    void tellDamage(const Damage& damage);
    void saveWhole();
    void tellSaved(const QString& path, const Damage& leftBehind);

    Workspace& workspace_;
    QStackedWidget *outer_, *places_;
    RosterView* roster_;
    RiderView* rider_;
    SeasonView* season_;
    BlockView* block_;
    RidesView* rides_;
    ReviewView* review_;
    QButtonGroup* buttons_;
    QComboBox* riders_;
    QLabel* line_;
    QList<QAction*> needRider_;
    QMenu* menu_ = nullptr; ///< the one that actions being made go into
    QAction* menuShown_ = nullptr;
    bool dark_ = false;
    double scale_ = 1;
};

} // namespace marram
