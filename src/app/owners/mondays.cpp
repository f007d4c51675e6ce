// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/owners/mondays.h"
#include "app/owners/read_rider.h"
#include "store/letters.h"
#include "store/looking_back.h"
#include "wording/wording.h"

namespace marram {

Mondays::Mondays(OpenRoster& roster, ChosenRider& rider, Notices& notices, Clock& clock, QObject* parent)
    : QObject(parent), roster_(roster), rider_(rider), notices_(notices), clock_(clock),
      watch_(roster, rider, clock),
      work_([&notices](const QString& sentence) { emit notices.failed(sentence); }) {
    connect(&watch_, &RecordWatch::closing, this, [this] {
        work_.end();
        picture_.reset();
        stale_ = true;
        back_ = 0;
    });
    connect(&watch_, &RecordWatch::changed, this, &Mondays::forget);
}

Date Mondays::week() const {
    return weekToLookAt(clock_.today()) - 7 * back_;
}

void Mondays::look(int back) {
    // One week ahead of the last is the one that runs.
    back = std::clamp(back, -1, 520);
    if (back == back_)
        return;
    back_ = back;
    forget();
}

void Mondays::watch(bool on) {
    watched_ = on;
    if (on && stale_)
        ask();
}

void Mondays::forget() {
    stale_ = true;
    if (watched_)
        ask();
}

std::shared_ptr<const MondayPicture> Mondays::picture() const {
    return picture_ && picture_->rider == rider_.id() && picture_->week == week() ? picture_ : nullptr;
}

Result<Mondays::Letter> Mondays::letter() const {
    const RiderRecord* who = rider_.rider();
    if (!who || !roster_.isOpen())
        return refuse(phrase("There is no rider to write to."));
    auto made = letterOf(roster_.file(), *who, week(), clock_.today());
    if (!made)
        return tl::unexpected(made.error());
    return Letter{std::move(made->monday), made->coach, made->fileName};
}

void Mondays::ask() {
    if (!roster_.isOpen() || rider_.id() == 0 || rider_.choosing())
        return;
    stale_ = false;
    const auto answer = std::make_shared<Result<MondayPicture>>();
    const auto work = [answer, rider = rider_.id(), week = week(), today = clock_.today(),
                       path = roster_.path(), writer = roster_.file().writer()](Worker::Link&) {
        *answer = ofRider<MondayPicture>(
            path, writer, rider, [&](const Roster& file, const RiderRecord& who) -> Result<MondayPicture> {
                const auto facts = lookBack(file, who, week, today);
                if (!facts)
                    return tl::unexpected(facts.error());
                auto coach = file.letter(rider, week);
                if (!coach)
                    return tl::unexpected(coach.error());
                return MondayPicture{rider, week, mondayOf(*facts), std::move(*coach)};
            });
    };
    work_.ask(work, [this, answer] {
        if (!*answer)
            emit notices_.failed(QString::fromStdString(answer->error().sentence));
        else
            picture_ = std::make_shared<const MondayPicture>(std::move(**answer));
        emit changed();
    });
    emit changed();
}

} // namespace marram

#include "moc_mondays.cpp"
