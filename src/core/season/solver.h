// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "core/season/programme.h"
#include <memory>
#include <span>

struct glp_prob;

namespace marram {

/// A programme loaded into the simplex solver (GLPK).
/// Not to be shared between threads.
class Simplex {
public:
    explicit Simplex(const Programme& programme);

    /// Starts from an earlier basis: what it does not name begins where a season without it would, and a
    /// basis that does not fit is repaired or replaced.
    void startFrom(const Basis& basis);
    Basis basis() const;

    /// True when an optimum was found; false when no point satisfies every row.
    bool solve();
    int iterations() const;

    double objective() const;
    double value(int column) const;
    double reducedCost(int column) const;
    double dual(int row) const;
    double activity(int row) const;

    /// Writes the programme as LP text; false when the file can't be
    /// written.
    bool writeText(const std::string& path) const;

private:
    void standardBasis();
    int evenOut(std::vector<int>& rowStatus, int lacking) const;

    const Programme& programme_; ///< outlives this
    std::shared_ptr<glp_prob> problem_;
};

} // namespace marram
