// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "app/owners/workspace.h"
#include "app/review/day_line.h"
#include "app/shell/binding.h"
#include <QLabel>
#include <QPushButton>
#include <QTextBrowser>

class QProgressDialog;

namespace marram {

/// Monday's page as rich text: what lies behind, and what comes. Names and notes are plain text in it.
QString behindHtml(const Monday& monday);
QString aheadHtml(const Monday& monday);

/// The week as a line of days, what it did, what stands out, what comes, and what to say: read in half a
/// minute, rider after rider.
class MondayPage : public QWidget {
    Q_OBJECT
public:
    explicit MondayPage(Workspace& workspace, QWidget* parent = nullptr);
    /// Shows what there is; called when something changed.
    void refresh();
    /// The letter of the shown week: a page where the name ends in .pdf, else a text. Asks where none is
    /// named.
    void saveLetter(QString path = {});
    void saveAllLetters(QString folder = {});
    /// Sends the week to all riders: letter, calendar, workouts, a sheet to answer on, in a folder each.
    /// To riders, all where none is named; the week after the one shown, else that of a Monday.
    void sendWeek(QString folder = {}, const std::vector<qint64>& riders = {}, std::optional<Date> week = {});
    /// Takes in what riders put into their folders of the post.
    void takeInPost(QString folder = {});

signals:
    void wantsRide(qint64 ride);
    void wantsNext(); ///< the next rider who needs a look

protected:
    void showEvent(QShowEvent*) override;
    void hideEvent(QHideEvent*) override;

private:
    QWidget* makeHead();
    QWidget* makeWords();
    void showPost(const std::vector<FromRider>& all, bool asked);
    void showWords(const char* name, const QString& title, const QString& html);
    QProgressDialog* progressOf(const QString& what);
    void note(const std::string& code);
    void say(qint64 rider, const QString& words);

    Workspace& workspace_;
    QLabel *title_, *done_, *state_, *sayHead_ = nullptr, *sayHint_ = nullptr;
    QPushButton *before_, *after_, *next_;
    DayLine* days_;
    QTextBrowser *behind_, *ahead_;
    QPlainTextEdit* words_;
    Binding* wordsBound_;
    std::shared_ptr<const MondayPicture> shown_;
};

} // namespace marram
