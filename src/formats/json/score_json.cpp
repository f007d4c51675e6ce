// SPDX-License-Identifier: GPL-3.0-or-later
#include "formats/json/score_json.h"
#include "core/words/phrase.h"

#include <QDateTime>
#include <QJsonArray>
#include <cmath>

namespace marram {
namespace {

QJsonValue orNull(const std::optional<double>& v) {
    return v ? QJsonValue(*v) : QJsonValue(QJsonValue::Null);
}

QJsonObject bandsObject(const Bands& b) {
    return {{"low", b.low}, {"middle", b.middle}, {"high", b.high}};
}

/// Reads figures one by one; remembers the first that can't be.
class Figures {
public:
    explicit Figures(const QJsonObject& in) : in_(in) {}

    std::optional<double> optional(const char* key, double least, double most) {
        const QJsonValue v = in_[QLatin1String(key)];
        if (v.isUndefined() || v.isNull())
            return std::nullopt;
        const double d = v.toDouble();
        check(key, v.isDouble() && std::isfinite(d) && d >= least && d <= most);
        return d;
    }
    double number(const char* key, double least, double most, double otherwise) {
        return optional(key, least, most).value_or(otherwise);
    }
    int whole(const char* key, int least, int most) {
        const double d = number(key, least, most, 0);
        check(key, d == std::floor(d));
        return problem_.empty() ? static_cast<int>(d) : 0;
    }
    std::optional<Bands> bands(const char* key) {
        const QJsonValue v = in_[QLatin1String(key)];
        if (v.isUndefined() || v.isNull())
            return std::nullopt;
        Figures f(v.toObject());
        const Bands b{f.number("low", 0, longestRide, 0), f.number("middle", 0, longestRide, 0),
                      f.number("high", 0, longestRide, 0)};
        check(key, v.isObject() && f.problem_.empty());
        return b;
    }
    template <size_t N>
    std::optional<std::array<double, N>> zones(const char* key) {
        const QJsonValue v = in_[QLatin1String(key)];
        if (v.isUndefined() || v.isNull())
            return std::nullopt;
        std::array<double, N> zones{};
        const QJsonArray list = v.toArray();
        check(key, v.isArray() && list.size() == static_cast<int>(N));
        for (size_t i = 0; i < N && static_cast<int>(i) < list.size(); ++i) {
            zones[i] = list[static_cast<int>(i)].toDouble(-1);
            check(key, zones[i] >= 0 && zones[i] <= longestRide);
        }
        return zones;
    }
    void check(const char* key, bool right) {
        if (!right && problem_.empty())
            problem_ = key;
    }
    const std::string& problem() const { return problem_; }

private:
    QJsonObject in_;
    std::string problem_;
};

} // namespace

QJsonObject writeScore(const Score& s, bool dated) {
    QJsonObject out;
    out["start"] = dated ? QJsonValue(QDateTime::fromSecsSinceEpoch(s.start, Qt::UTC).toString(Qt::ISODate))
                         : QJsonValue(QJsonValue::Null);
    out["duration_s"] = s.duration;
    out["elapsed_s"] = s.elapsed;
    out["distance_m"] = orNull(s.distance);
    out["work_kj"] = orNull(s.work);
    out["mean_power_w"] = orNull(s.meanPower);
    out["equivalent_power_w"] = orNull(s.equivalentPower);
    out["relative_intensity"] = orNull(s.relativeIntensity);
    out["stress"] = orNull(s.stress);
    out["stress_method"] =
        s.method == StressMethod::None ? QJsonValue(QJsonValue::Null) : QJsonValue(methodName(s.method));
    out["scale"] = s.scale;
    out["effort"] = orNull(s.effort);
    out["heart_rate_stress"] = orNull(s.heartRateStress);
    out["short_intervals"] = s.shortIntervals;
    out["intervals_seen"] = s.intervalsSeen;
    out["indoors"] = s.indoors;
    out["training_impulse"] = orNull(s.trainingImpulse);
    out["mean_hr_bpm"] = orNull(s.meanHeartRate);
    out["max_hr_bpm"] = orNull(s.maxHeartRate);
    out["efficiency"] = orNull(s.efficiency);
    out["drift_percent"] = orNull(s.drift);
    out["band_seconds"] = QJsonValue::Null;
    out["zone_seconds"] = QJsonValue::Null;
    out["purpose_seconds"] = s.purposeSeconds ? QJsonValue(bandsObject(*s.purposeSeconds)) : QJsonValue::Null;
    out["power_share"] = s.powerShare;
    out["heart_rate_share"] = s.heartRateShare;
    out["hr_zone_seconds"] = QJsonValue::Null;
    if (s.heartRateZoneSeconds) {
        QJsonArray zones;
        for (const double z : *s.heartRateZoneSeconds)
            zones.append(z);
        out["hr_zone_seconds"] = zones;
    }
    if (s.bandSeconds)
        out["band_seconds"] = bandsObject(*s.bandSeconds);
    if (s.zoneSeconds) {
        QJsonArray zones;
        for (const double z : *s.zoneSeconds)
            zones.append(z);
        out["zone_seconds"] = zones;
    }
    out["faults"] = QJsonObject{{"power", s.faults.power},
                                {"heart_rate", s.faults.heartRate},
                                {"clock", s.faults.clock},
                                {"power_missing_s", s.faults.powerMissing}};
    return out;
}

Result<Score> scoreFrom(const QJsonObject& in) {
    constexpr double far = 1e12;
    Figures f(in);
    Score s;
    const QDateTime start = QDateTime::fromString(in["start"].toString(), Qt::ISODate);
    f.check("start",
            start.isValid() && start.toSecsSinceEpoch() >= 0 && start.toSecsSinceEpoch() < 5000000000);
    s.start = start.isValid() ? start.toSecsSinceEpoch() : 0;
    s.duration = f.whole("duration_s", 0, longestRide);
    s.elapsed = f.whole("elapsed_s", 0, longestRide);
    f.check("elapsed_s", s.elapsed >= s.duration);
    s.distance = f.optional("distance_m", 0, far);
    s.work = f.optional("work_kj", 0, far);
    s.meanPower = f.optional("mean_power_w", 0, far);
    s.equivalentPower = f.optional("equivalent_power_w", 0, far);
    s.relativeIntensity = f.optional("relative_intensity", 0, far);
    s.stress = f.optional("stress", 0, far);
    const QJsonValue method = in["stress_method"];
    for (const StressMethod m : {StressMethod::Power, StressMethod::HeartRate, StressMethod::Effort})
        if (method.toString() == methodName(m))
            s.method = m;
    f.check("stress_method", method.isNull() || method.isUndefined() || s.method != StressMethod::None);
    s.trainingImpulse = f.optional("training_impulse", 0, far);
    s.meanHeartRate = f.optional("mean_hr_bpm", 0, 300);
    s.maxHeartRate = f.optional("max_hr_bpm", 0, 300);
    s.efficiency = f.optional("efficiency", 0, far);
    s.drift = f.optional("drift_percent", -far, far);
    s.bandSeconds = f.bands("band_seconds");
    s.purposeSeconds = f.bands("purpose_seconds");
    s.zoneSeconds = f.zones<7>("zone_seconds");
    s.heartRateZoneSeconds = f.zones<5>("hr_zone_seconds");
    s.scale = f.number("scale", 0, 1e6, 1);
    s.effort = f.optional("effort", 0, 10);
    s.heartRateStress = f.optional("heart_rate_stress", 0, far);
    s.powerShare = f.number("power_share", 0, 1, s.relativeIntensity ? 1 : 0);
    s.heartRateShare = f.number("heart_rate_share", 0, 1, s.heartRateStress ? 1 : 0);
    s.shortIntervals = in["short_intervals"].toBool();
    s.intervalsSeen = in["intervals_seen"].toBool();
    s.indoors = in["indoors"].toBool();
    Figures faults(in["faults"].toObject());
    s.faults = {faults.whole("power", 0, longestRide), faults.whole("heart_rate", 0, longestRide),
                faults.whole("clock", 0, longestRide), faults.whole("power_missing_s", 0, longestRide)};
    f.check("faults", faults.problem().empty());
    if (!f.problem().empty())
        return refuse(phrase("%1: holds what can't be", f.problem()));
    return s;
}

QJsonObject writeScales(const Scales& scales) {
    QJsonObject out;
    const auto put = [&](const char* key, const std::optional<LearnedScale>& s) {
        if (!s)
            return;
        const auto error = [](const ScaleError& e) {
            return QJsonObject{{"deviation", e.deviation}, {"rides", e.rides}};
        };
        out[key] = QJsonObject{{"factor", s->factor},
                               {"rides", s->rides},
                               {"all", error(s->all)},
                               {"steady", error(s->steady)},
                               {"uneven", error(s->uneven)}};
    };
    put("heart_rate", scales.heartRate);
    put("effort", scales.effort);
    return out;
}

Result<Scales> scalesFrom(const QJsonObject& in) {
    Scales scales;
    for (const auto& [key, to] : {std::pair{"heart_rate", &scales.heartRate}, {"effort", &scales.effort}}) {
        const QJsonObject o = in[QLatin1String(key)].toObject();
        if (o.isEmpty())
            continue;
        Figures f(o);
        LearnedScale s;
        s.factor = f.number("factor", 1e-6, 100, 0);
        s.rides = f.whole("rides", 0, 1000000);
        for (const auto& [kind, error] :
             {std::pair{"all", &s.all}, {"steady", &s.steady}, {"uneven", &s.uneven}}) {
            Figures e(o[QLatin1String(kind)].toObject());
            *error = {e.number("deviation", 0, 100, 0), e.whole("rides", 0, 1000000)};
            f.check(kind, e.problem().empty());
        }
        if (o.contains("error")) // before kinds were told apart
            s.all = {std::log1p(f.number("error", 0, 100, 0)), s.rides};
        f.check("factor", s.factor > 0);
        if (!f.problem().empty())
            return refuse(phrase("%1.%2: holds what can't be", std::string(key), f.problem()));
        *to = s;
    }
    return scales;
}

QJsonObject writeCorrections(const Corrections& c) {
    QJsonObject out;
    if (c.trimStart > 0)
        out["trim_start_s"] = c.trimStart;
    if (c.trimEnd > 0)
        out["trim_end_s"] = c.trimEnd;
    QJsonArray cuts;
    for (const Stretch& s : c.powerCuts)
        cuts.append(QJsonArray{s.begin, s.end});
    if (!cuts.isEmpty())
        out["power_cuts_s"] = cuts;
    return out;
}

Result<Corrections> correctionsFrom(const QJsonObject& in) {
    Figures f(in);
    Corrections c;
    c.trimStart = f.whole("trim_start_s", 0, longestRide);
    c.trimEnd = f.whole("trim_end_s", 0, longestRide);
    const QJsonValue cuts = in["power_cuts_s"];
    f.check("power_cuts_s", cuts.isUndefined() || cuts.isArray());
    const QJsonArray list = cuts.toArray();
    for (const auto& each : list) {
        const QJsonArray pair = each.toArray();
        const double begin = pair[0].toDouble(-1), end = pair[1].toDouble(-1);
        const bool right =
            each.isArray() && pair.size() == 2 && begin >= 0 && end > begin && end <= longestRide;
        f.check("power_cuts_s", right);
        if (right)
            c.powerCuts.push_back({static_cast<int>(begin), static_cast<int>(end)});
    }
    if (!f.problem().empty())
        return refuse(f.problem() + (f.problem() == "power_cuts_s"
                                         ? ": must be pairs of seconds from the start, the first smaller"
                                         : ": must be whole seconds of the ride"));
    return c;
}

} // namespace marram
