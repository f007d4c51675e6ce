// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/season/programme.h"

#include <algorithm>
#include <cmath>

namespace marram {

int Programme::addColumn(std::string name, double lower, double upper) {
    columns.push_back({std::move(name), lower, std::max(lower, upper)});
    return static_cast<int>(columns.size()) - 1;
}

int Programme::addRow(std::string name, RowKind kind, double lower, const Linear& expression, double upper) {
    Row row{std::move(name), kind, lower - expression.constant, upper - expression.constant,
            expression.terms};
    std::sort(row.terms.begin(), row.terms.end());
    size_t kept = 0;
    for (size_t i = 0; i < row.terms.size(); ++i) {
        if (kept > 0 && row.terms[kept - 1].first == row.terms[i].first)
            row.terms[kept - 1].second += row.terms[i].second;
        else
            row.terms[kept++] = row.terms[i];
    }
    row.terms.resize(kept);
    // What a day eight time constants away adds is below the solver's tolerance.
    std::erase_if(row.terms, [](const auto& term) { return std::abs(term.second) < 1e-9; });
    rows.push_back(std::move(row));
    return static_cast<int>(rows.size()) - 1;
}

} // namespace marram
