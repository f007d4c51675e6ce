// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "core/season/programme.h"
#include <memory>
#include <span>

struct glp_prob;

namespace marram {

/// A programme loaded into the simplex solver (GLPK), which keeps its basis from one objective to the next.
/// Not to be shared between threads.
class Simplex {
public:
    explicit Simplex(const Programme& programme);

    /// Starts from an earlier basis; names the programme does not have are left out, and a basis that does
    /// not fit is repaired or replaced.
    void startFrom(const Basis& basis);
    Basis basis() const;
    /// True where the basis names exactly the columns and rows of this programme.
    bool knows(const Basis& basis) const;

    enum class Sense { Minimise, Maximise };
    /// True when an optimum was found; false when no point satisfies every row.
    bool solve(std::span<const std::pair<int, double>> cost, Sense sense, double constant = 0);

    void boundColumn(int column, double lower, double upper);
    void boundRow(int row, double lower, double upper);

    double objective() const;
    double value(int column) const;
    double reducedCost(int column) const;
    double dual(int row) const;
    double activity(int row) const;

    /// Writes the programme with its present objective and bounds as LP text; false when the file can't be
    /// written.
    bool writeText(const std::string& path) const;

private:
    std::shared_ptr<glp_prob> problem_;
    std::vector<std::string> columnNames_, rowNames_;
    std::vector<std::pair<int, double>> cost_;
};

} // namespace marram
