// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "app/block/block_view.h"
#include "app/review/review_view.h"
#include "app/rider/rider_view.h"
#include "app/rides/rides_view.h"
#include "app/roster/roster_view.h"
#include "app/season/season_view.h"
#include "app/settings/settings.h"
#include "app/theme/theme.h"
#include "wording/wording.h"
#include <QButtonGroup>
#include <QMainWindow>
#include <QToolButton>
#include <array>

namespace marram {

class RosterDialogs;

/// The six places, in the order of the work.
enum class Place { Roster, Rider, Season, Block, Rides, Review };

/// What a place is called, and its icon; in the order of the places.
struct PlaceWord {
    const char* name;
    const char* icon;
};
inline constexpr std::array<PlaceWord, 6> placeWords{{{marked("Roster"), "users"},
                                                      {marked("Rider"), "user"},
                                                      {marked("Season"), "mountain"},
                                                      {marked("Block"), "columns-3"},
                                                      {marked("Rides"), "bike"},
                                                      {marked("Review"), "scan-search"}}};

/// The window: places along the top, one of them open below, one line at the foot for what happened.
class MainWindow : public QMainWindow {
    Q_OBJECT
public:
    explicit MainWindow(Workspace& workspace);

    void go(Place place);
    /// Monday's page of the next rider who needs a look, in the roster's order.
    void nextToLookAt();
    Place place() const { return static_cast<Place>(places_->currentIndex()); }
    SeasonView& seasonView() { return *season_; }
    BlockView& blockView() { return *block_; }
    RidesView& ridesView() { return *rides_; }
    RosterView& rosterView() { return *roster_; }
    RiderView& riderView() { return *rider_; }
    ReviewView& reviewView() { return *review_; }
    QString lastSaid() const { return line_->text(); }
    void useDark(bool dark);
    /// The changes of this version.
    void showChanges();
    /// Asks whose recordings these are, and from where, and brings them in.
    void bringIn(const QStringList& recordings, const QString& from = {});
    void useTextScale(double scale);
    /// The report that a failure left beside a roster; false where there is none.
    bool showFailure(const QString& roster);
    /// Every setting on a page of its own.
    void showSettings();

signals:
    void wantsDemoAnew();
    void wantsDemo();

protected:
    void closeEvent(QCloseEvent* event) override;

private:
    QWidget* makeHeader();
    void makeActions();
    void beginMenu(const QString& title);
    /// Goes to a place first.
    std::function<void()> at(Place place, std::function<void()> what);
    void makeFileMenu();
    void makeEditMenu();
    void makeRiderMenu();
    void addRideActions();
    void makeSeasonMenu();
    void addTryActions();
    void makeBlockMenu();
    void makeReviewMenu();
    void makeViewMenu();
    void makeHelpMenu();
    void addRider();
    void renameAlternative();
    /// An action of the menu being made; behind a bar in `name` are words coaches call it by otherwise.
    QAction* act(const QString& name, const QKeySequence& keys, std::function<void()> what,
                 bool needsRider = false);
    void say(const QString& sentence, bool trouble);
    void print();
    void showKeys();
    void showGuide();
    void refreshRiders();
    void redress(const Look& look);
    /// Everything as it is set now.
    void applySettings();

    Workspace& workspace_;
    int steps_ = 0; ///< done, of those that can be taken back
    QStackedWidget *outer_, *places_;
    RosterView* roster_;
    RiderView* rider_;
    SeasonView* season_;
    BlockView* block_;
    RidesView* rides_;
    ReviewView* review_;
    QButtonGroup* buttons_;
    std::vector<std::pair<QString, qint64>> listed_; ///< riders the choice lists
    QComboBox* riders_;
    QLabel* line_;
    RosterDialogs* files_;
    QList<QAction*> needRider_;
    Look chosen_;                ///< as it was set when it was looked at last
    Units units_;                ///< that views show now
    Qt::DayOfWeek firstWeekday_; ///< likewise
    QMenu* menu_ = nullptr;      ///< the one that actions being made go into
    QAction* menuShown_ = nullptr;
};

} // namespace marram
