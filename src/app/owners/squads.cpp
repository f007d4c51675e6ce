// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/owners/squads.h"
#include "formats/csv/lines.h"
#include "store/squad.h"

#include <algorithm>

namespace marram {

Squads::Squads(OpenRoster& roster, Notices& notices, Clock& clock, QObject* parent)
    : QObject(parent), roster_(roster), notices_(notices), clock_(clock),
      work_([&notices](const QString& sentence) { emit notices.failed(sentence); }) {
    connect(&roster_, &OpenRoster::closing, this, [this] {
        work_.end();
        rows_.clear();
        riders_.clear();
        stale_ = true;
        ahead_ = 0;
    });
    connect(&roster_, &OpenRoster::touched, this, &Squads::forget);
    connect(&clock_, &Clock::dayChanged, this, &Squads::forget);
}

void Squads::show(const std::vector<qint64>& riders) {
    if (riders == riders_)
        return;
    riders_ = riders;
    std::erase_if(rows_, [&](const SquadRow& r) {
        return std::find(riders_.begin(), riders_.end(), r.rider) == riders_.end();
    });
    forget();
}

void Squads::look(int weeksAhead) {
    weeksAhead = std::clamp(weeksAhead, -52, 104);
    if (weeksAhead == ahead_)
        return;
    ahead_ = weeksAhead;
    for (SquadRow& row : rows_)
        row.week.clear(); // of another week
    forget();
}

void Squads::watch(bool on) {
    watched_ = on;
    if (!on && work_.busy()) {
        work_.forget();
        stale_ = true;
    }
    if (on && stale_)
        read();
}

void Squads::forget() {
    stale_ = true;
    for (SquadRow& row : rows_)
        row.fresh = false; // it stays until the new one is there
    if (watched_)
        read();
}

void Squads::take(std::vector<SquadRow> rows) {
    for (SquadRow& row : rows) {
        done_ += row.fresh ? 1 : 0;
        const auto there =
            std::find_if(rows_.begin(), rows_.end(), [&](const SquadRow& r) { return r.rider == row.rider; });
        if (there == rows_.end())
            rows_.push_back(std::move(row));
        else if (row.fresh) // what was solved a moment ago is nearer than what was kept
            *there = std::move(row);
    }
    emit changed();
}

void Squads::read() {
    if (!roster_.isOpen())
        return;
    stale_ = false;
    done_ = 0;
    const auto work = [this, riders = riders_, week = week(), today = clock_.today(), path = roster_.path(),
                       writer = roster_.file().writer()](Worker::Link& link) {
        const auto fail = [&](const Problem& why) {
            link.deliver([this, why] { emit notices_.failed(QString::fromStdString(why.sentence)); });
        };
        const auto file = Roster::open(path, writer);
        if (!file)
            return fail(file.error());
        const auto all = (*file)->riders();
        const auto sums = (*file)->daySums();
        if (!all || !sums)
            return fail(all ? sums.error() : all.error());
        std::vector<RiderRecord> shown;
        for (const RiderRecord& r : *all)
            if (std::find(riders.begin(), riders.end(), r.id) != riders.end())
                shown.push_back(r);
        const auto sumsOf = [&](qint64 rider) {
            const auto found = sums->find(rider);
            return found == sums->end() ? std::vector<DaySum>{} : found->second;
        };
        const auto kept = std::make_shared<std::vector<SquadRow>>();
        for (const RiderRecord& r : shown) {
            auto row = keptRow(**file, r, sumsOf(r.id), today);
            if (!row)
                return fail(row.error());
            kept->push_back(std::move(*row));
        }
        link.deliver([this, kept] { take(std::move(*kept)); });
        for (const RiderRecord& r : shown) {
            if (link.cancelled())
                return;
            auto row = solvedRow(**file, r, sumsOf(r.id), today, week);
            if (!row)
                return fail(row.error());
            const auto one = std::make_shared<std::vector<SquadRow>>(1, std::move(*row));
            link.deliver([this, one] { take(std::move(*one)); });
        }
    };
    work_.ask(work, [this] { emit changed(); });
    emit changed();
}

Result<Squads::Put> Squads::put(const SquadAddition& addition) {
    struct Change {
        SeasonRecord season;
        Season after;
    };
    std::vector<Change> changes;
    Put put;
    for (const SquadRow& row : rows_) {
        const auto season = roster_.file().seasonInForce(row.rider);
        if (!season)
            return tl::unexpected(season.error()); // all or nobody
        const auto with = *season ? withAddition((*season)->season, addition) : std::optional<Season>();
        if (with)
            changes.push_back({**season, *with});
        else
            put.left << row.name;
    }
    put.on = static_cast<int>(changes.size());
    const QString what =
        QString("Put %1 on %2")
            .arg(addition.what == SquadAddition::What::Race   ? QString::fromStdString(addition.name)
                 : addition.what == SquadAddition::What::Camp ? QString("a camp")
                                                              : QString("days away"),
                 put.on == 1 ? QString("one rider") : QString("%1 riders").arg(put.on));
    if (!changes.empty())
        roster_.asOneStep(what, [&] {
            for (const Change& c : changes)
                roster_.editSeason(c.season.id, c.season.season, c.after, what);
        });
    return put;
}

QByteArray Squads::weekCsv(const std::vector<qint64>& order) const {
    QByteArray out = csvRow(squadDayColumns);
    for (const qint64 rider : order)
        for (const SquadRow& row : rows_)
            if (row.rider == rider)
                for (const QByteArrayList& cells : squadDayRows(row))
                    out += csvRow(cells);
    return out;
}

} // namespace marram

#include "moc_squads.cpp"
