// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "core/block/block.h"
#include "core/review/against.h"
#include "core/review/monday.h"
#include "records/records.h"
#include "wording/wording.h"

#include <QString>

namespace marram {

/// One day of the board.
struct BoardDay {
    Date date;
    bool inSeason = false, past = false, today = false;
    double availableHours = 0;
    QString race; ///< its name, on a race day
    QString away; ///< "holiday" …, on a day not at home
    /// What is planned: gym first, then the ride. Empty for rest, and for days that have passed.
    std::vector<BlockSession> sessions;
    /// What was meant for a day that has passed.
    std::optional<MeantSession> meant;
    Session meantSession;
    struct Ridden {
        qint64 ride = 0;
        int seconds = 0;
        double stress = 0;
        int traceStep = 30;
        std::vector<float> trace; ///< fractions of threshold; empty without power, or until it is there
    };
    std::optional<Ridden> ridden;
    std::optional<Against> against;
    std::optional<Again> again;         ///< the times before it was ridden
    std::optional<RungVerdict> verdict; ///< the coach's, or what was found
    bool ladder = false;                ///< what was meant is a rung of a ladder
    bool judged = false;                ///< the coach's
    SessionPin pin;                     ///< the coach's; empty for none
    /// The ride planned, or null.
    const BlockSession* ride() const;
    /// Whether what is on it may be moved and changed.
    bool open() const { return inSeason && !past && race.isEmpty() && away.isEmpty(); }
};

struct BoardWeek {
    Date start;
    bool planned = false; ///< the season reaches here
    WeekKind kind = WeekKind::Build;
    Phase phase = Phase::Base;
    BlockSum target, sum;
    bool summed = false; ///< target and sum are of the sessions shown
    double ridden = 0;   ///< points
    double meant = 0;    ///< points planned for it as the days came
    std::array<BoardDay, 7> days;
};

/// Everything the board shows, and whose it is.
struct BoardPicture {
    qint64 subject = 0;  ///< the season
    quint64 version = 0; ///< of the season in force
    Season season;       ///< as the coach set it
    Date today;
    double lowThreshold = defaultLowThreshold;
    std::optional<double> thresholdPower; ///< W; none for a rider without
    QString bound;                        ///< what it means that it is a lower bound; empty where it is none
    std::optional<HeartRateRange> heartRate;
    std::vector<BoardWeek> weeks;
    std::vector<QString> unmet;
    int longest = 3600; ///< s, of any session shown
    bool alternative = false;
    const BoardDay* day(Date date) const;
};

/// A name with a capital letter.
QString capital(const std::string& words);
/// A family with the rung it is at, where it has more than one: "Threshold 5".
QString titleOf(const std::string& family, int rung, const QString& unnamed = wording("session"));
/// Minutes as people say them: "45 min", "1 h 30".
QString lengthText(int seconds);
/// The work of a session in as few signs as say it: "3 × 8 min 106", without warm-up, rests and endurance.
QString workText(const Session& session, double lowThreshold);
/// The same in fewer signs still: how often, and how long each: "3 × 6 min".
QString briefWork(const Session& session, double lowThreshold);
/// A span of days as people write it: "16 to 22 November", "30 November to 6 December".
QString spanWords(Date from, Date to, Date today);
/// A day's ride, gym, race or rest as a word for messages: "Thursday's over-unders".
QString dayWords(const BoardDay& day);

} // namespace marram
