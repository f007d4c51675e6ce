// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "formats/fit/protocol.h"
#include <algorithm>
#include <cmath>
#include <cstdint>
#include <initializer_list>
#include <string>
#include <vector>

namespace marram::fit {

/// Messages of a FIT file as they are put together: definitions, data, header and checksums.
class Encoder {
public:
    void define(std::uint8_t local, std::uint16_t message, std::initializer_list<FieldDefinition> fields) {
        byte(0x40 | local);
        byte(0);
        byte(0); // little-endian
        put(message, 2);
        byte(static_cast<std::uint8_t>(fields.size()));
        for (const FieldDefinition& f : fields) {
            byte(f.number);
            byte(f.size);
            byte(f.baseType);
        }
    }

    void byte(std::uint8_t b) { bytes_.push_back(b); }
    void put(std::uint64_t value, int size) {
        for (int i = 0; i < size; ++i)
            byte(static_cast<std::uint8_t>(value >> 8 * i));
    }
    /// A scaled whole number, or the type's invalid value where it is missing or out of range.
    void scaled(double value, double scale, double offset, int size) {
        const auto invalid = static_cast<double>((1ULL << 8 * size) - 1);
        const double raw = std::round((value + offset) * scale);
        put(static_cast<std::uint64_t>(std::isfinite(raw) && raw >= 0 && raw < invalid ? raw : invalid),
            size);
    }
    void position(double degrees) {
        const double raw = degrees * (2147483648.0 / 180.0);
        put(std::isfinite(raw) ? static_cast<std::uint32_t>(static_cast<std::int32_t>(std::lround(raw)))
                               : 0x7FFFFFFFU,
            4);
    }

    /// Text in a field of `size` bytes, cut between letters where it is longer, ended by zeros.
    void text(const std::string& words, size_t size) {
        size_t length = std::min(words.size(), size - 1);
        while (length > 0 && length < words.size() &&
               (static_cast<unsigned char>(words[length]) & 0xC0) == 0x80)
            --length;
        for (size_t i = 0; i < size; ++i)
            byte(i < length ? static_cast<std::uint8_t>(words[i]) : 0);
    }

    std::vector<std::uint8_t> finish() {
        std::vector<std::uint8_t> file{14, 0x20, 0x54, 0x08};
        for (int i = 0; i < 4; ++i)
            file.push_back(static_cast<std::uint8_t>(bytes_.size() >> 8 * i));
        for (const char c : {'.', 'F', 'I', 'T'})
            file.push_back(static_cast<std::uint8_t>(c));
        const auto sum = [&] {
            const std::uint16_t crc = checksum(file);
            file.push_back(static_cast<std::uint8_t>(crc & 0xFF));
            file.push_back(static_cast<std::uint8_t>(crc >> 8));
        };
        sum();
        file.insert(file.end(), bytes_.begin(), bytes_.end());
        sum();
        return file;
    }

private:
    std::vector<std::uint8_t> bytes_;
};

} // namespace marram::fit
