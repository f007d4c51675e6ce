// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/owners/squads.h"
#include "formats/csv/lines.h"
#include "store/squad.h"
#include "wording/wording.h"

#include <algorithm>

namespace marram {

Squads::Squads(OpenRoster& roster, Notices& notices, Clock& clock, QObject* parent)
    : QObject(parent), roster_(roster), notices_(notices), clock_(clock),
      work_([&notices](const QString& sentence) { emit notices.failed(sentence); }),
      trials_([&notices](const QString& sentence) { emit notices.failed(sentence); }) {
    connect(&roster_, &OpenRoster::closing, this, [this] {
        work_.end();
        rows_.clear();
        riders_.clear();
        stale_ = true;
        ahead_ = 0;
        trials_.end();
        trying_.reset();
        tried_.clear();
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
    if (trying_)
        tryOut(*trying_); // what it would do, by what is there now
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

Worker::Task Squads::overRiders(std::function<std::vector<OfRider>(const Worker::Link&)> rounds) const {
    return [this, rounds = std::move(rounds), riders = riders_, path = roster_.path(),
            writer = roster_.file().writer()](Worker::Link& link) {
        const auto fail = [&](const Problem& why) {
            link.deliver([this, why] { emit notices_.failed(QString::fromStdString(why.sentence)); });
        };
        const auto file = Roster::open(path, writer);
        if (!file)
            return fail(file.error());
        const auto all = (*file)->riders();
        if (!all)
            return fail(all.error());
        for (const OfRider& each : rounds(link))
            for (const RiderRecord& r : *all) {
                if (std::find(riders.begin(), riders.end(), r.id) == riders.end())
                    continue;
                if (link.cancelled())
                    return;
                if (auto ok = each(**file, r); !ok)
                    return fail(ok.error());
            }
    };
}

void Squads::read() {
    if (!roster_.isOpen())
        return;
    stale_ = false;
    done_ = 0;
    work_.ask(overRiders([this, week = week(), today = clock_.today()](const Worker::Link& link) {
                  const auto deliver = [this, &link](Result<SquadRow> row) -> Result<void> {
                      if (!row)
                          return tl::unexpected(row.error());
                      const auto one = std::make_shared<std::vector<SquadRow>>(1, std::move(*row));
                      link.deliver([this, one] { take(std::move(*one)); });
                      return {};
                  };
                  return std::vector<OfRider>{[=](const Roster& file, const RiderRecord& rider) {
                                                  return deliver(keptRow(file, rider, today));
                                              },
                                              [=](const Roster& file, const RiderRecord& rider) {
                                                  return deliver(solvedRow(file, rider, today, week));
                                              }};
              }),
              [this] { emit changed(); });
    emit changed();
}

void Squads::tryOut(const SquadAddition& addition) {
    if (!roster_.isOpen())
        return;
    trying_ = addition;
    tried_.clear();
    trials_.ask(
        overRiders([this, addition, today = clock_.today()](const Worker::Link& link) {
            return std::vector<OfRider>{
                [this, &link, addition, today](const Roster& file, const RiderRecord& rider) -> Result<void> {
                    auto trial = tryAddition(file, rider, addition, today);
                    if (!trial)
                        return tl::unexpected(trial.error());
                    const auto one = std::make_shared<SquadTrial>(std::move(*trial));
                    link.deliver([this, one] {
                        tried_.push_back(std::move(*one));
                        emit tried();
                    });
                    return {};
                }};
        }),
        [this] { emit tried(); });
    emit tried();
}

void Squads::stopTrying() {
    trials_.forget();
    trying_.reset();
    tried_.clear();
}

Squads::Put Squads::put(const SquadAddition& addition, const std::vector<SquadTrial>& on) {
    Put put;
    for (const SquadTrial& t : on)
        put.on += t.after ? 1 : 0;
    const QString what =
        wording("Put %1 on %2")
            .arg(wordsFor(addition), put.on == 1 ? wording("one rider") : wording("%1 riders").arg(put.on));
    if (put.on > 0)
        roster_.steps().asOneStep(what, [=, this] {
            for (const SquadTrial& t : on)
                if (t.after && t.season && addition.what != SquadAddition::What::Season)
                    roster_.edits().editSeason(t.season->id, t.season->season, *t.after, what);
                else if (t.after)
                    roster_.edits().beginSeason(t.rider, *t.after, what);
        });
    for (const SquadRow& row : rows_)
        if (std::none_of(on.begin(), on.end(),
                         [&](const SquadTrial& t) { return t.rider == row.rider && t.after; }))
            put.left << row.name;
    return put;
}

Result<Squads::Put> Squads::put(const SquadAddition& addition) {
    std::vector<SquadTrial> on;
    for (const SquadRow& row : rows_) {
        const auto season = roster_.file().seasonInForce(row.rider);
        if (!season)
            return tl::unexpected(season.error()); // all or nobody
        SquadTrial trial;
        trial.rider = row.rider;
        trial.name = row.name;
        trial.season = *season;
        if (*season)
            trial.after = withAddition((*season)->season, addition);
        on.push_back(std::move(trial));
    }
    return put(addition, on);
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
