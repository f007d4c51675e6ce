// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/session/shorthand.h"
#include "formats/json/season_json.h"
#include "formats/json/session_json.h"
#include "records/done_rung.h"
#include "records/merge.h"
#include "store/ahead.h"
#include "store/exchange.h"
#include "store/looking_back.h"
#include "store/roster.h"
#include "support/seasons.h"
#include "support/seasons_of.h"
#include "support/suite.h"

#include <QDir>
#include <QJsonArray>
#include <QJsonDocument>
#include <QSqlDatabase>
#include <QSqlQuery>
#include <QTemporaryDir>
#include <QTest>

using namespace marram;
using namespace marram::test;

/// A rider a few weeks before a race, hard from the first week on, and what the roster says lies ahead.
struct BeforeARace {
    std::unique_ptr<Roster> roster;
    Season season = ordinary();
    Date today;
    qint64 rider = 0;
    SeasonRecord record;

    explicit BeforeARace(std::unique_ptr<Roster> in) : roster(std::move(in)) {
        season.before = {50, 50};
        season.start = monday(season.races[0].date) - 42;
        today = season.start + 1;
        RiderRecord r;
        r.name = "Bo";
        r.hours = {1, 1.5, 1.5, 1.5, 1, 4, 3};
        rider = roster->saveRider(r).value();
        record = inForce(rider, season);
        record.id = roster->saveSeason(record).value();
    }
    /// Of a fortnight, from today on.
    std::vector<BlockSession> sessions() const {
        Damage damage;
        const auto ahead = lookAhead(*roster, *roster->rider(rider).value(), today, damage);
        auto all = sessionsAhead(ahead->value(), season.start, 2, today);
        std::erase_if(all, [&](const BlockSession& s) { return s.date < today; });
        return all;
    }
};

/// Sessions a coach pinned, what was meant and became of it, and families of their own, in the file and out.
class SessionsKeptTest : public QObject {
    Q_OBJECT
    QTemporaryDir folder_;
    int made_ = 0;
    const Date monday_ = parseDate("2027-03-01").value();

