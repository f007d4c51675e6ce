// SPDX-License-Identifier: GPL-3.0-or-later
#include "store/exchange.h"
#include "core/load/history.h"
#include "core/words/phrase.h"
#include "formats/csv/csv.h"
#include "formats/csv/lines.h"
#include "formats/files/files.h"
#include "formats/json/reader.h"
#include "formats/recording/recording.h"
#include "store/import.h"
#include "store/rider_json.h"
#include "wording/wording.h"

#include <QCryptographicHash>
#include <QDateTime>
#include <QDir>
#include <QFileInfo>
#include <QJsonDocument>

namespace marram {
namespace {

constexpr const char* indexFormat = "marram-roster";
/// Stands with a ride whose recording was lost, so that it is told once.
const QString lostRecording = "Its recording was damaged and is lost; the figures are those derived before.";

QByteArray jsonBytes(const QJsonObject& object) {
    return QJsonDocument(object).toJson(QJsonDocument::Indented);
}

/// Everything of one rider but the bytes.
Result<RiderFile> gather(const Roster& roster, const RiderRecord& rider, Damage& damage) {
    RiderFile f;
    f.rider = rider;
    Damage here;
    const auto take = [](auto& to, auto from) -> Result<void> {
        if (!from)
            return tl::unexpected(from.error());
        to = std::move(*from);
        return {};
    };
    std::vector<SeasonRecord> seasons;
    if (auto ok = take(seasons, roster.seasons(rider.id, &here)); !ok)
        return tl::unexpected(ok.error());
    for (const SeasonRecord& s : seasons) {
        f.seasons.push_back({s, {}, {}});
        if (auto ok = take(f.seasons.back().days, roster.plannedDaysOf(s.id, &here)); !ok)
            return tl::unexpected(ok.error());
        if (auto ok = take(f.seasons.back().meant, roster.meantOf(s.id, &here)); !ok)
            return tl::unexpected(ok.error());
    }
    for (auto& s : f.seasons) {
        const auto from = std::find_if(seasons.begin(), seasons.end(),
                                       [&](const SeasonRecord& o) { return o.id == s.record.branchedFrom; });
        s.record.branchedFrom =
            from == seasons.end() ? std::nullopt : std::optional<qint64>(from - seasons.begin() + 1);
    }
    if (auto ok = take(f.tests, roster.tests(rider.id, &here)); !ok)
        return tl::unexpected(ok.error());
    if (auto ok = take(f.checkIns, roster.checkIns(rider.id, &here)); !ok)
        return tl::unexpected(ok.error());
    if (auto ok = take(f.letters, roster.letters(rider.id, &here)); !ok)
        return tl::unexpected(ok.error());
    if (auto ok = take(f.noted, roster.noted(rider.id, &here)); !ok)
        return tl::unexpected(ok.error());
    if (auto ok = take(f.rides, roster.rides(rider.id, &here)); !ok)
        return tl::unexpected(ok.error());
    for (const QString& sentence : here.sentences)
        damage.add(wording("%1: %2", sentence.contains(rider.name) ? sentence : rider.name, sentence));
    damage.rides.insert(here.rides.begin(), here.rides.end());
    return f;
}

/// A recording, or nothing where it is damaged, which is named. Refused for any other reason.
Result<std::optional<QByteArray>> wholeOriginal(const Roster& roster, const RideRecord& ride,
                                                Damage& damage) {
    auto bytes = roster.originalOf(ride.id);
    if (bytes)
        return std::optional(std::move(*bytes));
    // A full disk or a lock is no damage.
    if (auto there = roster.rides(ride.rider); !there)
        return tl::unexpected(there.error());
    if (!ride.remarks.contains(lostRecording)) {
        damage.add(QString::fromStdString(bytes.error().sentence));
        damage.rides.insert(ride.id);
    }
    return std::optional<QByteArray>();
}

Result<std::vector<RiderRecord>> chosen(const Roster& roster, const std::vector<qint64>& ids,
                                        Damage& damage) {
    auto all = roster.riders(&damage);
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
        for (const auto& season : f.seasons)
            for (const Race& race : season.record.standing == SeasonStanding::Alternative
                                        ? std::vector<Race>()
                                        : season.record.season.races)
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
    /// rider's load history.
    void addDays(const QByteArray& who, const RiderFile& f) {
        std::map<Date, std::pair<std::optional<double>, double>> days;
        LoadRecord record;
        record.usualWeekHours = f.rider.usualWeekHours;
        for (const auto& season : f.seasons) {
            if (season.record.standing == SeasonStanding::Alternative)
                continue;
            if (season.record.standing == SeasonStanding::InForce) {
                record.seasonStart = season.record.season.start;
                record.atSeasonStart = season.record.season.before;
                record.tau = season.record.season.tau;
            }
            // In force comes first, and of two plans for a day that one holds.
            for (const SolvedDay& d : season.days)
                if (auto& planned = days[d.date].first; !planned)
                    planned = d.stress;
        }
        for (const RideRecord& r : f.rides)
            if (!r.excluded) {
                days[r.day].second += r.score.stress.value_or(0);
                record.ridden[r.day] += r.score.stress.value_or(0);
            }
        if (days.empty())
            return;
        const Date first = days.begin()->first, last = days.rbegin()->first;
        const LoadHistory history(record, last);
        for (Date day = first; day <= last; day = day + 1) {
            const auto found = days.find(day);
            const LoadState evening = history.before(day + 1);
            days_ += csvRow({who, isoBytes(day), found == days.end() ? "" : csvNumber(found->second.first),
                             csvNumber(history.ridden(day)), csvNumber(evening.fitness),
                             csvNumber(evening.fatigue), csvNumber(history.form(day))});
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
        return refuse(phrase("was written by another version of Marram; update Marram to read it"));
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
        return refuse(phrase("\"%1\" lies outside the export", name.left(60).toStdString()));
    return path;
}

} // namespace

namespace {

/// How many rides the chosen riders have, for progress.
int ridesOf(const Roster& roster, const std::vector<RiderRecord>& riders, Damage& damage) {
    int total = 0;
    for (const RiderRecord& r : riders)
        if (const auto sums = roster.daySumsOf(r.id, &damage))
            total += static_cast<int>(sums->size());
    return total;
}

} // namespace

QString fileNameOf(const QString& name) {
    QString out;
    for (const QChar c : name.toLower())
        out += c.unicode() < 128 && c.isLetterOrNumber() ? c : QChar('-');
    return out.left(40);
}

/// Its name in the folder; empty, and said on the ride, where the recording is lost.
static Result<QString> exportOriginal(const Roster& roster, const QDir& dir, RideRecord& r, Damage& damage) {
    const auto bytes = wholeOriginal(roster, r, damage);
    if (!bytes)
        return tl::unexpected(bytes.error());
    if (!*bytes) {
        if (!r.remarks.contains(lostRecording))
            r.remarks << lostRecording;
        return QString();
    }
    const QString name =
        QString("originals/%1.%2").arg(QString::fromLatin1(r.contentHash.toHex()), suffixOf(**bytes));
    // A file that is there with that content is kept; anything else of the name gives way.
    const QString path = dir.filePath(name);
    const auto there = QFileInfo(path).isSymLink() ? refuse(phrase("")) : readWholeFile(path);
    if (!there || *there != **bytes)
        if (auto ok = writeWholeFile(path, **bytes); !ok)
            return tl::unexpected(ok.error());
    return name;
}

Result<Damage> exportJson(const Roster& roster, const QString& folder, const std::vector<qint64>& ids,
                          const Progress& progress) {
    Damage damage = roster.examineFile();
    const auto riders = chosen(roster, ids, damage);
    if (!riders)
        return tl::unexpected(riders.error());
    const QDir dir(folder);
    if (auto ok = makeFolder(folder); !ok)
        return tl::unexpected(ok.error());
    for (const char* each : {"riders", "originals"})
        if (auto ok = makeFolderInside(folder, each); !ok)
            return tl::unexpected(ok.error());
    const int total = ridesOf(roster, *riders, damage);
    int done = 0;
    QJsonArray names;
    for (const RiderRecord& rider : *riders) {
        auto f = gather(roster, rider, damage);
        if (!f)
            return tl::unexpected(f.error());
        for (RideRecord& r : f->rides) {
            const auto original = exportOriginal(roster, dir, r, damage);
            if (!original)
                return tl::unexpected(original.error());
            f->originals << *original;
            ++done;
            if (progress && !progress(done, std::max(done, total)))
                return refuse(
                    phrase("The export was cancelled; what is in %1 is not complete.", folder.toStdString()));
        }
        const QString name =
            QString("riders/%1-%2.json").arg(names.size() + 1, 3, 10, QChar('0')).arg(fileNameOf(rider.name));
        if (auto ok = writeWholeFile(dir.filePath(name), jsonBytes(writeRider(*f))); !ok)
            return tl::unexpected(ok.error());
        names.append(name);
    }
    if (auto ok = writeWholeFile(dir.filePath("roster.json"),
                                 jsonBytes({{"format", indexFormat}, {"version", 1}, {"riders", names}}));
        !ok)
        return tl::unexpected(ok.error());
    return damage;
}

Result<Damage> exportCsv(const Roster& roster, const QString& folder) {
    Damage damage = roster.examineFile();
    const auto riders = chosen(roster, {}, damage);
    if (!riders)
        return tl::unexpected(riders.error());
    if (auto ok = makeFolder(folder); !ok)
        return tl::unexpected(ok.error());
    Tables tables;
    for (const RiderRecord& rider : *riders) {
        const auto f = gather(roster, rider, damage);
        if (!f)
            return tl::unexpected(f.error());
        tables.add(*f);
    }
    for (const auto& [name, bytes] : tables.all())
        if (auto ok = writeWholeFile(QDir(folder).filePath(name), bytes); !ok)
            return tl::unexpected(ok.error());
    return damage;
}

Result<Damage> examine(const Roster& roster, const Progress& progress) {
    Damage damage = roster.examineFile();
    const auto riders = chosen(roster, {}, damage);
    if (!riders)
        return tl::unexpected(riders.error());
    const int total = ridesOf(roster, *riders, damage);
    int done = 0;
    for (const RiderRecord& rider : *riders) {
        const auto f = gather(roster, rider, damage);
        if (!f)
            return tl::unexpected(f.error());
        for (const RideRecord& r : f->rides) {
            if (const auto bytes = wholeOriginal(roster, r, damage); !bytes)
                return tl::unexpected(bytes.error());
            ++done;
            if (progress && !progress(done, std::max(done, total)))
                return damage;
        }
    }
    return damage;
}

namespace {

Result<void> storeSeasons(Roster& roster, const RiderFile& f, qint64 rider) {
    std::vector<qint64> seasons;
    for (const auto& s : f.seasons) {
        SeasonRecord record = s.record;
        record.id = 0;
        record.rider = rider;
        record.branchedFrom.reset();
        auto season = roster.saveSeason(record);
        if (!season)
            return tl::unexpected(season.error());
        seasons.push_back(*season);
        if (auto ok = roster.savePlannedDays(*season, {std::numeric_limits<int>::min()}, s.days); !ok)
            return tl::unexpected(ok.error());
        if (auto ok = roster.saveMeant(*season, {std::numeric_limits<int>::min()}, s.meant); !ok)
            return tl::unexpected(ok.error());
    }
    // Once all have their ids it can be said which was made from which.
    for (size_t i = 0; i < seasons.size(); ++i)
        if (SeasonRecord record = f.seasons[i].record; record.branchedFrom) {
            record.id = seasons[i];
            record.rider = rider;
            record.branchedFrom = seasons[static_cast<size_t>(*record.branchedFrom) - 1];
            if (auto ok = roster.saveSeason(record); !ok)
                return tl::unexpected(ok.error());
        }
    return {};
}

/// What was written, noted and answered.
Result<void> storeWords(Roster& roster, const RiderFile& f, qint64 rider) {
    for (const auto& [week, words] : f.letters)
        if (auto ok = roster.saveLetter(rider, week, words); !ok)
            return ok;
    for (const NotedCaution& n : f.noted)
        if (auto ok = roster.saveNoted(rider, n.code, n); !ok)
            return ok;
    for (const CheckIn& c : f.checkIns)
        if (auto ok = roster.saveCheckIn(rider, c); !ok)
            return ok;
    return {};
}

/// Stores a gathered rider as a new one, with the recordings `packedOf` gives by the ride's place.
Result<qint64> storeRider(Roster& roster, RiderFile& f,
                          const std::function<Result<QByteArray>(size_t place, RideRecord&)>& packedOf) {
    f.rider.id = 0;
    auto id = roster.saveRider(f.rider);
    if (!id)
        return id;
    if (auto ok = storeSeasons(roster, f, *id); !ok)
        return tl::unexpected(ok.error());
    for (TestRecord& t : f.tests) {
        t.id = 0;
        t.rider = *id;
        if (auto ok = roster.saveTest(t); !ok)
            return ok;
    }
    if (auto ok = storeWords(roster, f, *id); !ok)
        return tl::unexpected(ok.error());
    for (size_t i = 0; i < f.rides.size(); ++i) {
        RideRecord& r = f.rides[i];
        const auto packed = packedOf(i, r);
        if (!packed)
            return tl::unexpected(packed.error());
        r.id = 0;
        r.rider = *id;
        if (auto ok = roster.addRide(r, *packed); !ok)
            return ok;
    }
    if (auto ok = roster.saveScales(*id, f.rider.scales); !ok)
        return tl::unexpected(ok.error());
    if (f.rider.owesLearning)
        if (auto ok = roster.oweLearning(*id); !ok)
            return tl::unexpected(ok.error());
    return id;
}

} // namespace

Result<Damage> saveWhole(const Roster& roster, const QString& path, const Progress& progress) {
    Damage damage;
    auto ok = makeAside(path, [&](const QString& aside) -> Result<void> {
        const auto riders = chosen(roster, {}, damage);
        if (!riders)
            return tl::unexpected(riders.error());
        const int total = ridesOf(roster, *riders, damage);
        int done = 0;
        auto made = Roster::create(aside);
        if (!made)
            return tl::unexpected(made.error());
        for (const RiderRecord& rider : *riders) {
            auto f = gather(roster, rider, damage);
            if (!f)
                return tl::unexpected(f.error());
            auto stored = (*made)->together([&]() -> Result<void> {
                const auto id = storeRider(**made, *f, [&](size_t, RideRecord& r) -> Result<QByteArray> {
                    const auto bytes = wholeOriginal(roster, r, damage);
                    if (!bytes)
                        return tl::unexpected(bytes.error());
                    if (progress && !progress(++done, std::max(done, total)))
                        return refuse(phrase("Saving was cancelled; nothing was kept."));
                    if (*bytes)
                        return Roster::packed(**bytes);
                    if (!r.remarks.contains(lostRecording))
                        r.remarks << lostRecording;
                    return QByteArray();
                });
                return whether(id);
            });
            if (!stored)
                return stored;
        }
        return {};
    });
    if (!ok)
        return tl::unexpected(ok.error());
    return damage;
}

namespace {

Result<QJsonObject> objectIn(const QString& file) {
    auto bytes = readWholeFile(file);
    if (!bytes)
        return tl::unexpected(bytes.error());
    auto object = parseJsonObject(*bytes);
    if (!object)
        return refuse(phrase("%1: %2", file.toStdString(), object.error().sentence));
    return object;
}

/// A recording out of an export, packed; refused where it is not the one its name stands for.
Result<QByteArray> packedAsNamed(const QString& original, RideRecord& r) {
    const auto bytes = readWholeFile(original);
    if (!bytes)
        return tl::unexpected(bytes.error());
    const QByteArray hash = QCryptographicHash::hash(*bytes, QCryptographicHash::Sha256);
    if (QFileInfo(original).completeBaseName() != QString::fromLatin1(hash.toHex()) ||
        (!r.contentHash.isEmpty() && r.contentHash != hash))
        return refuse(phrase("%1: is not the recording its name stands for; copy the export again",
                             original.toStdString()));
    r.contentHash = hash;
    return Roster::packed(*bytes);
}

} // namespace

/// Empty where the file names none.
static Result<QByteArray>
originalOf(const QDir& folder, const QString& name, RideRecord& ride,
           const std::function<tl::unexpected<Problem>(const std::string&)>& refused) {
    if (name.isEmpty())
        return QByteArray();
    const auto original = inside(folder, name);
    if (!original)
        return refused(original.error().sentence);
    return packedAsNamed(*original, ride);
}

Result<std::vector<qint64>> importJson(Roster& roster, const QString& path, const Progress& progress) {
    const auto first = objectIn(path);
    if (!first)
        return tl::unexpected(first.error());
    const auto names = riderFilesOf(path, *first);
    if (!names)
        return refuse(phrase("%1: %2", path.toStdString(), names.error().sentence));
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
            return refuse(phrase("%1: %2", file.toStdString(), sentence));
        };
        const auto object = objectIn(file);
        if (!object)
            return tl::unexpected(object.error());
        auto f = readRider(*object);
        if (!f)
            return ofFile(f.error().sentence);
        const auto id = storeRider(roster, *f, [&](size_t i, RideRecord& r) -> Result<QByteArray> {
            const std::string place = "rides[" + std::to_string(i) + "].original: ";
            if (progress && !progress(++done, static_cast<int>(f->rides.size())))
                return refuse(phrase("Bringing in was cancelled; nothing was kept."));
            return originalOf(folder, f->originals[static_cast<qsizetype>(i)], r,
                              [&](const auto& sentence) { return ofFile(place + sentence); });
        });
        if (!id)
            return tl::unexpected(id.error());
        added.push_back(*id);
        return {};
    };
    const auto ok = roster.together([&]() -> Result<void> {
        for (const QString& name : *names) {
            const auto file = inside(namesFrom, name);
            if (!file)
                return refuse(phrase("%1: riders: %2", path.toStdString(), file.error().sentence));
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
