// SPDX-License-Identifier: GPL-3.0-or-later
#include "formats/json/session_json.h"
#include "core/session/shorthand.h"
#include "core/words/phrase.h"

#include "formats/json/reader.h"
#include "wording/wording.h"

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

QJsonObject writeFamily(const Family& f) {
    const auto list = [](const std::vector<std::string>& all) {
        QJsonArray out;
        for (const std::string& text : all)
            out.append(QString::fromStdString(text));
        return out;
    };
    return {{"name", QString::fromStdString(f.name)},
            {"purpose", QString::fromStdString(f.purpose)},
            {"grows", QString::fromStdString(f.grows)},
            {"stop", QString::fromStdString(f.stop)},
            {"caution", QString::fromStdString(f.caution)},
            {"rungs", list(f.rungs)},
            {"phases", list(f.phases)},
            {"not_with", list(f.notWith)}};
}

Result<Family> readFamily(const QJsonObject& object, const QString& where) {
    static constexpr std::array<std::string_view, 4> phases{"transition", "base", "build", "specialise"};
    JsonReader in(object, where);
    Family f;
    const auto text = [&](const char* key) {
        const QString value = in.has(key) ? in.text(key).trimmed() : QString();
        if (value.size() > 1000)
            in.fail(key, marked("must be at most 1000 characters"));
        return value.toStdString();
    };
    const auto list = [&](const char* key) {
        std::vector<std::string> all;
        if (!in.has(key))
            return all;
        const QJsonArray array = in.array(key);
        for (const auto& each : array) {
            if (!each.isString() || array.size() > 40 || each.toString().size() > 1000) {
                in.fail(key, marked("must be a list of at most 40 texts of at most 1000 characters"));
                break;
            }
            all.push_back(each.toString().toStdString());
        }
        return all;
    };
    f.name = in.text("name").trimmed().toStdString();
    f.purpose = text("purpose");
    f.grows = text("grows");
    f.stop = text("stop");
    f.caution = text("caution");
    f.rungs = list("rungs");
    f.phases = list("phases");
    f.notWith = list("not_with");
    for (const std::string& phase : f.phases)
        if (std::find(phases.begin(), phases.end(), phase) == phases.end())
            in.fail("phases", marked("must be some of transition, base, build, specialise"));
    f.own = true;
    if (auto ok = in.finish(); !ok)
        return tl::unexpected(ok.error());
    if (auto ok = readRungs(f); !ok)
        return refuse((where.isEmpty() ? "" : where.toStdString() + ".") + ok.error().sentence);
    return f;
}

QByteArray writeFamilies(const std::vector<Family>& all) {
    QJsonArray list;
    for (const Family& f : all)
        list.append(writeFamily(f));
    return QJsonDocument(QJsonObject{{"families", list}}).toJson();
}

Result<std::vector<Family>> readFamilies(const QByteArray& json) {
    const auto object = parseJsonObject(json);
    if (!object)
        return tl::unexpected(object.error());
    JsonReader in(*object, {});
    const QJsonArray list = in.array("families");
    if (auto ok = in.finish(); !ok)
        return tl::unexpected(ok.error());
    if (list.size() > static_cast<qsizetype>(mostOwnFamilies))
        return refuse(phrase("families: %1 are too many; at most %2", std::to_string(list.size()),
                             std::to_string(mostOwnFamilies)));
    std::vector<Family> all;
    for (qsizetype i = 0; i < list.size(); ++i) {
        const QString where = QString("families[%1]").arg(i);
        if (!list[i].isObject())
            return refuse(phrase("%1: must be an object", where.toStdString()));
        auto family = readFamily(list[i].toObject(), where);
        if (!family)
            return tl::unexpected(family.error());
        for (const Family& other : all)
            if (other.name == family->name)
                return refuse(phrase("%1.name: \"%2\" comes twice", where.toStdString(), other.name));
        all.push_back(std::move(*family));
    }
    return all;
}

