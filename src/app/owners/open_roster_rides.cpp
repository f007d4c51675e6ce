// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/owners/open_roster.h"
#include "records/merge.h"
#include "store/import.h"
#include "wording/wording.h"

#include <algorithm>
#include <future>

namespace marram {

bool OpenRoster::relearn(qint64 rider) {
    const auto changed = relearnIfOwed(*roster_, rider);
    if (!changed) {
        emit notices_.failed(QString::fromStdString(changed.error().sentence));
        return false;
    }
    return true;
}

void OpenRoster::editRide(const RideRecord& before, const RideRecord& after, const QString& what) {
    if (sameForCoach(merged(before, before, after), before))
        return;
    const auto apply = [this](const RideRecord& from, const RideRecord& to) {
        const bool done = write([&]() -> Result<void> {
            const auto now = roster_->ride(to.id);
            if (!now)
                return tl::unexpected(now.error());
            if (!*now)
                return refuse(phrase("The ride is no longer in the roster."));
            if (auto ok = roster_->updateRides({merged(**now, from, to)}); !ok)
                return ok;
            // The ride a second device belonged to, or belongs to now, is another one.
            for (const QByteArray& main : {from.beside, to.beside}) {
                if (from.beside == to.beside || main.isEmpty())
                    continue;
                const auto id = roster_->rideWithContent(to.rider, main);
                if (!id)
                    return tl::unexpected(id.error());
                auto ride = *id ? roster_->ride(**id) : Result<std::optional<RideRecord>>(std::nullopt);
                if (!ride)
                    return tl::unexpected(ride.error());
                if (!*ride)
                    continue;
                (*ride)->stale = true;
                if (auto ok = roster_->updateRides({**ride}); !ok)
                    return ok;
            }
            return roster_->oweLearning(to.rider);
        });
        if (done)
            relearn(to.rider);
        emit touched({to.rider, {Part::Rides}});
        return done;
    };
    steps_.take(
        what, [=] { return apply(before, after); }, [=] { return apply(after, before); });
}

bool OpenRoster::putRides(qint64 rider, const std::vector<qint64>& out, const std::vector<qint64>& in) {
    const bool done = write([&]() -> Result<void> {
        if (auto ok = roster_->putAside(out, true); !ok)
            return ok;
        return roster_->putAside(in, false);
    });
    if (done)
        relearn(rider);
    loadRiders(); // scales were learned anew
    emit touched({rider, {Part::Figures, Part::Rides}});
    return done;
}

void OpenRoster::removeRides(qint64 rider, const std::vector<qint64>& rides, const QString& what) {
    steps_.take(
        what, [=, this] { return putRides(rider, rides, {}); },
        [=, this] { return putRides(rider, {}, rides); });
}

/// A question the import asks, and its answer.
struct OpenRoster::Question {
    quint64 number = 0;
    std::promise<OverlapAnswer> overlap;
    std::promise<bool> stranger;
    std::promise<std::optional<ActivityColumns>> list;
};

std::shared_ptr<OpenRoster::Question> OpenRoster::asked(quint64 number) {
    return question_ && question_->number == number ? std::exchange(question_, nullptr) : nullptr;
}

void OpenRoster::answerOverlap(quint64 number, OverlapAnswer answer) {
    if (const auto question = asked(number))
        question->overlap.set_value(answer);
}

void OpenRoster::answerStranger(quint64 number, bool take) {
    if (const auto question = asked(number))
        question->stranger.set_value(take);
}

void OpenRoster::answerList(quint64 number, const std::optional<ActivityColumns>& columns) {
    if (const auto question = asked(number))
        question->list.set_value(columns);
}

bool OpenRoster::putListed(const std::vector<std::pair<RideRecord, RideRecord>>& listed, bool forward) {
    const bool done = write([&]() -> Result<void> {
        std::vector<RideRecord> changed;
        for (const auto& [before, after] : listed) {
            const auto now = roster_->ride(before.id);
            if (!now)
                return tl::unexpected(now.error());
            if (*now) // else it is aside
                changed.push_back(forward ? merged(**now, before, after) : merged(**now, after, before));
        }
        if (changed.empty())
            return {};
        if (auto ok = roster_->updateRides(changed); !ok)
            return ok;
        return roster_->oweLearning(changed.front().rider);
    });
    const qint64 rider = listed.front().first.rider;
    if (done)
        relearn(rider);
    emit touched({rider, {Part::Rides}});
    return done;
}

void OpenRoster::importFiles(qint64 id, const QStringList& paths, const QStringList& refused) {
    const RiderRecord* who = rider(id);
    if (!who || importing() || (paths.isEmpty() && refused.isEmpty()))
        return;
    if (readOnly()) {
        emit notices_.failed(wording("The roster is read-only here, so rides can't come in."));
        return;
    }
    auto report = std::make_shared<ImportReport>();
    const auto work = [this, paths, refused, report, path = roster_->path(), writer = roster_->writer(),
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
        finishImport(id, *report);
    });
}

