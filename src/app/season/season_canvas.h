// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "app/season/season_painter.h"
#include <QWidget>

namespace marram {

/// The cross-section under the hand: select, drag a race or the edge of a gate, everything also by keyboard.
/// Knows nothing of rosters: it shows a picture and says what the hand wants.
class SeasonCanvas : public QWidget {
    Q_OBJECT
public:
    explicit SeasonCanvas(QWidget* parent = nullptr);

    void show(const SeasonPicture& picture);
    void select(std::optional<Date> day, int race);
    const SeasonScene& scene() const { return scene_; }
    const SeasonMarks& marks() const { return marks_; }
    QSize minimumSizeHint() const override { return {480, 380}; }

signals:
    void selected(std::optional<Date> day, int race);
    void tried(const marram::Season& season); ///< the hand is still moving
    void letGo();                             ///< back to where it was
    /// An edit of the season shown, from what it was when the hand took hold.
    void changed(qint64 season, const marram::Season& before, const marram::Season& after,
                 const QString& what);
    void wantsRace(Date day); ///< a new race on this day
    void wantsMenu(Date day, int race, const QPoint& globalPlace);

protected:
    void paintEvent(QPaintEvent*) override;
    void resizeEvent(QResizeEvent*) override;
    void mousePressEvent(QMouseEvent* event) override;
    void mouseMoveEvent(QMouseEvent* event) override;
    void mouseReleaseEvent(QMouseEvent* event) override;
    void mouseDoubleClickEvent(QMouseEvent* event) override;
    void keyPressEvent(QKeyEvent* event) override;
    void contextMenuEvent(QContextMenuEvent* event) override;
    bool event(QEvent* event) override;

private:
    void layOut();
    void drag(QPointF at);
    void moveRace(int days);
    void tell();
    QString hint(const SeasonHit& hit) const;

    SeasonPicture picture_;
    SeasonScene scene_;
    SeasonMarks marks_;
    void release();
    struct Hold {
        qint64 subject = 0;
        quint64 version = 0; ///< of the season it was taken from
        SeasonHit what;
        Season before, now;
        QPointF from;
        bool moved = false;
    };
    std::optional<Hold> hold_;
};

} // namespace marram
