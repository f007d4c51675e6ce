// SPDX-License-Identifier: GPL-3.0-or-later
#include "store/exchange.h"
#include "core/load/load.h"
#include "formats/csv/csv.h"
#include "formats/csv/lines.h"
#include "formats/json/reader.h"
#include "formats/recording/recording.h"
#include "store/rider_json.h"

#include <QCryptographicHash>
#include <QDir>
#include <QFileInfo>
#include <QJsonDocument>
#include <QSaveFile>

namespace marram {
namespace {

constexpr const char* indexFormat = "marram-roster";

Result<void> makeFolder(const QString& folder) {
    if (!QDir().mkpath(folder))
        return refuse(folder.toStdString() + ": the folder can't be made");
    QFile::setPermissions(folder, QFile::ReadOwner | QFile::WriteOwner | QFile::ExeOwner);
    return {};
}

Result<void> writeWhole(const QString& path, const QByteArray& bytes) {
    QSaveFile file(path);
    if (!file.open(QIODevice::WriteOnly))
        return refuse(path.toStdString() + ": can't be written (" + file.errorString().toStdString() + ")");
    file.setPermissions(QFile::ReadOwner | QFile::WriteOwner);
    if (file.write(bytes) != bytes.size() || !file.commit())
        return refuse(path.toStdString() + ": can't be written (" + file.errorString().toStdString() + ")");
    return {};
}

QByteArray jsonBytes(const QJsonObject& object) {
    return QJsonDocument(object).toJson(QJsonDocument::Indented);
}

/// A name as part of a file name: letters and digits of ASCII, the rest as dashes.
QString slug(const QString& name) {
    QString out;
    for (const QChar c : name.toLower())
        out += c.unicode() < 128 && c.isLetterOrNumber() ? c : QChar('-');
    return out.left(40);
}

/// Everything of one rider but the bytes.
Result<RiderFile> gather(const Roster& roster, const RiderRecord& rider) {
    RiderFile f;
    f.rider = rider;
    const auto take = [](auto& to, auto from) -> Result<void> {
        if (!from)
            return tl::unexpected(from.error());
        to = std::move(*from);
        return {};
    };
    if (auto ok = take(f.season, roster.season(rider.id)); !ok)
        return tl::unexpected(ok.error());
    if (auto ok = take(f.planned, roster.solvedDays(rider.id)); !ok)
        return tl::unexpected(ok.error());
    if (auto ok = take(f.tests, roster.tests(rider.id)); !ok)
        return tl::unexpected(ok.error());
    if (auto ok = take(f.checkIns, roster.checkIns(rider.id)); !ok)
        return tl::unexpected(ok.error());
    if (auto ok = take(f.rides, roster.rides(rider.id)); !ok)
        return tl::unexpected(ok.error());
    return f;
}

Result<std::vector<RiderRecord>> chosen(const Roster& roster, const std::vector<qint64>& ids) {
    auto all = roster.riders();
    if (all && !ids.empty())
        std::erase_if(
            *all, [&](const RiderRecord& r) { return std::find(ids.begin(), ids.end(), r.id) == ids.end(); });
    return all;
}

const char* suffixOf(const QByteArray& original) {
    switch (kindOf(original)) {
    case RecordingKind::Fit:
        return "fit";
    case RecordingKind::Gpx:
        return "gpx";
    case RecordingKind::Csv:
        break;
    }
    return "csv";
}

QByteArray utf8(const std::string& s) {
    return QByteArray::fromStdString(s);
}
QByteArray isoBytes(Date d) {
    return utf8(isoText(d));
}

/// The CSV tables as they grow.
class Tables {
public:
    Tables() {
        riders_ = csvRow({"rider", "sex", "born", "hours_a_week", "training_years", "slow_recoverer",
                          "groups", "archived", "strengths", "weaknesses", "cautions", "note"});
        values_ = csvRow({"rider", "quantity", "from", "value"});
        rides_ = csvRow({"rider", "date", "start_utc", "duration_s", "distance_m", "work_kj", "mean_power_w",
                         "equivalent_power_w", "relative_intensity", "stress", "stress_method", "mean_hr_bpm",
                         "efficiency", "drift_percent", "effort", "excluded", "file_name", "note"});
        tests_ = csvRow({"rider", "date", "protocol", "value", "second", "seconds", "work_kj", "altitude_m",
                         "acclimatised", "place", "verdict", "note"});
        races_ = csvRow({"rider", "date", "name", "priority", "days", "stress", "gate_low", "gate_high"});
        days_ = csvRow({"rider", "date", "planned_stress", "ridden_stress", "fitness", "fatigue", "form"});
    }

