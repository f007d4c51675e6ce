// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "formats/fit/fit.h"
#include "headunit/device.h"

#include <QFile>

namespace marram::test {

/// The bytes of a FIT file the simulated bike computer wrote: an hour of endurance, starting on a day of
/// 2027.
inline QByteArray fitOf(int day, double hours = 1.0, std::uint64_t seed = 1, int startHour = 9) {
    SimulatedDay when;
    when.start = 1798761600 + 86400LL * day + 3600LL * startHour; // 2027-01-01 UTC and on
    const auto bytes = writeFit(ride(prescribe(SessionKind::Endurance, hours, 45 * hours), {}, when, seed));
    return {reinterpret_cast<const char*>(bytes.data()), static_cast<qsizetype>(bytes.size())};
}

inline QString save(const QString& path, const QByteArray& bytes) {
    QFile file(path);
    if (file.open(QIODevice::WriteOnly))
        file.write(bytes);
    return path;
}

} // namespace marram::test
