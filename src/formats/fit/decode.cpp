// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/words/phrase.h"
#include "formats/fit/fit.h"
#include "formats/fit/messages.h"

#include <cmath>

namespace marram {
namespace {

using namespace fit;
using Bytes = std::span<const std::uint8_t>;

constexpr double latest = 4294967295.0; ///< the largest number a field of a ride can hold
constexpr size_t mostLaps = 20000;

std::uint32_t little32(Bytes b, size_t at) {
    return static_cast<std::uint32_t>(b[at]) | static_cast<std::uint32_t>(b[at + 1]) << 8 |
           static_cast<std::uint32_t>(b[at + 2]) << 16 | static_cast<std::uint32_t>(b[at + 3]) << 24;
}
std::uint16_t little16(Bytes b, size_t at) {
    return static_cast<std::uint16_t>(b[at] | b[at + 1] << 8);
}

/// Reads the messages of one file of a chain into a recording.
class Decoder {
public:
    explicit Decoder(Recording& out) : out_(out) {}

    bool take(std::uint16_t message, const Fields& fields, int offset) {
        if (const auto t = fields.number(253)) {
            if (*t >= 0 && *t <= latest) // whatever type the file says it has
                time_ = static_cast<std::int64_t>(*t);
        } else if (offset >= 0)
            time_ += ((offset - time_) % 32 + 32) % 32;
        take(message, fields);
        return out_.samples.size() <= mostSamples;
    }

private:
    double unixTime(double t) const { return t + static_cast<double>(epoch); }

    /// Nothing where the field is missing or lies outside.
    static std::optional<double> numberIn(const Fields& f, int field, double low, double high) {
        const auto number = f.number(field);
        return number && *number >= low && *number <= high ? number : std::nullopt;
    }

    void session(const Fields& f) {
        if (const auto distance = numberIn(f, 9, 0, latest))
            out_.sessionDistance = out_.sessionDistance.value_or(0) + *distance / 100;
        if (const auto sport = f.number(5))
            sported(*sport);
        if (const auto sub = f.number(6))
            out_.indoors = out_.indoors || std::find(indoorSubSports.begin(), indoorSubSports.end(),
                                                     static_cast<int>(*sub)) != indoorSubSports.end();
    }

    void take(std::uint16_t message, const Fields& f) {
        switch (message) {
        case Record:
            record(f);
            break;
        case LapMark:
            if (const auto start = numberIn(f, 2, 0, latest); start && out_.laps.size() < mostLaps)
                out_.laps.push_back({unixTime(*start), unixTime(static_cast<double>(time_))});
            break;
        case Session:
            session(f);
            break;
        case UserProfile: // weight in tenths of a kilogram (field number from memory)
            if (const auto weight = numberIn(f, 4, 200, 2500))
                out_.riderWeight = *weight / 10;
            break;
        case ZonesTarget: // functional threshold power (field number from memory)
            if (const auto watts = numberIn(f, 3, 30, 700))
                out_.deviceThreshold = *watts;
            break;
        case Event:
            if (f.number(0) == 0.0 && (f.number(1) == 1.0 || f.number(1) == 4.0))
                ++out_.timerStops;
            break;
        case Activity:
            if (const auto local = f.number(5)) {
                const double offset = *local - static_cast<double>(time_);
                if (std::abs(offset) <= 15 * 3600)
                    out_.utcOffset = static_cast<int>(offset);
            }
            break;
        default:
            break;
        }
    }

    /// One session of riding makes it a ride, whatever the others are.
    void sported(double number) {
        const auto other = std::find_if(otherSports.begin(), otherSports.end(),
                                        [&](const SportName& s) { return s.number == number; });
        if (other == otherSports.end())
            rode_ = true;
        if (rode_)
            out_.otherSport.reset();
        else
            out_.otherSport = other->name;
    }

