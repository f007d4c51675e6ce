// SPDX-License-Identifier: GPL-3.0-or-later
#include "formats/fit/workout.h"
#include "core/session/feel.h"
#include "core/session/shorthand.h"
#include "formats/fit/encoder.h"

namespace marram {
namespace {

using fit::Encoder;
using fit::Enum;
using fit::epoch;
using fit::FileId;
using fit::Uint16;
using fit::Uint32;

enum Message : std::uint16_t { WorkoutMessage = 26, WorkoutStepMessage = 27 };
enum Local : std::uint8_t { LocalFile, LocalWorkout, LocalStep };
/// Values of the published profile.
enum : std::uint8_t {
    ByTime = 0,
    UntilStepsComplete = 6,
    OpenTarget = 2,
    HeartRateTarget = 1,
    PowerTarget = 4,
    Active = 0,
    Rest = 1
};
constexpr std::uint8_t workoutFile = 5, cycling = 2;
constexpr size_t nameSize = 24, noteSize = 48;
constexpr double around = 0.02;
constexpr std::uint32_t none = 0xFFFFFFFF;

struct Row {
    std::string name, note;
    std::uint8_t duration = ByTime, target = OpenTarget, intensity = Active;
    std::uint32_t length = 0, value = 0, low = none, high = none;
};

class Rows {
public:
    Rows(std::optional<double> threshold, double lowThreshold, const std::optional<HeartRateRange>& heartRate)
        : threshold_(threshold), low_(lowThreshold), heartRate_(heartRate) {}

    std::vector<Row> run(const Session& session) {
        items(session.items);
        return std::move(rows_);
    }

private:
    /// Percent of threshold as it is; watts above a thousand, as the profile has it.
    std::uint32_t power(double fraction) const {
        const double value = threshold_ ? 1000 + fraction * *threshold_ : 100 * fraction;
        return static_cast<std::uint32_t>(std::lround(std::max(0.0, value)));
    }

    void step(const Step& s) {
        Row row;
        row.length = static_cast<std::uint32_t>(s.seconds) * 1000;
        row.name = writeShorthand(s);
        row.note = s.note;
        row.intensity = meanTarget(s) > low_ ? Active : Rest;
        if (s.kind == TargetKind::Power && !threshold_ && heartRate_) {
            const Feel feel = feelOf(s, heartRate_, low_);
            if (feel.heartRateFrom) { // beats above a hundred, as the profile has it
                row.target = HeartRateTarget;
                row.low = static_cast<std::uint32_t>(100 + *feel.heartRateFrom);
                row.high = static_cast<std::uint32_t>(100 + *feel.heartRateTo);
            }
            row.note = feelWords(feel) + (s.note.empty() ? "" : ": " + s.note);
        } else if (s.kind == TargetKind::Power) {
            row.target = PowerTarget;
            const bool ramp = s.from != s.to;
            row.low = power(ramp ? std::min(s.from, s.to) : s.from - around);
            row.high = power(ramp ? std::max(s.from, s.to) : s.to + around);
        } else {
            row.note = (s.kind == TargetKind::AllOut ? "all out" : "effort " + std::to_string(s.effort)) +
                       (s.note.empty() ? "" : ": " + s.note);
        }
        if (s.cadenceFrom)
            row.note += (row.note.empty() ? "" : ", ") + std::to_string(*s.cadenceFrom) + " to " +
                        std::to_string(*s.cadenceTo) + " rpm";
        rows_.push_back(row);
    }

    void items(const std::vector<Item>& all) {
        for (const Item& item : all) {
            if (item.count == 0) {
                step(item.step);
                continue;
            }
            const auto first = static_cast<std::uint32_t>(rows_.size());
            items(item.part);
            if (item.count == 1)
                continue;
            // With a rest between there is none after the last: so often with it, and once more without.
            for (const Step& r : item.rest)
                step(r);
            const int times = item.rest.empty() ? item.count : item.count - 1;
            if (times > 1) {
                Row again;
                again.duration = UntilStepsComplete;
                again.length = first;
                again.value = static_cast<std::uint32_t>(times);
                rows_.push_back(again);
            }
            if (!item.rest.empty())
                items(item.part);
        }
    }

    std::optional<double> threshold_;
    double low_;
    std::optional<HeartRateRange> heartRate_;
    std::vector<Row> rows_;
};

} // namespace

std::vector<std::uint8_t> writeWorkout(const Session& session, const std::string& name,
                                       std::optional<double> thresholdPower, double lowThreshold,
                                       std::int64_t created, const std::optional<HeartRateRange>& heartRate) {
    constexpr std::uint8_t u1 = Enum, u2 = Uint16, u4 = Uint32, text = 7;
    const std::vector<Row> rows = Rows(thresholdPower, lowThreshold, heartRate).run(session);
    Encoder out;
    out.define(LocalFile, FileId, {{0, 1, u1}, {1, 2, u2}, {2, 2, u2}, {4, 4, u4}});
    out.byte(LocalFile);
    out.byte(workoutFile);
    out.put(255, 2); // development, as the profile calls makers of their own
    out.put(1, 2);
    out.put(static_cast<std::uint64_t>(created - epoch), 4);
    out.define(LocalWorkout, WorkoutMessage, {{8, nameSize, text}, {4, 1, u1}, {6, 2, u2}});
    out.byte(LocalWorkout);
    out.text(name, nameSize);
    out.byte(cycling);
    out.put(rows.size(), 2);
    out.define(LocalStep, WorkoutStepMessage,
               {{254, 2, u2},
                {0, nameSize, text},
                {1, 1, u1},
                {2, 4, u4},
                {3, 1, u1},
                {4, 4, u4},
                {5, 4, u4},
                {6, 4, u4},
                {7, 1, u1},
                {8, noteSize, text}});
    for (size_t i = 0; i < rows.size(); ++i) {
        const Row& r = rows[i];
        out.byte(LocalStep);
        out.put(i, 2);
        out.text(r.name, nameSize);
        out.byte(r.duration);
        out.put(r.length, 4);
        out.byte(r.target);
        out.put(r.value, 4);
        out.put(r.low, 4);
        out.put(r.high, 4);
        out.byte(r.intensity);
        out.text(r.note, noteSize);
    }
    return out.finish();
}

} // namespace marram
