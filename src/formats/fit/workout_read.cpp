// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/words/phrase.h"
#include "formats/fit/messages.h"
#include "formats/fit/workout.h"

#include <cmath>

namespace marram {
namespace {

constexpr std::uint16_t workoutStep = 27;
constexpr size_t mostRows = 4000;

/// A step as the file has it.
struct Row {
    double duration = 0, length = 0, target = 2, value = 0, intensity = 0;
    std::optional<double> low, high;
    std::string note;
};

class Reader {
public:
    bool take(std::uint16_t message, const fit::Fields& f, int) {
        if (message != workoutStep)
            return true;
        Row r;
        r.duration = f.number(1).value_or(0);
        r.length = f.number(2).value_or(0);
        r.target = f.number(3).value_or(2);
        r.value = f.number(4).value_or(0);
        r.low = f.number(5);
        r.high = f.number(6);
        r.intensity = f.number(7).value_or(0);
        r.note = f.text(8);
        rows.push_back(std::move(r));
        return rows.size() <= mostRows;
    }
    std::vector<Row> rows;
};

} // namespace

/// The messages of a file that is whole.
static Result<std::span<const std::uint8_t>> messagesOf(std::span<const std::uint8_t> bytes) {
    if (bytes.size() < 14 || bytes[8] != '.' || bytes[9] != 'F' || bytes[10] != 'I' || bytes[11] != 'T')
        return refuse(phrase("not a FIT file; it should begin with a FIT header"));
    const size_t header = bytes[0];
    const size_t size = bytes[4] | static_cast<size_t>(bytes[5]) << 8 | static_cast<size_t>(bytes[6]) << 16 |
                        static_cast<size_t>(bytes[7]) << 24;
    if (header < 12 || header > bytes.size() || bytes.size() - header < size + 2)
        return refuse(phrase("the workout file is cut short; send it to the device again"));
    const size_t end = header + size;
    if (fit::checksum(bytes.first(end)) != (bytes[end] | bytes[end + 1] << 8))
        return refuse(
            phrase("the checksum is wrong, so the workout file is damaged; send it to the device again"));
    return bytes.subspan(header, size);
}

static WorkoutStep stepFrom(const Row& r, double thresholdPower) {
    WorkoutStep s;
    s.seconds = static_cast<int>(std::lround(std::clamp(r.length / 1000, 0.0, 1.0 * longestSession)));
    s.note = r.note;
    s.rest = r.intensity == 1;
    const auto fraction = [&](double v) { return v >= 1000 ? (v - 1000) / thresholdPower : v / 100; };
    if (r.target == 4 && r.low && r.high) {
        s.low = fraction(*r.low);
        s.high = fraction(*r.high);
    }
    return s;
}

Result<std::vector<WorkoutStep>> readWorkout(std::span<const std::uint8_t> bytes, double thresholdPower) {
    const auto data = messagesOf(bytes);
    if (!data)
        return tl::unexpected(data.error());
    Reader reader;
    fit::Messages<Reader> messages(reader);
    if (messages.read(*data) != fit::Messages<Reader>::End::Whole || reader.rows.empty())
        return refuse(phrase("holds no workout; it should hold steps"));
    // Repetitions go back to a step and count down.
    std::vector<WorkoutStep> out;
    std::vector<double> left(reader.rows.size(), -1);
    double total = 0;
    for (size_t i = 0; i < reader.rows.size();) {
        const Row& r = reader.rows[i];
        if (r.duration == 6) {
            if (r.length >= static_cast<double>(i) || r.length < 0)
                return refuse(phrase("step %1 repeats from a step that comes after it", std::to_string(i)));
            if (left[i] < 0)
                left[i] = std::min(r.value, 99.0);
            if (--left[i] > 0) {
                i = static_cast<size_t>(r.length);
            } else {
                left[i] = -1;
                ++i;
            }
            continue;
        }
        out.push_back(stepFrom(r, thresholdPower));
        total += out.back().seconds;
        if (out.size() > static_cast<size_t>(mostSteps) || total > longestSession)
            return refuse(phrase("holds more than a session may: at most 24 h and 2000 steps"));
        ++i;
    }
    return out;
}

} // namespace marram
