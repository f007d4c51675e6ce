// SPDX-License-Identifier: GPL-3.0-or-later
#include "cli/verbs.h"
#include "cli/letter.h"
#include "cli/reading.h"
#include "core/ride/devices.h"
#include "core/ride/meanmax.h"
#include "core/season/chance.h"
#include "core/session/shorthand.h"
#include "demo/scenario.h"
#include "formats/csv/csv.h"
#include "formats/csv/lines.h"
#include "formats/files/files.h"
#include "formats/fit/workout.h"
#include "formats/gpx/gpx.h"
#include "formats/ical/calendar.h"
#include "formats/json/reader.h"
#include "formats/json/score_json.h"
#include "formats/json/season_json.h"
#include "formats/json/session_json.h"
#include "formats/recording/archive.h"
#include "formats/recording/recording.h"
#include "formats/workouts/workouts.h"
#include "store/backup.h"
#include "store/checking.h"
#include "store/import.h"

#include <QDate>
#include <QDir>
#include <QFileInfo>
#include <QJsonDocument>
#include <QTemporaryDir>
#include <algorithm>
#include <cmath>

namespace marram::cli {
namespace {

struct Loaded {
    Recording recording;
    Ride ride;
};

Result<Loaded> load(const QString& file) {
    auto bytes = readRecordingFile(file);
    if (!bytes)
        return tl::unexpected(bytes.error());
    auto recording = ofFile(file, readRecording(*bytes));
    if (!recording)
        return tl::unexpected(recording.error());
    auto ride = toGrid(*recording);
    if (!ride)
        return refuse(file.toStdString() + ": has no sample with a usable time");
    for (const std::string& remark : recording->remarks)
        std::fprintf(stderr, "%s: %s\n", qPrintable(file), remark.c_str());
    return Loaded{std::move(*recording), std::move(*ride)};
}

Result<ScoringBasis> basisOf(const ScoreRequest& r) {
    const auto within = [](double v, double low, double high) {
        return std::isfinite(v) && v >= low && v <= high;
    };
    if (!within(r.thresholdPower, 1, 1000))
        return refuse("--threshold-power: must be 1 to 1000 W");
    if (!within(r.lowThreshold, 0.5, 0.95))
        return refuse("--low-threshold: must be a fraction of threshold power from 0.5 to 0.95");
    ScoringBasis basis;
    basis.threshold = Watts{r.thresholdPower};
    basis.lowThreshold = r.lowThreshold;
    for (const auto& beats : {r.thresholdHeartRate, r.restHeartRate, r.maxHeartRate})
        if (beats && !within(*beats, 25, 250))
            return refuse("--threshold-hr, --rest-hr, --max-hr: must be 25 to 250 bpm");
    if (r.thresholdHeartRate && r.restHeartRate && r.maxHeartRate) {
        if (*r.restHeartRate >= *r.thresholdHeartRate || *r.thresholdHeartRate > *r.maxHeartRate)
            return refuse("--rest-hr must be below --threshold-hr, and that not above --max-hr");
        basis.heartRate =
            HeartRateRange{{*r.restHeartRate}, {*r.thresholdHeartRate}, {*r.maxHeartRate}, r.sex};
    }
    return basis;
}

QByteArray weeksCsv(const Plan& plan) {
    QByteArray out = "start,kind,phase,stress,hours,low_h,middle_h,high_h,fitness,fatigue\n";
    for (const PlannedWeek& w : plan.weeks) {
        out += QByteArray::fromStdString(isoText(w.start)) + ',' + nameOf(w.kind) + ',' + nameOf(w.phase);
        for (const double v :
             {w.stress, w.hours, w.bandHours.low, w.bandHours.middle, w.bandHours.high, w.fitness, w.fatigue})
            out += ',' + full(v);
        out += '\n';
    }
    return out;
}

QByteArray daysCsv(const Plan& plan) {
    QByteArray out = "date,role,stress,hours,fitness,fatigue,form\n";
    for (const PlannedDay& d : plan.days) {
        out += QByteArray::fromStdString(isoText(d.date)) + ',' + nameOf(d.role);
        for (const double v : {d.stress, d.hours, d.fitness, d.fatigue, d.form})
            out += ',' + full(v);
        out += '\n';
    }
    return out;
}

} // namespace

std::string oneLine(std::string text) {
    std::replace(text.begin(), text.end(), '\n', ' ');
    while (!text.empty() && (text.back() == ' ' || text.back() == '.'))
        text.pop_back();
    return text + ".";
}

Result<QByteArray> score(const QString& file, const ScoreRequest& request) {
    const auto basis = basisOf(request);
    if (!basis)
        return tl::unexpected(basis.error());
    const auto loaded = load(file);
    if (!loaded)
        return tl::unexpected(loaded.error());
    Score s = marram::score(loaded->ride, *basis);
    for (const std::string& lack : missingParts(s))
        std::fprintf(stderr, "%s: %s\n", qPrintable(file), lack.c_str());
    if (!s.distance)
        s.distance = loaded->recording.sessionDistance;
    return QJsonDocument(writeScore(s, loaded->recording.dated)).toJson();
}

Result<QByteArray> curve(const QString& file) {
    const auto loaded = load(file);
    if (!loaded)
        return tl::unexpected(loaded.error());
    if (!loaded->ride.hasPower)
        return refuse(file.toStdString() + ": has no power, so there is no curve of it");
    QByteArray out = "duration_s,power_w\n";
    for (const BestEffort& b : meanMaxCurve(loaded->ride))
        out += QByteArray::number(b.seconds) + ',' + full(b.power) + '\n';
    return out;
}

Result<QByteArray> model(const QString& file, const ModelRequest& request) {
    if (!(request.tau.fitness > 0) || !(request.tau.fatigue > 0) ||
        !std::isfinite(request.tau.fitness + request.tau.fatigue))
        return refuse("--tau-fitness, --tau-fatigue: must be more than 0 days");
    if (!std::isfinite(request.before.fitness + request.before.fatigue))
        return refuse("--fitness, --fatigue: must be numbers");
    const auto days = readAs(file, readDailyStress);
    if (!days)
        return tl::unexpected(days.error());
    const Date first = days->begin()->first;
    std::vector<double> stress(static_cast<size_t>(days->rbegin()->first - first) + 1, 0);
    for (const auto& [date, s] : *days)
        stress[static_cast<size_t>(date - first)] = s;
    QByteArray out = "date,stress,fitness,fatigue,form\n";
    Date date = first;
    for (const LoadDay& day : runModel(stress, request.before, request.tau)) {
        out += QByteArray::fromStdString(isoText(date)) + ',' + full(day.stress) + ',' + full(day.fitness) +
               ',' + full(day.fatigue) + ',' + full(day.form) + '\n';
        date = date + 1;
    }
    return out;
}

Result<QByteArray> plan(const QString& file, const QString& folder, const std::string& lp) {
    const auto season = readAs(file, readSeason);
    if (!season)
        return tl::unexpected(season.error());
    if (!folder.isEmpty())
        if (auto ok = makeFolder(folder); !ok)
            return tl::unexpected(ok.error());
    if (!lp.empty())
        if (const QFileInfo where(QString::fromStdString(lp));
            !QFileInfo(where.absolutePath()).isWritable() || where.isDir())
            return refuse(lp + ": can't be written");
    // The solver writes by name and would follow a link: it writes into a folder of ours, and the file goes
    // the way of all others.
    QTemporaryDir aside;
    const QString lpAside = aside.filePath("season.lp");
    if (!lp.empty() && !aside.isValid())
        return refuse(lp + ": can't be written, because there is no room for temporary files");
    Solved solved = solveSeason(*season, nullptr, lp.empty() ? std::string() : lpAside.toStdString());
    if (!lp.empty()) {
        const auto text = readWholeFile(lpAside);
        if (!text)
            return tl::unexpected(text.error());
        if (auto ok = writeWholeFile(QString::fromStdString(lp), *text); !ok)
            return tl::unexpected(ok.error());
    }
    solved.plan.limits = explainLimits(*season, solved);
    // The share inside the gate comes from simulation.
    Misses misses;
    misses.miss = season->rules.miss;
    misses.run = std::max(season->rules.missRun, independentRun(misses.miss));
    if (const auto chances = chancesOf(*season, solved.plan, misses))
        for (size_t i = 0; i < solved.plan.races.size() && i < chances->size(); ++i)
            solved.plan.races[i].chance = (*chances)[i].inGate;
    for (std::string& advice : adviseGates(*season, solved))
        solved.plan.warnings.push_back(std::move(advice));
    const QByteArray json = writePlan(solved.plan);
    if (!folder.isEmpty()) {
        const QDir dir(folder);
        for (const auto& [name, text] : {std::pair{"plan.json", json},
                                         {"weeks.csv", weeksCsv(solved.plan)},
                                         {"days.csv", daysCsv(solved.plan)}})
            if (auto ok = writeWholeFile(dir.filePath(name), text); !ok)
                return tl::unexpected(ok.error());
    }
    return json;
}

Result<QByteArray> chance(const QString& file, const Misses& misses) {
    const auto season = readAs(file, readSeason);
    if (!season)
        return tl::unexpected(season.error());
    const auto chances = chancesOf(*season, solveSeason(*season).plan, misses);
    if (!chances)
        return tl::unexpected(chances.error());
    return writeChances(*chances);
}

Result<QByteArray> course(const QString& file, const CourseRequest& request) {
    const auto way = readAs(file, readGpxCourse);
    if (!way)
        return tl::unexpected(way.error());
    const auto demand = rideCourse(*way, request.rider, request.thresholdPower, request.intensity);
    if (!demand)
        return demand.error().sentence.starts_with("--")
                   ? tl::unexpected(demand.error())
                   : refuse(file.toStdString() + ": " + demand.error().sentence);
    QJsonArray climbs;
    for (const Climb& c : demand->climbs)
        climbs.append(QJsonObject{{"start_m", c.start},
                                  {"length_m", c.length},
                                  {"gain_m", c.gain},
                                  {"mean_gradient", c.gradient},
                                  {"duration_s", c.duration}});
    return QJsonDocument(QJsonObject{{"distance_m", demand->distance},
                                     {"climb_m", demand->climb},
                                     {"duration_s", demand->duration},
                                     {"power_w", demand->power},
                                     {"relative_intensity", demand->intensity},
                                     {"work_kj", demand->work},
                                     {"stress", demand->stress},
                                     {"demand", demand->demand},
                                     {"climbs", climbs}})
        .toJson();
}

Result<QByteArray> demo(const QString& out) {
    const QDate today = QDate::currentDate();
    const auto made = writeDemo(out, fromCivil(today.year(), today.month(), today.day()), {});
    if (!made)
        return tl::unexpected(made.error());
    return out.toUtf8() + '\n';
}

Result<QByteArray> import(const QString& path, const QString& name, const std::vector<std::string>& files,
                          const std::string& overlap, bool takeStrangers) {
    auto roster = Roster::open(path);
    if (!roster)
        return tl::unexpected(roster.error());
    if ((*roster)->readOnly())
        return refuse(path.toStdString() + ": is read-only, the file or its folder, so rides can't come in");
    const auto rider = riderNamed(**roster, name);
    if (!rider)
        return tl::unexpected(rider.error());
    Importer importer(**roster, *rider);
    importer.onOverlap = [&](const RideRecord& now, const RideRecord& there) -> OverlapAnswer {
        if (overlap == "one" &&
            sameRideTwice(now.score.start, now.score.elapsed, there.score.start, there.score.elapsed))
            return {OverlapChoice::OneRide, false};
        return {overlap == "keep"      ? OverlapChoice::KeepBoth
                : overlap == "replace" ? OverlapChoice::Replace
                                       : OverlapChoice::Skip,
                false};
    };
    importer.onStranger = [&](const QString&) { return takeStrangers; };
    QStringList paths, refused;
    for (const std::string& f : files) {
        const auto each = fileNameFrom(f);
        if (!each) {
            refused << QString::fromStdString(each.error().sentence);
        } else if (QFileInfo(*each).isDir()) {
            const FoundFiles found = recordingsBelow(*each);
            paths += found.files;
            refused += found.refused;
        } else {
            paths << *each;
        }
    }
    ImportReport report = importer.importFiles(paths);
    report.refused = refused + report.refused;
    for (const QString& remark : report.remarks)
        std::fprintf(stderr, "%s\n", qPrintable(remark));
    for (const QString& file : report.duplicates)
        std::fprintf(stderr, "%s: is in the roster already\n", qPrintable(file));
    for (const QString& file : report.overlaps)
        std::fprintf(stderr,
                     "%s: shares time with a ride in the roster and was left out; --overlap keep, replace or "
                     "one (two devices on one ride) takes it\n",
                     qPrintable(file));
    for (const QString& why : report.strangers)
        std::fprintf(stderr, "%s: left out as another rider's\n", qPrintable(why));
    if (report.stopped)
        return tl::unexpected(*report.stopped);
    if (!report.refused.isEmpty()) {
        // Refused files are named; what could be read is in the roster.
        for (qsizetype i = 0; i + 1 < report.refused.size(); ++i)
            std::fprintf(stderr, "%s\n", qPrintable(report.refused[i]));
        if (report.added.empty() && report.duplicates.isEmpty() && report.overlaps.isEmpty() &&
            report.strangers.isEmpty())
            return refuse(report.refused.back().toStdString());
        std::fprintf(stderr, "%s\n", qPrintable(report.refused.back()));
    }
    return QByteArray::number(static_cast<qint64>(report.added.size())) + " added, " +
           QByteArray::number(report.duplicates.size()) + " there already, " +
           QByteArray::number(report.overlaps.size()) + " overlapping, " +
           QByteArray::number(report.refused.size()) + " refused\n";
}

Result<QByteArray> exportRoster(const QString& path, const QString& jsonFolder, const QString& csvFolder,
                                const QString& icsFolder) {
    auto roster = Roster::open(path);
    if (!roster)
        return tl::unexpected(roster.error());
    Damage damage;
    const auto take = [&](const Result<Damage>& found) -> Result<void> {
        if (!found)
            return tl::unexpected(found.error());
        for (const QString& sentence : found->sentences)
            damage.add(sentence);
        return {};
    };
    if (!jsonFolder.isEmpty())
        if (auto ok = take(exportJson(**roster, jsonFolder)); !ok)
            return tl::unexpected(ok.error());
    if (!csvFolder.isEmpty())
        if (auto ok = take(exportCsv(**roster, csvFolder)); !ok)
            return tl::unexpected(ok.error());
    const QDate now = QDate::currentDate();
    if (!icsFolder.isEmpty())
        if (auto ok =
                take(exportCalendars(**roster, icsFolder, fromCivil(now.year(), now.month(), now.day())));
            !ok)
            return tl::unexpected(ok.error());
    if (damage.empty())
        return QByteArray();
    for (const QString& sentence : damage.sentences)
        std::fprintf(stderr, "%s\n", qPrintable(sentence));
    return refuse(path.toStdString() + ": is damaged; what is whole was written, and the " +
                  std::to_string(damage.sentences.size()) + " things named above could not be saved");
}

Result<QByteArray> check(const QString& path, bool& whole) {
    const auto roster = Roster::open(path);
    if (!roster)
        return tl::unexpected(roster.error());
    const auto damage = checkWhole(**roster);
    if (!damage)
        return tl::unexpected(damage.error());
    QByteArray out;
    for (QString sentence : damage->sentences)
        out += sentence.replace('\n', ' ').toUtf8() + '\n';
    whole = damage->empty();
    return out;
}

Result<QByteArray> backup(const QString& path, bool list, const QString& restore, const QString& to) {
    if (list) {
        if (!QFileInfo::exists(path))
            return refuse(path.toStdString() + ": does not exist");
        QByteArray out;
        for (const BackupCopy& c : copiesOf(path))
            out +=
                QByteArray::fromStdString(isoText(c.day)) + '\t' + QByteArray::number(c.bytes) + '\t' +
                c.path.toUtf8() +
                (c.upgradedFrom ? "\tbefore version " + QByteArray::number(c.upgradedFrom) : QByteArray()) +
                '\n';
        return out;
    }
    if (!restore.isEmpty()) {
        const auto day = parseDate(restore.toStdString());
        if (!day)
            return refuse("--restore: must be a day, as 2027-03-01");
        const auto from = restoreCopy(path, *day, to);
        if (!from)
            return tl::unexpected(from.error());
        return to.toUtf8() + '\n';
    }
    const QDate now = QDate::currentDate();
    const auto made = backUp(path, fromCivil(now.year(), now.month(), now.day()));
    if (!made)
        return tl::unexpected(made.error());
    return made->toUtf8() + '\n';
}

Result<QByteArray> session(const SessionRequest& r) {
    if (r.thresholdPower && !(*r.thresholdPower >= 30 && *r.thresholdPower <= 700))
        return refuse("--threshold-power: must be 30 to 700 W");
    if (!(r.lowThreshold >= 0.5 && r.lowThreshold <= 0.95))
        return refuse("--low-threshold: must be a fraction of threshold power from 0.5 to 0.95");
    if (!QString::fromStdString(r.shorthand).toUtf8().toStdString().starts_with(r.shorthand))
        return refuse("shorthand: is not UTF-8");
    const auto read = readShorthand(r.shorthand);
    if (!read)
        return refuse("character " + std::to_string(read.error().place) + ": " + read.error().sentence);
    if (!r.fit.empty()) {
        const auto name = fileNameFrom(r.fit);
        if (!name)
            return tl::unexpected(name.error());
        const auto bytes = writeWorkout(*read, writeShorthand(*read), r.thresholdPower, r.lowThreshold,
                                        QDateTime::currentSecsSinceEpoch());
        if (auto ok = writeWholeFile(
                *name, {reinterpret_cast<const char*>(bytes.data()), static_cast<qsizetype>(bytes.size())});
            !ok)
            return tl::unexpected(ok.error());
    }
    return QJsonDocument(writeSession(*read, r.thresholdPower, r.lowThreshold)).toJson();
}

Result<QByteArray> block(const BlockRequest& r) {
    const auto season = readAs(r.season, readSeason);
    if (!season)
        return tl::unexpected(season.error());
    const auto from = parseDate(r.from.toStdString());
    if (!from || weekday(*from) != 0)
        return refuse("--from: must be a Monday, as 2027-03-01");
    if (r.weeks < 1 || r.weeks > 158)
        return refuse("--weeks: must be 1 to 158");
    if (*from + 6 < season->start || *from > season->end)
        return refuse("--from: lies outside the season, " + isoText(season->start) + " to " +
                      isoText(season->end));
    std::vector<DoneRung> done;
    if (!r.done.isEmpty()) {
        const auto read = readAs(r.done, readDone);
        if (!read)
            return tl::unexpected(read.error());
        done = *read;
    }
    BlockBasis basis;
    basis.done = done;
    if (!r.meant.isEmpty()) {
        auto meant =
            readAs(r.meant, [&](const QByteArray& json) { return readBlock(json, season->lowThreshold); });
        if (!meant)
            return tl::unexpected(meant.error());
        basis.last = std::make_shared<const SessionBlock>(std::move(*meant));
        basis.promised = true;
    }
    const Plan plan = solveSeason(*season).plan;
    const SessionBlock made = solveBlock(*season, plan, *from, r.weeks, basis);
    if (!r.fitFolder.isEmpty()) {
        std::vector<BlockSession> sessions;
        for (const BlockWeek& week : made.weeks)
            sessions.insert(sessions.end(), week.sessions.begin(), week.sessions.end());
        const auto written = writeWorkouts(r.fitFolder, sessions, season->thresholdPower,
                                           season->lowThreshold, QDateTime::currentSecsSinceEpoch());
        if (!written)
            return tl::unexpected(written.error());
    }
    if (!r.calendar.isEmpty())
        if (auto ok = writeWholeFile(r.calendar, writeCalendar(made, *from)); !ok)
            return tl::unexpected(ok.error());
    return QJsonDocument(writeBlock(made, season->thresholdPower, season->lowThreshold)).toJson();
}

Result<QByteArray> bring(const QString& path, const QString& file) {
    std::vector<qint64> added;
    const auto into = [&](Result<std::unique_ptr<Roster>> roster) -> Result<void> {
        if (!roster)
            return tl::unexpected(roster.error());
        auto brought = importJson(**roster, file);
        if (!brought)
            return tl::unexpected(brought.error());
        added = *brought;
        return {};
    };
    // A roster made only for this leaves no trace of a refusal.
    const auto ok = QFileInfo::exists(path)
                        ? into(Roster::open(path))
                        : makeAside(path, [&](const QString& aside) { return into(Roster::create(aside)); });
    if (!ok)
        return tl::unexpected(ok.error());
    return QByteArray::number(static_cast<qint64>(added.size())) + " riders added\n";
}

} // namespace marram::cli
