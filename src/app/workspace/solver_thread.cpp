// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/workspace/solver_thread.h"

#include <glpk.h>

namespace marram {

SolverThread::SolverThread(QObject* parent) : QObject(parent) {
    qRegisterMetaType<std::shared_ptr<const Solved>>();
    qRegisterMetaType<std::vector<Limit>>();
    thread_ = std::thread([this] { run(); });
}

SolverThread::~SolverThread() {
    {
        const std::lock_guard lock(mutex_);
        stop_ = true;
    }
    wake_.notify_one();
    thread_.join();
}

quint64 SolverThread::request(const Season& season, bool explain) {
    const std::lock_guard lock(mutex_);
    waiting_ = std::make_unique<Request>(Request{++last_, season, explain});
    wake_.notify_one();
    return last_;
}

void SolverThread::forget() {
    forget_ = true;
}

void SolverThread::run() {
    std::shared_ptr<const Solved> last;
    std::unique_ptr<Request> toExplain;
    for (;;) {
        std::unique_ptr<Request> now;
        {
            std::unique_lock lock(mutex_);
            if (!toExplain)
                wake_.wait(lock, [&] { return stop_ || waiting_; });
            else
                wake_.wait_for(lock, std::chrono::milliseconds(60), [&] { return stop_ || waiting_; });
            if (stop_)
                break;
            now.swap(waiting_);
        }
        if (now) {
            if (forget_.exchange(false))
                last.reset();
            last = std::make_shared<Solved>(solveSeason(now->season, last ? &last->solution : nullptr));
            emit solved(now->number, last);
            toExplain.reset();
            if (now->explain)
                toExplain = std::move(now);
        } else if (toExplain) {
            emit explained(toExplain->number, explainLimits(toExplain->season, *last));
            toExplain.reset();
        }
    }
    glp_free_env(); // the solver keeps an environment for every thread
}

} // namespace marram
