// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "app/owners/workspace.h"
#include "app/season/races_page.h"
#include "app/season/season_canvas.h"
#include "app/season/season_inspector.h"
#include "app/season/wall_page.h"
#include <QStackedWidget>

class QComboBox;
class QPrinter;
class QToolButton;

namespace marram {

/// The season of the chosen rider: cross-section and inspector.
class SeasonView : public QWidget {
    Q_OBJECT
public:
    explicit SeasonView(Workspace& workspace, QWidget* parent = nullptr);

    SeasonCanvas& canvas() { return *canvas_; }
    /// Days away, of the whole week of a day: the one chosen, else this week.
    void away(std::optional<Date> day, AwayWhy why);
    void addRace(Date day, Priority priority = Priority::C);
    void pinSelectedWeek(WeekKind kind);
    void removeSelectedRace();
    void setSelectedPriority(Priority priority);
    /// The season on one sheet, with its cautions.
    void print(QPrinter& printer);
    void openOn(std::optional<Date> day, int race);
    /// Branches an alternative off what is shown and looks at it.
    void tryOut(const QString& name, const Season& season);
    void keepAlternative();
    void dropAlternative();
    void renameAlternative(const QString& name);
    void compare();
    /// The season on a page, to look at and take along.
    void showPage();
    /// How a season went; begins the next from one that is over.
    void lookBack();
    /// The races in a list with what each asks, or the cross-section again.
    void showRaces(bool on);
    bool showsRaces() const { return ground_->currentIndex() == 1; }
    RacesPage& races() { return *races_; }
    const SeasonPicture& picture() const { return picture_; }

signals:
    void wantsPrint();

protected:
    void showEvent(QShowEvent* event) override;

private:
    WallWords wallWords() const;
    void change(qint64 season, const Season& before, const Season& after, const QString& what);
    void refresh();
    void gather();
    Race* chosenRaceOf(Season& season) const;
    void inspect();
    void menu(Date day, int race, const QPoint& place);
    QWidget* makeEmpty();
    QWidget* makeStrip();
    void fillStrip();
    void fillTries();
    /// The season shown, changed.
    void edit(const Season& after, const QString& what);
    const SeasonRecord* alternative() const;

    Workspace& workspace_;
    QStackedWidget* stack_;
    SeasonCanvas* canvas_;
    SeasonInspector* inspector_;
    RacesPage* races_;
    QStackedWidget* ground_; ///< the cross-section, or the races
    QComboBox* which_;
    std::vector<std::pair<QString, qint64>> listed_; ///< what it lists
    QToolButton *raceList_, *try_, *keep_, *drop_, *over_;
    SeasonPicture picture_;
    bool behind_ = false; ///< something changed while the view was out of sight
    qint64 rider_ = 0;    ///< whose season is shown
    QTimer waitForPlan_;  ///< the version before stays this long while its follower is being solved
    QTimer inspectLater_; ///< while the hand moves the curves come first, the words a moment later
};

} // namespace marram
