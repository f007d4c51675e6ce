// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "app/owners/record_watch.h"
#include "app/owners/worker.h"
#include "reports/reports.h"
#include <memory>

namespace marram {

/// The answer to one question of one rider, made in one go from what the file held; swapped whole.
struct AnswerPicture {
    qint64 rider = 0;
    Question question = Question::Changing;
    int days = 0; ///< the span it is over, where the question spans
    Report report;
};

/// Answers what a coach asks of the chosen rider's record, beside the interface; only the newest question.
/// Nothing is read until somebody looks, nor after they look away.
class Answers : public QObject {
    Q_OBJECT
public:
    Answers(OpenRoster& roster, ChosenRider& rider, Notices& notices, Clock& clock,
            QObject* parent = nullptr);

    /// What is asked, over how many days.
    void ask(Question question, int days);
    Question question() const { return question_; }
    int days() const { return days_; }
    /// Whether somebody looks. What changed meanwhile is read then.
    void watch(bool on);
    /// The answer to what is asked now; null until it is there.
    std::shared_ptr<const AnswerPicture> picture() const;
    bool reading() const { return work_.busy(); }

signals:
    void changed();

private:
    void forget();
    void read();

    OpenRoster& roster_;
    ChosenRider& rider_;
    Notices& notices_;
    Clock& clock_;
    Question question_ = Question::Changing;
    int days_ = 140;
    bool watched_ = false, stale_ = true;
    std::shared_ptr<const AnswerPicture> picture_;
    RecordWatch watch_;
    Worker work_;
};

} // namespace marram
