// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "app/owners/mailbox.h"
#include "core/season/ahead.h"
#include <atomic>
#include <condition_variable>
#include <memory>
#include <mutex>
#include <thread>

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
    ~SolverThread() override;

    /// Asks for a plan. With `explain`, what explains it follows once nothing newer waits: its limits, its
    /// chances under `misses`, and the plan of `beside`. A solve starts from the last one of the same
    /// `subject` only. Returns the request's number.
    quint64 request(quint64 subject, const Season& season, bool explain, const Misses& misses = {},
                    const std::optional<Season>& beside = {});

signals:
    // In the owner's thread, as all that is posted.
    void solved(quint64 number, std::shared_ptr<const Solved> solved);
    void explained(quint64 number, std::shared_ptr<const Explained> explained);

private:
    void run();

    struct Request {
        quint64 number = 0, subject = 0;
        Season season;
        bool explain = false;
        Misses misses;
        std::optional<Season> beside;
    };
    Mailbox mail_; // outlives the thread
    std::mutex mutex_;
    std::condition_variable wake_;
    std::unique_ptr<Request> waiting_;
    quint64 last_ = 0;
    std::atomic<bool> stop_ = false;
    std::thread thread_;
};

} // namespace marram
