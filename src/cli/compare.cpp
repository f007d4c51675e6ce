// SPDX-License-Identifier: GPL-3.0-or-later
#include "cli/reading.h"
#include "cli/verbs.h"
#include "formats/csv/lines.h"
#include "formats/json/reader.h"
#include "formats/json/season_json.h"

#include <QFileInfo>
#include <QJsonDocument>
#include <algorithm>
#include <cmath>

namespace marram::cli {
namespace {

QByteArray cell(const std::string& text) {
    return csvCell(QByteArray::fromStdString(text));
}

/// Columns of the races of all variants, each once, in the order they first come.
struct RaceColumns {
    std::vector<std::string> names;
    void add(const Plan& plan) {
        for (const PlannedRace& race : plan.races)
            if (race.priority != Priority::C &&
                std::find(names.begin(), names.end(), race.name) == names.end())
                names.push_back(race.name);
    }
};

struct Variant {
    std::string name;
    Season season;
    Plan plan;
    std::optional<Plan> equal; ///< at the stress of the first variant
};

QByteArray comparison(const std::vector<Variant>& variants) {
    RaceColumns columns;
    for (const Variant& v : variants)
        columns.add(v.plan);
    QByteArray out = "variant,hours,stress,low_h,middle_h,high_h,hard_days,largest_ramp,deepest_form";
    for (const std::string& name : columns.names)
        for (const char* what : {"form ", "fitness ", "gate_miss "})
            out += ',' + cell(what + name);
    const bool equal = !variants.empty() && variants.front().equal.has_value();
    if (equal) {
        out += ",high_min_a_week,monotony,strain";
        for (const std::string& name : columns.names)
            for (const auto& [before, after] : {std::pair{"chance ", ""}, {"fitness ", " at equal stress"}})
                out += ',' + cell(before + name + after);
        out += ",hours at equal stress";
    }
    out += '\n';
    for (const Variant& v : variants) {
        const Summary s = summarise(v.season, v.plan);
        out += cell(v.name);
        for (const double figure : {s.hours, s.stress, s.bandHours.low, s.bandHours.middle, s.bandHours.high})
            out += ',' + full(figure);
        out += ',' + QByteArray::number(s.hardDays) + ',' + full(s.largestRamp) + ',' + full(s.deepestForm);
        for (const std::string& name : columns.names) {
            const auto race = std::find_if(s.races.begin(), s.races.end(), [&](const PlannedRace& r) {
                return r.name == name && r.priority != Priority::C;
            });
            if (race == s.races.end())
                out += ",,,";
            else
                out += ',' + full(race->form) + ',' + full(race->fitness) + ',' +
                       (race->gate ? full(race->gateMiss) : QByteArray());
        }
        if (equal) {
            const Summary even = summarise(v.season, *v.equal);
            out += ',' + full(s.highMinutesAWeek) + ',' + full(s.monotony) + ',' + full(s.strain);
            for (const std::string& name : columns.names)
                for (const auto* races : {&s.races, &even.races}) {
                    const auto race = std::find_if(races->begin(), races->end(), [&](const PlannedRace& r) {
                        return r.name == name && r.priority != Priority::C;
                    });
                    out += ',';
                    if (race != races->end())
                        out += races == &even.races ? full(race->fitness)
                               : race->chance       ? full(*race->chance)
                                                    : QByteArray();
                }
            out += ',' + full(even.hours);
        }
        out += '\n';
    }
    return out;
}

} // namespace

Result<QByteArray> compare(const QString& file, const std::vector<std::string>& rules, bool equalStress) {
    const auto base = readAs(file, parseJsonObject);
    if (!base)
        return tl::unexpected(base.error());
    std::vector<Variant> variants;
    const auto add = [&](const std::string& name, const QString& from,
                         const QJsonObject& object) -> Result<void> {
        const auto season = ofFile(from, readSeason(QJsonDocument(object).toJson()));
        if (!season)
            return tl::unexpected(season.error());
        variants.push_back({name, *season, {}, {}});
        return {};
    };
    if (auto ok = add("as it is", file, *base); !ok)
        return tl::unexpected(ok.error());
    for (const std::string& path : rules) {
        const QString from = QString::fromStdString(path);
        const auto over = readAs(from, parseJsonObject);
        if (!over)
            return tl::unexpected(over.error());
        const auto merged = ofFile(from, laidOver(*base, *over));
        if (!merged)
            return tl::unexpected(merged.error());
        if (auto ok = add(QFileInfo(from).completeBaseName().toStdString(), from, *merged); !ok)
            return tl::unexpected(ok.error());
    }
    for (Variant& v : variants)
        v.plan = solveSeason(v.season).plan;
    if (equalStress) {
        for (Variant& v : variants)
            v.equal = planAtStress(v.season, v.plan, variants.front().plan);
        std::fprintf(
            stderr,
            "Between schools compare fitness at equal stress: this model counts stress and cannot rank "
            "schools.\n");
    }
    return comparison(variants);
}

} // namespace marram::cli
