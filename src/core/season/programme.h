// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "core/calendar/date.h"
#include "core/season/prices.h"
#include <cstdint>
#include <limits>
#include <string>
#include <unordered_map>
#include <utility>
#include <vector>

namespace marram {

inline constexpr double unbounded = std::numeric_limits<double>::infinity();

/// A linear expression: constant + Σ coefficient × column. Columns may repeat; they are summed when used.
struct Linear {
    double constant = 0;
    std::vector<std::pair<int, double>> terms;

    Linear& add(const Linear& other, double factor = 1) {
        constant += factor * other.constant;
        if (terms.empty())
            terms.reserve(other.terms.size());
        for (const auto& [column, coefficient] : other.terms)
            terms.emplace_back(column, factor * coefficient);
        return *this;
    }
    Linear& add(int column, double coefficient) {
        terms.emplace_back(column, coefficient);
        return *this;
    }
};

inline Linear operator+(Linear a, const Linear& b) {
    return std::move(a.add(b));
}
inline Linear operator-(Linear a, const Linear& b) {
    return std::move(a.add(b, -1));
}
inline Linear operator*(double k, const Linear& a) {
    return Linear{}.add(a, k);
}

/// What a column stands for.
enum class Load {
    Level,   ///< what a whole week would carry without race or absence
    Relief,  ///< taken off the long day of a build week
    Before,  ///< level of the days before a taper in its first week
    After,   ///< level of the days after an A race
    Fresh,   ///< level of the days before a race that is freshened for
    Taper,   ///< level of half a week of taper
    Breach,  ///< how far a row is broken
    Distance ///< how far an expression is from what would be drawn
};

/// Which row or column: a rule or a kind of load, a day, and a number among several of the same.
struct ProgrammeName {
    std::uint8_t kind = 0;
    bool row = false;
    std::uint8_t nth = 0;
    Date day;

    std::uint64_t key() const;
    std::string text() const; ///< letters, digits and underscores
};
ProgrammeName nameOf(Rule rule, Date day, int nth = 0);
ProgrammeName nameOf(Load load, Date day, int nth = 0);

/// A linear programme in plain numbers, maximised.
struct Programme {
    struct Column {
        ProgrammeName name;
        double lower = 0, upper = unbounded;
        double worth = 0; ///< in the objective
    };
    struct Row {
        ProgrammeName name;
        Rule rule = Rule::Ramp;
        double lower = -unbounded, upper = unbounded;
        std::vector<std::pair<int, double>> terms; ///< each column once
    };
    std::vector<Column> columns;
    std::vector<Row> rows;
    double constant = 0; ///< of the objective

    int addColumn(ProgrammeName name, double lower, double upper, double worth = 0);
    /// lower <= expression <= upper. Returns the row's number.
    int addRow(Rule rule, Date day, int nth, double lower, const Linear& expression, double upper);
    /// Adds weight × expression to the objective.
    void reward(const Linear& expression, double weight);

private:
    std::vector<double> sums_; ///< a row's, by column; zero between rows
};

/// Which columns and rows were basic, by name, so that a changed programme can start where an earlier one
/// ended.
using Basis = std::unordered_map<std::uint64_t, std::int8_t>;

} // namespace marram
