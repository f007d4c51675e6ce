// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "app/owners/mailbox.h"
#include <QString>
#include <atomic>
#include <condition_variable>
#include <functional>
#include <map>
#include <memory>
#include <mutex>
#include <thread>

namespace marram {

/// Work beside the interface, one piece at a time, of which only the newest counts: what is overtaken while
/// it waits is never begun, and what an overtaken piece delivers falls on the floor. Nothing else starts a
/// thread of its own for long. An exception never leaves it: it becomes a sentence. Calls from the owner's
/// thread only.
class Worker {
public:
    /// What a piece of work in its thread knows of its owner.
    class Link {
    public:
        /// True once it should stop: cancelled, overtaken or forgotten.
        bool cancelled() const { return *cancelled_; }
        /// Has the owner's thread do something, unless this piece no longer counts when it comes to it.
        void deliver(std::function<void()> what) const { deliver_(std::move(what)); }
        /// The same for an overtaken piece too: its answer may still be newer than what is shown.
        void deliverAnyway(std::function<void()> what) const { deliverAnyway_(std::move(what)); }
        /// Rests; false where it should stop meanwhile.
        bool rest(int milliseconds) const { return rest_(milliseconds); }

    private:
        friend class Worker;
        std::shared_ptr<std::atomic<bool>> cancelled_;
        std::function<void(std::function<void()>)> deliver_, deliverAnyway_;
        std::function<bool(int)> rest_;
    };
    using Task = std::function<void(Link&)>;

    /// `failed` is told, in the owner's thread, what went wrong with a piece; `atEnd` runs in the worker's
    /// thread when it ends.
    explicit Worker(std::function<void(const QString& sentence)> failed = {},
                    std::function<void()> atEnd = {});
    ~Worker();
    Worker(const Worker&) = delete;
    Worker& operator=(const Worker&) = delete;

    /// Asks for a piece of work; `after` is done in the owner's thread once everything it delivered has been
    /// taken, also where it failed. Returns its number.
    quint64 ask(Task task, std::function<void()> after = {});
    /// True from asking until `after`, or until it was forgotten.
    bool busy() const { return live_ != 0; }
    /// Asks what runs to stop; what it delivers on its way out is still taken.
    void cancel();
    /// Nothing asked for so far is taken any more.
    void forget();
    /// The same, and waits until the thread has let go of it.
    void end();

private:
    struct Piece {
        quint64 number = 0;
        Task task;
        std::function<void()> after;
        std::shared_ptr<std::atomic<bool>> cancelled;
    };
    void run();
    void work(Piece& piece);

    Mailbox mail_; // outlives the thread
    std::function<void(const QString&)> failed_;
    std::function<void()> atEnd_;
    quint64 last_ = 0, live_ = 0; ///< of the owner's thread: asked last; whose deliveries are taken
    std::mutex mutex_;
    std::condition_variable wake_, idle_;
    std::unique_ptr<Piece> waiting_;
    std::shared_ptr<std::atomic<bool>> running_; ///< the flag of what runs
    bool stop_ = false;
    std::thread thread_; ///< begun with the first piece
};

/// What is made beside the interface.
enum class JobKind {
    Import,
    Scoring,
    Export,
    Bring,
    Examine,
    SaveWhole,
    Efforts,
    Compare,
    Backup,
    Letters,
    Beside
};

using JobLink = Worker::Link;

/// Pieces of work of several kinds under one cancellation, at most one of a kind at a time.
class Jobs {
public:
    explicit Jobs(std::function<void(const QString& sentence)> failed = {}) : failed_(std::move(failed)) {}
    ~Jobs() { endAll(); }
    Jobs(const Jobs&) = delete;
    Jobs& operator=(const Jobs&) = delete;

    /// Begins a job, ending the one of its kind that runs.
    void begin(JobKind kind, Worker::Task work, std::function<void()> after);
    bool running(JobKind kind) const;
    /// Asks a job to stop; it goes on to its own end.
    void cancel(JobKind kind);
    /// Ends a job now: waits for it, takes nothing more of it.
    void end(JobKind kind);
    void endAll();

private:
    std::function<void(const QString&)> failed_;
    std::map<JobKind, std::unique_ptr<Worker>> workers_;
};

} // namespace marram
