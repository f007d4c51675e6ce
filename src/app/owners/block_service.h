// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "app/owners/plan_service.h"
#include "app/owners/worker.h"
#include "core/block/block.h"
#include "core/review/against.h"
#include "records/again.h"

namespace marram {

/// A ride laid over the session its day was meant to have.
struct LaidRide {
    qint64 ride = 0;
    std::string key; ///< of which ride, by which values
    Against against;
    int traceStep = 30; ///< s between values of `trace`
    std::optional<SessionMark> mark;
    std::vector<float> trace;          ///< mean power as fractions of threshold; empty without power
    std::optional<std::string> unread; ///< why the recording could not be read
};

/// Solves the sessions of the chosen rider's weeks from this week on, round what the coach pinned, keeps what
/// was meant, and lays what was ridden over it. Every request carries whose season and which version it is
/// for; an answer is taken only while that is still asked for.
class BlockService : public QObject {
    Q_OBJECT
public:
    BlockService(OpenRoster& roster, ChosenRider& rider, PlanService& plans, Notices& notices, Clock& clock,
                 QObject* parent = nullptr);

    /// Shows weeks from a Monday on, 1–12 of them.
    void look(Date monday, int weeks);
    Date from() const { return from_; }
    int weeks() const { return weeks_; }
    /// True while newer sessions are being worked out.
    bool solving() const { return work_.busy() || (unheard_ && !block()); }

    /// The newest sessions of the season shown, from this week on; null before there are any: those of
    /// another rider or season are never shown.
    const SessionBlock* block() const { return subject_ == plans_.seasonId() ? block_.get() : nullptr; }
    const BlockWeek* weekOf(Date monday) const;
    const BlockSession* sessionOn(Date day) const;
    /// What was meant for days that have passed.
    const MeantSession* meantOn(Date day) const;
    /// A past day's ride over its session; null until it is there, and for days without one.
    const LaidRide* laidOn(Date day) const;
    /// The rung's verdict of a day: the coach's, else what was found; nothing where nothing was ridden.
    std::optional<RungVerdict> verdictOn(Date day) const;
    /// A past day's session beside the last times it was ridden, as far as they were laid over their rides.
    std::optional<Again> againOn(Date day) const;
    /// How much the rider's rides vary from what was meant.
    const PlanSpread& spread() const { return spread_; }
    /// Families of the trade and the coach's own.
    const FamilyBook& book() const { return *book_; }
    std::shared_ptr<const FamilyBook> sharedBook() const { return book_; }
    /// What the sessions rest on beside the season: injuries, illness, rungs reached.
    BlockBasis basis() const;

    /// Asks again for what shows now.
    void solve();

signals:
    void blockChanged(); ///< block(), or what shows of it
    void laidChanged();  ///< laidOn(), verdictOn()

private:
    void follow();
    void followSeason();
    void forget();
    void keep(qint64 season, Date first);
    void loadMeant();
    /// Lays what was ridden over what was meant, beside the interface, newest first.
    void layOverRides();
    /// A ride and the session its day was meant to have.
    struct Pair {
        Date day;
        RideRecord ride;
        MeantSession meant;
        Session session;
        double lowThreshold = defaultLowThreshold;
        std::string key; ///< laidFrom()
    };
    /// Those of the last weeks that are not laid yet; learns spread() and lets go of what is no longer there.
    std::vector<Pair> pairsToLay(const RiderRecord& who);
    static LaidRide laidOver(const Pair& item, const Result<Ride>& ride, const PlanSpread& spread);
    void take(std::map<Date, LaidRide>& done);
    const RideRecord* rideOn(Date day) const;
    /// The longest ride that counts of every day that has one; until rides change.
    using RidesOfDays = std::map<Date, const RideRecord*>;
    RidesOfDays ridesOfDays() const;
    /// A session's words, read once, or the session itself where it is known.
    struct Understood {
        Session session;
        int seconds = 0, workSeconds = 0;
        double stress = 0; ///< points
    };
    const Understood* understood(const std::string& words, double lowThreshold,
                                 const Session* known = nullptr) const;
    /// What was done of the session a day was meant to have; nothing where no verdict stands.
    std::optional<DoneRung> rungDone(Date day, const MeantSession& m) const;
    std::string laidFrom(const RideRecord& ride, const MeantSession& meant) const;

    OpenRoster& roster_;
    ChosenRider& rider_;
    PlanService& plans_;
    Notices& notices_;
    Clock& clock_;
    Date from_, thisWeek_;
    qint64 riderId_ = 0;
    int weeks_ = 4;
    qint64 subject_ = 0; ///< the season block_ is of
    std::shared_ptr<const SessionBlock> block_;
    struct Asked {
        std::vector<SessionPin> pins;
        std::vector<PlannedDay> days;
        std::vector<DoneRung> done;
        std::string resting; ///< injuries, illness, weeks off
        std::shared_ptr<const FamilyBook> book;
        Date first, last;
        bool same(const Asked& other) const;
    };
    /// The first Monday whose sessions may change, where nothing but pins did or more weeks show: weeks
    /// before stay as they are.
    static std::optional<Date> touchedSince(const Asked& then, const Asked& now);
    qint64 askedFor_ = 0;
    std::optional<Season> decided_;       ///< as the coach set it when sessions were last asked for
    std::optional<Asked> asked_, solved_; ///< what the newest request, and block_, were worked out from
    std::map<Date, MeantSession> meant_;
    std::map<Date, LaidRide> laid_;
    /// Rides of the last weeks are being laid over their sessions for the first time: the first sessions of a
    /// season wait for what they say of its rungs.
    bool unheard_ = false;
    mutable std::map<std::pair<std::string, double>, std::optional<Understood>> understood_;
    PlanSpread spread_ = usualSpread;
    std::shared_ptr<const FamilyBook> book_;
    Worker work_;
    Worker laying_;
};

} // namespace marram