    std::unique_ptr<Roster> empty() {
        return std::move(*Roster::create(folder_.filePath(QString("%1.marram").arg(++made_))));
    }
    Season season() const {
        Season s;
        s.start = parseDate("2027-01-04").value();
        s.end = parseDate("2027-09-26").value();
        s.races.push_back({"Point", parseDate("2027-09-19").value(), Priority::A, 260.0});
        SessionPin words, rung, note, judged;
        words.date = monday_ + 1;
        words.words = "20 min 60, 3 × 8 min 106 with 5 min 50 between, 10 min 50";
        words.family = "just above threshold";
        words.rung = 4;
        rung.date = monday_ + 2;
        rung.family = "sprints";
        rung.rung = 2;
        rung.minutes = 95;
        note.date = monday_ + 4;
        note.note = "Into the wind: \"all of it\"";
        judged.date = monday_ + 6;
        judged.verdict = RungVerdict::Ease;
        s.sessions = {words, rung, note, judged};
        return s;
    }
    qint64 rider(Roster& roster, const Season& s, qint64* seasonId = nullptr) {
        RiderRecord r;
        r.name = "Bo";
        r.id = roster.saveRider(r).value();
        const auto id = roster.saveSeason(inForce(r.id, s));
        if (seasonId)
            *seasonId = *id;
        return r.id;
    }

private slots:
    void injuriesCountFromTheirFirstDayToTheirLast() {
        const Date day = parseDate("2027-03-10").value();
        RiderRecord r;
        r.injuries = {{day, day + 4, "knee"}, {day + 2, std::nullopt, "Achilles tendon"}};
        const auto words = [&](int after) { return injuriesOn(r, day + after); };
        QVERIFY(words(-1).empty());
        QCOMPARE(words(0), std::vector<std::string>{"knee"});
        QCOMPARE(words(4), (std::vector<std::string>{"knee", "Achilles tendon"}));
        QCOMPARE(words(5), std::vector<std::string>{"Achilles tendon"});
        QCOMPARE(words(500), std::vector<std::string>{"Achilles tendon"}); // open: it lasts
    }
    void pinsComeBackAsTheyWere() {
        const auto roster = empty();
        const qint64 id = rider(*roster, season());
        QVERIFY(roster->seasonInForce(id)->value().season.sessions == season().sessions);
        QVERIFY(sameSeason(roster->seasonInForce(id)->value().season, season()));
        const auto written = seasonFrom(writeSeason(season()));
        QVERIFY2(written.has_value(), written ? "" : written.error().sentence.c_str());
        QVERIFY(written->sessions == season().sessions);
    }
    void pinsOfTwoWindowsAreMergedDayByDay() {
        Season before = season(), mine = before, theirs = before;
        mine.sessions[0].note = "mine";
        theirs.sessions[1].rung = 3;
        theirs.sessions.erase(theirs.sessions.begin() + 3);
        const Season both = merged(theirs, before, mine);
        QCOMPARE(both.sessions.size(), 3U);
        QCOMPARE(both.sessions[0].note, std::string("mine"));
        QCOMPARE(both.sessions[1].rung, std::optional(3));
        // Undone, the other's work stays.
        const Season back = merged(both, mine, before);
        QVERIFY(back.sessions == theirs.sessions);
    }
    void impossiblePinsAreRefused_data() {
        QTest::addColumn<QString>("pins");
        QTest::addColumn<QString>("named");
        QTest::newRow("words") << R"([{"date": "2027-03-02", "words": "3 x 8 m 106"}])"
                               << "sessions[0].words";
        QTest::newRow("twice")
            << R"([{"date": "2027-03-02", "note": "a"}, {"date": "2027-03-02", "note": "b"}])"
            << "2027-03-02";
        QTest::newRow("minutes") << R"([{"date": "2027-03-02", "family": "endurance", "minutes": 2}])"
                                 << "minutes";
        QTest::newRow("rung") << R"([{"date": "2027-03-02", "family": "threshold", "rung": 99}])"
                              << "rung";
        QTest::newRow("no family") << R"([{"date": "2027-03-02", "rung": 2}])"
                                   << "family";
        QTest::newRow("verdict") << R"([{"date": "2027-03-02", "verdict": "great"}])"
                                 << "verdict";
        QTest::newRow("unknown") << R"([{"date": "2027-03-02", "colour": "red"}])"
                                 << "colour";
        QTest::newRow("no list") << R"({"date": "2027-03-02"})"
                                 << "sessions";
    }
    void impossiblePinsAreRefused() {
        QFETCH(QString, pins);
        QFETCH(QString, named);
        QJsonObject o = writeSeason(season());
        const QJsonDocument d = QJsonDocument::fromJson(pins.toUtf8());
        o["sessions"] = d.isArray() ? QJsonValue(d.array()) : QJsonValue(d.object());
        const auto read = readSeason(QJsonDocument(o).toJson());
        QVERIFY(!read);
        QVERIFY2(QString::fromStdString(read.error().sentence).contains(named),
                 read.error().sentence.c_str());
    }
    void whatASessionCountsForOnItsLadder_data() {
        QTest::addColumn<int>("work"); // s of work that was meant, of 1800 that the rung has
        QTest::addColumn<RungVerdict>("verdict");
        QTest::addColumn<int>("kind"); // of its week; -1 where it is not known
        QTest::addColumn<int>("rung"); // 0 where it counts for none
        QTest::addColumn<bool>("finished");
        const int build = static_cast<int>(WeekKind::Build), deload = static_cast<int>(WeekKind::Deload);
        QTest::newRow("whole") << 1800 << RungVerdict::Passed << build << 3 << true;
        QTest::newRow("a repetition fewer on a short day")
            << 1200 << RungVerdict::Passed << build << 3 << true;
        QTest::newRow("much less") << 800 << RungVerdict::Passed << build << 0 << false;
        QTest::newRow("a repetition fewer in a deload")
            << 1200 << RungVerdict::Passed << deload << 0 << false;
        QTest::newRow("in a week nothing is known of") << 1200 << RungVerdict::Passed << -1 << 0 << false;
        QTest::newRow("whole in a deload") << 1700 << RungVerdict::Passed << deload << 3 << true;
        QTest::newRow("to be ridden again") << 1800 << RungVerdict::Repeat << build << 3 << false;
        QTest::newRow("to be eased") << 1800 << RungVerdict::Ease << build << 2 << false;
    }
    void whatASessionCountsForOnItsLadder() {
        QFETCH(int, work);
        QFETCH(RungVerdict, verdict);
        QFETCH(int, kind);
        QFETCH(int, rung);
        QFETCH(bool, finished);
        const MeantSession meant{monday_, "threshold", 3, "1 h 70", "", {}, {}, {}};
        const auto done = doneRung(meant, verdict, work, 1800,
                                   kind < 0 ? std::nullopt : std::optional(static_cast<WeekKind>(kind)));
        QCOMPARE(done ? done->rung : 0, rung);
        if (done) {
            QCOMPARE(done->finished, finished);
            QVERIFY(done->date == monday_ && done->family == "threshold");
        }
        QVERIFY(!doneRung({monday_, "long ride", 0, "3 h 65", "", {}, {}, {}}, verdict, work, 1800,
                          WeekKind::Build));
        QVERIFY(!doneRung(meant, verdict, work, 0, WeekKind::Build)); // of a family that is no longer there
    }
    void whatWasMeantStaysForDaysGoneBy() {
        const auto roster = empty();
        qint64 s = 0;
        const qint64 id = rider(*roster, season(), &s);
        const MeantSession a{monday_, "tempo", 2, "1 h 65", "", {}, {}, {}},
            b{monday_ + 2, "strength", 0, "", "", {}, {}, {}},
            c{monday_ + 2, "threshold", 3, "1 h 70", "hm", {}, {}, {}};
        QVERIFY(roster->saveMeant(s, monday_, {a, b}));
        QVERIFY(roster->saveMeant(s, monday_ + 1, {c}));
        const auto all = roster->meant(id);
        QVERIFY(all && *all == (std::vector{a, c}));
        MeantSession done = a;
        done.outcome = RungVerdict::Repeat;
        done.outcomeOf = "x";
        done.told = "one\ntwo";
        QVERIFY(roster->saveOutcomes(id, {done}));
        QVERIFY(roster->meant(id)->front() == done);
        // Of another session than was laid over the ride nothing is kept.
        MeantSession other = done;
        other.words = "2 h 65";
        other.outcome = RungVerdict::Ease;
        QVERIFY(roster->saveOutcomes(id, {other}));
        QVERIFY(roster->meant(id)->front() == done);
        // Out and in again, without loss.
        const QString out = folder_.filePath("out"), again = folder_.filePath("again");
        QVERIFY(exportJson(*roster, out));
        const auto second = empty();
        const auto added = importJson(*second, out + "/roster.json");
        QVERIFY2(added.has_value(), added ? "" : added.error().sentence.c_str());
        auto back = second->meant(added->front()).value();
        back[0].outcomeOf = "x"; // of a ride of another roster: looked at again
        QVERIFY(back == roster->meant(id).value());
        QVERIFY(second->seasonInForce(added->front())->value().season.sessions == season().sessions);
    }
    void whoWasIllRidesEasyWhoeverAsks() {
        // Letters, calendars and the squad's page ask the roster, not the window: a check-in that says ill
        // tells there too, also where something hard was promised before it.
        const BeforeARace at(empty());
        const auto work = [&](Date upTo) {
            int seconds = 0;
            for (const BlockSession& b : at.sessions())
                if (b.date < upTo)
                    seconds += b.figures.workSeconds;
            return seconds;
        };
        const Date easyUntil = at.today + 4; // an illness of two days up to today: three easy days behind it
        QVERIFY(work(easyUntil) > 600);
        for (const int ago : {1, 0}) {
            CheckIn c;
            c.day = at.today - ago;
            c.ill = true;
            QVERIFY(at.roster->saveCheckIn(at.rider, c));
        }
        QCOMPARE(work(easyUntil), 0);
        QVERIFY(work(easyUntil + 7) > 600);
        const MeantSession promised{
            at.today + 1, "threshold", 3, "20 min 60, 3 × 10 min 98 with 5 min 50 between, 10 min 50", "", {},
            {},           {},          {}};
        QVERIFY(at.roster->saveMeant(at.record.id, at.today, {promised}));
        QCOMPARE(work(easyUntil), 0);
    }
    void aWeekIsTheSameHoweverManyAreAsked() {
        // The calendar has four weeks and the workouts are of one.
        const BeforeARace at(empty());
        Damage damage;
        const auto ahead = lookAhead(*at.roster, *at.roster->rider(at.rider).value(), at.today, damage);
        const auto wordsOf = [&](Date from, int weeks, Date of) {
            std::map<Date, std::string> words;
            for (const BlockSession& b : sessionsAhead(ahead->value(), from, weeks, at.today))
                if (monday(b.date) == of)
                    words[b.date] += writeShorthand(b.session) + ";";
            return words;
        };
        for (int week = 0; week < 4; ++week) {
            const Date of = at.season.start + 7 * week;
            const auto whole = wordsOf(at.season.start, 4, of);
            QVERIFY(!whole.empty());
            QCOMPARE(wordsOf(of, 1, of), whole);
            QCOMPARE(wordsOf(at.season.start + 7, 3, of).empty(), week == 0);
        }
    }
    void aLetterSaysTheWeekTheCalendarHas() {
        // Also where the plan was kept today and a race was put on since, by whoever.
        BeforeARace at(empty());
        const Date now = at.season.start + 6; // the Sunday on which letters are written
        Damage damage;
        const auto calendar = [&] {
            std::map<Date, std::string> families;
            const auto ahead = lookAhead(*at.roster, *at.roster->rider(at.rider).value(), now, damage);
            for (const BlockSession& b : sessionsAhead(ahead->value(), at.season.start + 7, 4, now))
                if (b.ridden() && b.date < at.season.start + 14)
                    families[b.date] = b.family;
            return families;
        };
        const auto letter = [&] {
            std::map<Date, std::string> days;
            const auto facts =
                lookBack(*at.roster, *at.roster->rider(at.rider).value(), at.season.start, now);
            for (const MondayDay& d : facts->coming)
                if (!d.meant.empty())
                    days[d.day] = d.meant;
            return days;
        };
        const auto alike = [&] {
            const auto a = calendar(), b = letter();
            return a.size() == b.size() && std::all_of(a.begin(), a.end(), [&](const auto& day) {
                       return b.contains(day.first) && b.at(day.first).starts_with(day.second);
                   });
        };
        QVERIFY(calendar().size() > 4);
        QVERIFY(alike());
        // Kept, as the window keeps it.
        const auto ahead = lookAhead(*at.roster, *at.roster->rider(at.rider).value(), now, damage);
        std::vector<SolvedDay> days;
        for (const PlannedDay& d : ahead->value().plan.days)
            if (d.date > now)
                days.push_back({d.date, d.role, d.stress, d.hours, d.fitness, d.fatigue, d.form, {}, {}});
        QVERIFY(at.roster->savePlannedDays(at.record.id, now + 1, days));
        std::vector<MeantSession> promise;
        for (const BlockSession& b : sessionsAhead(ahead->value(), at.season.start + 7, 1, now))
            if (b.ridden())
                promise.push_back({b.date, b.family, b.rung, writeShorthand(b.session), "", {}, {}, {}, {}});
        QVERIFY(at.roster->saveMeant(at.record.id, now + 1, promise));
        QVERIFY(at.roster->saveOutlook(at.record.id, now, {{now, at.season.races[0].name, 5, 50, {}, {}}}));
        QVERIFY(alike());
        at.record.season.races.push_back({"New", now + 6, Priority::B, 180.0, 1, {}, Demand::Road});
        QVERIFY(at.roster->saveSeason(at.record));
        QVERIFY(!calendar().contains(now + 6));
        QVERIFY(alike());
    }
    void whatWasPromisedStandsWhileTheSeasonAsksForIt() {
        BeforeARace at(empty());
        // Other words than are worked out now, of the same length and points: only a promise says them.
        std::vector<MeantSession> promise;
        std::map<Date, std::string> words;
        for (const BlockSession& b : at.sessions())
            if (b.ridden()) {
                words[b.date] = writeShorthand(*readShorthand("1 min 50, " + writeShorthand(b.session)));
                promise.push_back({b.date, b.family, b.rung, words[b.date], "", {}, {}, {}, {}});
            }
        QVERIFY(promise.size() > 6);
        QVERIFY(at.roster->saveMeant(at.record.id, at.today, promise));
        const auto stands = [&](Date day) {
            for (const BlockSession& b : at.sessions())
                if (b.date == day)
                    return writeShorthand(b.session) == words[day];
            return false;
        };
        for (const MeantSession& m : promise)
            QVERIFY(stands(m.date));
        // A race put on by another window: nothing else is ridden that day, and its week makes room for it.
        const SeasonRecord before = at.record;
        const Date sunday = monday(at.today) + 13;
        at.record.season.races.push_back({"New", sunday, Priority::B, 180.0, 1, {}, Demand::Road});
        QVERIFY(at.roster->saveSeason(at.record));
        for (const BlockSession& b : at.sessions())
            QVERIFY(b.date != sunday);
        QVERIFY(!stands(sunday - 1));
        QVERIFY(at.roster->saveSeason(before));
        QVERIFY(stands(sunday - 1));
        // Days that have become shorter.
        RiderRecord who = *at.roster->rider(at.rider).value();
        const RiderRecord had = who;
        for (double& hours : who.hours)
            hours /= 2;
        QVERIFY(at.roster->saveRider(who));
        for (const BlockSession& b : at.sessions())
            QVERIFY(b.seconds <= 3600 * who.hours[static_cast<size_t>(weekday(b.date))] + 300);
        // An injury that what was promised is not for.
        who = had;
        QVERIFY(at.roster->saveRider(who));
        promise.back().family = "low cadence";
        QVERIFY(at.roster->saveMeant(at.record.id, at.today, promise));
        QVERIFY(stands(promise.back().date));
        who.injuries = {{at.today, std::nullopt, "knee"}};
        QVERIFY(at.roster->saveRider(who));
        QVERIFY(!stands(promise.back().date));
    }
    void damagedWordsAreNamedAndTheRestIsUsed() {
        const QString path = folder_.filePath("damaged.marram");
        qint64 id = 0;
        {
            const auto roster = std::move(*Roster::create(path));
            qint64 s = 0;
            id = rider(*roster, season(), &s);
            QVERIFY(roster->saveMeant(s, monday_, {{monday_, "tempo", 1, "1 h 65", "", {}, {}, {}}}));
        }
        {
            QSqlDatabase db = QSqlDatabase::addDatabase("QSQLITE", "damage");
            db.setDatabaseName(path);
            QVERIFY(db.open());
            QSqlQuery q(db);
            QVERIFY(q.exec(QString("UPDATE session_pin SET words='3 x' WHERE day=%1").arg(monday_.days + 1)));
            QVERIFY(q.exec("UPDATE meant_session SET words='nonsense'"));
            QVERIFY(q.exec("INSERT INTO family VALUES('x', 0, '{\"name\": \"x\", \"rungs\": [\"3 m\"]}')"));
            db.close();
        }
        QSqlDatabase::removeDatabase("damage");
        const auto roster = std::move(*Roster::open(path));
        Damage damage;
        QCOMPARE(roster->seasonInForce(id, &damage)->value().season.sessions.size(), 3U);
        QVERIFY(roster->meant(id, &damage)->empty());
        QVERIFY(roster->ownFamilies(&damage)->empty());
        QCOMPARE(damage.sentences.size(), 3);
        QVERIFY(!roster->meant(id)); // asked strictly, it is refused
    }
    void familiesGoOutAndComeIn() {
        Family f;
        f.name = "sand climbs";
        f.purpose = "the last hill";
        f.stop = "the wheels spin";
        f.rungs = {"3 × 5 min 104 with 4 min 50 between", "4 × 5 min 104 with 4 min 50 between"};
        f.notWith = {"knee"};
        f.phases = {"build", "specialise"};
        f.own = true;
        QVERIFY(readRungs(f).has_value());
        const auto read = readFamilies(writeFamilies({f}));
        QVERIFY2(read.has_value(), read ? "" : read.error().sentence.c_str());
        QVERIFY(read->front() == f);
        const auto roster = empty();
        QVERIFY(roster->saveOwnFamilies({f}));
        QVERIFY(roster->ownFamilies()->front() == f);
        const auto wrong = [](const char* json) {
            const auto r = readFamilies(json);
            return r ? QString() : QString::fromStdString(r.error().sentence);
        };
        QVERIFY(wrong(R"({"families": [{"name": "a", "rungs": ["8 min 106", "3 x 8 m 106"]}]})")
                    .contains("families[0].rungs[1], character"));
        QVERIFY(wrong(R"({"families": [{"name": "a"}, {"name": "a"}]})").contains("comes twice"));
        QVERIFY(wrong(R"({"families": [{"name": "a", "phases": ["summer"]}]})").contains("phases"));
        QVERIFY(wrong(R"({"families": [{"name": "a", "colour": 1}]})").contains("colour"));
        QVERIFY(wrong(R"({"families": [{"name": ""}]})").contains("name"));
        QVERIFY(!wrong("[]").isEmpty() && !wrong("").isEmpty());
    }
};

MARRAM_SUITE(SessionsKeptTest)
#include "tst_sessions_kept.moc"
