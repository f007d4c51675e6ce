// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/season/programme.h"

#include <algorithm>
#include <array>
#include <cmath>

namespace marram {
namespace {

constexpr std::array ruleNames{"gate_low",     "gate_high",   "margin_low",   "margin_high", "floor",
                               "depth",        "ramp",        "ramp_fitness", "keep",        "rise",
                               "growth",       "step",        "overreach",    "mean",        "peak",
                               "starved",      "long_day",    "race_week",    "light",       "return",
                               "fresh",        "taper_start", "taper_fall",   "taper_slow",  "taper_last",
                               "taper_volume", "start",       "jump",         "relief"};
static_assert(ruleNames.size() == ruleCount);
constexpr std::array loadNames{"level", "relieved", "before", "after", "freshened", "taper", "breach", "off"};

} // namespace

std::uint64_t ProgrammeName::key() const {
    return static_cast<std::uint64_t>(row ? 1 : 0) << 63 | static_cast<std::uint64_t>(kind) << 48 |
           static_cast<std::uint64_t>(nth) << 32 | static_cast<std::uint32_t>(day.days);
}

std::string ProgrammeName::text() const {
    std::string date = isoText(day);
    std::replace(date.begin(), date.end(), '-', '_');
    return std::string(row ? ruleNames[kind] : loadNames[kind]) + "_" + date +
           (nth > 0 ? "_" + std::to_string(nth) : "");
}

ProgrammeName nameOf(Rule rule, Date day, int nth) {
    return {static_cast<std::uint8_t>(rule), true, static_cast<std::uint8_t>(nth), day};
}

ProgrammeName nameOf(Load load, Date day, int nth) {
    return {static_cast<std::uint8_t>(load), false, static_cast<std::uint8_t>(nth), day};
}

int Programme::addColumn(ProgrammeName name, double lower, double upper, double worth) {
    columns.push_back({name, lower, upper, worth});
    return static_cast<int>(columns.size()) - 1;
}

int Programme::addRow(Rule rule, Date day, int nth, double lower, const Linear& expression, double upper) {
    Row row{nameOf(rule, day, nth), rule, lower - expression.constant, upper - expression.constant, {}};
    // Summed by column: an expression of fitness repeats each of some hundred columns several times.
    sums_.resize(std::max(sums_.size(), columns.size()), 0);
    int first = static_cast<int>(columns.size()), last = -1;
    for (const auto& [column, coefficient] : expression.terms) {
        sums_[static_cast<size_t>(column)] += coefficient;
        first = std::min(first, column);
        last = std::max(last, column);
    }
    for (int c = first; c <= last; ++c) {
        double& sum = sums_[static_cast<size_t>(c)];
        // What a day eight time constants away adds is below the solver's tolerance.
        if (std::abs(sum) >= 1e-9)
            row.terms.emplace_back(c, sum);
        sum = 0;
    }
    // Of what is ridden alone: no plan can keep or break it.
    if (row.terms.empty()) {
        row.lower = -unbounded;
        row.upper = unbounded;
    }
    rows.push_back(std::move(row));
    return static_cast<int>(rows.size()) - 1;
}

void Programme::reward(const Linear& expression, double weight) {
    constant += weight * expression.constant;
    for (const auto& [column, coefficient] : expression.terms)
        columns[static_cast<size_t>(column)].worth += weight * coefficient;
}

} // namespace marram
