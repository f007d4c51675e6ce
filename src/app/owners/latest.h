// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "app/owners/mailbox.h"
#include <condition_variable>
#include <functional>
#include <mutex>
#include <thread>

namespace marram {

/// Work beside the interface of which only the newest counts: what is overtaken while it waits is never
/// begun, and what is overtaken while it runs is not taken. Calls from the owner's thread only.
class LatestWork {
public:
    /// Runs in the thread of its own and returns what the owner's thread does with the answer.
    using Work = std::function<std::function<void()>()>;

    LatestWork();
    ~LatestWork();
    void ask(Work work);
    /// Nothing asked for so far is taken any more.
    void forget();
    /// True from asking until the newest answer was taken or forgotten.
    bool busy() const { return busy_; }

private:
    void run();

    Mailbox mail_; // outlives the thread
    std::mutex mutex_;
    std::condition_variable wake_;
    Work waiting_;
    quint64 asked_ = 0; ///< grows with every question and every forgetting
    bool stop_ = false, busy_ = false;
    std::thread thread_;
};

} // namespace marram
