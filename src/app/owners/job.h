// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "app/owners/mailbox.h"
#include <atomic>
#include <functional>
#include <map>
#include <memory>
#include <thread>

namespace marram {

enum class JobKind { Import, Scoring, Export, Bring, Examine, SaveWhole, Efforts, Compare, LayOver };

/// What a job in its thread knows of its owner.
class JobLink {
public:
    bool cancelled() const { return cancelled_; }
    /// Has the owner's thread do something, unless the job has been ended before it comes to it.
    void deliver(std::function<void()> what) const { deliver_(std::move(what)); }

private:
    friend class Jobs;
    std::atomic<bool> cancelled_ = false;
    std::function<void(std::function<void()>)> deliver_;
};

/// Work beside the interface under one cancellation. At most one job of a kind runs. What a job delivers
/// carries whose it is: once the job has been ended, nothing of it is taken. Calls from the owner's thread
/// only.
class Jobs {
public:
    ~Jobs() { endAll(); }

    /// Begins a job, ending the one of its kind that runs. `work` runs in a thread of its own; `after` in the
    /// owner's, once everything the job delivered has been taken.
    void begin(JobKind kind, std::function<void(JobLink&)> work, std::function<void()> after);
    bool running(JobKind kind) const { return jobs_.contains(kind); }
    /// Asks a job to stop; it goes on to its own end.
    void cancel(JobKind kind);
    /// Ends a job now: waits for its thread, takes nothing more of it.
    void end(JobKind kind);
    void endAll();

private:
    struct Job {
        quint64 number = 0;
        JobLink link;
        std::thread thread;
    };
    Mailbox mail_; // outlives the threads
    std::map<JobKind, std::unique_ptr<Job>> jobs_;
    quint64 last_ = 0;
};

} // namespace marram
