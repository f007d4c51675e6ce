// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/owners/open_roster.h"
#include "app/owners/roster_jobs.h"
#include "records/merge.h"
#include "store/import.h"
#include "wording/wording.h"

#include <algorithm>
#include <future>

namespace marram {

/// A question the import asks, and its answer.
struct RosterJobs::Question {
    quint64 number = 0;
    std::promise<OverlapAnswer> overlap;
    std::promise<bool> stranger;
    std::promise<std::optional<ActivityColumns>> list;
};

std::shared_ptr<RosterJobs::Question> RosterJobs::asked(quint64 number) {
    return question_ && question_->number == number ? std::exchange(question_, nullptr) : nullptr;
}

void RosterJobs::answerOverlap(quint64 number, OverlapAnswer answer) {
    if (const auto question = asked(number))
        question->overlap.set_value(answer);
}

void RosterJobs::answerStranger(quint64 number, bool take) {
    if (const auto question = asked(number))
        question->stranger.set_value(take);
}

void RosterJobs::answerList(quint64 number, const std::optional<ActivityColumns>& columns) {
    if (const auto question = asked(number))
        question->list.set_value(columns);
}

void RosterJobs::importFiles(qint64 id, const QStringList& paths, const QStringList& refused) {
    const RiderRecord* who = of_.rider(id);
    if (!who || importing() || (paths.isEmpty() && refused.isEmpty()))
        return;
    if (of_.readOnly()) {
        emit notices_.failed(wording("The roster is read-only here, so rides can't come in."));
        return;
    }
    auto report = std::make_shared<ImportReport>();
    const auto work = [this, paths, refused, report, path = of_.file().path(), writer = of_.file().writer(),
                       who = *who](JobLink& link) {
        const auto roster = openBeside(link, path, writer);
        if (!roster) {
            report->stopped = roster.error();
            return;
        }
        Importer importer(**roster, who);
        importer.progress = progressOf(JobKind::Import, link);
        // Asks on the interface's thread. Whoever closes the roster meanwhile does not answer.
        const auto ask = [&](auto promise, auto emitted) {
            auto question = std::make_shared<Question>();
            auto answer = (question.get()->*promise).get_future();
            link.deliver([this, question, emitted] {
                question->number = ++questions_;
                question_ = question;
                emitted(question->number);
            });
            while (answer.wait_for(std::chrono::milliseconds(20)) != std::future_status::ready)
                if (link.cancelled())
                    return decltype(answer.get()){};
            return answer.get();
        };
        importer.onOverlap = [&](const RideRecord& now, const RideRecord& there) {
            return ask(&Question::overlap,
                       [this, now, there](quint64 number) { emit overlapAsked(number, now, there); });
        };
        importer.onStranger = [&](const QString& why) {
            return ask(&Question::stranger, [this, why](quint64 number) { emit strangerAsked(number, why); });
        };
        importer.onList = [&](const QString& file, const ActivityHead& head) {
            return ask(&Question::list,
                       [this, file, head](quint64 number) { emit listAsked(number, file, head); });
        };
        *report = importer.importFiles(paths);
        report->refused = refused + report->refused;
    };
    jobs_.begin(JobKind::Import, work, [this, report, id] {
        if (question_) {
            question_.reset();
            emit questionWithdrawn();
        }
        of_.edits_.cameIn(id, *report);
        emit importFinished(id, *report);
    });
}

namespace {

/// Keeps the scores of rides, made from a rider as they were; whatever the coach changed meanwhile wins.
Result<void> keepScores(Roster& roster, const RiderRecord& by, const std::vector<RideRecord>& scored) {
    return roster.together([&]() -> Result<void> {
        const auto who = roster.rider(by.id);
        if (!who)
            return tl::unexpected(who.error());
        std::vector<RideRecord> changed;
        for (const RideRecord& s : scored) {
            auto now = roster.ride(s.id);
            if (!now)
                return tl::unexpected(now.error());
            // Gone, put aside, or scored by what no longer holds: that is somebody else's to score.
            if (!*now || !*who || !scoredAlike(by, **who, s.day) || !((*now)->corrections == s.corrections) ||
                (*now)->effort != s.effort)
                continue;
            RideRecord& r = **now;
            r.score = s.score;
            r.best = s.best;
            r.thresholdPower = s.thresholdPower;
            r.scoringVersion = s.scoringVersion;
            r.stale = false;
            changed.push_back(r);
        }
        if (changed.empty())
            return {};
        if (auto ok = roster.updateRides(changed); !ok)
            return ok;
        return roster.oweLearning(by.id);
    });
}

} // namespace

/// What can't be scored keeps its figures and is not tried again and again.
static std::vector<RideRecord> scoredAgain(Roster& roster, const RiderRecord& who,
                                           std::span<const RideRecord> rides) {
    std::vector<std::future<RideRecord>> parts;
    for (const RideRecord& ride : rides) {
        auto bytes = roster.recordingsOf(ride);
        parts.push_back(std::async(std::launch::async, [&ride, &who, bytes] {
            auto scored =
                bytes ? scoreAgain(ride, *bytes, who) : Result<RideRecord>(tl::unexpected(bytes.error()));
            if (scored)
                return *scored;
            RideRecord kept = ride;
            kept.stale = false;
            kept.scoringVersion = scoringVersion;
            return kept;
        }));
    }
    std::vector<RideRecord> scored;
    scored.reserve(parts.size());
    for (auto& part : parts)
        scored.push_back(part.get());
    return scored;
}

void RosterJobs::scoreStale(qint64 id, const std::vector<RideRecord>& rides) {
    jobs_.end(JobKind::Scoring);
    // Shared: jobs are copied on their way to the worker, and these may be thousands.
    const auto stale = std::make_shared<std::vector<RideRecord>>();
    std::copy_if(rides.begin(), rides.end(), std::back_inserter(*stale),
                 [](const RideRecord& r) { return r.stale; });
    const RiderRecord* who = of_.rider(id);
    const bool before = scoringLeft_ > 0;
    scoringLeft_ = scoringTotal_ = who && !of_.readOnly() ? static_cast<int>(stale->size()) : 0;
    if (scoringLeft_ == 0) {
        if (before)
            emit scoringProgress(0);
        return;
    }
    emit scoringProgress(scoringLeft_);
    auto problem = std::make_shared<std::optional<Problem>>();
    const auto work = [this, stale, path = of_.file().path(), writer = of_.file().writer(), who = *who,
                       problem](JobLink& link) {
        const auto roster = openBeside(link, path, writer);
        if (!roster) {
            *problem = roster.error();
            return;
        }
        constexpr size_t batch = 16;
        for (size_t at = 0; at < stale->size() && !link.cancelled(); at += batch) {
            const auto scored = scoredAgain(
                **roster, who, std::span(*stale).subspan(at, std::min(batch, stale->size() - at)));
            if (auto kept = keepScores(**roster, who, scored); !kept) {
                *problem = kept.error();
                return;
            }
            link.deliver([this, count = static_cast<int>(scored.size())] {
                scoringLeft_ -= count;
                emit scoringProgress(std::max(1, scoringLeft_)); // 0 when all is done
            });
        }
    };
    jobs_.begin(JobKind::Scoring, work, [this, id, problem] {
        const int left = scoringLeft_, total = scoringTotal_;
        scoringLeft_ = scoringTotal_ = 0;
        if (*problem)
            emit notices_.failed(
                wording("Rides could not be scored again. %1", QString::fromStdString((*problem)->sentence)));
        of_.edits_.relearn(id);
        of_.loadRiders();
        emit scoringProgress(0);
        emit of_.touched({id, {Part::Figures, Part::Rides}, By::Others});
        if (left > 0 && !*problem)
            emit notices_.said(wording("Scoring stopped; %1 rides show the figures of before.").arg(left));
        else if (left <= 0)
            emit notices_.said(total == 1 ? wording("One ride was scored again.")
                                          : wording("%1 rides were scored again.").arg(total));
    });
}

} // namespace marram
