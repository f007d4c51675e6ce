// SPDX-License-Identifier: GPL-3.0-or-later
#include "cli/learn.h"
#include "core/learn/before.h"
#include "core/learn/change.h"
#include "core/learn/gate.h"
#include "core/learn/habits.h"
#include "core/learn/values.h"
#include "formats/csv/csv.h"
#include "formats/csv/lines.h"
#include "formats/files/files.h"
#include "formats/recording/archive.h"
#include "formats/recording/recording.h"

#include <QDateTime>
#include <QFileInfo>
#include <QJsonArray>
#include <QJsonDocument>
#include <QJsonObject>
#include <cmath>
#include <thread>

namespace marram::cli {
namespace {

QString iso(Date d) {
    return QString::fromStdString(isoText(d));
}

QJsonObject banded(const Banded& b) {
    return {{"value", b.value}, {"low", b.low}, {"high", b.high}};
}

/// A CSV file by the names of its columns.
struct Table {
    QString file;
    QByteArrayList columns;
    struct Row {
        int line = 0;
        QByteArrayList cells;
    };
    std::vector<Row> rows;

    int column(const char* name) const { return static_cast<int>(columns.indexOf(name)); }
    tl::unexpected<Problem> wrong(const Row& row, const std::string& what) const {
        return refuse(file.toStdString() + ": line " + std::to_string(row.line) + ": " + what);
    }
    Result<Date> date(const Row& row, int column) const {
        const auto day = parseDate(row.cells[column].toStdString());
        if (!day)
            return wrong(row, "\"" + row.cells[column].left(30).toStdString() +
                                  "\" is not a day; a date reads like 2027-01-04");
        return *day;
    }
    Result<double> number(const Row& row, int column) const {
        bool ok = false;
        const double v = row.cells[column].toDouble(&ok);
        if (!ok || !std::isfinite(v) || std::abs(v) > 1e9)
            return wrong(row, "\"" + row.cells[column].left(30).toStdString() + "\" under " +
                                  columns[column].toStdString() + " is not a number");
        return v;
    }
};

Result<Table> readTable(const QString& file, const QByteArrayList& needed) {
    const auto bytes = readWholeFile(file);
    if (!bytes)
        return tl::unexpected(bytes.error());
    if (!bytes->isValidUtf8())
        return refuse(file.toStdString() + ": is not in UTF-8; save it as UTF-8");
    Table t;
    t.file = file;
    CsvLines lines(*bytes);
    QByteArrayList cells;
    constexpr size_t most = 1000000;
    while (lines.next(cells)) {
        if (t.columns.isEmpty()) {
            for (const QByteArray& c : cells)
                t.columns << c.trimmed().toLower();
            for (const QByteArray& name : needed)
                if (!t.columns.contains(name))
                    return refuse(file.toStdString() + ": line 1: the header should name " +
                                  needed.join(',').toStdString());
            continue;
        }
        if (cells.size() != t.columns.size())
            return refuse(file.toStdString() + ": line " + std::to_string(lines.line()) + ": " +
                          std::to_string(cells.size()) + " cells where the header names " +
                          std::to_string(t.columns.size()));
        if (t.rows.size() == most)
            return refuse(file.toStdString() + ": holds more than a million lines");
        t.rows.push_back({lines.line(), cells});
    }
    if (t.columns.isEmpty())
        return refuse(file.toStdString() + ": is empty; its first line should name " +
                      needed.join(',').toStdString());
    return t;
}

QByteArray text(const QJsonObject& object) {
    return QJsonDocument(object).toJson();
}

QJsonObject learnt(const LearntValue& v) {
    QJsonArray rides;
    for (const std::string& r : v.rides)
        rides.append(QString::fromStdString(r));
    return {{"from", iso(v.from)},   {"value", v.value},
            {"low", v.low},          {"high", v.high ? QJsonValue(*v.high) : QJsonValue()},
            {"at_least", v.atLeast}, {"why", QString::fromStdString(v.why)},
            {"rides", rides}};
}

} // namespace

Result<QByteArray> learnFromRides(const std::vector<std::string>& files) {
    std::vector<QString> paths;
    QJsonArray leftOut;
    const auto leave = [&](const QString& file, const QString& why) {
        leftOut.append(QJsonObject{{"file", file}, {"why", why}});
    };
    for (const std::string& f : files) {
        const auto name = fileNameFrom(f);
        if (!name)
            return tl::unexpected(name.error());
        if (QFileInfo(*name).isDir())
            for (const QString& each : recordingsBelow(*name).files)
                paths.push_back(each);
        else if (!QFileInfo::exists(*name))
            return refuse(f + ": does not exist");
        else {
            const FoundFiles found = unfolded({*name});
            paths.insert(paths.end(), found.files.begin(), found.files.end());
            for (const QString& sentence : found.refused)
                leave(*name, sentence);
        }
    }
    // Each file by itself, on all cores.
    std::vector<std::optional<RideFacts>> facts(paths.size());
    std::vector<std::string> refusals(paths.size());
    std::atomic<size_t> next = 0;
    const auto work = [&] {
        for (size_t i = next++; i < paths.size(); i = next++) {
            try {
                const auto bytes = readRecordingFile(paths[i]);
                auto recording =
                    bytes ? readRecording(*bytes) : Result<Recording>(tl::unexpected(bytes.error()));
                if (!recording) {
                    refusals[i] = recording.error().sentence;
                    continue;
                }
                if (recording->otherSport) {
                    refusals[i] = "is " + *recording->otherSport + ", not riding";
                    continue;
                }
                if (!recording->dated) {
                    refusals[i] = "its times count from the start only, so its day is unknown";
                    continue;
                }
                const auto ride = toGrid(*recording);
                if (!ride) {
                    refusals[i] = "has no sample with a usable time";
                    continue;
                }
                const qint64 local = ride->start + recording->utcOffset.value_or(0);
                const Date day{static_cast<int>(local >= 0 ? local / 86400 : (local - 86399) / 86400)};
                facts[i] = factsOf(paths[i].toStdString(), *ride, day);
            } catch (const std::exception& e) {
                refusals[i] = std::string("could not be read (") + e.what() + ")";
            }
        }
    };
    std::vector<std::thread> threads;
    for (unsigned t = 1; t < std::max(1U, std::thread::hardware_concurrency()); ++t)
        threads.emplace_back(work);
    work();
    for (std::thread& t : threads)
        t.join();
    std::vector<RideFacts> rides;
    for (size_t i = 0; i < paths.size(); ++i)
        if (facts[i])
            rides.push_back(std::move(*facts[i]));
        else
            leave(paths[i], QString::fromStdString(refusals[i]));
    const LearntValues v = learnValues(std::move(rides));
    QJsonArray power, beats, hours, gaps, meters;
    for (const LearntValue& each : v.thresholdPower)
        power.append(learnt(each));
    for (const LearntValue& each : v.thresholdHeartRate)
        beats.append(learnt(each));
    for (const double h : v.hours)
        hours.append(h);
    for (const auto& gap : v.gaps)
        gaps.append(QJsonObject{{"from", iso(gap.from)}, {"to", iso(gap.to)}});
    for (const auto& m : v.meterChanges)
        meters.append(QJsonObject{{"date", iso(m.day)}, {"step_percent", m.stepPercent}});
    return text({{"threshold_power_w", power},
                 {"threshold_hr_bpm", beats},
                 {"max_hr_bpm", v.maxHeartRate ? QJsonValue(QJsonObject{
                                                     {"value", v.maxHeartRate->value},
                                                     {"why", QString::fromStdString(v.maxHeartRate->why)}})
                                               : QJsonValue()},
                 {"hours", hours},
                 {"usual_week_h", v.usualWeek},
                 {"longest_ride_h", v.longestRide},
                 {"gaps", gaps},
                 {"meter_changes", meters},
                 {"rides", v.rides},
                 {"left_out", leftOut}});
}

Result<QByteArray> learnFromResults(const QString& daily, const QString& results,
                                    const std::vector<std::string>& at, std::uint64_t seed) {
    const auto bytes = readWholeFile(daily);
    if (!bytes)
        return tl::unexpected(bytes.error());
    const auto days = readDailyStress(*bytes);
    if (!days)
        return refuse(daily.toStdString() + ": " + days.error().sentence);
    const auto table = readTable(results, {"date", "value"});
    if (!table)
        return tl::unexpected(table.error());
    std::vector<TestPoint> points;
    for (const Table::Row& row : table->rows) {
        const auto day = table->date(row, table->column("date"));
        if (!day)
            return tl::unexpected(day.error());
        const auto value = table->number(row, table->column("value"));
        if (!value)
            return tl::unexpected(value.error());
        points.push_back({*day, *value});
    }
    std::vector<Date> when;
    for (const std::string& each : at) {
        const auto day = parseDate(each);
        if (!day)
            return refuse("--at: \"" + each + "\" is not a day; a date reads like 2027-01-04");
        when.push_back(*day);
    }
    const auto r = learnResponse(*days, points, when, seed);
    if (!r)
        return r.error().sentence.starts_with("--")
                   ? tl::unexpected(r.error())
                   : refuse(results.toStdString() + ": " + r.error().sentence);
    QJsonArray forecast;
    for (const Response::Forecast& f : r->forecasts)
        forecast.append(QJsonObject{{"date", iso(f.day)},
                                    {"value", f.able.value},
                                    {"low", f.able.low},
                                    {"high", f.able.high},
                                    {"result_low", f.result.low},
                                    {"result_high", f.result.high}});
    return text({{"gain_fitness", banded(r->gainFitness)},
                 {"gain_fatigue", banded(r->gainFatigue)},
                 {"forecast", forecast},
                 {"score", QJsonObject{{"no_change", r->score.noChange},
                                       {"usual_gains", r->score.usualGains},
                                       {"learnt", r->score.learnt}}},
                 {"enough", r->enough},
                 {"why", QString::fromStdString(r->why)}});
}

Result<QByteArray> learnFromForm(const QString& results) {
    const auto table = readTable(results, {"form", "result_percent"});
    if (!table)
        return tl::unexpected(table.error());
    std::vector<FormResult> all;
    const int fitness = table->column("fitness");
    for (const Table::Row& row : table->rows) {
        FormResult r;
        const auto form = table->number(row, table->column("form"));
        const auto percent = table->number(row, table->column("result_percent"));
        if (!form || !percent)
            return tl::unexpected(form ? percent.error() : form.error());
        r.form = *form;
        r.percent = *percent;
        if (fitness >= 0 && !row.cells[fitness].isEmpty()) {
            const auto f = table->number(row, fitness);
            if (!f)
                return tl::unexpected(f.error());
            r.fitness = *f;
        }
        all.push_back(r);
    }
    const auto gate = learnGate(all);
    if (!gate)
        return refuse(results.toStdString() + ": " + gate.error().sentence);
    return text({{"optimum", banded(gate->optimum)},
                 {"width_ratio", gate->widthRatio},
                 {"yours", gate->yours},
                 {"why", QString::fromStdString(gate->why)}});
}

Result<QByteArray> learnFromBestDays(const QString& days) {
    const auto table = readTable(days, {"date", "maximal", "best"});
    if (!table)
        return tl::unexpected(table.error());
    std::vector<std::string> features;
    std::vector<int> places;
    for (int c = 0; c < table->columns.size(); ++c)
        if (const QByteArray& name = table->columns[c];
            name != "date" && name != "maximal" && name != "best") {
            features.push_back(name.toStdString());
            places.push_back(c);
        }
    if (features.empty())
        return refuse(days.toStdString() +
                      ": line 1: the header should name features after date,maximal,best");
    std::vector<FeatureDay> all;
    for (const Table::Row& row : table->rows) {
        FeatureDay d;
        const auto day = table->date(row, table->column("date"));
        if (!day)
            return tl::unexpected(day.error());
        d.day = *day;
        for (const auto& [name, flag] : {std::pair{"maximal", &d.maximal}, {"best", &d.best}}) {
            const auto v = table->number(row, table->column(name));
            if (!v || (*v != 0 && *v != 1))
                return table->wrong(row, std::string(name) + " must be 0 or 1");
            *flag = *v == 1;
        }
        for (const int place : places) {
            if (row.cells[place].isEmpty()) {
                d.features.push_back(std::nan(""));
                continue;
            }
            const auto v = table->number(row, place);
            if (!v)
                return tl::unexpected(v.error());
            d.features.push_back(*v);
        }
        all.push_back(std::move(d));
    }
    const BestDays found = learnBefore(std::move(all), features);
    QJsonArray findings;
    for (const auto& f : found.findings)
        findings.append(QJsonObject{{"feature", QString::fromStdString(f.feature)},
                                    {"direction", f.direction > 0 ? "higher" : "lower"},
                                    {"p", f.p}});
    return text({{"findings", findings},
                 {"cannot_tell", found.cannotTell},
                 {"why", QString::fromStdString(found.why)}});
}

Result<QByteArray> learnFromEfforts(const QString& efforts, const std::string& split, std::uint64_t seed) {
    const auto when = parseDate(split);
    if (!when)
        return refuse("--split: must be a day, as 2027-03-01");
    const auto table = readTable(efforts, {"date", "duration_s", "power_w"});
    if (!table)
        return tl::unexpected(table.error());
    std::vector<DatedEffort> all;
    for (const Table::Row& row : table->rows) {
        const auto day = table->date(row, table->column("date"));
        if (!day)
            return tl::unexpected(day.error());
        const auto seconds = table->number(row, table->column("duration_s")),
                   power = table->number(row, table->column("power_w"));
        if (!seconds || !power)
            return tl::unexpected(seconds ? power.error() : seconds.error());
        if (!(*seconds >= 1 && *seconds <= 86400) || !(*power > 0 && *power <= 2500))
            return table->wrong(row, "duration_s must be 1 to 86400 and power_w over 0 and at most 2500");
        all.push_back({*day, static_cast<int>(std::lround(*seconds)), *power});
    }
    QJsonArray durations;
    for (const EffortChange& c : learnChange(all, *when, seed))
        durations.append(QJsonObject{{"duration_s", c.seconds},
                                     {"before_w", c.before},
                                     {"after_w", c.after},
                                     {"change_percent", c.percent},
                                     {"low", c.low},
                                     {"high", c.high},
                                     {"before_n", c.beforeCount},
                                     {"after_n", c.afterCount}});
    return text({{"durations", durations}});
}

Result<QByteArray> learnFromHabits(const QString& days, std::uint64_t seed) {
    const auto table = readTable(days, {"date", "planned", "done"});
    if (!table)
        return tl::unexpected(table.error());
    const int kind = table->column("kind");
    std::vector<HabitDay> all;
    for (const Table::Row& row : table->rows) {
        const auto day = table->date(row, table->column("date"));
        if (!day)
            return tl::unexpected(day.error());
        const auto planned = table->number(row, table->column("planned")),
                   done = table->number(row, table->column("done"));
        if (!planned || !done)
            return tl::unexpected(planned ? done.error() : planned.error());
        if (*planned < 0 || *done < 0)
            return table->wrong(row, "planned and done must not be under 0");
        all.push_back({*day, *planned, *done, kind >= 0 ? row.cells[kind].toStdString() : std::string()});
    }
    const Habits h = learnHabits(std::move(all), seed);
    const auto list = [](const std::vector<MissedRate>& rates, const char* name, bool number) {
        QJsonArray out;
        for (const MissedRate& r : rates)
            out.append(QJsonObject{
                {name, number ? QJsonValue(std::stoi(r.of)) : QJsonValue(QString::fromStdString(r.of))},
                {"planned", r.planned},
                {"missed", r.missed},
                {"mean", r.rate.value},
                {"low", r.rate.low},
                {"high", r.rate.high}});
        return out;
    };
    QJsonArray differences;
    for (const auto& d : h.differences)
        differences.append(QJsonObject{{"a", QString::fromStdString(d.a)},
                                       {"b", QString::fromStdString(d.b)},
                                       {"low", d.low},
                                       {"high", d.high}});
    return text({{"weekdays", list(h.weekdays, "weekday", true)},
                 {"kinds", list(h.kinds, "kind", false)},
                 {"run", QJsonObject{{"mean", h.run.value}, {"low", h.run.low}, {"high", h.run.high}}},
                 {"differences", differences}});
}

} // namespace marram::cli
