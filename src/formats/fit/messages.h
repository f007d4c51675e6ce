// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "formats/fit/protocol.h"
#include <array>

namespace marram::fit {

/// Walks through the messages of a FIT file's data and gives each to
/// `taker.take(message, fields, offset)`; `offset` is the five bits of a compressed time, or -1. A false
/// answer ends the walk.
template <class Taker>
class Messages {
public:
    explicit Messages(Taker& taker) : taker_(taker) {}
    using Bytes = std::span<const std::uint8_t>;

    enum class End { Whole, Cut, Broken, TooMany };
    /// Reads messages until the bytes end. Cut: the last one is incomplete; Broken: one makes no sense;
    /// TooMany: more samples than a ride has.
    End read(Bytes data) {
        size_t at = 0;
        while (at < data.size()) {
            const size_t before = at;
            const End end = message(data, at);
            if (end != End::Whole) {
                stoppedAt_ = before;
                return end;
            }
        }
        return End::Whole;
    }

    size_t stoppedAt() const { return stoppedAt_; }

private:
    End message(Bytes data, size_t& at) {
        const std::uint8_t header = data[at++];
        if (header & 0x80)
            return dataMessage(data, at, header >> 5 & 0x03, header & 0x1F);
        if (header & 0x40)
            return definition(data, at, header & 0x0F, (header & 0x20) != 0);
        return dataMessage(data, at, header & 0x0F, -1);
    }

    End definition(Bytes data, size_t& at, int local, bool developer) {
        if (at + 5 > data.size())
            return End::Cut;
        Definition d;
        d.bigEndian = data[at + 1] == 1;
        d.message = static_cast<std::uint16_t>(d.bigEndian ? data[at + 2] << 8 | data[at + 3]
                                                           : data[at + 3] << 8 | data[at + 2]);
        const size_t count = data[at + 4];
        at += 5;
        if (at + 3 * count > data.size())
            return End::Cut;
        for (size_t i = 0; i < count; ++i, at += 3) {
            d.fields.push_back({data[at], data[at + 1], data[at + 2]});
            d.size += data[at + 1];
        }
        if (developer) {
            if (at >= data.size())
                return End::Cut;
            const size_t extra = data[at++];
            if (at + 3 * extra > data.size())
                return End::Cut;
            for (size_t i = 0; i < extra; ++i, at += 3)
                d.size += data[at + 1];
        }
        definitions_[static_cast<size_t>(local)] = std::move(d);
        return End::Whole;
    }

    End dataMessage(Bytes data, size_t& at, int local, int offset) {
        const auto& known = definitions_[static_cast<size_t>(local)];
        if (!known)
            return End::Broken;
        const auto size = static_cast<size_t>(known->size);
        if (at + size > data.size())
            return End::Cut;
        const Fields fields(*known, data.subspan(at, size));
        at += size;
        return taker_.take(known->message, fields, offset) ? End::Whole : End::TooMany;
    }

    Taker& taker_;
    std::array<std::optional<Definition>, 16> definitions_;
    size_t stoppedAt_ = 0;
};

} // namespace marram::fit
