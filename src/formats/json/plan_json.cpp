// SPDX-License-Identifier: GPL-3.0-or-later
#include "formats/json/season_json.h"

#include <QJsonArray>
#include <QJsonDocument>

namespace marram {
namespace {

QString iso(Date date) {
    return QString::fromStdString(isoText(date));
}

QJsonObject weekObject(const PlannedWeek& w) {
    return {{"start", iso(w.start)},
            {"kind", nameOf(w.kind)},
            {"phase", nameOf(w.phase)},
            {"stress", w.stress},
            {"hours", w.hours},
            {"low_h", w.bandHours.low},
            {"middle_h", w.bandHours.middle},
            {"high_h", w.bandHours.high},
            {"fitness", w.fitness},
            {"fatigue", w.fatigue}};
}

QJsonObject dayObject(const PlannedDay& d) {
    return {{"date", iso(d.date)},  {"role", nameOf(d.role)}, {"stress", d.stress}, {"hours", d.hours},
            {"fitness", d.fitness}, {"fatigue", d.fatigue},   {"form", d.form}};
}

QJsonObject raceObject(const PlannedRace& r) {
    QJsonObject out{{"name", QString::fromStdString(r.name)},
                    {"date", iso(r.date)},
                    {"priority", nameOf(r.priority)},
                    {"form", r.form},
                    {"fitness", r.fitness},
                    {"gate", QJsonValue::Null},
                    {"gate_miss", QJsonValue::Null}};
    out["expected_form"] = r.expectedForm;
    out["expected_fitness"] = r.expectedFitness;
    out["form_sd"] = r.formDeviation;
    out["chance"] = r.chance ? QJsonValue(*r.chance) : QJsonValue();
    if (r.gate) {
        out["gate"] = QJsonArray{r.gate->low, r.gate->high};
        out["gate_miss"] = r.gateMiss;
    }
    return out;
}

template <class T, class Write>
QJsonArray listOf(const std::vector<T>& all, Write write) {
    QJsonArray out;
    for (const T& each : all)
        out.append(write(each));
    return out;
}

} // namespace

QByteArray writePlan(const Plan& plan) {
    QJsonObject out;
    out["weeks"] = listOf(plan.weeks, weekObject);
    out["days"] = listOf(plan.days, dayObject);
    out["races"] = listOf(plan.races, raceObject);
    out["limits"] = listOf(plan.limits, [](const Limit& l) {
        return QJsonObject{
            {"text", QString::fromStdString(l.text)},
            {"unit", QString::fromStdString(l.unit)},
            {"fitness_per_unit", l.fitnessPerUnit},
            {"week", l.weekly ? QJsonValue(iso(l.from)) : QJsonValue()},
            {"takes", l.takes.empty() ? QJsonValue() : QJsonValue(QString::fromStdString(l.takes))}};
    });
    out["relaxed"] = listOf(plan.relaxed, [](const Relaxed& r) {
        return QJsonObject{{"text", QString::fromStdString(r.text)}, {"amount", r.amount}};
    });
    out["warnings"] =
        listOf(plan.warnings, [](const std::string& w) { return QJsonValue(QString::fromStdString(w)); });
    out["objective"] = plan.objective;
    return QJsonDocument(out).toJson();
}

} // namespace marram
