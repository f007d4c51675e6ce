// SPDX-License-Identifier: GPL-3.0-or-later
#include "formats/json/season_json.h"
#include "core/session/shorthand.h"
#include "core/words/phrase.h"
#include "formats/json/reader.h"
#include "wording/wording.h"

#include <QJsonDocument>
#include <algorithm>
#include <cmath>

namespace marram {
namespace {

constexpr auto priorities = {Priority::A, Priority::B, Priority::C};
constexpr auto demands = {Demand::Steady, Demand::Long, Demand::Punchy, Demand::Road, Demand::Stage};
constexpr auto schools = {School::Polarised, School::Pyramidal, School::ThresholdLed, School::Even};
constexpr auto orders = {Order::BaseFirst, Order::IntensityFirst, Order::Mixed};
constexpr auto phases = {Phase::Transition, Phase::Base, Phase::Build, Phase::Specialise,
                         Phase::Taper,      Phase::Race, Phase::Break};
constexpr auto pinnable = {Phase::Transition, Phase::Base, Phase::Build, Phase::Specialise};
constexpr auto kinds = {WeekKind::Build,    WeekKind::Deload,     WeekKind::Taper, WeekKind::Race,
                        WeekKind::Recovery, WeekKind::Transition, WeekKind::Break, WeekKind::Camp};
constexpr auto shapes = {TaperShape::Falling, TaperShape::DeepThenModerate, TaperShape::OneWeek};
constexpr auto verdicts = {RungVerdict::Passed, RungVerdict::Repeat, RungVerdict::Ease};
constexpr auto whys = {AwayWhy::Holiday, AwayWhy::Illness, AwayWhy::Camp};

template <class List>
QString choices(const List& all) {
    QStringList names;
    for (const auto e : all)
        names << nameOf(e);
    return names.join(", ");
}

/// One of a list of names; refuses others, listing what is allowed.
template <class Enum>
Enum oneOf(JsonReader& in, const char* key, std::initializer_list<Enum> all, Enum fallback) {
    if (!in.has(key))
        return fallback;
    const QString text = in.text(key);
    const auto value = named<Enum>(text.toStdString(), all);
    if (!value)
        in.fail(key, wording("\"%1\" must be one of %2", text.left(40), choices(all)));
    return value.value_or(fallback);
}

WeekHours hours(JsonReader& in, const char* key) {
    WeekHours out{};
    const std::vector<double> list = in.numbers(key, 7);
    std::copy(list.begin(), list.end(), out.begin());
    return out;
}

Result<void> readSplits(const QJsonObject& object, const QString& where, Rules& rules) {
    JsonReader in(object, where);
    rules.school = School::Own;
    for (const Phase phase : phases) {
        const char* key = nameOf(phase);
        if (!in.has(key))
            continue;
        const auto s = in.numbers(key, 3);
        const double sum = s[0] + s[1] + s[2];
        if (s[0] < 0 || s[1] < 0 || s[2] < 0 || sum < 99 || sum > 101)
            in.fail(key, wording("three percentages low, middle, high must sum to 100, these sum to %1",
                                 QString::number(sum)));
        else
            rules.ownSplits[phase] = {s[0] / 100, s[1] / 100, s[2] / 100};
    }
    if (rules.ownSplits.empty())
        in.fail("base", marked("is missing: name a split for at least one phase"));
    return in.finish();
}

Result<void> readVolume(const QJsonObject& object, const QString& where, Rules& rules) {
    JsonReader in(object, where);
    for (const Phase phase : {Phase::Base, Phase::Build, Phase::Specialise}) {
        const char* key = nameOf(phase);
        if (in.has(key))
            rules.volume[phase] = in.number(key);
    }
    return in.finish();
}

Result<void> readRider(const QJsonObject& object, Season& season) {
    JsonReader in(object, "rider");
    season.thresholdPower = in.number("threshold_power_w");
    season.before.fitness = in.number("fitness", 0);
    season.before.fatigue = in.number("fatigue", season.before.fitness);
    season.hours = hours(in, "hours");
    season.lowThreshold = in.number("low_threshold", defaultLowThreshold);
    season.tau.fitness = in.number("tau_fitness_d", season.tau.fitness);
    season.tau.fatigue = in.number("tau_fatigue_d", season.tau.fatigue);
    if (in.has("lay_off"))
        season.layOff = in.boolean("lay_off");
    if (in.has("born") && !object.value("born").isNull())
        season.born = in.whole("born", 1900);
    for (const auto& each : in.array("care"))
        if (const auto one = careNamed(each.toString().toStdString()))
            season.care.set(*one);
        else
            in.fail("care",
                    marked("must be some of pregnancy, postpartum, heart, metabolic, energy, bone, other"));
    season.care.cleared = in.boolean("cleared", false);
    return in.finish();
}

/// What was ridden from the season's start up to the day before `today`, the first that is planned.
Result<void> readPast(const QJsonObject& object, Season& season) {
    JsonReader in(object, "past");
    Past past;
    past.today = in.date("today");
    for (const auto& each : in.array("stress")) {
        const double points = each.toDouble(-1);
        if (!each.isDouble() || points < 0 || points > 5000) {
            in.fail("stress", marked("must be points of each day, 0 to 5000"));
            break;
        }
        past.stress.push_back(points);
    }
    if (past.today < season.start || past.today > season.end + 1 ||
        past.stress.size() != static_cast<size_t>(past.today - season.start))
        in.fail(
            "stress",
            wording("must hold the points of each day from start up to the day before today, which are %1",
                    std::max(0, past.today - season.start)));
    season.past = past;
    return in.finish();
}

Result<Race> readRace(const QJsonValue& value, const QString& where) {
    JsonReader in(value.toObject(), where);
    Race race;
    race.name = in.text("name").toStdString();
    race.date = in.date("date");
    if (!in.has("priority"))
        in.fail("priority", marked("is missing; it must be A, B or C"));
    race.priority = oneOf(in, "priority", priorities, Priority::C);
    if (in.has("stress"))
        race.stress = in.number("stress");
    race.days = in.whole("days", 1);
    if (in.has("gate")) {
        const auto gate = in.numbers("gate", 2);
        race.gate = Gate{gate[0], gate[1]};
    }
    race.demand = oneOf(in, "demand", demands, Demand::Unstated);
    const QJsonArray course = in.array("course");
    for (const auto& each : course) {
        const QJsonArray pair = each.toArray();
        if (pair.size() != 2 || !pair[0].isDouble() || !pair[1].isDouble()) {
            in.fail("course",
                    marked("must be pairs of numbers, [metres from the start, metres above the sea]"));
            break;
        }
        race.course.push_back({pair[0].toDouble(), pair[1].toDouble()});
    }
    if (in.has("result"))
        race.result = in.text("result").toStdString();
    if (in.has("note"))
        race.note = in.text("note").toStdString();
    if (in.has("squad"))
        race.squad = in.date("squad");
    if (auto ok = in.finish(); !ok)
        return tl::unexpected(ok.error());
    return race;
}

Result<WeekPin> readWeek(const QJsonValue& value, const QString& where) {
    JsonReader in(value.toObject(), where);
    WeekPin pin;
    pin.start = in.date("start");
    if (in.has("hours"))
        pin.hours = hours(in, "hours");
    if (in.has("kind"))
        pin.kind = oneOf(in, "kind", kinds, WeekKind::Build);
    if (in.has("phase"))
        pin.phase = oneOf(in, "phase", pinnable, Phase::Base);
    if (auto ok = in.finish(); !ok)
        return tl::unexpected(ok.error());
    return pin;
}

Result<SessionPin> readSessionPin(const QJsonValue& value, const QString& where) {
    JsonReader in(value.toObject(), where);
    SessionPin pin;
    pin.date = in.date("date");
    if (in.has("family"))
        pin.family = in.text("family").toStdString();
    if (in.has("rung"))
        pin.rung = in.whole("rung", 1);
    if (in.has("minutes"))
        pin.minutes = in.whole("minutes", 60);
    if (in.has("words")) {
        pin.words = in.text("words").toStdString();
        if (const auto read = readShorthand(pin.words); !read)
            in.fail("words",
                    wording("character %1: %2", std::to_string(read.error().place), read.error().sentence));
    }
    if (in.has("note"))
        pin.note = in.text("note").toStdString();
    if (in.has("team"))
        pin.team = in.text("team").toStdString();
    if (in.has("verdict"))
        pin.verdict = oneOf(in, "verdict", verdicts, RungVerdict::Passed);
    if (auto ok = in.finish(); !ok)
        return tl::unexpected(ok.error());
    return pin;
}

Result<Away> readAway(const QJsonValue& value, const QString& where) {
    JsonReader in(value.toObject(), where);
    Away away;
    away.from = in.date("from");
    away.to = in.date("to");
    away.why = oneOf(in, "why", whys, AwayWhy::Holiday);
    if (in.has("stress"))
        away.stress = in.number("stress");
    if (auto ok = in.finish(); !ok)
        return tl::unexpected(ok.error());
    return away;
}

/// Reads each entry of a list with `read`, naming it by its number.
template <class T, class Read>
Result<void> readList(JsonReader& in, const char* key, std::vector<T>& out, Read read) {
    const QJsonArray list = in.array(key);
    for (int i = 0; i < list.size(); ++i) {
        const QString where = QString("%1[%2]").arg(key).arg(i);
        if (!list[i].isObject())
            return refuse(phrase("%1: must be an object", where.toStdString()));
        auto one = read(list[i], where);
        if (!one)
            return tl::unexpected(one.error());
        out.push_back(std::move(*one));
    }
    return {};
}

} // namespace

Result<Rules> readRules(const QJsonObject& object, const QString& where) {
    JsonReader in(object, where);
    Rules rules;
    if (in.has("rhythm")) {
        const auto rhythm = in.numbers("rhythm", 2);
        if (rhythm[0] != std::floor(rhythm[0]) || rhythm[1] != std::floor(rhythm[1]) || rhythm[0] < 1 ||
            rhythm[0] > 8 || rhythm[1] < 1 || rhythm[1] > 3)
            in.fail("rhythm", marked("must be 1 to 8 build weeks and 1 to 3 deload weeks, as [3, 1]"));
        else {
            rules.buildWeeks = static_cast<int>(rhythm[0]);
            rules.deloadWeeks = static_cast<int>(rhythm[1]);
        }
    }
    rules.ramp = in.number("ramp", rules.ramp);
    rules.formFloor = in.number("form_floor", rules.formFloor);
    rules.deload = in.number("deload", rules.deload);
    rules.taperSet = object.contains("taper_d");
    rules.miss = in.number("miss", rules.miss);
    rules.missRun = in.number("miss_run", rules.missRun);
    rules.gymBeside = in.boolean("gym_beside", rules.gymBeside);
    if (object.value("taper_d") == QJsonValue("best")) {
        in.has("taper_d");
        rules.taperBest = true;
    } else {
        rules.taperDays = in.whole("taper_d", rules.taperDays);
    }
    if (object.value("taper_shape") == QJsonValue("best")) {
        in.has("taper_shape");
        rules.shapeBest = true;
    } else {
        rules.taperShape = oneOf(in, "taper_shape", shapes, rules.taperShape);
    }
    rules.overreach = in.boolean("overreach", rules.overreach);
    rules.gatePrice = in.number("gate_price", rules.gatePrice);
    if (in.has("gym")) {
        const auto gym = in.numbers("gym", 3);
        rules.gym.emplace();
        for (size_t i = 0; i < 3; ++i) {
            if (gym[i] != std::floor(gym[i]) || gym[i] < 0 || gym[i] > 4)
                in.fail("gym",
                        marked("must be three whole numbers from 0 to 4: sessions a week in transition, base "
                               "and season"));
            (*rules.gym)[i] = static_cast<int>(gym[i]);
        }
    }
    if (in.has("volume"))
        if (auto ok = readVolume(in.object("volume"), in.place("volume"), rules); !ok)
            return tl::unexpected(ok.error());
    rules.hardDays = in.whole("hard_days", rules.hardDays);
    rules.order = oneOf(in, "order", orders, rules.order);
    if (in.has("school")) {
        if (object.value("school").isObject()) {
            if (auto ok = readSplits(in.object("school"), in.place("school"), rules); !ok)
                return tl::unexpected(ok.error());
        } else {
            rules.school = oneOf(in, "school", schools, rules.school);
        }
    }
    if (auto ok = in.finish(); !ok)
        return tl::unexpected(ok.error());
    return rules;
}

/// A fraction as a percentage without the last binary digits, so that reading and writing come to rest.
static double percent(double fraction) {
    return std::round(1e11 * fraction) / 1e9;
}

QJsonObject writeRules(const Rules& rules) {
    QJsonObject out{{"rhythm", QJsonArray{rules.buildWeeks, rules.deloadWeeks}},
                    {"ramp", rules.ramp},
                    {"form_floor", rules.formFloor},
                    {"deload", rules.deload},
                    {"hard_days", rules.hardDays},
                    {"order", nameOf(rules.order)}};
    if (rules.taperBest)
        out["taper_d"] = "best";
    else if (rules.taperSet)
        out["taper_d"] = rules.taperDays;
    if (rules.miss != Rules{}.miss)
        out["miss"] = rules.miss;
    if (rules.missRun != Rules{}.missRun)
        out["miss_run"] = rules.missRun;
    if (rules.gymBeside)
        out["gym_beside"] = true;
    if (rules.shapeBest)
        out["taper_shape"] = "best";
    else if (rules.taperShape != TaperShape::Falling)
        out["taper_shape"] = nameOf(rules.taperShape);
    if (rules.overreach)
        out["overreach"] = true;
    if (rules.gatePrice != 1)
        out["gate_price"] = rules.gatePrice;
    if (rules.gym)
        out["gym"] = QJsonArray{(*rules.gym)[0], (*rules.gym)[1], (*rules.gym)[2]};
    if (!rules.volume.empty()) {
        QJsonObject volume;
        for (const auto& [phase, share] : rules.volume)
            volume[nameOf(phase)] = share;
        out["volume"] = volume;
    }
    if (rules.school != School::Own) {
        out["school"] = nameOf(rules.school);
        return out;
    }
    QJsonObject splits;
    for (const auto& [phase, s] : rules.ownSplits)
        splits[nameOf(phase)] = QJsonArray{percent(s.low), percent(s.middle), percent(s.high)};
    out["school"] = splits;
    return out;
}

QJsonArray writeCourse(const std::vector<CoursePoint>& course) {
    QJsonArray out;
    for (const CoursePoint& at : course)
        out.append(QJsonArray{at.distance, at.altitude});
    return out;
}

QJsonObject writeSeason(const Season& s) {
    const auto iso = [](Date d) { return QString::fromStdString(isoText(d)); };
    const auto list = [](const WeekHours& h) {
        QJsonArray out;
        for (const double each : h)
            out.append(each);
        return out;
    };
    QJsonArray races, weeks, sessions, away;
    for (const Race& r : s.races) {
        QJsonObject o{{"name", QString::fromStdString(r.name)},
                      {"date", iso(r.date)},
                      {"priority", nameOf(r.priority)},
                      {"days", r.days}};
        if (r.stress)
            o["stress"] = *r.stress;
        if (r.gate)
            o["gate"] = QJsonArray{r.gate->low, r.gate->high};
        if (r.demand != Demand::Unstated)
            o["demand"] = nameOf(r.demand);
        if (!r.course.empty())
            o["course"] = writeCourse(r.course);
        if (!r.result.empty())
            o["result"] = QString::fromStdString(r.result);
        if (!r.note.empty())
            o["note"] = QString::fromStdString(r.note);
        if (r.squad)
            o["squad"] = iso(*r.squad);
        races.append(o);
    }
    for (const WeekPin& w : s.weeks) {
        QJsonObject o{{"start", iso(w.start)}};
        if (w.hours)
            o["hours"] = list(*w.hours);
        if (w.kind)
            o["kind"] = nameOf(*w.kind);
        if (w.phase)
            o["phase"] = nameOf(*w.phase);
        weeks.append(o);
    }
    for (const SessionPin& p : s.sessions) {
        QJsonObject o{{"date", iso(p.date)}};
        if (!p.family.empty())
            o["family"] = QString::fromStdString(p.family);
        if (p.rung)
            o["rung"] = *p.rung;
        if (p.minutes)
            o["minutes"] = *p.minutes;
        if (!p.words.empty())
            o["words"] = QString::fromStdString(p.words);
        if (!p.note.empty())
            o["note"] = QString::fromStdString(p.note);
        if (!p.team.empty())
            o["team"] = QString::fromStdString(p.team);
        if (p.verdict)
            o["verdict"] = nameOf(*p.verdict);
        sessions.append(o);
    }
    for (const Away& a : s.away) {
        QJsonObject o{{"from", iso(a.from)}, {"to", iso(a.to)}, {"why", nameOf(a.why)}};
        if (a.stress)
            o["stress"] = *a.stress;
        away.append(o);
    }
    QJsonObject rider{{"threshold_power_w", s.thresholdPower}, {"fitness", s.before.fitness},
                      {"fatigue", s.before.fatigue},           {"hours", list(s.hours)},
                      {"low_threshold", s.lowThreshold},       {"tau_fitness_d", s.tau.fitness},
                      {"tau_fatigue_d", s.tau.fatigue}};
    if (s.layOff)
        rider["lay_off"] = *s.layOff;
    if (s.born)
        rider["born"] = *s.born;
    QJsonArray care;
    for (size_t i = 0; i < careNames.size(); ++i)
        if (s.care.has(static_cast<Care>(i)))
            care.append(careNames[i]);
    if (!care.isEmpty())
        rider["care"] = care;
    if (s.care.cleared)
        rider["cleared"] = true;
    QJsonObject out{
        {"start", iso(s.start)}, {"end", iso(s.end)}, {"rider", rider}, {"rules", writeRules(s.rules)},
        {"races", races},        {"weeks", weeks},    {"away", away}};
    if (!sessions.isEmpty())
        out["sessions"] = sessions;
    if (s.past) {
        QJsonArray stress;
        for (const double points : s.past->stress)
            stress.append(points);
        out["past"] = QJsonObject{{"today", iso(s.past->today)}, {"stress", stress}};
    }
    return out;
}

Result<QJsonObject> laidOver(const QJsonObject& season, const QJsonObject& over) {
    static const QStringList ruleKeys{
        "rhythm", "ramp", "form_floor", "deload",    "taper_d", "taper_shape", "hard_days", "school", "order",
        "volume", "gym",  "gate_price", "overreach", "miss",    "miss_run",    "gym_beside"};
    QJsonObject out = season, rules = season.value("rules").toObject();
    for (auto it = over.begin(); it != over.end(); ++it) {
        const QString key = it.key();
        if (ruleKeys.contains(key)) {
            rules[key] = it.value();
            continue;
        }
        const char* name = key == "races" ? "name" : key == "weeks" ? "start" : key == "away" ? "" : nullptr;
        if (!name)
            return refuse(phrase("%1: is not a rule; it should be one of %2, weeks, away or races",
                                 key.toStdString(), ruleKeys.join(", ").toStdString()));
        if (!it.value().isArray())
            return refuse(phrase("%1: must be a list", key.toStdString()));
        QJsonArray list = season.value(key).toArray();
        for (const auto& added : it.value().toArray()) {
            const QJsonValue known = added.toObject().value(name);
            for (qsizetype i = list.size(); *name && i-- > 0;)
                if (list[i].toObject().value(name) == known)
                    list.removeAt(i);
            list.append(added);
        }
        out[key] = list;
    }
    if (!rules.isEmpty())
        out["rules"] = rules;
    return out;
}

QByteArray writeChances(const std::vector<RaceChance>& chances) {
    const auto spread = [](const RaceChance::Spread& s) {
        return QJsonObject{{"p5", s.p5}, {"p25", s.p25}, {"p50", s.p50}, {"p75", s.p75}, {"p95", s.p95}};
    };
    QJsonArray races;
    for (const RaceChance& c : chances)
        races.append(QJsonObject{
            {"name", QString::fromStdString(c.name)},
            {"date", QString::fromStdString(isoText(c.date))},
            {"closed", QJsonObject{{"form_mean", c.closed.formMean},
                                   {"form_sd", c.closed.formDeviation},
                                   {"fitness_mean", c.closed.fitnessMean},
                                   {"fitness_sd", c.closed.fitnessDeviation}}},
            {"simulated", QJsonObject{{"form", spread(c.form)},
                                      {"fitness", spread(c.fitness)},
                                      {"in_gate", c.inGate ? QJsonValue(*c.inGate) : QJsonValue()}}}});
    return QJsonDocument(
               QJsonObject{{"races", races},
                           {"note", "The plan runs on as it is after a miss; it is not solved again."}})
        .toJson();
}

Result<Season> readSeason(const QByteArray& json) {
    const auto object = parseJsonObject(json);
    if (!object)
        return tl::unexpected(object.error());
    auto season = seasonFrom(*object);
    if (!season)
        return season;
    if (auto ok = check(*season); !ok)
        return tl::unexpected(ok.error());
    return season;
}

Result<Season> seasonFrom(const QJsonObject& object) {
    JsonReader in(object, {});
    Season season;
    season.start = in.date("start");
    season.end = in.date("end");
    const QJsonObject rider = in.object("rider");
    const QJsonObject rules = in.has("rules") ? in.object("rules") : QJsonObject();
    for (const char* list : {"races", "weeks", "sessions", "away"})
        in.array(list);
    const QJsonObject past = in.has("past") ? in.object("past") : QJsonObject();
    if (auto ok = in.finish(); !ok)
        return tl::unexpected(ok.error());
    if (auto ok = readRider(rider, season); !ok)
        return tl::unexpected(ok.error());
    if (object.contains("past"))
        if (auto ok = readPast(past, season); !ok)
            return tl::unexpected(ok.error());
    auto read = readRules(rules, "rules");
    if (!read)
        return tl::unexpected(read.error());
    season.rules = *read;
    if (auto ok = readList(in, "races", season.races, readRace); !ok)
        return tl::unexpected(ok.error());
    if (auto ok = readList(in, "weeks", season.weeks, readWeek); !ok)
        return tl::unexpected(ok.error());
    if (auto ok = readList(in, "sessions", season.sessions, readSessionPin); !ok)
        return tl::unexpected(ok.error());
    std::stable_sort(season.sessions.begin(), season.sessions.end(),
                     [](const SessionPin& a, const SessionPin& b) { return a.date < b.date; });
    if (auto ok = readList(in, "away", season.away, readAway); !ok)
        return tl::unexpected(ok.error());
    return season;
}

} // namespace marram
