// SPDX-License-Identifier: GPL-3.0-or-later
#include "formats/json/season_json.h"
#include "core/season/fields.h"
#include "core/session/shorthand.h"
#include "core/words/phrase.h"
#include "formats/json/fields_json.h"
#include "wording/wording.h"

#include <QJsonDocument>
#include <algorithm>
#include <cmath>

namespace marram {

template <>
struct JsonOf<std::vector<CoursePoint>> {
    static std::vector<CoursePoint> read(JsonReader& in, const char* key, Span) {
        std::vector<CoursePoint> course;
        const QJsonArray all = in.array(key);
        for (const auto& each : all) {
            const QJsonArray pair = each.toArray();
            if (pair.size() != 2 || !pair[0].isDouble() || !pair[1].isDouble()) {
                in.fail(key,
                        marked("must be pairs of numbers, [metres from the start, metres above the sea]"));
                break;
            }
            course.push_back({pair[0].toDouble(), pair[1].toDouble()});
        }
        return course;
    }
    static QJsonValue write(const std::vector<CoursePoint>& v) { return writeCourse(v); }
};

/// Shares of the hours, by phase.
template <>
struct JsonOf<std::map<Phase, double>> {
    static std::map<Phase, double> read(JsonReader& in, const char* key, Span) {
        std::map<Phase, double> shares;
        JsonReader entry(in.object(key), in.place(key));
        for (const Phase phase : {Phase::Base, Phase::Build, Phase::Specialise})
            if (entry.has(nameOf(phase)))
                shares[phase] = entry.number(nameOf(phase));
        in.take(entry);
        return shares;
    }
    static QJsonValue write(const std::map<Phase, double>& v) {
        QJsonObject out;
        for (const auto& [phase, share] : v)
            out[nameOf(phase)] = share;
        return out;
    }
};

/// Gym sessions a week.
template <>
struct JsonOf<std::array<int, 3>> {
    static std::array<int, 3> read(JsonReader& in, const char* key, Span) {
        std::array<int, 3> out{};
        const auto gym = in.numbers(key, 3);
        for (size_t i = 0; i < 3; ++i) {
            if (gym[i] != std::floor(gym[i]) || gym[i] < 0 || gym[i] > 4)
                in.fail(key,
                        marked("must be three whole numbers from 0 to 4: sessions a week in transition, base "
                               "and season"));
            out[i] = static_cast<int>(gym[i]);
        }
        return out;
    }
    static QJsonValue write(const std::array<int, 3>& v) { return QJsonArray{v[0], v[1], v[2]}; }
};

namespace {

constexpr auto schools = {School::Polarised, School::Pyramidal, School::ThresholdLed, School::Even};
constexpr auto phases = {Phase::Transition, Phase::Base, Phase::Build, Phase::Specialise,
                         Phase::Taper,      Phase::Race, Phase::Break};
constexpr auto shapes = {TaperShape::Falling, TaperShape::DeepThenModerate, TaperShape::OneWeek};

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

Result<void> readRider(const QJsonObject& object, Season& season) {
    JsonReader in(object, "rider");
    season.thresholdPower = in.number("threshold_power_w");
    season.before.fitness = in.number("fitness", 0);
    season.before.fatigue = in.number("fatigue", season.before.fitness);
    season.hours = JsonOf<WeekHours>::read(in, "hours", {});
    season.lowThreshold = in.number("low_threshold", defaultLowThreshold);
    readFields(in, season.tau, Ranges::Later);
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

/// Reads each entry of a list by its fields, naming it by its number, and looks at it with `judge`.
template <class T, class Judge>
Result<void> readList(JsonReader& in, const char* key, std::vector<T>& out, Judge judge) {
    const QJsonArray list = in.array(key);
    for (int i = 0; i < list.size(); ++i) {
        const QString where = QString("%1[%2]").arg(key).arg(i);
        if (!list[i].isObject())
            return refuse(phrase("%1: must be an object", where.toStdString()));
        JsonReader entry(list[i].toObject(), where);
        T one;
        readFields(entry, one, Ranges::Later);
        judge(entry, one);
        if (auto ok = entry.finish(); !ok)
            return tl::unexpected(ok.error());
        out.push_back(std::move(one));
    }
    return {};
}
template <class T>
Result<void> readList(JsonReader& in, const char* key, std::vector<T>& out) {
    return readList(in, key, out, [](JsonReader&, const T&) {});
}

template <class T>
QJsonArray writeList(const std::vector<T>& all) {
    QJsonArray out;
    for (const T& each : all)
        out.append(fieldsObject(each));
    return out;
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
    readFields(in, rules, Ranges::Later);
    rules.taperSet = object.contains("taper_d");
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
    QJsonObject out = fieldsObject(rules);
    out["rhythm"] = QJsonArray{rules.buildWeeks, rules.deloadWeeks};
    if (rules.taperBest)
        out["taper_d"] = "best";
    else if (rules.taperSet)
        out["taper_d"] = rules.taperDays;
    if (rules.shapeBest)
        out["taper_shape"] = "best";
    else if (rules.taperShape != TaperShape::Falling)
        out["taper_shape"] = nameOf(rules.taperShape);
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
    QJsonObject rider{{"threshold_power_w", s.thresholdPower}, {"fitness", s.before.fitness},
                      {"fatigue", s.before.fatigue},           {"hours", JsonOf<WeekHours>::write(s.hours)},
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
        {"start", iso(s.start)},        {"end", iso(s.end)},           {"rider", rider},
        {"rules", writeRules(s.rules)}, {"races", writeList(s.races)}, {"weeks", writeList(s.weeks)},
        {"away", writeList(s.away)}};
    if (!s.sessions.empty())
        out["sessions"] = writeList(s.sessions);
    if (s.past) {
        QJsonArray stress;
        for (const double points : s.past->stress)
            stress.append(points);
        out["past"] = QJsonObject{{"today", iso(s.past->today)}, {"stress", stress}};
    }
    return out;
}

Result<QJsonObject> laidOver(const QJsonObject& season, const QJsonObject& over) {
    QStringList ruleKeys{"rhythm", "taper_d", "taper_shape", "school"};
    eachField<Rules>([&](const auto& f) {
        if (f.stands != Stands::ByHand)
            ruleKeys << f.key;
    });
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
    if (auto ok = readList(in, "races", season.races); !ok)
        return tl::unexpected(ok.error());
    if (auto ok = readList(in, "weeks", season.weeks); !ok)
        return tl::unexpected(ok.error());
    if (auto ok = readList(in, "sessions", season.sessions,
                           [](JsonReader& entry, const SessionPin& pin) {
                               const auto session = readShorthand(pin.words);
                               if (!pin.words.empty() && !session)
                                   entry.fail("words", wording("character %1: %2",
                                                               std::to_string(session.error().place),
                                                               session.error().sentence));
                           });
        !ok)
        return tl::unexpected(ok.error());
    std::stable_sort(season.sessions.begin(), season.sessions.end(),
                     [](const SessionPin& a, const SessionPin& b) { return a.date < b.date; });
    if (auto ok = readList(in, "away", season.away); !ok)
        return tl::unexpected(ok.error());
    return season;
}

} // namespace marram
