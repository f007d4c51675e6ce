// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "app/block/board_edits.h"
#include "app/block/board_painter.h"
#include "app/shell/read_aloud.h"
#include <QWidget>
#include <functional>

namespace marram {

/// The board: weeks as columns, weekdays as rows. A session is dragged to another day, which changes places
/// with it (with Ctrl: lies there too); everything is on the keyboard as well.
class BoardCanvas : public QWidget, public ReadAloud {
    Q_OBJECT
public:
    explicit BoardCanvas(QWidget* parent = nullptr);

    /// Shows a picture. What the hand holds belongs to one version of one season: of another it is let go.
    void show(const BoardPicture& picture, std::shared_ptr<const FamilyBook> book);
    void choose(Date day);
    std::optional<Date> chosen() const { return marks_.chosen; }
    const BoardScene& scene() const { return scene_; }
    const BoardPicture& picture() const { return picture_; }
    QSize sizeHint() const override { return {900, 640}; }
    /// Weeks, and under each its days.
    std::vector<SpokenPart> spokenParts() const override;

signals:
    void chosenChanged();
    /// A change made here, of the season as it was shown.
    void changed(qint64 season, const marram::Season& before, const marram::Season& after,
                 const QString& what);
    void wantsWeeks(int by);       ///< weeks to move on by
    void wantsMoreWeeks(int more); ///< columns more or fewer
    void wantsWords();             ///< to type the chosen session
    void wantsNote();
    void wantsFamilies();
    void wantsMenu(const QPoint& at);
    void wantsWeekText();

protected:
    void paintEvent(QPaintEvent* event) override;
    void resizeEvent(QResizeEvent* event) override;
    void mousePressEvent(QMouseEvent* event) override;
    void mouseMoveEvent(QMouseEvent* event) override;
    void mouseReleaseEvent(QMouseEvent* event) override;
    void mouseDoubleClickEvent(QMouseEvent* event) override;
    void contextMenuEvent(QContextMenuEvent* event) override;
    void wheelEvent(QWheelEvent* event) override;
    void keyPressEvent(QKeyEvent* event) override;
    void focusInEvent(QFocusEvent* event) override;
    void focusOutEvent(QFocusEvent* event) override;
    bool event(QEvent* event) override;

private:
    struct Hold {
        Date day;
        QPointF pressed;
        qint64 subject = 0;
        quint64 version = 0;
        bool moved = false;
    };
    std::optional<Date> dayAt(const QPointF& point) const;
    void letGo();
    void step(int days);
    bool moveByKey(const QKeyEvent* event);
    bool editByKey(const QKeyEvent* event);
    bool askByKey(const QKeyEvent* event);
    void change(const std::function<Season(Date)>& make, const QString& what);
    void move(int days);
    void edit(const Season& after, const QString& what);
    void tell();
    QString told(const BoardDay& day) const;

    BoardPicture picture_;
    std::shared_ptr<const FamilyBook> book_;
    BoardScene scene_;
    BoardMarks marks_;
    std::optional<Hold> hold_;
    std::optional<std::pair<DayContent, QString>> taken_; ///< what Ctrl+C took, and its words
    int turned_ = 0;
};

} // namespace marram