    void add(const RiderFile& f) {
        const RiderRecord& r = f.rider;
        const QByteArray who = r.name.toUtf8();
        double hours = 0;
        for (const double h : r.hours)
            hours += h;
        const char* sexWords[] = {"", "female", "male"};
        const auto whole = [](const std::optional<int>& v) {
            return v ? QByteArray::number(*v) : QByteArray();
        };
        const auto yes = [](bool v) { return QByteArray(v ? "yes" : "no"); };
        riders_ += csvRow({who, sexWords[static_cast<int>(r.sex)], whole(r.born), csvNumber(hours),
                           whole(r.trainingYears), yes(r.slowRecoverer), r.groups.join("; ").toUtf8(),
                           yes(r.archived), r.strengths.toUtf8(), r.weaknesses.toUtf8(), r.cautions.toUtf8(),
                           r.note.toUtf8()});
        for (size_t q = 0; q < quantityCount; ++q)
            for (const DatedValue& v : r.values.of(static_cast<Quantity>(q)))
                values_ += csvRow(
                    {who, wordsFor(static_cast<Quantity>(q)).key, isoBytes(v.from), csvNumber(v.value)});
        for (const RideRecord& ride : f.rides)
            addRide(who, ride);
        const char* verdictWords[] = {"open", "accepted", "declined"};
        for (const TestRecord& t : f.tests)
            tests_ += csvRow({who, isoBytes(t.result.day), wordsFor(t.result.protocol).key,
                              csvNumber(t.result.value), csvNumber(t.result.second),
                              csvNumber(t.result.seconds), csvNumber(t.result.workKj),
                              csvNumber(t.result.altitudeM), yes(t.result.acclimatised), utf8(t.result.place),
                              verdictWords[static_cast<int>(t.result.verdict)], utf8(t.result.note)});
        for (const CheckIn& c : f.checkIns)
            checkIns_.push_back({who, c});
        if (f.season)
            for (const Race& race : f.season->races)
                races_ += csvRow({who, isoBytes(race.date), utf8(race.name), nameOf(race.priority),
                                  QByteArray::number(race.days), csvNumber(race.stress),
                                  race.gate ? csvNumber(race.gate->low) : "",
                                  race.gate ? csvNumber(race.gate->high) : ""});
        addDays(who, f);
    }

    std::vector<std::pair<const char*, QByteArray>> all() const {
        return {{"riders.csv", riders_}, {"values.csv", values_}, {"rides.csv", rides_},
                {"tests.csv", tests_},   {"races.csv", races_},   {"check_ins.csv", writeCheckIns(checkIns_)},
                {"days.csv", days_}};
    }

private:
    void addRide(const QByteArray& who, const RideRecord& ride) {
        const Score& s = ride.score;
        const QByteArray start =
            QDateTime::fromSecsSinceEpoch(s.start, Qt::UTC).toString(Qt::ISODate).toLatin1();
        rides_ += csvRow({who, isoBytes(ride.day), start, QByteArray::number(s.duration),
                          csvNumber(s.distance), csvNumber(s.work), csvNumber(s.meanPower),
                          csvNumber(s.equivalentPower), csvNumber(s.relativeIntensity), csvNumber(s.stress),
                          methodName(s.method), csvNumber(s.meanHeartRate), csvNumber(s.efficiency),
                          csvNumber(s.drift), csvNumber(ride.effort), ride.excluded ? "yes" : "no",
                          ride.fileName.toUtf8(), ride.note.toUtf8()});
    }