namespace {

tl::unexpected<Problem> wrong(const QString& where, const char* what) {
    return refuse(phrase("%1: %2", where.toStdString(), what));
}

Result<BlockSession> readSession(const QString& at, const QJsonObject& each, double lowThreshold) {
    BlockSession s;
    const auto day = parseDate(each.value("date").toString().toStdString());
    if (!day)
        return wrong(at + ".date", "must be a day, as 2027-03-01");
    s.date = *day;
    const auto role = named(
        each.value("role").toString().toStdString(),
        {Role::Rest, Role::Easy, Role::Long, Role::Hard, Role::Gym, Role::Test, Role::Openers, Role::Race});
    if (!role)
        return wrong(at + ".role", "must be a role of a day");
    s.role = *role;
    s.family = each.value("family").toString().toStdString();
    s.title = each.value("title").toString().toStdString();
    s.why = each.value("why").toString().toStdString();
    s.note = each.value("note").toString().toStdString();
    s.rung = each.value("rung").toInt(0);
    s.seconds = each.value("seconds").toInt(0);
    if (each.contains("shorthand")) {
        auto read = readShorthand(each.value("shorthand").toString().toStdString());
        if (!read)
            return wrong(at + ".shorthand", read.error().sentence.c_str());
        s.session = std::move(*read);
        s.figures = figuresOf(s.session, lowThreshold);
        s.seconds = s.figures.seconds;
    }
    return s;
}

} // namespace

Result<SessionBlock> readBlock(const QByteArray& json, double lowThreshold) {
    const auto object = parseJsonObject(json);
    if (!object)
        return tl::unexpected(object.error());
    if (!object->value("weeks").isArray())
        return refuse(phrase("weeks: is missing; it must be what `block` printed"));
    SessionBlock block;
    const QJsonArray weeks = object->value("weeks").toArray();
    for (qsizetype w = 0; w < weeks.size(); ++w) {
        const QString place = QString("weeks[%1]").arg(w);
        const QJsonObject o = weeks[w].toObject();
        BlockWeek week;
        const auto start = parseDate(o.value("start").toString().toStdString());
        if (!start)
            return wrong(place + ".start", "must be a day, as 2027-03-01");
        week.start = *start;
        const auto kind = named(o.value("kind").toString().toStdString(),
                                {WeekKind::Build, WeekKind::Deload, WeekKind::Taper, WeekKind::Race,
                                 WeekKind::Recovery, WeekKind::Transition, WeekKind::Break, WeekKind::Camp});
        const auto phase = named(o.value("phase").toString().toStdString(),
                                 {Phase::Transition, Phase::Base, Phase::Build, Phase::Specialise,
                                  Phase::Taper, Phase::Race, Phase::Break});
        if (!kind || !phase)
            return wrong(place, "kind and phase must be those of a week");
        week.kind = *kind;
        week.phase = *phase;
        week.target.stress = o.value("target").toObject().value("stress").toDouble(0);
        const QJsonArray sessions = o.value("sessions").toArray();
        for (qsizetype i = 0; i < sessions.size(); ++i) {
            auto read =
                readSession(place + QString(".sessions[%1]").arg(i), sessions[i].toObject(), lowThreshold);
            if (!read)
                return tl::unexpected(read.error());
            if (read->family == "long ride" && read->rung > 0 && !read->session.items.empty()) {
                const Family* family = familyNamed("long ride");
                if (family && static_cast<size_t>(read->rung) <= family->work.size())
                    week.longTempo = figuresOf(family->work[static_cast<size_t>(read->rung) - 1]).seconds;
            }
            week.sessions.push_back(std::move(*read));
        }
        block.weeks.push_back(std::move(week));
    }
    return block;
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
            return refuse(phrase("[%1]: must be an object", std::to_string(i)));
        JsonReader in(list[i].toObject(), QString("[%1]").arg(i));
        DoneRung d;
        d.date = in.date("date");
        d.family = in.text("family").toStdString();
        d.rung = in.whole("rung", 1);
        d.finished = in.boolean("finished", true);
        const Family* family = familyNamed(d.family);
        if (!family)
            in.fail("family", marked("is not a family of sessions"));
        else if (d.rung < 1 || d.rung > static_cast<int>(std::max<size_t>(1, family->rungs.size())))
            in.fail("rung",
                    wording("must be 1 to %1", QString::number(std::max<size_t>(1, family->rungs.size()))));
        if (auto ok = in.finish(); !ok)
            return tl::unexpected(ok.error());
        all.push_back(d);
    }
    std::stable_sort(all.begin(), all.end(),
                     [](const DoneRung& a, const DoneRung& b) { return a.date < b.date; });
    return all;
}

} // namespace marram
