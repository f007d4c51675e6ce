// SPDX-License-Identifier: GPL-3.0-or-later
#include "fuzz/targets.h"
#include "core/load/load.h"
#include "core/ride/efforts.h"
#include "core/ride/meanmax.h"
#include "core/ride/recognise.h"
#include "core/ride/score.h"
#include "formats/csv/csv.h"
#include "formats/fit/fit.h"
#include "formats/gpx/gpx.h"
#include "formats/json/reader.h"
#include "formats/json/score_json.h"
#include "formats/json/season_json.h"
#include "formats/recording/recording.h"
#include "store/exchange.h"
#include "store/rider_json.h"

#include <QDir>
#include <QFile>
#include <QJsonDocument>
#include <cmath>
#include <cstdio>
#include <cstdlib>
#include <unistd.h>

namespace marram::fuzz {
namespace {

void must(bool holds, const char* what) {
    if (holds)
        return;
    std::fprintf(stderr, "does not hold: %s\n", what);
    std::abort();
}

template <class T>
void hasSentence(const Result<T>& r) {
    must(r || !r.error().sentence.empty(), "a refusal says why");
    must(r || r.error().sentence.find('\n') == std::string::npos, "a refusal is one line");
}

} // namespace

void recording(const QByteArray& bytes) {
    const auto read = readRecording(bytes);
    hasSentence(read);
    if (!read)
        return;
    const QByteArray text = writeCsvRecording(*read);
    if (read->dated)
        must(readRecording(text).has_value(), "own CSV is read");
    if (const auto gpx = writeGpx(*read, "a"))
        must(readRecording(*gpx).has_value(), "own GPX is read");
    const auto fit = writeFit(*read);
    must(readFit(fit).has_value() || read->samples.empty(), "own FIT is read");
    const auto ride = toGrid(*read);
    if (!ride)
        return;
    ScoringBasis basis;
    basis.threshold = Watts{250};
    basis.heartRate = HeartRateRange{{50}, {170}, {190}, Sex::Female};
    const Score s = score(*ride, basis);
    must(!s.stress || (std::isfinite(*s.stress) && *s.stress >= 0), "stress is a number");
    must(s.duration > 0 && s.duration <= s.elapsed, "recorded time lies within the elapsed");
    if (s.bandSeconds) {
        must(std::abs(s.bandSeconds->sum() - s.duration) < 1e-6, "bands sum to the recorded time");
        must(std::abs(s.purposeSeconds->sum() - s.duration) < 1e-6, "purposes sum to the recorded time");
    }
    const auto back = scoreFrom(QJsonDocument::fromJson(QJsonDocument(writeScore(s)).toJson()).object());
    must(back.has_value(), "own score is read");
    if (ride->hasPower && ride->elapsed() <= 86400)
        (void)meanMaxCurve(*ride);
    (void)recogniseTests(*ride, Date{20000}, Watts{250}, {});
    (void)judgeSteadiness(*ride);
}

void season(const QByteArray& bytes) {
    const auto read = readSeason(bytes);
    hasSentence(read);
    if (!read)
        return;
    const QByteArray once = QJsonDocument(writeSeason(*read)).toJson();
    const auto again = readSeason(once);
    must(again.has_value(), "own season is read");
    must(QJsonDocument(writeSeason(*again)).toJson() == once, "own season comes back as it was");
}

void rider(const QByteArray& bytes) {
    const auto object = parseJsonObject(bytes);
    hasSentence(object);
    if (!object)
        return;
    const auto read = readRider(*object);
    hasSentence(read);
    if (!read)
        return;
    const auto written = writeRider(*read);
    const auto again = readRider(written);
    must(again.has_value(), "own rider is read");
    must(writeRider(*again) == written, "own rider comes back as it was");
}

void tables(const QByteArray& bytes) {
    const auto checkIns = readCheckIns(bytes);
    hasSentence(checkIns);
    if (checkIns)
        must(readCheckIns(writeCheckIns(*checkIns)).value() == *checkIns,
             "own check-ins come back as they were");
    const auto daily = readDailyStress(bytes);
    hasSentence(daily);
    if (daily) {
        std::vector<double> stress;
        for (Date d = daily->begin()->first; d <= daily->rbegin()->first; d = d + 1)
            stress.push_back(daily->contains(d) ? daily->at(d) : 0);
        for (const LoadDay& d : runModel(stress, {}))
            must(std::isfinite(d.form), "form is a number");
    }
}

void roster(const QByteArray& bytes) {
    const QString folder = QDir::tempPath() + QString("/marram-fuzz-%1").arg(getpid());
    QDir().mkpath(folder);
    const QString path = folder + "/r.marram";
    for (const char* beside : {"", "-wal", "-shm", "-journal"})
        QFile::remove(path + beside);
    QFile file(path);
    if (!file.open(QIODevice::WriteOnly) || file.write(bytes) != bytes.size())
        std::abort();
    file.close();
    const auto opened = Roster::open(path);
    hasSentence(opened);
    if (opened) {
        const auto damage = exportCsv(**opened, folder + "/out");
        hasSentence(damage);
        (void)examine(**opened);
    }
    QDir(folder).removeRecursively();
}

} // namespace marram::fuzz
