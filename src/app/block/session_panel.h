// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "app/block/board_edits.h"
#include "app/block/session_line.h"
#include "app/shell/binding.h"
#include "app/shell/read_aloud.h"
#include <QComboBox>
#include <QGridLayout>
#include <QLabel>
#include <QPushButton>
#include <QTextBrowser>

namespace marram {

/// A session as its profile, as large as there is room.
class SessionProfile : public QWidget, public ReadAloud {
public:
    explicit SessionProfile(QWidget* parent = nullptr);
    void show(const Session& session, double lowThreshold);
    /// Its steps and repetitions in order, each in the words a session is written in.
    std::vector<SpokenPart> spokenParts() const override;
    QSize sizeHint() const override { return {300, 96}; }

private:
    void paintEvent(QPaintEvent* event) override;
    Session session_;
    double low_ = defaultLowThreshold;
};

/// The day chosen on the board: the session in words, its profile and figures, how it grows, why it is there,
/// what the rider is told; on a day that has passed, how it was ridden and the coach's verdict.
class SessionPanel : public QWidget {
    Q_OBJECT
public:
    explicit SessionPanel(QWidget* parent = nullptr);
    void show(const BoardPicture& picture, std::shared_ptr<const FamilyBook> book, std::optional<Date> day);
    void typeWords();
    void typeNote() {
        note_->setFocus();
        note_->selectAll();
    }
    void finishTyping();
    SessionLine& line() { return *line_; }

signals:
    void changed(qint64 season, const marram::Season& before, const marram::Season& after,
                 const QString& what);
    void wantsFamilies();
    void wantsRide(qint64 ride);
    void done(); ///< typing is over: back to the board

protected:
    void changeEvent(QEvent* event) override;

private:
    void arrangeButtons();
    void fill();
    QString wordsOf(const BoardDay& day) const;
    QString ladder(const BlockSession& s) const;
    QString stepsTable(const Session& session) const;
    void edit(const Season& after, const QString& what);

    BoardPicture picture_;
    std::shared_ptr<const FamilyBook> book_;
    std::optional<Date> day_;
    QLabel *title_, *figures_;
    SessionLine* line_;
    SessionProfile* profile_;
    QWidget* buttons_;
    QGridLayout* buttonGrid_ = nullptr;
    QPushButton *climb_, *step_, *replace_, *pin_, *rest_, *ride_;
    QComboBox* verdict_;
    QLineEdit* note_;
    QTextBrowser* words_;
    Binding *noteBound_, *verdictBound_;
};

} // namespace marram
