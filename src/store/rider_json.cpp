// SPDX-License-Identifier: GPL-3.0-or-later
#include "store/rider_json.h"
#include "core/session/shorthand.h"
#include "core/words/phrase.h"
#include "formats/json/fields_json.h"
#include "formats/json/score_json.h"
#include "formats/json/season_json.h"
#include "records/fields.h"
#include "wording/wording.h"

#include <QDateTime>
#include <cmath>

namespace marram {

static const char* nameOf(Sex sex) {
    static constexpr const char* names[] = {"unstated", "female", "male"};
    return names[static_cast<int>(sex)];
}
static const char* nameOf(SeasonStanding standing) {
    static constexpr const char* names[] = {"in force", "history", "alternative"};
    return names[static_cast<int>(standing)];
}
static const char* nameOf(Verdict verdict) {
    static constexpr const char* names[] = {"open", "accepted", "declined"};
    return names[static_cast<int>(verdict)];
}

template <>
struct JsonOf<Protocol> {
    static Protocol read(JsonReader& in, const char* key, Span) {
        const QString name = in.text(key);
        const auto protocol = protocolNamed(name.toStdString());
        if (!protocol)
            in.fail(key, wording("\"%1\" is unknown").arg(name.left(40)));
        return protocol.value_or(Protocol::TwentyMinutes);
    }
    static QJsonValue write(Protocol v) { return wordsFor(v).key; }
};

namespace {

constexpr const char* formatName = "marram-rider";
constexpr int formatVersion = 2;

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
    QJsonObject out = fieldsObject(t.result);
    const QJsonObject beside = fieldsObject(t);
    for (auto it = beside.begin(); it != beside.end(); ++it)
        out[it.key()] = it.value();
    return out;
}

TestRecord testFrom(JsonReader& in, const QJsonObject&) {
    TestRecord t;
    readFields(in, t.result);
    readFields(in, t);
    if (const std::string wrong = whyImpossible(t.result); !wrong.empty())
        in.fail("value", words(wrong));
    return t;
}

CheckIn checkInFrom(JsonReader& in, const QJsonObject&) {
    CheckIn c;
    readFields(in, c);
    if (const std::string wrong = whyImpossible(c); !wrong.empty())
        in.fail("date", words(wrong));
    return c;
}

QJsonObject rideObject(const RideRecord& r, const QString& original) {
    QJsonArray best;
    for (const BestEffort& b : r.best)
        best.append(QJsonArray{b.seconds, b.power, b.start});
    QJsonObject out = fieldsObject(r);
    out["original"] = original.isEmpty() ? QJsonValue(QJsonValue::Null) : QJsonValue(original);
    out["content_sha256"] = QString::fromLatin1(r.contentHash.toHex());
    out["beside_sha256"] =
        r.beside.isEmpty() ? QJsonValue() : QJsonValue(QString::fromLatin1(r.beside.toHex()));
    out["corrections"] = writeCorrections(r.corrections);
    out["score"] = writeScore(r.score);
    out["best_s_w_start"] = best;
    return out;
}

std::optional<BestEffort> bestFrom(const QJsonArray& b) {
    const double seconds = b[0].toDouble(-1), power = b[1].toDouble(-1), start = b[2].toDouble(-1);
    if (b.size() != 3 || !(seconds >= 1 && seconds <= longestRide) || !(power >= 0 && power <= 1e5) ||
        !(start >= 0 && start <= longestRide))
        return {};
    return BestEffort{static_cast<int>(seconds), power, static_cast<int>(start)};
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
    readFields(in, r);
    if (in.has("beside_sha256") && !object.value("beside_sha256").isNull())
        r.beside = QByteArray::fromHex(in.text("beside_sha256").toLatin1());
    if (!r.beside.isEmpty() && r.beside.size() != 32)
        in.fail("beside_sha256", marked("must be the 64 digits of a SHA-256"));
    if (const auto corrections = correctionsFrom(in.object("corrections")))
        r.corrections = *corrections;
    else
        in.fail("corrections", words(corrections.error().sentence));
    if (const auto score = scoreFrom(in.object("score")))
        r.score = *score;
    else
        in.fail("score", words(score.error().sentence));
    for (const auto& each : in.array("best_s_w_start")) {
        const auto best = bestFrom(each.toArray());
        if (!best) {
            in.fail("best_s_w_start", marked("must be a list of [seconds, watts, start in seconds]"));
            break;
        }
        r.best.push_back(*best);
    }
    return r;
}

QJsonArray lettersArray(const std::map<Date, QString>& letters) {
    QJsonArray all;
    for (const auto& [week, words] : letters)
        all.append(QJsonObject{{"week", iso(week)}, {"words", words}});
    return all;
}

template <class T, class Write = decltype(&fieldsObject<T>)>
QJsonArray arrayOf(const std::vector<T>& all, Write write = &fieldsObject<T>) {
    QJsonArray out;
    for (const T& each : all)
        out.append(write(each));
    return out;
}
/// Reads a record by its fields.
template <class T>
T recordFrom(JsonReader& in, const QJsonObject&) {
    T record;
    readFields(in, record);
    return record;
}

} // namespace

