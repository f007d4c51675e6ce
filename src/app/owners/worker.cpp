// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/owners/worker.h"
#include "wording/wording.h"

#include <sys/resource.h>
#include <unistd.h>
#include <utility>

namespace marram {

Worker::Worker(std::function<void(const QString&)> failed, std::function<void()> atEnd)
    : failed_(std::move(failed)), atEnd_(std::move(atEnd)) {}

Worker::~Worker() {
    {
        const std::lock_guard lock(mutex_);
        stop_ = true;
        waiting_.reset();
        if (running_)
            *running_ = true;
    }
    wake_.notify_all();
    if (thread_.joinable())
        thread_.join();
}

quint64 Worker::ask(Task task, std::function<void()> after) {
    auto piece = std::make_unique<Piece>();
    piece->number = live_ = ++last_;
    piece->task = std::move(task);
    piece->after = std::move(after);
    piece->cancelled = std::make_shared<std::atomic<bool>>(false);
    {
        const std::lock_guard lock(mutex_);
        if (running_)
            *running_ = true;
        waiting_ = std::move(piece);
    }
    if (!thread_.joinable())
        thread_ = std::thread([this] { run(); });
    wake_.notify_all();
    return last_;
}

void Worker::cancel() {
    const std::lock_guard lock(mutex_);
    if (waiting_)
        *waiting_->cancelled = true;
    else if (running_)
        *running_ = true;
}

void Worker::forget() {
    live_ = 0;
    {
        const std::lock_guard lock(mutex_);
        waiting_.reset();
        if (running_)
            *running_ = true;
    }
    wake_.notify_all();
}

void Worker::end() {
    forget();
    std::unique_lock lock(mutex_);
    idle_.wait(lock, [&] { return !running_; });
}

void Worker::work(Piece& piece) {
    Link link;
    link.cancelled_ = piece.cancelled;
    link.deliver_ = [this, number = piece.number](std::function<void()> what) {
        mail_.post([this, number, what = std::move(what)] {
            if (number == live_)
                what();
        });
    };
    link.deliverAnyway_ = [this](std::function<void()> what) { mail_.post(std::move(what)); };
    link.rest_ = [this, flag = piece.cancelled](int milliseconds) {
        std::unique_lock lock(mutex_);
        return !wake_.wait_for(lock, std::chrono::milliseconds(milliseconds),
                               [&] { return stop_ || waiting_ || *flag; });
    };
    QString wrong;
    try {
        piece.task(link);
    } catch (const std::exception& e) {
        wrong = QString(wording("Something went wrong inside Marram (%1), and what was being worked out was "
                                "given up. What "
                                "was there before stays."))
                    .arg(e.what());
    } catch (...) {
        wrong = wording(
            "Something went wrong inside Marram, and what was being worked out was given up. What was there "
            "before stays.");
    }
    piece.task = nullptr; // what it held goes in the thread that made it
    link.deliver([this, wrong, after = std::move(piece.after)] {
        live_ = 0;
        if (!wrong.isEmpty() && failed_)
            failed_(wrong);
        if (after)
            after();
    });
}

void Worker::run() {
    // The hand comes first: work beside it, and what that begins in turn, gives way where cores are few.
    // On Linux this is of the thread alone (setpriority(2)); where it may not be, nothing is lost.
    (void)setpriority(PRIO_PROCESS, static_cast<id_t>(gettid()), 5);
    for (;;) {
        std::unique_ptr<Piece> now;
        {
            std::unique_lock lock(mutex_);
            running_.reset();
            idle_.notify_all();
            wake_.wait(lock, [&] { return stop_ || waiting_; });
            if (stop_)
                break;
            now = std::move(waiting_);
            running_ = now->cancelled;
        }
        work(*now);
    }
    if (atEnd_)
        atEnd_();
}

void Jobs::begin(JobKind kind, Worker::Task work, std::function<void()> after) {
    auto& worker = workers_[kind];
    if (!worker)
        worker = std::make_unique<Worker>(failed_);
    worker->end();
    worker->ask(std::move(work), std::move(after));
}

bool Jobs::running(JobKind kind) const {
    const auto found = workers_.find(kind);
    return found != workers_.end() && found->second->busy();
}

void Jobs::cancel(JobKind kind) {
    if (const auto found = workers_.find(kind); found != workers_.end())
        found->second->cancel();
}

void Jobs::end(JobKind kind) {
    if (const auto found = workers_.find(kind); found != workers_.end())
        found->second->end();
}

void Jobs::endAll() {
    for (const auto& [kind, worker] : workers_)
        worker->end();
}

} // namespace marram