    /// Every day from the first ride or planned day to the last: what was planned, what was ridden and the
    /// load model over what was ridden.
    void addDays(const QByteArray& who, const RiderFile& f) {
        std::map<Date, std::pair<std::optional<double>, double>> days;
        for (const SolvedDay& d : f.planned)
            days[d.date].first = d.stress;
        for (const RideRecord& r : f.rides)
            if (!r.excluded)
                days[r.day].second += r.score.stress.value_or(0);
        if (days.empty())
            return;
        const Date first = days.begin()->first, last = days.rbegin()->first;
        std::vector<double> stress;
        for (Date d = first; d <= last; d = d + 1)
            stress.push_back(days.contains(d) ? days[d].second : 0);
        const auto model = runModel(stress, {}, f.season ? f.season->tau : TimeConstants{});
        for (size_t i = 0; i < model.size(); ++i) {
            const auto found = days.find(first + static_cast<int>(i));
            days_ +=
                csvRow({who, isoBytes(first + static_cast<int>(i)),
                        found == days.end() ? "" : csvNumber(found->second.first), csvNumber(stress[i]),
                        csvNumber(model[i].fitness), csvNumber(model[i].fatigue), csvNumber(model[i].form)});
        }
    }

    QByteArray riders_, values_, rides_, tests_, races_, days_;
    std::vector<NamedCheckIn> checkIns_;
};

/// The rider files an index names, or the file itself where it is a rider's.
Result<QStringList> riderFilesOf(const QString& path, const QJsonObject& object) {
    JsonReader in(object, {});
    if (in.text("format", "") != indexFormat)
        return QStringList{QFileInfo(path).fileName()};
    if (in.whole("version", 0) != 1)
        return refuse("was written by another version of Marram; update Marram to read it");
    QStringList names;
    for (const auto& name : in.array("riders"))
        names << name.toString();
    if (auto ok = in.finish(); !ok)
        return tl::unexpected(ok.error());
    return names;
}

/// A path inside an export, safely: no way out of its folder.
Result<QString> inside(const QDir& folder, const QString& name) {
    const QString path = QDir::cleanPath(folder.absoluteFilePath(name));
    if (name.isEmpty() || QDir::isAbsolutePath(name) || !path.startsWith(folder.absolutePath() + '/'))
        return refuse("\"" + name.left(60).toStdString() + "\" lies outside the export");
    return path;
}

} // namespace

Result<void> exportJson(const Roster& roster, const QString& folder, const std::vector<qint64>& ids,
                        const Progress& progress) {
    const auto riders = chosen(roster, ids);
    if (!riders)
        return tl::unexpected(riders.error());
    const QDir dir(folder);
    for (const QString& each : {folder, dir.filePath("riders"), dir.filePath("originals")})
        if (auto ok = makeFolder(each); !ok)
            return ok;
    std::vector<RiderFile> files;
    int total = 0, done = 0;
    for (const auto& [id, sums] : roster.daySums().value_or(std::map<qint64, std::vector<DaySum>>{}))
        if (std::any_of(riders->begin(), riders->end(), [&](const RiderRecord& r) { return r.id == id; }))
            total += static_cast<int>(sums.size());
    QJsonArray names;
    for (const RiderRecord& rider : *riders) {
        auto f = gather(roster, rider);
        if (!f)
            return tl::unexpected(f.error());
        for (const RideRecord& r : f->rides) {
            const auto bytes = roster.originalOf(r.id);
            if (!bytes)
                return tl::unexpected(bytes.error());
            const QString name =
                QString("originals/%1.%2").arg(QString::fromLatin1(r.contentHash.toHex()), suffixOf(*bytes));
            f->originals << name;
            if (QFileInfo(dir.filePath(name)).size() != bytes->size())
                if (auto ok = writeWhole(dir.filePath(name), *bytes); !ok)
                    return ok;
            ++done;
            if (progress && !progress(done, std::max(done, total)))
                return refuse("The export was cancelled; what is in " + folder.toStdString() +
                              " is not complete.");
        }
        const QString name =
            QString("riders/%1-%2.json").arg(names.size() + 1, 3, 10, QChar('0')).arg(slug(rider.name));
        if (auto ok = writeWhole(dir.filePath(name), jsonBytes(writeRider(*f))); !ok)
            return ok;
        names.append(name);
    }
    return writeWhole(dir.filePath("roster.json"),
                      jsonBytes({{"format", indexFormat}, {"version", 1}, {"riders", names}}));
}

Result<void> exportCsv(const Roster& roster, const QString& folder) {
    const auto riders = roster.riders();
    if (!riders)
        return tl::unexpected(riders.error());
    if (auto ok = makeFolder(folder); !ok)
        return ok;
    Tables tables;
    for (const RiderRecord& rider : *riders) {
        const auto f = gather(roster, rider);
        if (!f)
            return tl::unexpected(f.error());
        tables.add(*f);
    }
    for (const auto& [name, bytes] : tables.all())
        if (auto ok = writeWhole(QDir(folder).filePath(name), bytes); !ok)
            return ok;
    return {};
}

Result<std::vector<qint64>> importJson(Roster& roster, const QString& path, const Progress& progress) {
    const auto objectIn = [](const QString& file) -> Result<QJsonObject> {
        auto bytes = readWholeFile(file);
        if (!bytes)
            return tl::unexpected(bytes.error());
        auto object = parseJsonObject(*bytes);
        if (!object)
            return refuse(file.toStdString() + ": " + object.error().sentence);
        return object;
    };
    const auto first = objectIn(path);
    if (!first)
        return tl::unexpected(first.error());
    const auto names = riderFilesOf(path, *first);
    if (!names)
        return refuse(path.toStdString() + ": " + names.error().sentence);
    const bool single = names->size() == 1 && names->front() == QFileInfo(path).fileName();
    // A rider's file lies in riders/ beside originals/.
    QDir folder(QFileInfo(path).absolutePath());
    const QDir namesFrom = folder;
    if (single)
        folder.cdUp();
    std::vector<qint64> added;
    int done = 0;
    const auto bring = [&](const QString& file) -> Result<void> {
        const auto ofFile = [&](const std::string& sentence) {
            return refuse(file.toStdString() + ": " + sentence);
        };
        const auto object = objectIn(file);
        if (!object)
            return tl::unexpected(object.error());
        auto f = readRider(*object);
        if (!f)
            return ofFile(f.error().sentence);
        const auto id = roster.saveRider(f->rider);
        if (!id)
            return tl::unexpected(id.error());
        if (auto ok = roster.saveScales(*id, f->rider.scales); !ok)
            return ok;
        if (f->season) {
            if (auto ok = roster.saveSeason(*id, *f->season); !ok)
                return ok;
            if (auto ok = roster.saveSolvedDays(*id, f->planned); !ok)
                return ok;
        }
        for (TestRecord& t : f->tests) {
            t.rider = *id;
            if (auto ok = roster.saveTest(t); !ok)
                return tl::unexpected(ok.error());
        }
        for (const CheckIn& c : f->checkIns)
            if (auto ok = roster.saveCheckIn(*id, c); !ok)
                return ok;
        for (size_t i = 0; i < f->rides.size(); ++i) {
            const QString place = QString("rides[%1].original").arg(i);
            const auto original = inside(folder, f->originals[static_cast<qsizetype>(i)]);
            if (!original)
                return ofFile(place.toStdString() + ": " + original.error().sentence);
            const auto bytes = readWholeFile(*original);
            if (!bytes)
                return tl::unexpected(bytes.error());
            RideRecord& r = f->rides[i];
            r.rider = *id;
            r.contentHash = QCryptographicHash::hash(*bytes, QCryptographicHash::Sha256);
            if (QFileInfo(*original).completeBaseName() != QString::fromLatin1(r.contentHash.toHex()))
                return refuse(original->toStdString() +
                              ": is not the recording its name stands for; copy the export again");
            if (auto ok = roster.addRide(r, Roster::packed(*bytes)); !ok)
                return tl::unexpected(ok.error());
            if (progress && !progress(++done, static_cast<int>(f->rides.size())))
                return refuse("Bringing in was cancelled; nothing was kept.");
        }
        added.push_back(*id);
        return {};
    };
    const auto ok = roster.together([&]() -> Result<void> {
        for (const QString& name : *names) {
            const auto file = inside(namesFrom, name);
            if (!file)
                return refuse(path.toStdString() + ": riders: " + file.error().sentence);
            if (auto one = bring(*file); !one)
                return one;
        }
        return {};
    });
    if (!ok)
        return tl::unexpected(ok.error());
    return added;
}

} // namespace marram
