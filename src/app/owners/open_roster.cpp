// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/owners/open_roster.h"
#include "store/roster.h"
#include "wording/wording.h"

#include <algorithm>
#include <utility>

namespace marram {

OpenRoster::OpenRoster(Notices& notices, Clock& clock, QObject* parent)
    : QObject(parent), notices_(notices), clock_(clock) {
    poll_.setInterval(1500);
    after_.setSingleShot(true);
    after_.setInterval(20000);
    connect(&after_, &QTimer::timeout, &jobs_, &RosterJobs::lookAfter);
    connect(&poll_, &QTimer::timeout, this, &OpenRoster::lookForOthers);
    steps_.writeWith([this] { return !roster_ || roster_->claim(); },
                     [this] {
                         if (roster_)
                             roster_->letGo();
                     });
    connect(&steps_, &Steps::held, this, [this] {
        emit notices_.said(
            jobs_.running(JobKind::Bring)
                ? wording("Riders are being brought in; what you change is kept as soon as that is done.")
                : wording("Another programme is writing to the roster; what you change is kept as "
                          "soon as it has done."));
    });
}

OpenRoster::~OpenRoster() = default; // the jobs end first

bool OpenRoster::readOnly() const {
    return roster_ && roster_->readOnly();
}

QString OpenRoster::path() const {
    return roster_ ? roster_->path() : QString();
}

bool OpenRoster::open(const QString& path) {
    return take(Roster::open(path));
}

bool OpenRoster::create(const QString& path) {
    return take(Roster::create(path));
}

bool OpenRoster::take(Result<std::unique_ptr<Roster>> roster) {
    if (!roster) {
        emit notices_.failed(QString::fromStdString(roster.error().sentence));
        return false;
    }
    close();
    roster_ = std::move(*roster);
    seen_ = roster_->newestChange().value_or(0);
    lost_ = false;
    poll_.start();
    if (!readOnly())
        after_.start();
    loadRiders();
    loadFamilies();
    emit opened();
    emit ridersChanged();
    if (readOnly())
        emit notices_.said(
            wording("The roster is read-only here: it can be looked at, and nothing is kept."));
    return true;
}

void OpenRoster::close() {
    if (!roster_)
        return;
    emit leaving(); // what is being typed is kept first
    steps_.takeWaiting();
    if (steps_.waiting()) {
        jobs_.endAll(); // what they write is what it waits for
        steps_.takeAll();
    }
    poll_.stop();
    after_.stop();
    lost_ = false;
    emit closing();
    jobs_.endAll();
    steps_.clear();
    roster_.reset();
    riders_.clear();
    families_.clear();
    emit opened();
    emit ridersChanged();
}

bool OpenRoster::loadRiders() {
    Damage damage;
    auto riders = roster_->riders(&damage);
    if (!riders)
        return notices_.passed(tl::unexpected(riders.error()));
    riders_ = std::move(*riders);
    if (!damage.empty())
        emit damageFound(damage);
    return true;
}

void OpenRoster::loadFamilies() {
    Damage damage;
    if (auto all = roster_->ownFamilies(&damage))
        families_ = std::move(*all);
    else
        emit notices_.failed(QString::fromStdString(all.error().sentence));
    if (!damage.empty())
        emit notices_.failed(
            wording("Something of this roster is damaged: %1.", damage.sentences.join("; ")));
    emit familiesChanged();
}

const RiderRecord* OpenRoster::rider(qint64 id) const {
    const auto found =
        std::find_if(riders_.begin(), riders_.end(), [&](const RiderRecord& r) { return r.id == id; });
    return found == riders_.end() ? nullptr : &*found;
}

void OpenRoster::lookForOthers() {
    if (!roster_ || !ours())
        return;
    if (!jobs_.running(JobKind::Import))
        roster_->settle();
    const auto others = roster_->othersWrote(seen_);
    if (!others || !*others)
        return; // a file that is locked now is looked at again in a moment
    loadRiders();
    loadFamilies();
    emit ridersChanged();
    emit touched({0, {Part::All}, By::Others});
    emit notices_.said(wording("The roster was changed in another window; this is how it stands now."));
}

bool OpenRoster::write(const std::function<Result<void>()>& work) {
    if (!roster_) {
        emit notices_.failed(wording("No roster is open. Open one, or make one, first."));
        return false;
    }
    if (!ours()) {
        steps_.lost();
        emit notices_.failed(
            wording("%1. What you change is kept until all of it is saved elsewhere, under File.", lostWhy_));
        return false;
    }
    // What another window wrote shows before the edit does, so that neither hides the other.
    lookForOthers();
    return notices_.edited(roster_->together(work));
}

void OpenRoster::tell(const Touched& what) {
    if (what.has(Part::Figures)) {
        loadRiders();
        emit ridersChanged();
    }
    emit touched(what);
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

std::optional<CheckIn> OpenRoster::checkInOn(qint64 rider, Date day) const {
    if (!roster_)
        return std::nullopt;
    const auto found = roster_->checkIn(rider, day);
    if (!found)
        emit notices_.failed(QString::fromStdString(found.error().sentence));
    return found ? *found : std::nullopt;
}

} // namespace marram

#include "moc_open_roster.cpp"
