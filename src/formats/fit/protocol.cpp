// SPDX-License-Identifier: GPL-3.0-or-later
#include "formats/fit/protocol.h"

#include <algorithm>
#include <bit>
#include <cmath>

namespace marram::fit {
namespace {

constexpr std::array<int, 17> sizes{1, 1, 1, 2, 2, 4, 4, 1, 4, 8, 1, 2, 4, 1, 8, 8, 8};

std::uint64_t assemble(const std::uint8_t* p, int size, bool bigEndian) {
    std::uint64_t value = 0;
    for (int i = 0; i < size; ++i)
        value = value << 8 | p[bigEndian ? i : size - 1 - i];
    return value;
}

constexpr std::array<std::uint16_t, 256> makeTable() {
    std::array<std::uint16_t, 256> table{};
    for (unsigned i = 0; i < 256; ++i) {
        unsigned crc = i;
        for (int bit = 0; bit < 8; ++bit)
            crc = crc & 1 ? crc >> 1 ^ 0xA001U : crc >> 1;
        table[i] = static_cast<std::uint16_t>(crc);
    }
    return table;
}
constexpr auto crcTable = makeTable();

std::optional<double> decode(std::uint64_t raw, std::uint8_t baseType) {
    const int bits = 8 * sizeOf(baseType);
    const std::uint64_t ones = bits == 64 ? ~0ULL : (1ULL << bits) - 1;
    switch (baseType) {
    case Sint8:
    case Sint16:
    case Sint32:
    case Sint64: {
        if (raw == ones >> 1)
            return std::nullopt;
        const bool negative = raw >> (bits - 1) & 1;
        return static_cast<double>(static_cast<std::int64_t>(negative ? raw | ~ones : raw));
    }
    case Float32: {
        const float f = std::bit_cast<float>(static_cast<std::uint32_t>(raw));
        return std::isfinite(f) ? std::optional<double>(f) : std::nullopt;
    }
    case Float64: {
        const double d = std::bit_cast<double>(raw);
        return std::isfinite(d) ? std::optional(d) : std::nullopt;
    }
    case Uint8z:
    case Uint16z:
    case Uint32z:
    case Uint64z:
        return raw == 0 ? std::nullopt : std::optional(static_cast<double>(raw));
    case String:
        return std::nullopt;
    default:
        return raw == ones ? std::nullopt : std::optional(static_cast<double>(raw));
    }
}

} // namespace

int sizeOf(std::uint8_t baseType) {
    const auto number = static_cast<size_t>(baseType & 0x1F);
    return number < sizes.size() ? sizes[number] : 0;
}

std::uint16_t checksum(std::span<const std::uint8_t> bytes, std::uint16_t crc) {
    for (const std::uint8_t b : bytes)
        crc = static_cast<std::uint16_t>(crc >> 8 ^ crcTable[(crc ^ b) & 0xFF]);
    return crc;
}

std::optional<double> Fields::number(std::uint8_t field) const {
    size_t offset = 0;
    for (const FieldDefinition& f : definition_.fields) {
        if (f.number == field) {
            const int size = sizeOf(f.baseType);
            if (size == 0 || f.size < size)
                return std::nullopt;
            return decode(assemble(bytes_.data() + offset, size, definition_.bigEndian), f.baseType);
        }
        offset += f.size;
    }
    return std::nullopt;
}

std::string Fields::text(std::uint8_t field) const {
    size_t offset = 0;
    for (const FieldDefinition& f : definition_.fields) {
        if (f.number == field && f.baseType == String) {
            const auto begin = bytes_.begin() + static_cast<long>(offset);
            return {begin, std::find(begin, begin + f.size, std::uint8_t{0})};
        }
        offset += f.size;
    }
    return {};
}

} // namespace marram::fit