QJsonObject writeRider(const RiderFile& f) {
    const RiderRecord& r = f.rider;
    QJsonArray rides;
    for (size_t i = 0; i < f.rides.size(); ++i)
        rides.append(rideObject(f.rides[i], f.originals[static_cast<qsizetype>(i)]));
    const auto season = [&](const RiderFile::PlannedSeason& s) {
        return QJsonObject{{"standing", nameOf(s.record.standing)},
                           {"name", s.record.name},
                           {"branched_from", JsonOf<std::optional<double>>::write(s.record.branchedFrom)},
                           {"season", writeSeason(s.record.season)},
                           {"planned_days", arrayOf(s.days)},
                           {"sessions_meant", arrayOf(s.meant)}};
    };
    QJsonObject out = fieldsObject(r);
    out["format"] = formatName;
    out["version"] = formatVersion;
    out["injuries"] = arrayOf(r.injuries);
    out["care"] = careArray(r.care);
    out["cleared"] = r.care.cleared;
    out["scales"] = writeScales(r.scales);
    out["values"] = valuesObject(r.values);
    out["usual_week_h"] = JsonOf<std::optional<double>>::write(r.usualWeekHours);
    out["seasons"] = arrayOf(f.seasons, season);
    out["tests"] = arrayOf(f.tests, testObject);
    out["check_ins"] = arrayOf(f.checkIns);
    out["letters"] = lettersArray(f.letters);
    out["noted"] = arrayOf(f.noted);
    out["rides"] = rides;
    return out;
}

namespace {

/// What a rider is under licensed care for.
void readCare(JsonReader& in, RiderCare& care) {
    if (in.has("care"))
        for (const auto& each : in.array("care")) {
            if (const auto one = careNamed(each.toString().toStdString()))
                care.set(*one);
            else
                in.fail(
                    "care",
                    marked("must be some of pregnancy, postpartum, heart, metabolic, energy, bone, other"));
        }
    care.cleared = in.boolean("cleared");
}

/// Takes what was read, or hands on why it was not.
template <class To, class Read>
Result<void> keep(To& to, Result<Read> result) {
    if (!result)
        return tl::unexpected(result.error());
    to = std::move(*result);
    return {};
}

/// A season as a solver could take it.
Result<Season> possibleSeason(const QJsonObject& object, const std::string& where) {
    auto season = seasonFrom(object);
    if (!season)
        return refuse(phrase("%1: %2", where, season.error().sentence));
    if (auto ok = possible(*season); !ok)
        return refuse(phrase("%1: %2", where, ok.error().sentence));
    return season;
}

MeantSession meantFrom(JsonReader& one, const QJsonObject& o) {
    auto m = recordFrom<MeantSession>(one, o);
    if (!m.words.empty() && !readShorthand(m.words))
        one.fail("words", marked("is no session"));
    return m;
}

/// The `i`th of `count` seasons of a file, 0 the first.
Result<RiderFile::PlannedSeason> plannedSeasonFrom(const QJsonValue& value, int i, int count) {
    const QString where = QString("seasons[%1]").arg(i);
    const std::string place = where.toStdString();
    if (!value.isObject())
        return refuse(phrase("%1: must be an object", place));
    const QJsonObject o = value.toObject();
    JsonReader one(o, where);
    RiderFile::PlannedSeason s;
    s.record.standing =
        JsonOf<SeasonStanding>::read(one, "standing", {0, static_cast<double>(SeasonStanding::Alternative)});
    s.record.name = one.text("name");
    if (!one.isNull("branched_from")) {
        const double from = one.number("branched_from");
        if (from != std::floor(from) || from < 1 || from > count || from == i + 1)
            one.fail("branched_from", marked("must be the number of another season of the list, from 1"));
        else
            s.record.branchedFrom = static_cast<qint64>(from);
    }
    const QJsonObject season = one.object("season");
    const QJsonArray days = one.array("planned_days");
    const QJsonArray sessions = one.has("sessions_meant") ? one.array("sessions_meant") : QJsonArray();
    if (auto ok = one.finish(); !ok)
        return tl::unexpected(ok.error());
    if (auto ok = keep(s.record.season, possibleSeason(season, place + ".season")); !ok)
        return tl::unexpected(ok.error());
    if (auto ok = keep(s.days, listOf<SolvedDay>(days, "planned_days", recordFrom<SolvedDay>)); !ok)
        return refuse(phrase("%1.%2", place, ok.error().sentence));
    if (auto ok = keep(s.meant, listOf<MeantSession>(sessions, "sessions_meant", meantFrom)); !ok)
        return refuse(phrase("%1.%2", place, ok.error().sentence));
    return s;
}

/// The one season of the first files, with its days beside it.
Result<void> takeOnlySeason(const QJsonObject& season, const QJsonArray& planned, RiderFile& f) {
    RiderFile::PlannedSeason one;
    if (auto ok = keep(one.record.season, possibleSeason(season, "season")); !ok)
        return ok;
    if (auto ok = keep(one.days, listOf<SolvedDay>(planned, "planned_days", recordFrom<SolvedDay>)); !ok)
        return ok;
    f.seasons.push_back(std::move(one));
    return {};
}

Result<void> takeSeasons(const QJsonArray& seasons, RiderFile& f) {
    int inForce = 0;
    for (int i = 0; i < seasons.size(); ++i) {
        auto one = plannedSeasonFrom(seasons[i], i, static_cast<int>(seasons.size()));
        if (!one)
            return tl::unexpected(one.error());
        inForce += one->record.standing == SeasonStanding::InForce ? 1 : 0;
        f.seasons.push_back(std::move(*one));
    }
    if (inForce > 1)
        return refuse(phrase("seasons: more than one is in force; one may be"));
    return {};
}

/// What the coach wrote to the rider, by week.
Result<void> takeLetters(const QJsonArray& letters, RiderFile& f) {
    using Words = std::pair<Date, QString>;
    std::vector<Words> written;
    const auto letter = [](JsonReader& one, const QJsonObject&) {
        Words w{one.date("week"), one.text("words")};
        if (weekday(w.first) != 0)
            one.fail("week", marked("must be a Monday"));
        return w;
    };
    if (auto ok = keep(written, listOf<Words>(letters, "letters", letter)); !ok)
        return ok;
    f.letters.insert(written.begin(), written.end());
    return {};
}

} // namespace

