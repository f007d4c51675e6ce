// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/owners/solver_thread.h"

#include <glpk.h>
#include <utility>

namespace marram {

SolverThread::SolverThread(QObject* parent)
    : QObject(parent),
      worker_([this](const QString& sentence) { emit failed(sentence); }, [] { glp_free_env(); }) {
} // the solver keeps an environment for every thread

quint64 SolverThread::request(quint64 subject, const Season& season, bool explain, const Misses& misses,
                              const std::optional<Season>& beside) {
    // Its own number is only known once it is asked for; what it delivers comes later than that.
    const auto number = std::make_shared<quint64>(0);
    *number = worker_.ask(
        [this, last = last_, number, subject, season, explain, misses, beside](const Worker::Link& link) {
            if (std::exchange(last->subject, subject) != subject)
                last->solved.reset();
            const auto now = std::make_shared<const Solved>(
                solveSeason(season, last->solved ? &last->solved->solution : nullptr, {},
                            explain ? Choices::Make : Choices::Keep));
            last->solved = now;
            link.deliverAnyway([this, number, now] { emit solved(*number, now); });
            // What explains it follows once nothing newer waits.
            constexpr int quiet = 60; // ms
            if (!explain || !link.rest(quiet))
                return;
            auto more = std::make_shared<Explained>();
            if (beside)
                more->beside = std::make_shared<Plan>(solveSeason(*beside, &now->solution).plan);
            more->limits = explainLimits(season, *now);
            if (const auto chances = chancesOf(season, now->plan, misses))
                more->chances = *chances;
            link.deliverAnyway([this, number, more] { emit explained(*number, more); });
        });
    return *number;
}

} // namespace marram

#include "moc_solver_thread.cpp"
