// SPDX-License-Identifier: GPL-3.0-or-later
#include "store/block_basis.h"
#include "core/words/phrase.h"
#include "store/whole_season.h"

#include <algorithm>

namespace marram {

/// As many easy days as ill ones, from three to seven, after an illness of the last two weeks (common
/// practice).
static void goEasy(BlockBasis& basis, const std::set<Date>& ill, Date today) {
    const auto last = ill.lower_bound(today - 13);
    if (last == ill.end())
        return;
    const Date end = *ill.rbegin();
    int days = 1;
    while (ill.contains(end - days))
        ++days;
    basis.easyUntil = end + 1 + std::clamp(days, 3, 7);
    basis.easyWhy = phrase("the rider was marked ill on %1", dayText(end, today));
}

BlockBasis basisOf(const BlockRecord& record, Date today) {
    BlockBasis basis;
    basis.book = &record.book;
    basis.setBacks = setBacksOf(record.ill, record.ridden, today);
    basis.injuries = injuriesOn(record.rider, today);
    goEasy(basis, record.ill, today);
    if (const auto cp = criticalPowerOf(record.tests, today)) {
        basis.criticalPower = cp->power.value;
        basis.wPrime = cp->work.value;
    }
    return basis;
}

Result<CriticalPower> criticalPowerOf(const std::vector<TestRecord>& tests, Date day) {
    std::vector<MaximalPower> efforts;
    for (const TestRecord& t : tests) {
        const TestResult& r = t.result;
        const bool counts = r.protocol == Protocol::Power5min || r.protocol == Protocol::TwentyMinutes ||
                            r.protocol == Protocol::Climb || r.protocol == Protocol::MaximalEffort;
        if (!counts || r.verdict != Verdict::Accepted || r.day > day || day - r.day > 90)
            continue;
        const double seconds = wordsFor(r.protocol).seconds > 0 ? wordsFor(r.protocol).seconds : r.seconds;
        // What was found in one ride may overlap; what was entered for a day was ridden by itself.
        const long long occasion = t.rideHash.isEmpty() ? -t.id : r.day.days;
        efforts.push_back({seconds, r.value, occasion});
    }
    return fitCriticalPower(efforts);
}

} // namespace marram