Result<RiderFile> readRider(const QJsonObject& object) {
    JsonReader in(object, {});
    if (in.text("format", "") != formatName)
        return refuse(phrase("is no rider of Marram; its format should be \"%1\"", formatName));
    const int version = in.whole("version", 0);
    if (version < 1 || version > formatVersion)
        return refuse(phrase("was written by another version of Marram; update Marram to read it"));
    RiderFile f;
    RiderRecord& r = f.rider;
    readFields(in, r);
    if (r.name.trimmed().isEmpty())
        in.fail("name", marked("is empty"));
    if (version > 1 && !in.isNull("usual_week_h"))
        r.usualWeekHours = JsonOf<double>::read(in, "usual_week_h", {0, 168});
    readCare(in, r.care);
    const QJsonObject scales = in.object("scales"), values = in.object("values");
    if (const auto learned = scalesFrom(scales))
        r.scales = *learned;
    else
        in.fail("scales", words(learned.error().sentence));
    const auto list = [&](const char* key, bool known = true) {
        return known ? in.array(key) : QJsonArray();
    };
    const bool hasSeason = version == 1 && in.has("season") && object.value("season").isObject();
    const auto injuries = list("injuries"), tests = list("tests"), checkIns = list("check_ins"),
               letters = list("letters", in.has("letters")), noted = list("noted", in.has("noted")),
               rides = list("rides"), seasons = list("seasons", version > 1),
               planned = list("planned_days", version == 1);
    if (auto ok = in.finish(); !ok)
        return tl::unexpected(ok.error());
    const auto ride = [&](JsonReader& one, const QJsonObject& o) {
        QString original;
        RideRecord record = rideFrom(one, o, original);
        f.originals << original;
        return record;
    };
    // Each part in turn; the first refusal is the answer.
    Result<void> ok = keep(r.values, valuesFrom(values));
    const auto then = [&ok](auto part) {
        if (ok)
            ok = part();
    };
    then([&] { return keep(r.injuries, listOf<Injury>(injuries, "injuries", recordFrom<Injury>)); });
    then([&] {
        return hasSeason ? takeOnlySeason(object.value("season").toObject(), planned, f) : Result<void>{};
    });
    then([&] { return takeSeasons(seasons, f); });
    then([&] { return keep(f.tests, listOf<TestRecord>(tests, "tests", testFrom)); });
    then([&] { return takeLetters(letters, f); });
    then([&] { return keep(f.noted, listOf<NotedCaution>(noted, "noted", recordFrom<NotedCaution>)); });
    then([&] { return keep(f.checkIns, listOf<CheckIn>(checkIns, "check_ins", checkInFrom)); });
    then([&] { return keep(f.rides, listOf<RideRecord>(rides, "rides", ride)); });
    if (!ok)
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
