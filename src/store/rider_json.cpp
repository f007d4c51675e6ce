// SPDX-License-Identifier: GPL-3.0-or-later
#include "store/rider_json.h"
#include "core/session/shorthand.h"
#include "core/words/phrase.h"
#include "formats/json/reader.h"
#include "formats/json/score_json.h"
#include "formats/json/season_json.h"
#include "wording/wording.h"

#include <QDateTime>
#include <cmath>

namespace marram {
namespace {

constexpr const char* formatName = "marram-rider";
constexpr int formatVersion = 2;
constexpr const char* sexes[] = {"unstated", "female", "male"};
constexpr const char* standings[] = {"in force", "history", "alternative"};
constexpr const char* verdicts[] = {"open", "accepted", "declined"};
constexpr auto roles = {Role::Rest, Role::Easy, Role::Long,    Role::Hard,
                        Role::Gym,  Role::Test, Role::Openers, Role::Race};

QString iso(Date d) {
    return QString::fromStdString(isoText(d));
}
QString words(const std::string& s) {
    return QString::fromUtf8(s.data(), static_cast<qsizetype>(s.size()));
}
template <class T>
QJsonValue orNull(const std::optional<T>& v) {
    return v ? QJsonValue(*v) : QJsonValue(QJsonValue::Null);
}

/// A number, or nothing where the key holds null.
std::optional<double> numberOrNull(JsonReader& in, const QJsonObject& object, const char* key) {
    if (object.value(QLatin1String(key)).isNull()) {
        in.has(key);
        return std::nullopt;
    }
    return in.number(key);
}

template <size_t N>
int oneOf(JsonReader& in, const char* key, const char* const (&names)[N]) {
    const QString text = in.text(key);
    for (size_t i = 0; i < N; ++i)
        if (text == names[i])
            return static_cast<int>(i);
    in.fail(key, wording("\"%1\" is unknown", text.left(30)));
    return 0;
}

bool flag(JsonReader& in, const QJsonObject& object, const char* key) {
    if (in.has(key) && !object.value(QLatin1String(key)).isBool())
        in.fail(key, marked("must be true or false"));
    return object.value(QLatin1String(key)).toBool();
}

/// Reads each object of a list.
template <class T, class Read>
Result<std::vector<T>> listOf(const QJsonArray& list, const char* key, Read read) {
    std::vector<T> out;
    for (int i = 0; i < list.size(); ++i) {
        const QString where = QString("%1[%2]").arg(key).arg(i);
        if (!list[i].isObject())
            return refuse(phrase("%1: must be an object", where.toStdString()));
        const QJsonObject object = list[i].toObject();
        JsonReader in(object, where);
        T one = read(in, object);
        if (auto ok = in.finish(); !ok)
            return tl::unexpected(ok.error());
        out.push_back(std::move(one));
    }
    return out;
}

QJsonObject valuesObject(const RiderValues& values) {
    QJsonObject out;
    for (size_t q = 0; q < quantityCount; ++q) {
        QJsonArray entries;
        for (const DatedValue& v : values.of(static_cast<Quantity>(q))) {
            QJsonObject entry{{"from", iso(v.from)}, {"value", v.value}};
            if (v.atLeast)
                entry["at_least"] = true;
            entries.append(entry);
        }
        if (!entries.isEmpty())
            out[wordsFor(static_cast<Quantity>(q)).key] = entries;
    }
    return out;
}

Result<RiderValues> valuesFrom(const QJsonObject& object) {
    RiderValues values;
    for (auto it = object.begin(); it != object.end(); ++it) {
        const auto quantity = quantityNamed(it.key().toStdString());
        if (!quantity)
            return refuse(phrase("values.%1: is unknown", it.key().toStdString()));
        const QuantityWords& w = wordsFor(*quantity);
        const auto entries = listOf<DatedValue>(
            it.value().toArray(), w.key, [&](JsonReader& in, const QJsonObject&) -> DatedValue {
                DatedValue v{in.date("from"), in.number("value")};
                v.atLeast = in.boolean("at_least");
                if (!(v.value >= w.least && v.value <= w.most))
                    in.fail("value",
                            wording("must be %1 to %2", QString::number(w.least), QString::number(w.most)));
                return v;
            });
        if (!entries)
            return tl::unexpected(entries.error());
        for (const DatedValue& v : *entries)
            values.set(*quantity, v);
    }
    return values;
}

QJsonObject testObject(const TestRecord& t) {
    const TestResult& r = t.result;
    return {{"date", iso(r.day)},
            {"protocol", wordsFor(r.protocol).key},
            {"value", r.value},
            {"second", r.second},
            {"seconds", r.seconds},
            {"work_kj", r.workKj},
            {"altitude_m", orNull(r.altitudeM)},
            {"acclimatised", r.acclimatised},
            {"place", words(r.place)},
            {"note", words(r.note)},
            {"verdict", verdicts[static_cast<int>(r.verdict)]},
            {"ride_sha256", QString::fromLatin1(t.rideHash.toHex())}};
}

TestRecord testFrom(JsonReader& in, const QJsonObject& object) {
    TestRecord t;
    TestResult& r = t.result;
    r.day = in.date("date");
    const QString name = in.text("protocol");
    if (const auto p = protocolNamed(name.toStdString()))
        r.protocol = *p;
    else
        in.fail("protocol", wording("\"%1\" is unknown").arg(name.left(40)));
    r.value = in.number("value");
    r.second = in.number("second");
    r.seconds = in.number("seconds");
    r.workKj = in.number("work_kj");
    r.altitudeM = numberOrNull(in, object, "altitude_m");
    r.acclimatised = flag(in, object, "acclimatised");
    r.place = in.text("place").toStdString();
    r.note = in.text("note").toStdString();
    r.verdict = static_cast<Verdict>(oneOf(in, "verdict", verdicts));
    t.rideHash = QByteArray::fromHex(in.text("ride_sha256").toLatin1());
    if (t.rideHash.isNull())
        t.rideHash = "";
    if (const std::string wrong = whyImpossible(r); !wrong.empty())
        in.fail("value", words(wrong));
    return t;
}

QJsonObject checkInObject(const CheckIn& c) {
    QJsonObject o{{"date", iso(c.day)},
                  {"rest_hr_bpm", orNull(c.restHeartRate)},
                  {"weight_kg", orNull(c.weightKg)},
                  {"ill", c.ill},
                  {"note", words(c.note)}};
    for (const CheckInScale& s : checkInScales)
        o[s.key] = orNull(c.*s.value);
    return o;
}

CheckIn checkInFrom(JsonReader& in, const QJsonObject& object) {
    CheckIn c;
    c.day = in.date("date");
    for (const CheckInScale& s : checkInScales)
        if (const auto v = numberOrNull(in, object, s.key)) {
            if (*v != std::floor(*v) || *v < 1 || *v > 5)
                in.fail(s.key, marked("must be a whole number from 1 to 5"));
            else
                c.*s.value = static_cast<int>(*v);
        }
    c.restHeartRate = numberOrNull(in, object, "rest_hr_bpm");
    c.weightKg = numberOrNull(in, object, "weight_kg");
    c.ill = flag(in, object, "ill");
    c.note = in.text("note").toStdString();
    if (const std::string wrong = whyImpossible(c); !wrong.empty())
        in.fail("date", words(wrong));
    return c;
}

QJsonObject rideObject(const RideRecord& r, const QString& original) {
    QJsonArray best;
    for (const BestEffort& b : r.best)
        best.append(QJsonArray{b.seconds, b.power, b.start});
    return {{"original", original.isEmpty() ? QJsonValue(QJsonValue::Null) : QJsonValue(original)},
            {"content_sha256", QString::fromLatin1(r.contentHash.toHex())},
            {"file_name", r.fileName},
            {"date", iso(r.day)},
            {"utc_offset_s", r.utcOffset},
            {"excluded", r.excluded},
            {"beside_sha256",
             r.beside.isEmpty() ? QJsonValue() : QJsonValue(QString::fromLatin1(r.beside.toHex()))},
            {"effort", orNull(r.effort)},
            {"note", r.note},
            {"corrections", writeCorrections(r.corrections)},
            {"remarks", QJsonArray::fromStringList(r.remarks)},
            {"threshold_power_w", r.thresholdPower},
            {"scoring_version", r.scoringVersion},
            {"score", writeScore(r.score)},
            {"best_s_w_start", best}};
}

RideRecord rideFrom(JsonReader& in, const QJsonObject& object, QString& original) {
    RideRecord r;
    if (object.value("original").isNull())
        in.has("original");
    else
        original = in.text("original");
    if (in.has("content_sha256"))
        r.contentHash = QByteArray::fromHex(in.text("content_sha256").toLatin1());
    if (r.contentHash.size() != 32 && (original.isEmpty() || !r.contentHash.isEmpty()))
        in.fail("content_sha256", marked("must be the 64 digits of a SHA-256"));
    r.fileName = in.text("file_name");
    r.day = in.date("date");
    r.utcOffset = in.whole("utc_offset_s", 0);
    if (std::abs(r.utcOffset) > 86400)
        in.fail("utc_offset_s", marked("must be less than a day"));
    r.excluded = flag(in, object, "excluded");
    if (in.has("beside_sha256") && !object.value("beside_sha256").isNull())
        r.beside = QByteArray::fromHex(in.text("beside_sha256").toLatin1());
    if (!r.beside.isEmpty() && r.beside.size() != 32)
        in.fail("beside_sha256", marked("must be the 64 digits of a SHA-256"));
    r.effort = numberOrNull(in, object, "effort");
    if (r.effort && !(*r.effort >= 0 && *r.effort <= 10))
        in.fail("effort", marked("must be 0 to 10"));
    r.note = in.text("note");
    if (const auto corrections = correctionsFrom(in.object("corrections")))
        r.corrections = *corrections;
    else
        in.fail("corrections", words(corrections.error().sentence));
    for (const auto& remark : in.array("remarks"))
        r.remarks << remark.toString();
    r.thresholdPower = in.number("threshold_power_w");
    if (!(r.thresholdPower >= 0 && r.thresholdPower <= 10000))
        in.fail("threshold_power_w", marked("must be 0 to 10000 W"));
    r.scoringVersion = in.whole("scoring_version", 0);
    if (const auto score = scoreFrom(in.object("score")))
        r.score = *score;
    else
        in.fail("score", words(score.error().sentence));
    for (const auto& each : in.array("best_s_w_start")) {
        const QJsonArray b = each.toArray();
        const double seconds = b[0].toDouble(-1), power = b[1].toDouble(-1), start = b[2].toDouble(-1);
        if (!each.isArray() || b.size() != 3 || !(seconds >= 1 && seconds <= longestRide) ||
            !(power >= 0 && power <= 1e5) || !(start >= 0 && start <= longestRide)) {
            in.fail("best_s_w_start", marked("must be a list of [seconds, watts, start in seconds]"));
            break;
        }
        r.best.push_back({static_cast<int>(seconds), power, static_cast<int>(start)});
    }
    return r;
}

QJsonObject notedObject(const NotedCaution& n) {
    return {{"caution", QString::fromStdString(n.code)},
            {"day", iso(n.day)},
            {"measure", n.measure},
            {"reason", QString::fromStdString(n.reason)}};
}

NotedCaution notedFrom(JsonReader& in, const QJsonObject&) {
    return {in.text("caution").toStdString(), in.date("day"), in.number("measure", 0),
            in.text("reason").toStdString()};
}

QJsonArray lettersArray(const std::map<Date, QString>& letters) {
    QJsonArray all;
    for (const auto& [week, words] : letters)
        all.append(QJsonObject{{"week", iso(week)}, {"words", words}});
    return all;
}

template <class T, class Write>
QJsonArray arrayOf(const std::vector<T>& all, Write write) {
    QJsonArray out;
    for (const T& each : all)
        out.append(write(each));
    return out;
}

} // namespace

QJsonObject writeRider(const RiderFile& f) {
    const RiderRecord& r = f.rider;
    QJsonArray hours, rides;
    for (const double h : r.hours)
        hours.append(h);
    for (size_t i = 0; i < f.rides.size(); ++i)
        rides.append(rideObject(f.rides[i], f.originals[static_cast<qsizetype>(i)]));
    const auto injury = [](const Injury& i) {
        return QJsonObject{{"from", iso(i.from)},
                           {"to", i.to ? QJsonValue(iso(*i.to)) : QJsonValue(QJsonValue::Null)},
                           {"what", words(i.what)}};
    };
    const auto day = [](const SolvedDay& d) {
        QJsonObject o{{"date", iso(d.date)}, {"role", nameOf(d.role)}, {"stress", d.stress},
                      {"hours", d.hours},    {"fitness", d.fitness},   {"fatigue", d.fatigue},
                      {"form", d.form}};
        if (d.kind)
            o["week_kind"] = nameOf(*d.kind);
        if (d.phase)
            o["phase"] = nameOf(*d.phase);
        return o;
    };
    const auto meant = [](const MeantSession& m) {
        QJsonObject o{{"date", iso(m.date)},
                      {"family", QString::fromStdString(m.family)},
                      {"rung", m.rung},
                      {"words", QString::fromStdString(m.words)},
                      {"note", QString::fromStdString(m.note)}};
        if (m.outcome) {
            o["outcome"] = nameOf(*m.outcome);
            o["told"] = QString::fromStdString(m.told);
        }
        return o;
    };
    const auto season = [&](const RiderFile::PlannedSeason& s) {
        return QJsonObject{{"standing", standings[static_cast<int>(s.record.standing)]},
                           {"name", s.record.name},
                           {"branched_from", orNull(s.record.branchedFrom)},
                           {"season", writeSeason(s.record.season)},
                           {"planned_days", arrayOf(s.days, day)},
                           {"sessions_meant", arrayOf(s.meant, meant)}};
    };
    return {{"format", formatName},
            {"version", formatVersion},
            {"name", r.name},
            {"sex", sexes[static_cast<int>(r.sex)]},
            {"born", orNull(r.born)},
            {"hours", hours},
            {"note", r.note},
            {"training_years", orNull(r.trainingYears)},
            {"slow_recoverer", r.slowRecoverer},
            {"injuries", arrayOf(r.injuries, injury)},
            {"strengths", r.strengths},
            {"weaknesses", r.weaknesses},
            {"cautions", r.cautions},
            {"care", careArray(r.care)},
            {"cleared", r.care.cleared},
            {"groups", QJsonArray::fromStringList(r.groups)},
            {"archived", r.archived},
            {"scales", writeScales(r.scales)},
            {"values", valuesObject(r.values)},
            {"usual_week_h", orNull(r.usualWeekHours)},
            {"seasons", arrayOf(f.seasons, season)},
            {"tests", arrayOf(f.tests, testObject)},
            {"check_ins", arrayOf(f.checkIns, checkInObject)},
            {"letters", lettersArray(f.letters)},
            {"noted", arrayOf(f.noted, notedObject)},
            {"rides", rides}};
}

Result<RiderFile> readRider(const QJsonObject& object) {
    JsonReader in(object, {});
    if (in.text("format", "") != formatName)
        return refuse(phrase("is no rider of Marram; its format should be \"%1\"", formatName));
    const int version = in.whole("version", 0);
    if (version < 1 || version > formatVersion)
        return refuse(phrase("was written by another version of Marram; update Marram to read it"));
    RiderFile f;
    RiderRecord& r = f.rider;
    r.name = in.text("name");
    if (r.name.trimmed().isEmpty())
        in.fail("name", marked("is empty"));
    r.sex = static_cast<Sex>(oneOf(in, "sex", sexes));
    if (const auto born = numberOrNull(in, object, "born"))
        r.born = static_cast<int>(std::clamp(*born, 1900.0, 2199.0));
    r.usualWeekHours = version == 1 ? std::nullopt : numberOrNull(in, object, "usual_week_h");
    if (r.usualWeekHours && !(*r.usualWeekHours >= 0 && *r.usualWeekHours <= 168))
        in.fail("usual_week_h", marked("must be 0 to 168 hours"));
    const auto hours = in.numbers("hours", 7);
    for (const double h : hours)
        if (!(h >= 0 && h <= 24))
            in.fail("hours", marked("must each be 0 to 24 hours"));
    std::copy(hours.begin(), hours.end(), r.hours.begin());
    r.note = in.text("note");
    if (const auto years = numberOrNull(in, object, "training_years"))
        r.trainingYears = static_cast<int>(std::clamp(*years, 0.0, 100.0));
    r.slowRecoverer = flag(in, object, "slow_recoverer");
    r.strengths = in.text("strengths");
    r.weaknesses = in.text("weaknesses");
    r.cautions = in.text("cautions");
    if (in.has("care"))
        for (const auto& each : in.array("care")) {
            if (const auto one = careNamed(each.toString().toStdString()))
                r.care.set(*one);
            else
                in.fail(
                    "care",
                    marked("must be some of pregnancy, postpartum, heart, metabolic, energy, bone, other"));
        }
    r.care.cleared = in.has("cleared") && flag(in, object, "cleared");
    for (const auto& g : in.array("groups"))
        r.groups << g.toString();
    r.archived = flag(in, object, "archived");
    const QJsonObject scales = in.object("scales"), values = in.object("values");
    if (const auto learned = scalesFrom(scales))
        r.scales = *learned;
    else
        in.fail("scales", words(learned.error().sentence));
    const bool hasSeason = version == 1 && in.has("season") && object.value("season").isObject();
    const auto injuries = in.array("injuries"), tests = in.array("tests"), checkIns = in.array("check_ins"),
               letters = in.has("letters") ? in.array("letters") : QJsonArray(),
               noted = in.has("noted") ? in.array("noted") : QJsonArray(), rides = in.array("rides");
    const auto seasons = version == 1 ? QJsonArray() : in.array("seasons");
    const auto planned = version == 1 ? in.array("planned_days") : QJsonArray();
    if (auto ok = in.finish(); !ok)
        return tl::unexpected(ok.error());
    // Each part in turn; the first refusal is the answer.
    const auto keep = [](auto& to, auto result) -> Result<void> {
        if (!result)
            return tl::unexpected(result.error());
        to = std::move(*result);
        return {};
    };
    if (auto ok = keep(r.values, valuesFrom(values)); !ok)
        return tl::unexpected(ok.error());
    if (auto ok = keep(r.injuries, listOf<Injury>(injuries, "injuries",
                                                  [](JsonReader& one, const QJsonObject& o) {
                                                      Injury i;
                                                      i.from = one.date("from");
                                                      if (o.value("to").isString())
                                                          i.to = one.date("to");
                                                      one.has("to");
                                                      i.what = one.text("what").toStdString();
                                                      return i;
                                                  }));
        !ok)
        return tl::unexpected(ok.error());
    const auto day = [](JsonReader& one, const QJsonObject&) {
        constexpr double far = 100000;
        const auto number = [&](const char* key, double least, double most) {
            const double v = one.number(key);
            if (!(v >= least && v <= most))
                one.fail(key, wording("must be %1 to %2", QString::number(least), QString::number(most)));
            return v;
        };
        SolvedDay d;
        d.date = one.date("date");
        const auto role = named<Role>(one.text("role").toStdString(), roles);
        if (!role)
            one.fail("role", marked("is unknown"));
        d.role = role.value_or(Role::Rest);
        d.stress = number("stress", 0, far);
        d.hours = number("hours", 0, 24);
        d.fitness = number("fitness", -far, far);
        d.fatigue = number("fatigue", -far, far);
        d.form = number("form", -far, far);
        if (one.has("week_kind"))
            if (!(d.kind = named<WeekKind>(one.text("week_kind").toStdString(),
                                           {WeekKind::Build, WeekKind::Deload, WeekKind::Taper,
                                            WeekKind::Race, WeekKind::Recovery, WeekKind::Transition,
                                            WeekKind::Break, WeekKind::Camp})))
                one.fail("week_kind", marked("is no kind of week"));
        if (one.has("phase"))
            if (!(d.phase = named<Phase>(one.text("phase").toStdString(),
                                         {Phase::Transition, Phase::Base, Phase::Build, Phase::Specialise,
                                          Phase::Taper, Phase::Race, Phase::Break})))
                one.fail("phase", marked("is no phase"));
        return d;
    };
    const auto meant = [](JsonReader& one, const QJsonObject&) {
        MeantSession m;
        m.date = one.date("date");
        m.family = one.text("family").toStdString();
        m.rung = one.whole("rung", 0);
        if (m.rung < 0 || m.rung > 40)
            one.fail("rung", marked("must be 0 to 40"));
        m.words = one.text("words").toStdString();
        if (!m.words.empty() && !readShorthand(m.words))
            one.fail("words", marked("is no session"));
        m.note = one.text("note").toStdString();
        if (one.has("outcome")) {
            const auto outcome =
                named<RungVerdict>(one.text("outcome").toStdString(),
                                   {RungVerdict::Passed, RungVerdict::Repeat, RungVerdict::Ease});
            if (!outcome)
                one.fail("outcome", marked("must be passed, repeat or ease"));
            m.outcome = outcome;
            m.told = one.text("told").toStdString();
        }
        return m;
    };
    if (hasSeason) {
        auto season = seasonFrom(object.value("season").toObject());
        if (!season)
            return refuse(phrase("season: %1", season.error().sentence));
        if (auto ok = possible(*season); !ok)
            return refuse(phrase("season: %1", ok.error().sentence));
        RiderFile::PlannedSeason one;
        one.record.season = std::move(*season);
        if (auto ok = keep(one.days, listOf<SolvedDay>(planned, "planned_days", day)); !ok)
            return tl::unexpected(ok.error());
        f.seasons.push_back(std::move(one));
    }
    int inForce = 0;
    for (int i = 0; i < seasons.size(); ++i) {
        const QString where = QString("seasons[%1]").arg(i);
        if (!seasons[i].isObject())
            return refuse(phrase("%1: must be an object", where.toStdString()));
        const QJsonObject o = seasons[i].toObject();
        JsonReader one(o, where);
        RiderFile::PlannedSeason s;
        s.record.standing = static_cast<SeasonStanding>(oneOf(one, "standing", standings));
        inForce += s.record.standing == SeasonStanding::InForce ? 1 : 0;
        s.record.name = one.text("name");
        if (const auto from = numberOrNull(one, o, "branched_from")) {
            if (*from != std::floor(*from) || *from < 1 || *from > seasons.size() || *from == i + 1)
                one.fail("branched_from", marked("must be the number of another season of the list, from 1"));
            else
                s.record.branchedFrom = static_cast<qint64>(*from);
        }
        const QJsonObject season = one.object("season");
        const QJsonArray days = one.array("planned_days");
        const QJsonArray sessions = one.has("sessions_meant") ? one.array("sessions_meant") : QJsonArray();
        if (auto ok = one.finish(); !ok)
            return tl::unexpected(ok.error());
        auto read = seasonFrom(season);
        if (!read)
            return refuse(phrase("%1.season: %2", where.toStdString(), read.error().sentence));
        if (auto ok = possible(*read); !ok)
            return refuse(phrase("%1.season: %2", where.toStdString(), ok.error().sentence));
        s.record.season = std::move(*read);
        if (auto ok = keep(s.days, listOf<SolvedDay>(days, "planned_days", day)); !ok)
            return refuse(phrase("%1.%2", where.toStdString(), ok.error().sentence));
        if (auto ok = keep(s.meant, listOf<MeantSession>(sessions, "sessions_meant", meant)); !ok)
            return refuse(phrase("%1.%2", where.toStdString(), ok.error().sentence));
        f.seasons.push_back(std::move(s));
    }
    if (inForce > 1)
        return refuse(phrase("seasons: more than one is in force; one may be"));
    if (auto ok = keep(f.tests, listOf<TestRecord>(tests, "tests", testFrom)); !ok)
        return tl::unexpected(ok.error());
    using Words = std::pair<Date, QString>;
    std::vector<Words> written;
    const auto letter = [](JsonReader& one, const QJsonObject&) {
        Words w{one.date("week"), one.text("words")};
        if (weekday(w.first) != 0)
            one.fail("week", marked("must be a Monday"));
        return w;
    };
    if (auto ok = keep(written, listOf<Words>(letters, "letters", letter)); !ok)
        return tl::unexpected(ok.error());
    f.letters.insert(written.begin(), written.end());
    if (auto ok = keep(f.noted, listOf<NotedCaution>(noted, "noted", notedFrom)); !ok)
        return tl::unexpected(ok.error());
    if (auto ok = keep(f.checkIns, listOf<CheckIn>(checkIns, "check_ins", checkInFrom)); !ok)
        return tl::unexpected(ok.error());
    const auto ride = [&](JsonReader& one, const QJsonObject& o) {
        QString original;
        RideRecord record = rideFrom(one, o, original);
        f.originals << original;
        return record;
    };
    if (auto ok = keep(f.rides, listOf<RideRecord>(rides, "rides", ride)); !ok)
        return tl::unexpected(ok.error());
    return f;
}

QJsonArray careArray(const RiderCare& care) {
    QJsonArray all;
    for (size_t i = 0; i < careNames.size(); ++i)
        if (care.has(static_cast<Care>(i)))
            all.append(careNames[i]);
    return all;
}

} // namespace marram
