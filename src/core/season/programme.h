// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
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

/// What a row stands for, in the order in which rows give way when they cannot all hold: the first of these
/// first, a definition never.
enum class RowKind { Slump, Deload, Shape, Taper, Ramp, FormFloor, Definition };

/// A linear programme in plain numbers. Names are unique and made of letters, digits and underscores.
struct Programme {
    struct Column {
        std::string name;
        double lower = 0, upper = unbounded;
    };
    struct Row {
        std::string name;
        RowKind kind = RowKind::Definition;
        double lower = -unbounded, upper = unbounded;
        std::vector<std::pair<int, double>> terms; ///< each column once
    };
    std::vector<Column> columns;
    std::vector<Row> rows;

    int addColumn(std::string name, double lower, double upper);
    /// lower <= expression <= upper. Returns the row's number.
    int addRow(std::string name, RowKind kind, double lower, const Linear& expression, double upper);
};

/// Which columns and rows were basic, by name, so that a changed programme can start where an earlier one
/// ended.
using Basis = std::unordered_map<std::string, int>;

} // namespace marram
