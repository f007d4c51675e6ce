// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "app/owners/worker.h"
#include "core/season/ahead.h"
#include <memory>

namespace marram {

/// What follows a plan once nothing newer waits.
struct Explained {
    std::vector<Limit> limits;
    std::vector<RaceChance> chances;    ///< simulated
    std::shared_ptr<const Plan> beside; ///< of the season it is tried against, where one was named
};

/// Solves seasons beside the interface. Only the newest request counts: one that is overtaken while waiting
/// is never begun. Each solve starts from where the last one ended.
class SolverThread : public QObject {
    Q_OBJECT
public:
    explicit SolverThread(QObject* parent = nullptr);

    /// Asks for a plan. With `explain`, what explains it follows once nothing newer waits: its limits, its
    /// chances under `misses`, and the plan of `beside`. A solve starts from the last one of the same
    /// `subject` only. Returns the request's number.
    quint64 request(quint64 subject, const Season& season, bool explain, const Misses& misses = {},
                    const std::optional<Season>& beside = {});

signals:
    // In the owner's thread, as all that is posted.
    void solved(quint64 number, std::shared_ptr<const Solved> solved);
    void explained(quint64 number, std::shared_ptr<const Explained> explained);
    void failed(const QString& sentence);

private:
    /// Of the worker's thread: what was solved last, and of whom.
    struct Last {
        std::shared_ptr<const Solved> solved;
        quint64 subject = 0;
    };
    std::shared_ptr<Last> last_ = std::make_shared<Last>();
    Worker worker_; // last: ends before what it speaks to
};

} // namespace marram
