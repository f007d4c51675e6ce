// SPDX-License-Identifier: GPL-3.0-or-later
#include "formats/json/session_json.h"
#include "core/session/shorthand.h"

#include <QJsonArray>

namespace marram {

QJsonObject writeSession(const Session& session, std::optional<double> thresholdPower, double lowThreshold) {
    const SessionFigures f = figuresOf(session, lowThreshold);
    const auto bands = [](const Bands& b) {
        return QJsonObject{{"low", b.low}, {"middle", b.middle}, {"high", b.high}};
    };
    QJsonArray zones, steps;
    for (const double z : f.zone)
        zones.append(z);
    for (const UnfoldedStep& s : f.steps) {
        const bool power = s.step.kind == TargetKind::Power;
        const auto whole = [](const std::optional<int>& v) { return v ? QJsonValue(*v) : QJsonValue(); };
        steps.append(QJsonObject{{"seconds", s.step.seconds},
                                 {"from", power ? QJsonValue(s.step.from) : QJsonValue()},
                                 {"to", power ? QJsonValue(s.step.to) : QJsonValue()},
                                 {"effort", power                               ? QJsonValue()
                                            : s.step.kind == TargetKind::AllOut ? QJsonValue(10)
                                                                                : QJsonValue(s.step.effort)},
                                 {"cadence_from", whole(s.step.cadenceFrom)},
                                 {"cadence_to", whole(s.step.cadenceTo)},
                                 {"work", s.work},
                                 {"set", s.set},
                                 {"note", QString::fromStdString(s.step.note)}});
    }
    return {
        {"shorthand", QString::fromStdString(writeShorthand(session))},
        {"seconds", f.seconds},
        {"stress", f.stress},
        {"work_kj", thresholdPower ? QJsonValue(f.mean * *thresholdPower * f.seconds / 1000) : QJsonValue()},
        {"band_seconds", bands(f.band)},
        {"purpose_seconds", bands(f.purpose)},
        {"zone_seconds", zones},
        {"steps", steps}};
}

} // namespace marram
