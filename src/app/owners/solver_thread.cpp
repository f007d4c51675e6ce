// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/owners/solver_thread.h"

#include <glpk.h>
#include <utility>

namespace marram {

SolverThread::SolverThread(QObject* parent) : QObject(parent) {
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

quint64 SolverThread::request(quint64 subject, const Season& season, bool explain, const Misses& misses,
                              const std::optional<Season>& beside) {
    const std::lock_guard lock(mutex_);
    waiting_ = std::make_unique<Request>(Request{++last_, subject, season, explain, misses, beside});
    wake_.notify_one();
    return last_;
}

void SolverThread::run() {
    std::shared_ptr<const Solved> last;
    std::unique_ptr<Request> toExplain;
    quint64 subject = 0;
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
            if (std::exchange(subject, now->subject) != now->subject)
                last.reset();
            last = std::make_shared<Solved>(solveSeason(now->season, last ? &last->solution : nullptr, {},
                                                        now->explain ? Choices::Make : Choices::Keep));
            mail_.post([this, number = now->number, last] { emit solved(number, last); });
            toExplain.reset();
            if (now->explain)
                toExplain = std::move(now);
        } else if (toExplain) {
            auto more = std::make_shared<Explained>();
            if (toExplain->beside)
                more->beside = std::make_shared<Plan>(solveSeason(*toExplain->beside, &last->solution).plan);
            more->limits = explainLimits(toExplain->season, *last);
            if (const auto chances = chancesOf(toExplain->season, last->plan, toExplain->misses))
                more->chances = *chances;
            mail_.post([this, number = toExplain->number, more] { emit explained(number, more); });
            toExplain.reset();
        }
    }
    glp_free_env(); // the solver keeps an environment for every thread
}

} // namespace marram

#include "moc_solver_thread.cpp"
