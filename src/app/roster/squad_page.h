// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "app/owners/workspace.h"
#include "app/roster/race_fit_page.h"
#include "app/roster/squad_canvas.h"
#include <QComboBox>
#include <QLabel>
#include <QPagedPaintDevice>
#include <QPushButton>
#include <QScrollArea>
#include <QStackedWidget>
#include <QTableWidget>
#include <QToolButton>

namespace marram {

/// How the rows of a squad stand under each other.
enum class SquadOrder { Name, NextRace, Form, Look };

/// The rows in an order: by name, by who races next, by form on the morning of the next A or B race (lowest
/// first), by who needs a look. Pure.
std::vector<SquadRow> ordered(std::vector<SquadRow> rows, SquadOrder order, Date today,
                              const std::function<int(qint64)>& urgency);

/// Riders beside each other: their season to come on one time axis, or their week by weekdays.
class SquadPage : public QWidget {
    Q_OBJECT
public:
    explicit SquadPage(Workspace& workspace, QWidget* parent = nullptr);
    /// Shows a group, or with nothing everybody.
    void showGroup(const QString& group);
    /// What of them: the seasons ahead, the week, or each beside a race's course.
    enum class Part { Seasons, Week, Race };
    void open(Part part);
    Part part() const { return static_cast<Part>(stack_->currentIndex()); }
    SquadCanvas& canvas() { return *canvas_; }
    /// The week as text, a rider and their days, for sending.
    QString weekText() const;
    void saveWeek(QString path = {});
    /// The week on paper.
    void print(QPagedPaintDevice& paper);
    /// Puts an addition on all who are shown, or on those it was tried on, in one step to undo.
    void putOnAll(const SquadAddition& addition);
    void putOn(const SquadAddition& addition, const std::vector<SquadTrial>& on);
    /// Asks what to put on them, beginning with `first` where it is known.
    void askWhatToPut(const std::optional<SquadAddition>& first = {});

signals:
    void wantsSeason();
    /// The week of a Monday is to be sent to riders.
    void wantsSend(const std::vector<qint64>& riders, marram::Date week);

protected:
    void showEvent(QShowEvent*) override;
    void hideEvent(QHideEvent*) override;

private:
    QLayout* makeTools();
    void makeWeekLine();
    void makeParts();
    void makeDid();
    void connectTools();
    void connectCanvas();
    void refresh();
    void refreshRiders();
    void fillWeek();
    std::vector<SquadRow> rows() const;
    QString weekHtml() const;
    void offer(const QPoint& at);
    void showWhatItDid();
    void tellOf(const SquadAddition& addition, const Squads::Put& done, std::vector<SquadRow> before);

    Workspace& workspace_;
    QComboBox *group_, *order_;
    QToolButton *season_, *week_, *race_;
    QPushButton *before_, *after_, *copy_, *save_, *send_, *put_, *close_;
    QLabel *title_, *state_;
    QStackedWidget* stack_;
    QScrollArea* scroll_;
    SquadCanvas* canvas_;
    QTableWidget* table_;
    RaceFitPage* fits_;
    QWidget *didBox_, *ofWeek_;
    QLabel* did_;
    /// What was put on all last, whom it could not be put on, and the rows before it.
    struct Put {
        QString what;
        QStringList left;
        std::vector<SquadRow> before;
        int step = 0; ///< of the undo stack, once it was put
    };
    std::optional<Put> was_;
};

} // namespace marram
