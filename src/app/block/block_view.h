// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "app/block/board_canvas.h"
#include "app/block/family_panel.h"
#include "app/block/session_panel.h"
#include "app/owners/workspace.h"
#include <QStackedWidget>
#include <QToolButton>

class QPrinter;

namespace marram {

/// The block: the board, and beside it the day chosen or the families of sessions.
class BlockView : public QWidget {
    Q_OBJECT
public:
    explicit BlockView(Workspace& workspace, QWidget* parent = nullptr);

    BoardCanvas& canvas() { return *canvas_; }
    SessionPanel& panel() { return *panel_; }
    FamilyPanel& families() { return *families_; }
    const BoardPicture& picture() const { return picture_; }
    void takeFocus();
    void choose(Date day) { canvas_->choose(day); }
    void showFamilies(bool on);
    bool showsFamilies() const { return side_->currentIndex() == 1; }
    void goOn(int weeks);
    void showWeeks(int count);
    void thisWeek();

    /// The chosen week's text, into the clipboard.
    void copyWeekText();
    void pinWeek();
    /// Templates of the trade over the chosen week, or from it on.
    void layRaceWeek(bool matters);
    void layOffWeeks();
    void typeWords() { panel_->typeWords(); }

    /// What is shown, handed out: as PDF, workouts, a calendar. Files are asked for where none is given.
    void savePages(QString path = {});
    void saveWorkouts(QString folder = {});
    void saveCalendar(QString path = {});
    void print(QPrinter& printer);

signals:
    void wantsSeason();
    void wantsRider();
    void wantsRide(qint64 ride);

protected:
    void showEvent(QShowEvent* event) override;
    void resizeEvent(QResizeEvent* event) override;

private:
    QWidget* makeStrip();
    QWidget* makeEmpty();
    void refresh();
    void fillState();
    void change(qint64 season, const Season& before, const Season& after, const QString& what);
    void menu(const QPoint& at);
    void handOutMenu();
    QByteArray pages() const;
    QString riderName() const;
    std::vector<BlockSession> shownSessions() const;

    Workspace& workspace_;
    QStackedWidget *stack_, *side_;
    BoardCanvas* canvas_;
    SessionPanel* panel_;
    FamilyPanel* families_;
    QLabel *span_, *state_, *emptyWords_;
    QPushButton* emptyButton_;
    QToolButton* handOut_;
    BoardPicture picture_;
    std::shared_ptr<const FamilyBook> book_;
    qint64 rider_ = 0;
    bool behind_ = true;
};

/// What the board shows of a workspace.
BoardPicture boardOf(const Workspace& workspace);

} // namespace marram
