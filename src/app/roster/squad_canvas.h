// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "app/shell/read_aloud.h"
#include "records/squad.h"
#include <QWidget>

namespace marram {

/// Riders as rows on one time axis: form as a tide line, races as stakes with the form each wakes up with and
/// the chance of its gate, deload weeks hatched, days away as gaps. Races that several ride stand as stakes
/// through all rows. Only rows that can be seen are drawn.
class SquadCanvas : public QWidget, public ReadAloud {
    Q_OBJECT
public:
    explicit SquadCanvas(QWidget* parent = nullptr);
    void show(std::vector<SquadRow> rows, Date today);
    /// The whole span, from some weeks back to the last race.
    void showAll();
    void zoom(double factor, double at = 0.3);
    void pan(double part);
    qint64 chosen() const { return chosen_; }
    void choose(qint64 rider);
    std::vector<SpokenPart> spokenParts() const override;
    /// A row as it is read aloud.
    QString tells(const SquadRow& row) const;
    int rowHeight() const;
    /// Where a row begins.
    QRect rowRect(qint64 rider) const;
    QSize sizeHint() const override;

signals:
    void chose(qint64 rider);
    void opened(qint64 rider);
    /// Two fingers moved over it, down by so many pixels.
    void slid(int down);
    /// A race the squad rides was dragged to another day, or is to be moved (the same day).
    void moveAsked(const std::string& race, marram::Date from, marram::Date to);

protected:
    void paintEvent(QPaintEvent*) override;
    void mousePressEvent(QMouseEvent*) override;
    void mouseMoveEvent(QMouseEvent*) override;
    void mouseReleaseEvent(QMouseEvent*) override;
    void mouseDoubleClickEvent(QMouseEvent*) override;
    void wheelEvent(QWheelEvent*) override;
    void keyPressEvent(QKeyEvent*) override;
    bool event(QEvent*) override;
    void changeEvent(QEvent*) override;

private:
    int headHeight() const;
    double nameWidth() const;
    double timeWidth() const;
    double xOf(double day) const;
    const SquadRow* rowAt(const QPointF& at) const;
    void paintHead(QPainter& p) const;
    void paintUprights(QPainter& p, double top, double bottom) const;
    void paintRope(QPainter& p, const SquadRow& row, double y) const;
    static double yOf(double form, const QRectF& plot);
    void paintWho(QPainter& p, const SquadRow& row, const QRectF& area) const;
    void paintGround(QPainter& p, const SquadRow& row, const QRectF& plot) const;
    void paintForm(QPainter& p, const SquadRow& row, const QRectF& plot) const;
    void paintRaces(QPainter& p, const SquadRow& row, const QRectF& plot) const;
    void paintRow(QPainter& p, const SquadRow& row, const QRectF& area) const;
    void told();

    std::vector<SquadRow> rows_;
    std::vector<std::pair<Date, std::string>> shared_;
    std::vector<std::pair<Date, Date>> camps_; ///< that several go to
    Date today_;
    double from_ = 0, to_ = 100; ///< days shown
    bool whole_ = true;          ///< nobody has zoomed yet
    qint64 chosen_ = 0;
    struct Moved {
        std::string race;
        Date from, to;
    };
    std::optional<Moved> moved_; ///< the race under the hand
    /// The squad's race whose stake is at a place; nothing where none is.
    std::optional<Moved> stakeAt(const QPointF& at, double reach) const;
    static constexpr double mouseReach = 6;
    double dayAt(double x) const;
    std::optional<double> held_; ///< the day under the hand that drags
};

/// How often a race is met inside its gate, "83 %"; empty where it is not known.
QString chanceText(const SquadRace& race);
/// It came from the squad, and this rider rides it on another day.
bool ownDay(const SquadRace& race);

} // namespace marram
