// SPDX-License-Identifier: GPL-3.0-or-later
#include "formats/json/session_json.h"
#include "core/session/shorthand.h"

#include "formats/json/reader.h"

#include <QJsonArray>
#include <QJsonDocument>
#include <algorithm>

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

QJsonObject writeBlock(const SessionBlock& block, std::optional<double> thresholdPower, double lowThreshold) {
    const auto sum = [](const BlockSum& b) {
        return QJsonObject{{"stress", b.stress},
                           {"low_s", b.purpose.low},
                           {"middle_s", b.purpose.middle},
                           {"high_s", b.purpose.high}};
    };
    QJsonArray weeks, unmet;
    for (const BlockWeek& week : block.weeks) {
        QJsonArray sessions;
        for (const BlockSession& s : week.sessions) {
            QJsonObject o = s.ridden() ? writeSession(s.session, thresholdPower, lowThreshold)
                                       : QJsonObject{{"seconds", s.seconds}};
            o["date"] = QString::fromStdString(isoText(s.date));
            o["role"] = nameOf(s.role);
            o["family"] = QString::fromStdString(s.family);
            o["rung"] = s.rung > 0 ? QJsonValue(s.rung) : QJsonValue();
            o["title"] = QString::fromStdString(s.title);
            o["why"] = QString::fromStdString(s.why);
            o["note"] = QString::fromStdString(s.note);
            sessions.append(o);
        }
        weeks.append(QJsonObject{{"start", QString::fromStdString(isoText(week.start))},
                                 {"kind", nameOf(week.kind)},
                                 {"phase", nameOf(week.phase)},
                                 {"target", sum(week.target)},
                                 {"sum", sum(week.sum)},
                                 {"sessions", sessions}});
    }
    for (const std::string& sentence : block.unmet)
        unmet.append(QString::fromStdString(sentence));
    return {{"weeks", weeks}, {"unmet", unmet}};
}

Result<std::vector<DoneRung>> readDone(const QByteArray& json) {
    QJsonParseError wrong{};
    const QJsonDocument document = QJsonDocument::fromJson(json, &wrong);
    if (!document.isArray())
        return refuse(wrong.error != QJsonParseError::NoError
                          ? "is not JSON at byte " + std::to_string(wrong.offset)
                          : std::string("must be a list of {date, family, rung, finished}"));
    std::vector<DoneRung> all;
    const QJsonArray list = document.array();
    for (qsizetype i = 0; i < list.size(); ++i) {
        if (!list[i].isObject())
            return refuse("[" + std::to_string(i) + "]: must be an object");
        JsonReader in(list[i].toObject(), QString("[%1]").arg(i));
        DoneRung d;
        d.date = in.date("date");
        d.family = in.text("family").toStdString();
        d.rung = in.whole("rung", 1);
        d.finished = in.boolean("finished", true);
        const Family* family = familyNamed(d.family);
        if (!family)
            in.fail("family", "is not a family of sessions");
        else if (d.rung < 1 || d.rung > static_cast<int>(std::max<size_t>(1, family->rungs.size())))
            in.fail("rung", QString("must be 1 to %1").arg(std::max<size_t>(1, family->rungs.size())));
        if (auto ok = in.finish(); !ok)
            return tl::unexpected(ok.error());
        all.push_back(d);
    }
    std::stable_sort(all.begin(), all.end(),
                     [](const DoneRung& a, const DoneRung& b) { return a.date < b.date; });
    return all;
}

} // namespace marram
