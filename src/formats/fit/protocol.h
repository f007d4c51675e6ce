// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include <array>
#include <cstdint>
#include <optional>
#include <span>
#include <string>
#include <vector>

namespace marram::fit {

/// Seconds from the Unix epoch to that of the FIT protocol, 1989-12-31T00:00:00Z.
inline constexpr std::int64_t epoch = 631065600;

/// Global message numbers of the published protocol that Marram reads or writes.
enum Message : std::uint16_t {
    FileId = 0,
    UserProfile = 3,
    ZonesTarget = 7,
    Session = 18,
    LapMark = 19,
    Record = 20,
    Event = 21,
    Activity = 34
};

/// Base types of the published protocol: low five bits are the number, bit 7 says that byte order matters.
enum BaseType : std::uint8_t {
    Enum = 0x00,
    Sint8 = 0x01,
    Uint8 = 0x02,
    Sint16 = 0x83,
    Uint16 = 0x84,
    Sint32 = 0x85,
    Uint32 = 0x86,
    String = 0x07,
    Float32 = 0x88,
    Float64 = 0x89,
    Uint8z = 0x0A,
    Uint16z = 0x8B,
    Uint32z = 0x8C,
    Byte = 0x0D,
    Sint64 = 0x8E,
    Uint64 = 0x8F,
    Uint64z = 0x90
};

/// Sports of the published protocol that are no riding (values from memory).
struct SportName {
    int number;
    const char* name;
};
inline constexpr std::array<SportName, 12> otherSports{{{1, "running"},
                                                        {5, "swimming"},
                                                        {10, "training"},
                                                        {11, "walking"},
                                                        {12, "cross-country skiing"},
                                                        {13, "alpine skiing"},
                                                        {14, "snowboarding"},
                                                        {15, "rowing"},
                                                        {16, "mountaineering"},
                                                        {17, "hiking"},
                                                        {19, "paddling"},
                                                        {30, "inline skating"}}};

/// Sub-sports of the published protocol that are ridden indoors: on a trainer, and over a course that is not
/// there (values from memory).
inline constexpr std::array indoorSubSports{6, 58};

/// Bytes of one value of a base type; 0 for a type the protocol does not have.
int sizeOf(std::uint8_t baseType);

/// The checksum of the protocol (CRC-16, reflected polynomial 0xA001), continued from `crc`.
std::uint16_t checksum(std::span<const std::uint8_t> bytes, std::uint16_t crc = 0);

struct FieldDefinition {
    std::uint8_t number = 0, size = 0, baseType = 0;
};

/// What a definition message says of the data messages that follow it.
struct Definition {
    std::uint16_t message = 0;
    bool bigEndian = false;
    std::vector<FieldDefinition> fields;
    int size = 0; ///< bytes of one data message, developer fields included
};

/// One data message, read in place.
class Fields {
public:
    Fields(const Definition& definition, std::span<const std::uint8_t> bytes)
        : definition_(definition), bytes_(bytes) {}
    /// First value of a field; nothing where the field is absent, invalid or text.
    std::optional<double> number(std::uint8_t field) const;
    /// A field of text up to its end; empty where it is absent.
    std::string text(std::uint8_t field) const;

private:
    const Definition& definition_;
    std::span<const std::uint8_t> bytes_;
};

} // namespace marram::fit
