// SPDX-License-Identifier: GPL-3.0-or-later
#include "formats/json/score_json.h"

#include <QDateTime>
#include <QJsonArray>

namespace marram {
namespace {

QJsonValue orNull(const std::optional<double>& v) {
    return v ? QJsonValue(*v) : QJsonValue(QJsonValue::Null);
}

std::optional<double> optional(const QJsonValue& v) {
    return v.isDouble() ? std::optional(v.toDouble()) : std::nullopt;
}

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
    out["training_impulse"] = orNull(s.trainingImpulse);
    out["mean_hr_bpm"] = orNull(s.meanHeartRate);
    out["max_hr_bpm"] = orNull(s.maxHeartRate);
    out["efficiency"] = orNull(s.efficiency);
    out["drift_percent"] = orNull(s.drift);
    out["band_seconds"] = QJsonValue::Null;
    out["zone_seconds"] = QJsonValue::Null;
    out["hr_zone_seconds"] = QJsonValue::Null;
    if (s.heartRateZoneSeconds) {
        QJsonArray zones;
        for (const double z : *s.heartRateZoneSeconds)
            zones.append(z);
        out["hr_zone_seconds"] = zones;
    }
    if (s.bandSeconds)
        out["band_seconds"] = QJsonObject{
            {"low", s.bandSeconds->low}, {"middle", s.bandSeconds->middle}, {"high", s.bandSeconds->high}};
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

Score scoreFrom(const QJsonObject& in) {
    Score s;
    s.start = QDateTime::fromString(in["start"].toString(), Qt::ISODate).toSecsSinceEpoch();
    s.duration = in["duration_s"].toInt();
    s.elapsed = in["elapsed_s"].toInt();
    s.distance = optional(in["distance_m"]);
    s.work = optional(in["work_kj"]);
    s.meanPower = optional(in["mean_power_w"]);
    s.equivalentPower = optional(in["equivalent_power_w"]);
    s.relativeIntensity = optional(in["relative_intensity"]);
    s.stress = optional(in["stress"]);
    for (const StressMethod m : {StressMethod::Power, StressMethod::HeartRate, StressMethod::Effort})
        if (in["stress_method"].toString() == methodName(m))
            s.method = m;
    s.trainingImpulse = optional(in["training_impulse"]);
    s.meanHeartRate = optional(in["mean_hr_bpm"]);
    s.maxHeartRate = optional(in["max_hr_bpm"]);
    s.efficiency = optional(in["efficiency"]);
    s.drift = optional(in["drift_percent"]);
    if (in["band_seconds"].isObject()) {
        const QJsonObject b = in["band_seconds"].toObject();
        s.bandSeconds = Bands{b["low"].toDouble(), b["middle"].toDouble(), b["high"].toDouble()};
    }
    if (in["zone_seconds"].isArray()) {
        s.zoneSeconds.emplace();
        const QJsonArray zones = in["zone_seconds"].toArray();
        for (int i = 0; i < 7 && i < zones.size(); ++i)
            (*s.zoneSeconds)[static_cast<size_t>(i)] = zones[i].toDouble();
    }
    s.scale = in["scale"].toDouble(1);
    s.effort = optional(in["effort"]);
    s.heartRateStress = optional(in["heart_rate_stress"]);
    s.shortIntervals = in["short_intervals"].toBool();
    if (in["hr_zone_seconds"].isArray()) {
        s.heartRateZoneSeconds.emplace();
        const QJsonArray zones = in["hr_zone_seconds"].toArray();
        for (int i = 0; i < 5 && i < zones.size(); ++i)
            (*s.heartRateZoneSeconds)[static_cast<size_t>(i)] = zones[i].toDouble();
    }
    const QJsonObject f = in["faults"].toObject();
    s.faults = {f["power"].toInt(), f["heart_rate"].toInt(), f["clock"].toInt(),
                f["power_missing_s"].toInt()};
    return s;
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

Corrections correctionsFrom(const QJsonObject& in) {
    Corrections c;
    c.trimStart = in["trim_start_s"].toInt();
    c.trimEnd = in["trim_end_s"].toInt();
    const QJsonArray cuts = in["power_cuts_s"].toArray();
    for (const auto& each : cuts)
        c.powerCuts.push_back({each.toArray()[0].toInt(), each.toArray()[1].toInt()});
    return c;
}

} // namespace marram
