// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/owners/open_roster.h"
#include "app/settings/settings.h"
#include "formats/csv/csv.h"
#include "formats/files/files.h"
#include "formats/paper/letter.h"
#include "store/backup.h"
#include "store/checking.h"
#include "store/letters.h"
#include "store/post.h"
#include "wording/wording.h"

#include <QDir>
#include <algorithm>

namespace marram {

Result<void> OpenRoster::writeCheckInsTo(const QString& path) const {
    std::vector<NamedCheckIn> all;
    for (const RiderRecord& r : riders_) {
        const auto checkIns = roster_->checkIns(r.id);
        if (!checkIns)
            return tl::unexpected(checkIns.error());
        for (const CheckIn& c : *checkIns)
            all.push_back({r.name.toUtf8(), c});
    }
    return writeWholeFile(path, writeCheckIns(all));
}

Result<int> OpenRoster::readCheckInsFrom(const QString& path) {
    const auto bytes = readWholeFile(path);
    if (!bytes)
        return tl::unexpected(bytes.error());
    const auto all = readCheckIns(*bytes);
    if (!all)
        return refuse(path.toStdString() + ": " + all.error().sentence);
    std::vector<CheckInEdit> edits;
    std::map<std::pair<qint64, Date>, size_t> places;
    std::map<qint64, std::vector<CheckIn>> known;
    for (const NamedCheckIn& n : *all) {
        const auto who = std::find_if(riders_.begin(), riders_.end(),
                                      [&](const RiderRecord& r) { return r.name.toUtf8() == n.rider; });
        if (who == riders_.end())
            return refuse(phrase("%1: names \"%2\", who is not in this roster; nothing was taken in",
                                 path.toStdString(), n.rider.toStdString()));
        if (!known.contains(who->id)) {
            auto there = roster_->checkIns(who->id);
            if (!there)
                return tl::unexpected(there.error());
            known[who->id] = std::move(*there);
        }
        CheckInEdit edit{who->id, {}, n.checkIn};
        edit.before.day = n.checkIn.day;
        const auto& days = known[who->id];
        const auto now = std::lower_bound(days.begin(), days.end(), n.checkIn.day,
                                          [](const CheckIn& c, Date d) { return c.day < d; });
        if (now != days.end() && now->day == n.checkIn.day)
            edit.before = *now;
        // Of two lines for a day the later one holds.
        const auto [place, fresh] = places.try_emplace({who->id, n.checkIn.day}, edits.size());
        if (fresh)
            edits.push_back(edit);
        else
            edits[place->second] = edit;
    }
    const int before = steps_.stack().index();
    editCheckIns(edits, wording("Take in %1 check-ins").arg(edits.size()));
    const bool nothingNew =
        std::all_of(edits.begin(), edits.end(), [](const CheckInEdit& e) { return e.before == e.after; });
    if (steps_.stack().index() == before && !steps_.waiting() && !nothingNew)
        return refuse(phrase("%1: could not be taken in; nothing was changed", path.toStdString()));
    return static_cast<int>(edits.size());
}

Result<std::unique_ptr<Roster>> OpenRoster::openBeside(JobLink& link, const QString& path, qint64 writer) {
    auto roster = Roster::open(path, writer);
    if (roster)
        (*roster)->waitWhile([&link] { return !link.cancelled(); });
    return roster;
}

std::function<bool(int, int)> OpenRoster::progressOf(JobKind kind, JobLink& link) {
    return [this, kind, &link](int done, int total) {
        link.deliver([this, kind, done, total] { emit jobProgress(kind, done, total); });
        return !link.cancelled();
    };
}

/// Writes to riders beside the interface, with a connection of its own and the progress of letters; `after`
/// is done with what came of it, which is empty where it failed and said why.
template <class Made>
void OpenRoster::toRiders(const std::function<Result<Made>(const Roster&, const Progress&)>& write,
                          const std::function<void(bool, const Made&)>& after) {
    if (!roster_)
        return;
    auto made = std::make_shared<Result<Made>>();
    const auto work = [this, made, write, path = roster_->path(), writer = roster_->writer()](JobLink& link) {
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

void OpenRoster::writeLetters(const QString& folder, Date week) {
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

void OpenRoster::sendWeek(const QString& folder, const std::vector<qint64>& riders, Date week) {
    toRiders<PostSent>(
        [folder, riders, week, today = clock_.today()](const Roster& roster, const Progress& progress) {
            return marram::sendWeek(roster, folder, riders, week, today, progress,
                                    {[](const Letter& l) { return letterPdf(l.monday, l.coach); }, sheetPdf});
        },
        [this, folder](bool done, const PostSent& sent) {
            QStringList differs;
            for (const auto& [rider, files] : sent.differs)
                differs << rider + ": " + files.join(", ");
            emit weekSent(done ? folder : QString(), sent.riders, sent.fresh, sent.changed, sent.same,
                          differs);
        });
}

void OpenRoster::exportRiders(const QString& folder, const std::vector<qint64>& riders) {
    if (!roster_)
        return;
    auto result = std::make_shared<Result<Damage>>();
    const auto work = [this, folder, riders, result, path = roster_->path(),
                       writer = roster_->writer()](JobLink& link) {
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

void OpenRoster::moveRecordings(Date before) {
    if (!roster_ || readOnly())
        return;
    auto result = std::make_shared<Result<int>>(0);
    const auto work = [this, before, result, path = roster_->path(),
                       writer = roster_->writer()](JobLink& link) {
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

void OpenRoster::bringRiders(const QString& file) {
    if (!roster_) {
        emit notices_.failed(
            wording("No roster is open. Open one, or make one, first; riders come into it."));
        return;
    }
    auto result = std::make_shared<Result<std::vector<qint64>>>();
    const auto work = [this, file, result, path = roster_->path(),
                       writer = roster_->writer()](JobLink& link) {
        const auto roster = openBeside(link, path, writer);
        *result = roster ? importJson(**roster, file, progressOf(JobKind::Bring, link))
                         : Result<std::vector<qint64>>(tl::unexpected(roster.error()));
    };
    jobs_.begin(JobKind::Bring, work, [this, result] {
        if (!*result)
            emit notices_.failed(QString::fromStdString(result->error().sentence));
        loadRiders();
        emit ridersChanged();
        emit touched({0, {Part::All}, By::Others});
        emit bringFinished(result->value_or(std::vector<qint64>{}));
    });
}

void OpenRoster::examine() {
    if (!roster_)
        return;
    auto found = std::make_shared<Damage>();
    const auto work = [found, path = roster_->path(), writer = roster_->writer()](JobLink& link) {
        if (const auto roster = Roster::open(path))
            *found =
                marram::examine(**roster, [&](int, int) { return !link.cancelled(); }).value_or(Damage{});
    };
    jobs_.begin(JobKind::Examine, work, [this, found] {
        if (!found->empty())
            emit damageFound(*found);
    });
}

void OpenRoster::saveWhole(const QString& to) {
    if (!roster_)
        return;
    auto result = std::make_shared<Result<Damage>>();
    const auto work = [this, to, result, path = roster_->path(), writer = roster_->writer()](JobLink& link) {
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

/// Whether the file is still the one that was opened; tells of it once where it is not.
bool OpenRoster::ours() {
    if (lost_)
        return false;
    const auto still = roster_->stillOurs();
    if (still)
        return true;
    lost_ = true;
    lostWhy_ = QString::fromStdString(still.error().sentence);
    emit fileLost(lostWhy_ + ".");
    return false;
}

/// A copy of the day, and a look through the digests, beside the interface.
void OpenRoster::lookAfter() {
    if (!roster_ || readOnly() || lost_)
        return;
    const auto copies = copiesOf(path());
    const Date today = clock_.today();
    auto found = std::make_shared<Damage>();
    auto problem = std::make_shared<std::optional<Problem>>();
    const bool due = copies.empty() || copies.front().day < today;
    const bool weekly = copies.empty() || monday(copies.front().day) < monday(today);
    jobs_.begin(
        JobKind::Backup,
        [=, path = path(), writer = roster_->writer(),
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
                emit damageFound(*found);
            if (*problem)
                emit notices_.failed(wording("No copy of the roster could be made today: %1",
                                             QString::fromStdString((*problem)->sentence)));
        });
}

std::vector<BackupCopy> OpenRoster::copies() const {
    return roster_ ? copiesOf(path()) : std::vector<BackupCopy>{};
}

bool OpenRoster::restore(Date day, const QString& to) {
    if (!roster_)
        return false;
    const auto from = restoreCopy(path(), day, to);
    if (!from)
        return notices_.passed(tl::unexpected(from.error()));
    return true;
}

bool OpenRoster::saveElsewhere(const QString& to) {
    if (!roster_)
        return false;
    emit leaving();
    steps_.takeAll();
    if (auto ok = roster_->copyTo(to); !ok)
        return notices_.passed(ok);
    auto next = Roster::open(to);
    if (!next)
        return notices_.passed(tl::unexpected(next.error()));
    jobs_.endAll();
    roster_ = std::move(*next);
    lost_ = false;
    seen_ = roster_->newestChange().value_or(0);
    loadRiders();
    loadFamilies();
    emit ridersChanged();
    emit touched({0, {Part::All}, By::Others});
    steps_.takeLost();
    return true;
}

} // namespace marram