    void record(const Fields& f) {
        Sample s;
        s.time = unixTime(static_cast<double>(time_));
        const auto set = [&](float& to, std::uint8_t field, double scale, double offset = 0) {
            if (const auto v = f.number(field); v && std::abs(*v) <= latest)
                to = static_cast<float>(*v / scale - offset);
        };
        set(s.power, 7, 1);
        set(s.heartRate, 3, 1);
        set(s.cadence, 4, 1);
        set(s.altitude, 2, 5, 500);
        set(s.altitude, 78, 5, 500);
        set(s.distance, 5, 100);
        set(s.temperature, 13, 1);
        if (const auto balance = f.number(30); balance && *balance >= 0 && *balance <= 255) {
            const auto raw = static_cast<int>(*balance);
            const float share = static_cast<float>(raw & 0x7F) / 100.0F;
            s.leftShare = raw & 0x80 ? 1 - share : missing;
        }
        constexpr double degrees = 180.0 / 2147483648.0;
        if (const auto v = f.number(0))
            s.latitude = *v * degrees;
        if (const auto v = f.number(1))
            s.longitude = *v * degrees;
        out_.samples.push_back(s);
    }

    Recording& out_;
    std::int64_t time_ = 0;
    bool rode_ = false;
};
using RideMessages = Messages<Decoder>;

Result<void> checkHeader(Bytes rest, const std::string& place) {
    if (rest.size() < 12 || rest[8] != '.' || rest[9] != 'F' || rest[10] != 'I' || rest[11] != 'T')
        return refuse(phrase("%1not a FIT file; it should begin with a FIT header", place));
    const size_t header = rest[0];
    if (header < 12 || header > rest.size())
        return refuse(phrase("%1the FIT header is damaged; export the ride again from the device", place));
    if (header >= 14) {
        const std::uint16_t stated = little16(rest, 12);
        if (stated != 0 && stated != checksum(rest.first(12)))
            return refuse(phrase(
                "%1the FIT header is damaged (its checksum is wrong); export the ride again from the device",
                place));
    }
    return {};
}

/// Reads one file of a chain that starts at `at`; moves `at` behind it.
Result<void> readOne(Bytes bytes, size_t& at, Recording& out) {
    const std::string place = at == 0 ? "" : "at byte " + std::to_string(at) + ": ";
    const Bytes rest = bytes.subspan(at);
    if (auto ok = checkHeader(rest, place); !ok)
        return ok;
    const size_t header = rest[0], size = little32(rest, 4);
    const size_t present = std::min(size, rest.size() - header);
    const Bytes data = rest.subspan(header, present);
    const bool whole = rest.size() - header >= size + 2;
    if (whole && checksum(rest.first(header + size)) != little16(rest, header + size))
        return refuse(phrase(
            "%1the checksum is wrong, so the file is damaged; export the ride again from the device", place));
    Decoder decoder(out);
    RideMessages messages(decoder);
    const size_t before = out.samples.size();
    const auto end = messages.read(data);
    if (end == RideMessages::End::TooMany)
        return refuse(
            phrase("%1holds more than %2 records, which no ride has", place, std::to_string(mostSamples)));
    if (end == RideMessages::End::Broken && whole)
        return refuse(
            phrase("at byte %1: a message comes before its definition; export the ride again from the device",
                   std::to_string(at + header + messages.stoppedAt())));
    if (!whole)
        out.remarks.push_back("The file is cut short: " + std::to_string(rest.size()) + " of " +
                              std::to_string(header + size + 2) + " bytes are there; " +
                              std::to_string(out.samples.size() - before) +
                              " whole records were kept, the rest is lost.");
    else if (end == RideMessages::End::Cut)
        out.remarks.push_back("The last message of the file is incomplete and was left out.");
    at = whole ? at + header + size + 2 : bytes.size();
    return {};
}

} // namespace

Result<Recording> readFit(Bytes bytes) {
    Recording out;
    size_t at = 0;
    do {
        if (auto ok = readOne(bytes, at, out); !ok) {
            if (at == 0 || out.samples.size() > mostSamples)
                return tl::unexpected(ok.error());
            out.remarks.push_back(
                "After the first ride the file goes on with something unreadable, which was left out.");
            break;
        }
    } while (at < bytes.size());
    if (out.samples.empty())
        return refuse(phrase("holds no records of a ride; it should hold at least one"));
    return out;
}

} // namespace marram
