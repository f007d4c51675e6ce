// SPDX-License-Identifier: GPL-3.0-or-later
#include "formats/fit/encoder.h"
#include "formats/fit/fit.h"

#include <algorithm>
#include <cmath>

namespace marram {
namespace {

using namespace fit;

enum Local : std::uint8_t {
    LocalFile,
    LocalEvent,
    LocalRecord,
    LocalLap,
    LocalSession,
    LocalActivity,
    LocalProfile,
    LocalZones
};

std::uint64_t deviceTime(double unixTime) {
    return static_cast<std::uint64_t>(std::llround(unixTime) - epoch);
}

void writeEvent(Encoder& out, double time, std::uint8_t type) {
    out.byte(LocalEvent);
    out.put(deviceTime(time), 4);
    out.byte(0); // timer
    out.byte(type);
}

void writeRecord(Encoder& out, const Sample& s) {
    out.byte(LocalRecord);
    out.put(deviceTime(s.time), 4);
    out.position(s.latitude);
    out.position(s.longitude);
    out.scaled(static_cast<double>(s.altitude), 5, 500, 2);
    out.scaled(static_cast<double>(s.heartRate), 1, 0, 1);
    out.scaled(static_cast<double>(s.cadence), 1, 0, 1);
    out.scaled(static_cast<double>(s.distance), 100, 0, 4);
    out.scaled(static_cast<double>(s.power), 1, 0, 2);
    out.put(std::isfinite(s.temperature) ? static_cast<std::uint8_t>(static_cast<std::int8_t>(s.temperature))
                                         : 0x7F,
            1);
    const bool balance = std::isfinite(s.leftShare);
    out.put(balance ? 0x80U | static_cast<unsigned>(std::lround((1 - static_cast<double>(s.leftShare)) * 100))
                    : 0xFFU,
            1);
}

/// What stands before the records: the file, the rider, and what records are made of.
void writeHead(Encoder& out, const Recording& recording, double first) {
    constexpr std::uint8_t u1 = Uint8, u2 = Uint16, u4 = Uint32;
    out.define(LocalFile, FileId, {{0, 1, Enum}, {1, 2, u2}, {2, 2, u2}, {3, 4, Uint32z}, {4, 4, u4}});
    out.byte(LocalFile);
    out.byte(4);     // activity
    out.put(255, 2); // manufacturer: development
    out.put(1, 2);
    out.put(20270101, 4);
    out.put(deviceTime(first), 4);
    if (recording.riderWeight) {
        out.define(LocalProfile, UserProfile, {{4, 2, u2}});
        out.byte(LocalProfile);
        out.scaled(*recording.riderWeight, 10, 0, 2);
    }
    if (recording.deviceThreshold) {
        out.define(LocalZones, ZonesTarget, {{3, 2, u2}});
        out.byte(LocalZones);
        out.scaled(*recording.deviceThreshold, 1, 0, 2);
    }
    out.define(LocalEvent, Event, {{253, 4, u4}, {0, 1, Enum}, {1, 1, Enum}});
    out.define(LocalRecord, Record,
               {{253, 4, u4},
                {0, 4, Sint32},
                {1, 4, Sint32},
                {2, 2, u2},
                {3, 1, u1},
                {4, 1, u1},
                {5, 4, u4},
                {7, 2, u2},
                {13, 1, Sint8},
                {30, 1, u1}});
}

/// The ride as a whole, and the file's one activity.
void writeWhole(Encoder& out, const Recording& recording, double first, double last, double timer) {
    constexpr std::uint8_t u2 = Uint16, u4 = Uint32;
    const auto& samples = recording.samples;
    out.define(LocalSession, Session,
               {{253, 4, u4}, {2, 4, u4}, {5, 1, Enum}, {6, 1, Enum}, {7, 4, u4}, {8, 4, u4}, {9, 4, u4}});
    out.byte(LocalSession);
    out.put(deviceTime(last), 4);
    out.put(deviceTime(first), 4);
    const auto other = std::find_if(otherSports.begin(), otherSports.end(),
                                    [&](const SportName& s) { return recording.otherSport == s.name; });
    constexpr int cycling = 2;
    out.byte(static_cast<std::uint8_t>(other != otherSports.end() ? other->number : cycling));
    out.byte(static_cast<std::uint8_t>(recording.indoors ? indoorSubSports.front() : 0));
    out.scaled(last - first, 1000, 0, 4);
    out.scaled(timer, 1000, 0, 4);
    out.scaled(samples.empty() ? missing : static_cast<double>(samples.back().distance), 100, 0, 4);
    out.define(LocalActivity, Activity, {{253, 4, u4}, {0, 4, u4}, {1, 2, u2}, {2, 1, Enum}, {5, 4, u4}});
    out.byte(LocalActivity);
    out.put(deviceTime(last), 4);
    out.scaled(timer, 1000, 0, 4);
    out.put(1, 2);
    out.byte(0);
    out.put(deviceTime(last + recording.utcOffset.value_or(0)), 4);
}

} // namespace

std::vector<std::uint8_t> writeFit(const Recording& recording) {
    constexpr std::uint8_t u4 = Uint32;
    Encoder out;
    const auto& samples = recording.samples;
    const double first = samples.empty() ? static_cast<double>(epoch) : samples.front().time;
    const double last = samples.empty() ? first : samples.back().time;

    writeHead(out, recording, first);
    writeEvent(out, first, 0);
    double timer = 0;
    for (size_t i = 0; i < samples.size(); ++i) {
        const double gap = i > 0 ? samples[i].time - samples[i - 1].time : 0;
        if (gap > longestHeldGap) {
            writeEvent(out, samples[i - 1].time, 4);
            writeEvent(out, samples[i].time, 0);
        } else {
            timer += gap;
        }
        writeRecord(out, samples[i]);
    }
    writeEvent(out, last, 4);

    out.define(LocalLap, LapMark, {{253, 4, u4}, {2, 4, u4}, {7, 4, u4}});
    for (const Lap& lap : recording.laps) {
        out.byte(LocalLap);
        out.put(deviceTime(lap.end), 4);
        out.put(deviceTime(lap.start), 4);
        out.scaled(lap.end - lap.start, 1000, 0, 4);
    }
    writeWhole(out, recording, first, last, timer);
    return out.finish();
}

} // namespace marram
