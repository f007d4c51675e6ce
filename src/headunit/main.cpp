// SPDX-License-Identifier: GPL-3.0-or-later
#include "formats/files/guarded.h"
#include "headunit/device.h"
#include "version.h"

#include <CLI/CLI.hpp>
#include <QDateTime>
#include <cstdio>
#include <iostream>

using namespace marram;

namespace {

int run(int argc, char** argv) {
    CLI::App app{
        "marram-headunit: a simulated bike computer. It rides a session for an invented rider, second by "
        "second, and leaves the FIT file a real device would have written. The same seed gives the same "
        "ride."};
    app.set_version_flag("--version", std::string("marram-headunit ") + version);
    std::string folder, kind = "endurance", start, workout;
    double hours = 1.5, stress = 80;
    std::uint64_t seed = 1;
    SimulatedRider rider;
    SimulatedDay day;
    bool noPower = false, noHeartRate = false, steady = false;
    app.add_option("folder", folder, "folder of the device, made if it is missing")->required();
    app.add_option("--kind", kind, "what is ridden")
        ->check(CLI::IsMember({"endurance", "intervals", "openers", "race"}));
    app.add_option("--workout", workout, "folder whose newest FIT workout is ridden, instead of a kind");
    app.add_option("--hours", hours, "length in hours")->check(CLI::Range(0.2, 12.0));
    app.add_option("--stress", stress, "intended stress in points")->check(CLI::Range(1.0, 900.0));
    app.add_option("--threshold-power", rider.thresholdPower, "W")->check(CLI::Range(50.0, 700.0));
    app.add_option("--threshold-hr", rider.thresholdHeartRate, "bpm")->check(CLI::Range(80.0, 230.0));
    app.add_option("--rest-hr", rider.restHeartRate, "bpm")->check(CLI::Range(25.0, 120.0));
    app.add_option("--max-hr", rider.maxHeartRate, "bpm")->check(CLI::Range(100.0, 250.0));
    app.add_option("--legs", day.legs, "factor on every power")->check(CLI::Range(0.3, 1.5));
    app.add_option("--temperature", day.temperature, "degrees Celsius")->check(CLI::Range(-20.0, 45.0));
    app.add_option("--cut-short", day.cutShortAfter, "part of the session that is ridden")
        ->check(CLI::Range(0.05, 1.0));
    app.add_option("--start", start, "ISO 8601 start with offset; now where left out");
    app.add_option("--seed", seed, "any whole number");
    app.add_flag("--no-power", noPower, "the bike has no power meter");
    app.add_flag("--no-heart-rate", noHeartRate, "the rider wears no strap");
    app.add_flag("--no-stops-or-dropouts", steady, "nothing interrupts the recording");
    try {
        app.parse(argc, argv);
    } catch (const CLI::ParseError& e) {
        if (e.get_exit_code() == 0)
            return app.exit(e); // help was asked for
        std::string wrong = e.what();
        std::replace(wrong.begin(), wrong.end(), '\n', ' ');
        std::cerr << wrong << " See marram-headunit --help.\n";
        return 2;
    }
    QDateTime when = QDateTime::currentDateTime().addSecs(-static_cast<qint64>(hours * 3600));
    if (!start.empty())
        when = QDateTime::fromString(QString::fromStdString(start), Qt::ISODate);
    if (!when.isValid()) {
        std::cerr << "--start: \"" << start << "\" is no time; it should be like 2027-01-04T09:30:00+01:00\n";
        return 3;
    }
    day.start = when.toSecsSinceEpoch();
    day.utcOffset = when.offsetFromUtc();
    day.stops = day.dropouts = !steady;
    rider.powerMeter = !noPower;
    rider.heartRateStrap = !noHeartRate;
    const SessionKind what = kind == "intervals" ? SessionKind::Intervals
                             : kind == "openers" ? SessionKind::Openers
                             : kind == "race"    ? SessionKind::Race
                                                 : SessionKind::Endurance;
    RoughSession session = prescribe(what, hours, stress);
    if (!workout.empty()) {
        auto read = workoutFrom(QString::fromStdString(workout), rider.thresholdPower);
        if (!read) {
            std::cerr << read.error().sentence << "\n";
            return 3;
        }
        session = std::move(*read);
    }
    const auto saved = saveToDevice(QString::fromStdString(folder), ride(session, rider, day, seed));
    if (!saved) {
        std::cerr << saved.error().sentence << "\n";
        return 3;
    }
    std::cout << saved->toStdString() << "\n";
    return 0;
}

} // namespace

int main(int argc, char** argv) {
    return guarded(run, argc, argv);
}
