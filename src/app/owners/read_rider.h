// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "store/roster.h"

namespace marram {

/// Makes something of a rider with a connection of its own, for work beside the interface; an empty one where
/// the rider has gone meanwhile.
template <class Made, class Make>
Result<Made> ofRider(const QString& path, Writer writer, qint64 rider, const Make& make) {
    const auto file = Roster::open(path, writer);
    if (!file)
        return tl::unexpected(file.error());
    const auto who = (*file)->rider(rider);
    if (!who)
        return tl::unexpected(who.error());
    if (!*who)
        return Made{};
    return make(**file, **who);
}

} // namespace marram