void OpenRoster::finishImport(qint64 rider, const ImportReport& report) {
    loadRiders(); // scales were learned anew
    if (!report.added.empty() || !report.listed.empty()) {
        const QString what = report.added.empty()       ? wording("Take a list of activities")
                             : report.added.size() == 1 ? wording("Import a ride")
                                                        : wording("Import %1 rides").arg(report.added.size());
        const auto came = report.added, went = report.replaced;
        const auto listed = report.listed;
        auto first = std::make_shared<bool>(true); // they are in already
        steps_.take(
            what,
            [=, this] {
                if (std::exchange(*first, false))
                    return true;
                const bool back = putRides(rider, went, came);
                return back && (listed.empty() || putListed(listed, true));
            },
            [=, this] {
                const bool bare = listed.empty() || putListed(listed, false);
                return bare && putRides(rider, came, went);
            });
    }
    if (report.stopped)
        emit notices_.failed(QString::fromStdString(report.stopped->sentence) +
                             (report.added.empty() ? "" : wording(" What came in before that is kept.")));
    emit ridersChanged();
    emit touched({rider, {Part::Figures, Part::Rides}, By::Others});
    emit importFinished(rider, report);
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

void OpenRoster::scoreStale(qint64 id, const std::vector<RideRecord>& rides) {
    jobs_.end(JobKind::Scoring);
    std::vector<RideRecord> stale;
    std::copy_if(rides.begin(), rides.end(), std::back_inserter(stale),
                 [](const RideRecord& r) { return r.stale; });
    const RiderRecord* who = rider(id);
    const bool before = scoringLeft_ > 0;
    scoringLeft_ = scoringTotal_ = who && !readOnly() ? static_cast<int>(stale.size()) : 0;
    if (scoringLeft_ == 0) {
        if (before)
            emit scoringProgress(0);
        return;
    }
    emit scoringProgress(scoringLeft_);
    auto problem = std::make_shared<std::optional<Problem>>();
    const auto work = [this, stale = std::move(stale), path = roster_->path(), writer = roster_->writer(),
                       who = *who, problem](JobLink& link) {
        const auto roster = openBeside(link, path, writer);
        if (!roster) {
            *problem = roster.error();
            return;
        }
        constexpr size_t batch = 16;
        for (size_t at = 0; at < stale.size() && !link.cancelled(); at += batch) {
            std::vector<std::future<RideRecord>> parts;
            for (size_t i = at; i < std::min(at + batch, stale.size()); ++i) {
                auto bytes = (*roster)->recordingsOf(stale[i]);
                parts.push_back(std::async(std::launch::async, [&ride = stale[i], &who, bytes] {
                    auto scored = bytes ? scoreAgain(ride, *bytes, who)
                                        : Result<RideRecord>(tl::unexpected(bytes.error()));
                    if (scored)
                        return *scored;
                    // What can't be scored keeps its figures and is not tried again and again.
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
        relearn(id);
        loadRiders();
        emit scoringProgress(0);
        emit touched({id, {Part::Figures, Part::Rides}, By::Others});
        if (left > 0 && !*problem)
            emit notices_.said(wording("Scoring stopped; %1 rides show the figures of before.").arg(left));
        else if (left <= 0)
            emit notices_.said(total == 1 ? wording("One ride was scored again.")
                                          : wording("%1 rides were scored again.").arg(total));
    });
}

void OpenRoster::cancel(JobKind kind) {
    jobs_.cancel(kind);
}

} // namespace marram
