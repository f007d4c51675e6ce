// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "app/owners/workspace.h"
#include "app/shell/read_aloud.h"
#include "core/review/history.h"
#include <QCheckBox>
#include <QComboBox>
#include <QDateEdit>
#include <QLabel>
#include <QTableWidget>
#include <QTextBrowser>

class QCPGraph;
class QCPItemStraightLine;

namespace marram {

class CurvePlot;

/// Mean-max curves of two spans over each other, with the ride behind every point, and whether the rider is
/// improving. Point at the plot, or move with the arrow keys; Enter opens the ride.
class CurvePage : public QWidget {
    Q_OBJECT
public:
    explicit CurvePage(Workspace& workspace, QWidget* parent = nullptr);
    void refresh();
    /// Puts the reading line on the duration nearest to `seconds`.
    void read(int seconds);
    const std::vector<CurvePoint>& curve(int span) const { return curves_[static_cast<size_t>(span)]; }
    QString reading() const;

signals:
    void wantsRide(qint64 ride);

protected:
    void keyPressEvent(QKeyEvent* event) override;
    void changeEvent(QEvent* event) override;

private:
    struct Span {
        QComboBox* preset;
        QDateEdit *from, *to;
    };
    QWidget* makeSpan(int which);
    void choosePreset(int which);
    void recompute();
    void paintTheme();
    /// The best of both spans over lengths a coach asks for.
    std::vector<SpokenPart> spokenParts() const;

    Workspace& workspace_;
    CurvePlot* plot_;
    std::array<QCPGraph*, 2> graphs_;
    QCPItemStraightLine* line_;
    std::array<Span, 2> spans_{};
    std::array<std::vector<CurvePoint>, 2> curves_;
    QCheckBox* perKilo_;
    QTextBrowser* words_;
    QLabel* empty_;
    QTableWidget* table_;
    int reading_ = 300;
    bool filling_ = false;
};

} // namespace marram
