// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "app/season/season_edits.h"
#include "app/season/season_painter.h"
#include "app/shell/read_aloud.h"
#include <QWidget>

namespace marram {

/// The cross-section under the hand: select, drag whatever can be moved, zoom and pan, everything also by
/// keyboard. Knows nothing of rosters: it shows a picture and says what the hand wants.
class SeasonCanvas : public QWidget, public ReadAloud {
    Q_OBJECT
public:
    explicit SeasonCanvas(QWidget* parent = nullptr);

    void show(const SeasonPicture& picture);
    void select(std::optional<Date> day, int race);
    /// Chooses a race by its name and day, also one that comes with the next picture.
    void selectRace(const std::string& name, Date day);
    const SeasonScene& scene() const { return scene_; }
    const SeasonMarks& marks() const { return marks_; }
    /// Races, days away, and weeks, those that are shown.
    std::vector<SpokenPart> spokenParts() const override;
    QSize minimumSizeHint() const override { return {480, 380}; }
    /// Days shown; the whole season where none are given.
    void look(const std::optional<Span>& span);
    const std::optional<Span>& looking() const { return span_; }
    void zoom(double factor);

signals:
    void selected(std::optional<Date> day, int race);
    void tried(const marram::Season& season); ///< the hand is still moving
    void letGo();                             ///< back to where it was
    /// An edit of the season shown, from what it was when the hand took hold.
    void changed(qint64 season, const marram::Season& before, const marram::Season& after,
                 const QString& what);
    void wantsRace(Date day); ///< a new race on this day
    void wantsMenu(Date day, int race, const QPoint& globalPlace);
    void painted(); ///< a frame is done

protected:
    void paintEvent(QPaintEvent*) override;
    void resizeEvent(QResizeEvent*) override;
    void mousePressEvent(QMouseEvent* event) override;
    void mouseMoveEvent(QMouseEvent* event) override;
    void mouseReleaseEvent(QMouseEvent* event) override;
    void mouseDoubleClickEvent(QMouseEvent* event) override;
    void wheelEvent(QWheelEvent* event) override;
    void keyPressEvent(QKeyEvent* event) override;
    void contextMenuEvent(QContextMenuEvent* event) override;
    bool event(QEvent* event) override;

private:
    void layOut();
    SeasonEdit drag(QPointF at) const;
    void commit(const SeasonEdit& edit);
    bool editByKey(QKeyEvent* event);
    void stepDay(int days);
    void stepRace(bool forward);
    void tell();
    void consequence();
    void pan(int days);
    void pinch(double factor, double x);
    void slide(double pixels);
    double pinched_ = 1, slid_ = 0; ///< of fingers, not shown yet
    QString hint(const SeasonHit& hit) const;
    void release();

    SeasonPicture picture_;
    SeasonScene scene_;
    SeasonMarks marks_;
    /// The chosen race by what names it: its place in the list is another one after a removal.
    struct RaceKey {
        std::string name;
        Date date;
    };
    std::optional<RaceKey> race_;
    void findRace();
    std::optional<Span> span_;
    struct Hold {
        qint64 subject = 0;
        quint64 version = 0; ///< of the season it was taken from
        SeasonHit what;      ///< Nothing: the ground itself, to be moved along
        Season before;
        Plan plan; ///< when the hand took hold
        SeasonEdit now;
        QPointF from;
        Span span;
        bool moved = false;
    };
    std::optional<Hold> hold_;
};

} // namespace marram
