// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include <QByteArray>
#include <QFile>
#include <algorithm>
#include <chrono>
#include <cstdio>
#include <functional>
#include <vector>

/// How the bench measures, and writes a line.
namespace marram::bench {

using Watch = std::chrono::steady_clock;

inline double once(const std::function<void()>& work) {
    const auto from = Watch::now();
    work();
    return std::chrono::duration<double, std::milli>(Watch::now() - from).count();
}

struct Spread {
    double median = 0, high = 0; ///< ms; high is the 95th percentile
};

inline Spread spread(std::vector<double> times) {
    std::sort(times.begin(), times.end());
    return {times[times.size() / 2], times[times.size() * 95 / 100]};
}

inline Spread repeat(int count, const std::function<void()>& work) {
    std::vector<double> times;
    for (int i = 0; i < count; ++i)
        times.push_back(once(work));
    return spread(times);
}

inline void line(const char* what, double ms, const char* reference, double referenceMs) {
    std::printf("| %s | %.3f | %s | %.3f | %.2f |\n", what, ms, reference, referenceMs, ms / referenceMs);
    std::fflush(stdout);
}

/// Memory of this process in MB, as the kernel counts it.
inline double residentMb() {
    QFile status("/proc/self/status");
    if (status.open(QIODevice::ReadOnly))
        for (const QByteArray& each : status.readAll().split('\n'))
            if (each.startsWith("VmRSS:"))
                return each.mid(6).trimmed().split(' ').front().toDouble() / 1024;
    return 0;
}

/// Rosters of many riders, and of very many: rosters.cpp.
void bigRosters();
void hugeRosters();
/// The longest stands of the window: stalls.cpp.
void stalls();

} // namespace marram::bench
