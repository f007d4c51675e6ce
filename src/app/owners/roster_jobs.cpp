// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/owners/roster_jobs.h"
#include "app/owners/open_roster.h"
#include "app/settings/settings.h"
#include "formats/files/files.h"
#include "formats/paper/letter.h"
#include "store/backup.h"
#include "store/checking.h"
#include "store/exchange.h"
#include "store/letters.h"
#include "store/post.h"
#include "wording/wording.h"

#include <QDir>
#include <algorithm>

namespace marram {

RosterJobs::RosterJobs(OpenRoster& of, Notices& notices, Clock& clock)
    : of_(of), notices_(notices), clock_(clock),
      jobs_([&notices](const QString& sentence) { emit notices.failed(sentence); }) {}

RosterJobs::~RosterJobs() {
    jobs_.endAll();
}

void RosterJobs::endAll() {
    jobs_.endAll();
    if (std::exchange(question_, nullptr))
        emit questionWithdrawn();
    scoringTotal_ = 0;
    if (std::exchange(scoringLeft_, 0) > 0)
        emit scoringProgress(0);
}

Result<std::unique_ptr<Roster>> RosterJobs::openBeside(JobLink& link, const QString& path, qint64 writer) {
    auto roster = Roster::open(path, writer);
    if (roster)
        (*roster)->waitWhile([&link] { return !link.cancelled(); });
    return roster;
}

std::function<bool(int, int)> RosterJobs::progressOf(JobKind kind, JobLink& link) {
    return [this, kind, &link](int done, int total) {
        link.deliver([this, kind, done, total] { emit jobProgress(kind, done, total); });
        return !link.cancelled();
    };
}

/// Writes to riders beside the interface, with a connection of its own and the progress of letters; `after`
/// is done with what came of it, which is empty where it failed and said why.
template <class Made>
void RosterJobs::toRiders(const std::function<Result<Made>(const Roster&, const Progress&)>& write,
                          const std::function<void(bool, const Made&)>& after) {
    if (!of_.isOpen())
        return;
    auto made = std::make_shared<Result<Made>>();
    const auto work = [this, made, write, path = of_.file().path(),
                       writer = of_.file().writer()](JobLink& link) {
        const auto roster = openBeside(link, path, writer);
        const auto progress = progressOf(JobKind::Letters, link);
        *made = roster ? write(**roster, progress) : tl::unexpected(roster.error());
    };
    jobs_.begin(JobKind::Letters, work, [this, made, after] {
        if (!*made)
            emit notices_.failed(QString::fromStdString(made->error().sentence));
        after(made->has_value(), made->value_or(Made{}));
    });
}

void RosterJobs::writeLetters(const QString& folder, Date week) {
    toRiders<int>(
        [folder, week, today = clock_.today()](const Roster& roster, const Progress& progress) {
            return eachLetter(roster, week, today, progress, [&](const Letter& l) -> Result<void> {
                const QDir to(folder);
                if (auto ok = writeWholeFile(
                        to.filePath(l.fileName + ".txt"),
                        QByteArray::fromStdString(letterText(l.monday, l.coach.toStdString())));
                    !ok)
                    return ok;
                return writeWholeFile(to.filePath(l.fileName + ".pdf"), letterPdf(l.monday, l.coach));
            });
        },
        [this, folder](bool done, int count) { emit lettersWritten(done ? folder : QString(), count); });
}

void RosterJobs::sendWeek(const QString& folder, const std::vector<qint64>& riders, Date week) {
    toRiders<PostSent>(
        [folder, riders, week, today = clock_.today()](const Roster& roster, const Progress& progress) {
            return marram::sendWeek(roster, folder, riders, week, today, progress,
                                    {[](const Letter& l) { return letterPdf(l.monday, l.coach); }, sheetPdf});
        },
        [this, folder](bool done, const PostSent& sent) {
            for (const PostSent::Promised& p : sent.promised)
                // The window may have promised something meanwhile.
                if (const auto there = of_.file().meantOf(p.season);
                    there && (there->empty() || there->back().date < p.from))
                    of_.edits().keepMeant(p.season, p.from, p.sessions);
            QStringList differs;
            for (const auto& [rider, files] : sent.differs)
                differs << rider + ": " + files.join(", ");
            emit weekSent(done ? folder : QString(), sent.riders, sent.fresh, sent.changed, sent.same,
                          differs);
        });
}

void RosterJobs::exportRiders(const QString& folder, const std::vector<qint64>& riders) {
    if (!of_.isOpen())
        return;
    auto result = std::make_shared<Result<Damage>>();
    const auto work = [this, folder, riders, result, path = of_.file().path(),
                       writer = of_.file().writer()](JobLink& link) {
        const auto roster = openBeside(link, path, writer);
        *result = roster ? exportJson(**roster, folder, riders, progressOf(JobKind::Export, link))
                         : Result<Damage>(tl::unexpected(roster.error()));
    };
    jobs_.begin(JobKind::Export, work, [this, folder, result] {
        if (!*result)
            emit notices_.failed(QString::fromStdString(result->error().sentence));
        emit exportFinished(*result ? folder : QString(), result->value_or(Damage{}));
    });
}

void RosterJobs::moveRecordings(Date before) {
    if (!of_.isOpen() || of_.readOnly())
        return;
    auto result = std::make_shared<Result<int>>(0);
    const auto work = [this, before, result, path = of_.file().path(),
                       writer = of_.file().writer()](JobLink& link) {
        const auto roster = openBeside(link, path, writer);
        *result = roster ? (*roster)->moveRecordingsBeside(before, progressOf(JobKind::Beside, link))
                         : Result<int>(tl::unexpected(roster.error()));
    };
    jobs_.begin(JobKind::Beside, work, [this, result] {
        if (!*result)
            emit notices_.failed(QString::fromStdString(result->error().sentence));
        emit recordingsMoved(result->value_or(-1));
    });
}

Bringing ridersIn(const QString& file) {
    return [file](Roster& roster, const Progress& progress, const std::function<void()>&) {
        return importJson(roster, file, progress);
    };
}

void RosterJobs::bringRiders(const Bringing& from) {
    if (!of_.isOpen()) {
        emit notices_.failed(
            wording("No roster is open. Open one, or make one, first; riders come into it."));
        return;
    }
    auto result = std::make_shared<Result<std::vector<qint64>>>();
    const auto show = [this] {
        of_.loadRiders();
        emit of_.ridersChanged();
        emit of_.touched({0, {Part::All}, By::Others});
    };
    const auto work = [this, from, result, show, path = of_.file().path(),
                       writer = of_.file().writer()](JobLink& link) {
        const auto roster = openBeside(link, path, writer);
        *result = roster ? from(**roster, progressOf(JobKind::Bring, link), [&] { link.deliver(show); })
                         : Result<std::vector<qint64>>(tl::unexpected(roster.error()));
    };
    jobs_.begin(JobKind::Bring, work, [this, result, show] {
        if (!*result)
            emit notices_.failed(QString::fromStdString(result->error().sentence));
        show();
        emit bringFinished(result->value_or(std::vector<qint64>{}));
    });
}

void RosterJobs::examine() {
    if (!of_.isOpen())
        return;
    auto found = std::make_shared<Damage>();
    const auto work = [found, path = of_.file().path(), writer = of_.file().writer()](JobLink& link) {
        if (const auto roster = Roster::open(path))
            *found =
                marram::examine(**roster, [&](int, int) { return !link.cancelled(); }).value_or(Damage{});
    };
    jobs_.begin(JobKind::Examine, work, [this, found] {
        if (!found->empty())
            emit of_.damageFound(*found);
    });
}

void RosterJobs::saveWhole(const QString& to) {
    if (!of_.isOpen())
        return;
    auto result = std::make_shared<Result<Damage>>();
    const auto work = [this, to, result, path = of_.file().path(),
                       writer = of_.file().writer()](JobLink& link) {
        const auto roster = openBeside(link, path, writer);
        *result = roster ? marram::saveWhole(**roster, to, progressOf(JobKind::SaveWhole, link))
                         : Result<Damage>(tl::unexpected(roster.error()));
    };
    jobs_.begin(JobKind::SaveWhole, work, [this, to, result] {
        if (!*result)
            emit notices_.failed(QString::fromStdString(result->error().sentence));
        else
            emit savedWhole(to, **result);
    });
}

/// A copy of the day, and a look through the digests, beside the interface.
void RosterJobs::lookAfter() {
    if (!of_.isOpen() || of_.readOnly() || of_.isLost())
        return;
    const auto copies = copiesOf(of_.path());
    const Date today = clock_.today();
    auto found = std::make_shared<Damage>();
    auto problem = std::make_shared<std::optional<Problem>>();
    const bool due = copies.empty() || copies.front().day < today;
    const bool weekly = copies.empty() || monday(copies.front().day) < monday(today);
    jobs_.begin(
        JobKind::Backup,
        [=, path = of_.path(), writer = of_.file().writer(),
         rule = CopyRule{setting("dailyCopies").toInt(), setting("weeklyCopies").toInt()}](JobLink& link) {
            if (!due)
                return;
            const auto roster = openBeside(link, path, writer);
            if (!roster)
                return;
            const auto going = [&](int, int) { return !link.cancelled(); };
            if (weekly)
                *found = checkWhole(**roster, going).value_or(Damage{});
            else
                *found = (*roster)->checkSeals([&] { return !link.cancelled(); });
            // What is damaged does not push out the copies of before.
            if (found->empty() && !link.cancelled())
                if (const auto made = backUp(path, today, rule); !made)
                    *problem = made.error();
        },
        [this, found, problem] {
            if (!found->empty())
                emit of_.damageFound(*found);
            if (*problem)
                emit notices_.failed(wording("No copy of the roster could be made today: %1",
                                             QString::fromStdString((*problem)->sentence)));
        });
}

std::vector<BackupCopy> RosterJobs::copies() const {
    return of_.isOpen() ? copiesOf(of_.path()) : std::vector<BackupCopy>{};
}

bool RosterJobs::restore(Date day, const QString& to) {
    if (!of_.isOpen())
        return false;
    const auto from = restoreCopy(of_.path(), day, to);
    if (!from)
        return notices_.passed(tl::unexpected(from.error()));
    return true;
}

void RosterJobs::cancel(JobKind kind) {
    jobs_.cancel(kind);
}

} // namespace marram

#include "moc_roster_jobs.cpp"
