// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/owners/listening.h"
#include "app/owners/ride_reading.h"
#include "store/roster.h"

namespace marram {

Listening::Listening(OpenRoster& roster, ChosenRider& rider, Notices& notices, QObject* parent)
    : QObject(parent), roster_(roster), rider_(rider), notices_(notices),
      work_([&notices](const QString& sentence) { emit notices.failed(sentence); }) {
    connect(&roster_, &OpenRoster::closing, this, [this] {
        work_.end();
        read_.clear();
        heard_.reset();
        done_ = total_ = 0;
    });
    connect(&rider_, &ChosenRider::settled, this, &Listening::follow);
}

QByteArray Listening::keyOf(const RideRecord& r) {
    QByteArray key = r.contentHash + QByteArray::number(r.day.days) + ' ' +
                     QByteArray::number(r.corrections.trimStart) + ' ' +
                     QByteArray::number(r.corrections.trimEnd);
    for (const Stretch& cut : r.corrections.powerCuts)
        key += ' ' + QByteArray::number(cut.begin) + '-' + QByteArray::number(cut.end);
    return key;
}

/// A record that changed is heard anew where it was asked for, or where its rides carry no points.
void Listening::follow() {
    if (of_ != rider_.id())
        work_.forget(); // what was read of another rider stays, the rest is theirs to ask for
    if (heard_ && (heard_->rider != rider_.id() || !complete()))
        heard_.reset();
    if (!heard_ && rider_.counted().byHours && !roster_.importing())
        listen();
    emit changed();
}

bool Listening::complete() const {
    const auto& rides = rider_.rides();
    return std::all_of(rides.begin(), rides.end(), [&](const RideRecord& r) {
        const auto found = read_.find(r.id);
        return r.excluded || (found != read_.end() && found->second.of == keyOf(r));
    });
}

void Listening::listen() {
    std::vector<RideRecord> unread;
    for (const RideRecord& r : rider_.rides()) {
        const auto found = read_.find(r.id);
        if (!r.excluded && (found == read_.end() || found->second.of != keyOf(r)))
            unread.push_back(r);
    }
    heard_.reset();
    of_ = rider_.id();
    done_ = 0;
    total_ = static_cast<int>(unread.size());
    if (unread.empty()) {
        work_.forget();
        emit changed();
        return;
    }
    using Batch = std::vector<std::pair<qint64, Read>>;
    const auto work = [this, unread = std::move(unread), path = roster_.path(),
                       writer = roster_.file().writer()](Worker::Link& link) {
        constexpr size_t batch = 8;
        const auto file = Roster::open(path, writer);
        auto read = std::make_shared<Batch>();
        const auto deliver = [&] {
            link.deliver([this, read] {
                for (const auto& [ride, what] : *read)
                    read_[ride] = what;
                done_ += static_cast<int>(read->size());
                emit changed();
            });
            read = std::make_shared<Batch>();
        };
        for (const RideRecord& r : unread) {
            if (link.cancelled())
                break;
            Read one{keyOf(r), std::nullopt};
            auto ride = file ? rideOf(**file, r) : tl::unexpected(file.error());
            if (ride)
                one.facts = factsOf(std::to_string(r.id), *ride, r.day);
            read->emplace_back(r.id, std::move(one));
            if (read->size() == batch)
                deliver();
        }
        if (!read->empty())
            deliver();
    };
    work_.ask(work, [this] { emit changed(); });
    emit changed();
}

std::shared_ptr<const Heard> Listening::heard() const {
    if (heard_ && heard_->rider == rider_.id())
        return heard_;
    if (rider_.id() == 0 || rider_.rides().empty() || !complete())
        return nullptr;
    auto heard = std::make_shared<Heard>();
    heard->rider = rider_.id();
    std::vector<RideFacts> facts;
    for (const RideRecord& r : rider_.rides()) {
        if (r.excluded)
            continue;
        const Read& read = read_.at(r.id);
        if (read.facts)
            facts.push_back(*read.facts);
        else
            ++heard->unread;
    }
    heard->values = learnValues(std::move(facts));
    return heard_ = heard;
}

std::vector<ValueProposal> Listening::proposals() const {
    const auto said = heard();
    const RiderRecord* who = rider_.rider();
    return said && who ? proposalsFrom(said->values, *who) : std::vector<ValueProposal>{};
}

void Listening::take(qint64 rider, const std::vector<ValueProposal>& chosen) {
    const RiderRecord* before = roster_.rider(rider);
    if (!before || chosen.empty())
        return;
    RiderRecord after = *before;
    for (const ValueProposal& p : chosen)
        takeProposal(after, p);
    roster_.editRider(*before, after,
                      chosen.size() == 1 ? QString("Take a value from the record")
                                         : QString("Take %1 values from the record").arg(chosen.size()));
}

} // namespace marram

#include "moc_listening.cpp"
