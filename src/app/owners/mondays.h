// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "app/owners/record_watch.h"
#include "app/owners/worker.h"
#include "core/review/monday.h"
#include <memory>

namespace marram {

/// Monday's page of one rider's week, made in one go from what the file held; swapped whole.
struct MondayPicture {
    qint64 rider = 0;
    Date week; ///< its Monday
    Monday monday;
    QString coach; ///< the coach's words on it; empty where there are none
};

/// Looks back on the weeks of the chosen rider, beside the interface; only the newest question is answered.
/// Nothing is read until somebody looks, nor after they look away.
class Mondays : public QObject {
    Q_OBJECT
public:
    Mondays(OpenRoster& roster, ChosenRider& rider, Notices& notices, Clock& clock,
            QObject* parent = nullptr);

    /// The week that is looked back on; the last one that ended unless another was chosen.
    Date week() const;
    /// Another week; `back` weeks before the last one that ended. Never one that has not begun.
    void look(int back);
    int back() const { return back_; }
    /// Whether somebody looks. What changed meanwhile is read then.
    void watch(bool on);

    /// The page of the chosen rider's week; null until it was read.
    std::shared_ptr<const MondayPicture> picture() const;
    bool reading() const { return work_.busy(); }
    /// The letter of the chosen rider's week, in words to the rider; with what its file is called.
    struct Letter {
        Monday monday;
        QString coach, fileName;
    };
    Result<Letter> letter() const;

signals:
    void changed();

private:
    void forget();
    void ask();

    OpenRoster& roster_;
    ChosenRider& rider_;
    Notices& notices_;
    Clock& clock_;
    int back_ = 0;
    bool watched_ = false, stale_ = true;
    std::shared_ptr<const MondayPicture> picture_;
    RecordWatch watch_;
    Worker work_;
};

} // namespace marram
