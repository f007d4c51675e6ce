// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/owners/listening.h"
#include "core/review/attention.h"
#include "store/ride_reading.h"
#include "store/roster.h"
#include "wording/wording.h"

#include <QCryptographicHash>
#include <tuple>

namespace marram {

Listening::Listening(OpenRoster& roster, ChosenRider& rider, Notices& notices, Clock& clock, QObject* parent)
    : QObject(parent), roster_(roster), rider_(rider), notices_(notices), clock_(clock),
      work_([&notices](const QString& sentence) { emit notices.failed(sentence); }) {
    connect(&roster_, &OpenRoster::closing, this, [this] {
        work_.end();
        later_.stop();
        read_.clear();
        heard_.reset();
        done_ = total_ = 0;
    });
    connect(&rider_, &ChosenRider::settled, this, &Listening::follow);
    constexpr int rest = 4000; // ms
    later_.setSingleShot(true);
    later_.setInterval(rest);
    connect(&later_, &QTimer::timeout, this, &Listening::listenLater);
}

Listening::Beside Listening::secondDevices() const {
    Beside all;
    for (const RideRecord& r : rider_.rides())
        if (!r.beside.isEmpty())
            all[r.beside] += r.contentHash;
    return all;
}

QByteArray Listening::madeFrom(const RideRecord& r, const Beside& beside) {
    QByteArray key = r.contentHash + QByteArray::number(r.day.days) + ' ' +
                     QByteArray::number(r.corrections.trimStart) + ' ' +
                     QByteArray::number(r.corrections.trimEnd);
    if (const auto others = beside.find(r.contentHash); others != beside.end())
        key += ' ' + others->second;
    for (const Stretch& cut : r.corrections.powerCuts)
        key += ' ' + QByteArray::number(cut.begin) + '-' + QByteArray::number(cut.end);
    return key;
}

/// What the whole record was.
QByteArray Listening::recordKey() const {
    QCryptographicHash hash(QCryptographicHash::Sha256);
    const Beside beside = secondDevices();
    for (const RideRecord& r : rider_.rides())
        if (!r.excluded)
            hash.addData(madeFrom(r, beside));
    return hash.result();
}

KeptHearing Listening::kept() const {
    return roster_.isOpen() ? roster_.file().heard(rider_.id()).value_or(KeptHearing{}) : KeptHearing{};
}

bool Listening::isNews() const {
    return rider_.id() != 0 && !rider_.rides().empty() && !roster_.readOnly() && kept().of != recordKey();
}

/// Keeps what the record proposes now, where that is another thing than what is kept.
void Listening::remember() {
    if (!heard() || roster_.jobs().importing() || roster_.readOnly())
        return;
    const KeptHearing before = kept();
    const auto said = heard();
    KeptHearing now{recordKey(), remembered(before.proposed, proposals(), clock_.today()), {}};
    for (const LearntValues::Maximal& m : said->values.maximal)
        now.maximal.push_back({std::stoll(m.file), m.day, m.seconds, m.power});
    std::stable_sort(now.maximal.begin(), now.maximal.end(), [](const KeptMaximal& a, const KeptMaximal& b) {
        return std::tie(a.day, a.ride, a.seconds) < std::tie(b.day, b.ride, b.seconds);
    });
    if (!(now == before))
        roster_.edits().keepHeard(rider_.id(), now);
}

/// A record that is another than the one heard last is heard anew.
void Listening::follow() {
    if (of_ != rider_.id())
        work_.forget(); // what was read of another rider stays, the rest is theirs to ask for
    if (heard_ && (heard_->rider != rider_.id() || !complete()))
        heard_.reset();
    if (heard_ || complete())
        remember();
    else if (!roster_.jobs().importing() && !reading() && rider_.counted().byHours)
        listen();
    else
        later_.start();
    emit changed();
}

/// What is only news waits until the hand has rested and other work is done.
void Listening::listenLater() {
    if (roster_.jobs().importing() || roster_.jobs().scoring()) {
        later_.start();
        return;
    }
    if (!heard_ && !complete() && !reading() && isNews())
        listen();
}

bool Listening::complete() const {
    const auto& rides = rider_.rides();
    const Beside beside = secondDevices();
    return std::all_of(rides.begin(), rides.end(), [&](const RideRecord& r) {
        const auto found = read_.find(r.id);
        return r.excluded || (found != read_.end() && found->second.of == madeFrom(r, beside));
    });
}

void Listening::listen() {
    std::vector<RideRecord> unread;
    const Beside beside = secondDevices();
    for (const RideRecord& r : rider_.rides()) {
        const auto found = read_.find(r.id);
        if (!r.excluded && (found == read_.end() || found->second.of != madeFrom(r, beside)))
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
    const auto work = [this, beside, unread = std::move(unread), path = roster_.path(),
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
            Read one{madeFrom(r, beside), std::nullopt};
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
    work_.ask(work, [this] {
        remember();
        emit changed();
    });
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

QString Listening::proposedWords() const {
    for (const ValueProposal& p : proposals())
        if (p.kind == ValueProposal::Kind::Value && p.quantity == Quantity::ThresholdPower)
            return QString(p.atLeast ? wording(" At least %1 W is proposed from %2.")
                                     : wording(" %1 W is proposed from %2."))
                .arg(p.value, 0, 'f', 0)
                .arg(QString::fromStdString(dayText(p.from, clock_.today())));
    return wording(whereProposed);
}

void Listening::notNow(const ValueProposal& proposal) {
    KeptHearing now = kept();
    now.proposed = setAside(now.proposed, proposal, clock_.today());
    if (roster_.edits().keepHeard(rider_.id(), now))
        emit changed();
}

Answer Listening::answerTo(const ValueProposal& proposal) const {
    const KeptHearing now = kept();
    const auto same = setAside({}, proposal, {}).front();
    for (const KeptProposal& k : now.proposed)
        if (k.quantity == same.quantity && k.from == same.from && k.value == same.value)
            return k.answer;
    return Answer::Open;
}

void Listening::take(qint64 rider, const std::vector<ValueProposal>& chosen) {
    const RiderRecord* before = roster_.rider(rider);
    if (!before || chosen.empty())
        return;
    RiderRecord after = *before;
    for (const ValueProposal& p : chosen)
        takeProposal(after, p);
    roster_.edits().editRider(*before, after,
                              chosen.size() == 1
                                  ? wording("Take a value from the record")
                                  : wording("Take %1 values from the record").arg(chosen.size()));
}

} // namespace marram

#include "moc_listening.cpp"
