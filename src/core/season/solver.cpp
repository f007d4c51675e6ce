// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/season/solver.h"
#include "core/words/phrase.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <glpk.h>
#include <set>

namespace marram {
namespace {

int boundType(double lower, double upper) {
    const bool low = std::isfinite(lower), high = std::isfinite(upper);
    if (low && high)
        return upper - lower <= 0 ? GLP_FX : GLP_DB;
    return low ? GLP_LO : high ? GLP_UP : GLP_FR;
}

glp_smcp parameters(int method, int size) {
    glp_smcp p;
    glp_init_smcp(&p);
    p.msg_lev = GLP_MSG_OFF;
    p.meth = method;
    p.it_lim = 2000 + 20 * size;
    return p;
}

/// The bound a column begins at: the one its worth pulls it to. Then the reduced costs have the right signs
/// and the dual simplex needs no first phase.
int startingBound(const Programme::Column& column) {
    const bool up = column.worth > 0 && std::isfinite(column.upper);
    return column.upper <= column.lower ? GLP_NS : up ? GLP_NU : GLP_NL;
}

/// Whether what is called optimal keeps the rows and bounds it was asked to: a basis that went numerically
/// astray can be called so with none of them kept, and a season without a single ride was the plan.
bool keepsRows(glp_prob* lp) {
    constexpr double most = 1e-5; // relative
    for (const int of : {GLP_KKT_PE, GLP_KKT_PB}) {
        double absolute = 0, relative = 0;
        int at = 0, relativeAt = 0;
        glp_check_kkt(lp, GLP_SOL, of, &absolute, &at, &relative, &relativeAt);
        if (!(relative < most))
            return false;
    }
    return true;
}

} // namespace

Simplex::Simplex(const Programme& programme) : programme_(programme) {
    glp_term_out(GLP_OFF);
    problem_ = std::shared_ptr<glp_prob>(glp_create_prob(), glp_delete_prob);
    glp_prob* lp = problem_.get();
    glp_set_obj_dir(lp, GLP_MAX);
    glp_set_obj_coef(lp, 0, programme.constant);
    // The library takes adding none of something for a mistake.
    if (!programme.columns.empty())
        glp_add_cols(lp, static_cast<int>(programme.columns.size()));
    if (!programme.rows.empty())
        glp_add_rows(lp, static_cast<int>(programme.rows.size()));
    for (size_t c = 0; c < programme.columns.size(); ++c) {
        const auto& column = programme.columns[c];
        const int j = static_cast<int>(c) + 1;
        glp_set_col_bnds(lp, j, boundType(column.lower, column.upper), column.lower, column.upper);
        glp_set_obj_coef(lp, j, column.worth);
    }
    std::vector<int> index;
    std::vector<double> value;
    for (size_t r = 0; r < programme.rows.size(); ++r) {
        const auto& row = programme.rows[r];
        const int i = static_cast<int>(r) + 1;
        glp_set_row_bnds(lp, i, boundType(row.lower, row.upper), row.lower, row.upper);
        index.assign(1, 0);
        value.assign(1, 0);
        for (const auto& [column, coefficient] : row.terms) {
            index.push_back(column + 1);
            value.push_back(coefficient);
        }
        glp_set_mat_row(lp, i, static_cast<int>(row.terms.size()), index.data(), value.data());
    }
    standardBasis();
}

void Simplex::standardBasis() {
    glp_prob* lp = problem_.get();
    for (size_t c = 0; c < programme_.columns.size(); ++c)
        glp_set_col_stat(lp, static_cast<int>(c) + 1, startingBound(programme_.columns[c]));
    for (size_t r = 0; r < programme_.rows.size(); ++r)
        glp_set_row_stat(lp, static_cast<int>(r) + 1, GLP_BS);
}

/// As many basic variables as rows: rows fill what is short, and give way where there are too many. What
/// became basic, less what no longer is.
int Simplex::evenOut(std::vector<int>& rowStatus, int lacking) const {
    const auto& rows = programme_.rows;
    int changed = 0;
    for (size_t r = rows.size(); r-- > 0 && changed != lacking;) {
        if (lacking > 0 && rowStatus[r] != GLP_BS) {
            rowStatus[r] = GLP_BS;
            ++changed;
        } else if (lacking < 0 && rowStatus[r] == GLP_BS) {
            rowStatus[r] = std::isfinite(rows[r].upper) ? GLP_NU : GLP_NL;
            --changed;
        }
    }
    return changed;
}

void Simplex::startFrom(const Basis& basis) {
    if (basis.empty())
        return;
    glp_prob* lp = problem_.get();
    const auto& columns = programme_.columns;
    const auto& rows = programme_.rows;
    int basic = 0;
    const auto at = [&](std::uint64_t key, int fallback) {
        const auto found = basis.find(key);
        return found == basis.end() ? fallback : static_cast<int>(found->second);
    };
    std::vector<int> rowStatus(rows.size());
    for (size_t c = 0; c < columns.size(); ++c) {
        const int status = at(columns[c].name.key(), startingBound(columns[c]));
        basic += status == GLP_BS ? 1 : 0;
        glp_set_col_stat(lp, static_cast<int>(c) + 1, status);
    }
    for (size_t r = 0; r < rows.size(); ++r) {
        rowStatus[r] = at(rows[r].name.key(), GLP_BS);
        basic += rowStatus[r] == GLP_BS ? 1 : 0;
    }
    const int wanted = static_cast<int>(rows.size());
    basic += evenOut(rowStatus, wanted - basic);
    for (size_t r = 0; r < rows.size(); ++r)
        glp_set_row_stat(lp, static_cast<int>(r) + 1, rowStatus[r]);
    if (basic != wanted || (wanted > 0 && glp_factorize(lp) != 0))
        standardBasis();
}

Basis Simplex::basis() const {
    Basis basis;
    basis.reserve(programme_.columns.size() + programme_.rows.size());
    for (size_t c = 0; c < programme_.columns.size(); ++c)
        basis[programme_.columns[c].name.key()] =
            static_cast<std::int8_t>(glp_get_col_stat(problem_.get(), static_cast<int>(c) + 1));
    for (size_t r = 0; r < programme_.rows.size(); ++r)
        basis[programme_.rows[r].name.key()] =
            static_cast<std::int8_t>(glp_get_row_stat(problem_.get(), static_cast<int>(r) + 1));
    return basis;
}

bool Simplex::solve() {
    glp_prob* lp = problem_.get();
    const int size = glp_get_num_rows(lp) + glp_get_num_cols(lp);
    if (glp_get_num_rows(lp) == 0 || glp_get_num_cols(lp) == 0)
        return glp_get_num_cols(lp) == 0;
    // A run that cycles or goes numerically astray is begun again from nothing by another method before its
    // verdict is believed.
    for (const int method : {GLP_DUALP, GLP_PRIMAL, GLP_DUALP}) {
        glp_smcp p = parameters(method, size);
        if (method == GLP_PRIMAL) {
            p.pricing = GLP_PT_STD;
            p.r_test = GLP_RT_STD;
        }
        if (glp_simplex(lp, &p) == 0 && glp_get_status(lp) == GLP_OPT && keepsRows(lp))
            return true;
        glp_std_basis(lp);
    }
    return false;
}

int Simplex::iterations() const {
    return glp_get_it_cnt(problem_.get());
}
double Simplex::objective() const {
    return glp_get_obj_val(problem_.get());
}
double Simplex::value(int column) const {
    return glp_get_col_prim(problem_.get(), column + 1);
}
double Simplex::reducedCost(int column) const {
    return glp_get_col_dual(problem_.get(), column + 1);
}
double Simplex::dual(int row) const {
    return glp_get_row_dual(problem_.get(), row + 1);
}
double Simplex::activity(int row) const {
    return glp_get_row_prim(problem_.get(), row + 1);
}

bool Simplex::writeText(const std::string& path) const {
    glp_prob* lp = problem_.get();
    glp_set_prob_name(lp, "season");
    std::set<std::string> used;
    const auto unique = [&](std::string name, size_t number) {
        if (!used.insert(name).second)
            name += "_no_" + std::to_string(number);
        return name;
    };
    for (size_t c = 0; c < programme_.columns.size(); ++c)
        glp_set_col_name(lp, static_cast<int>(c) + 1, unique(programme_.columns[c].name.text(), c).c_str());
    used.clear();
    for (size_t r = 0; r < programme_.rows.size(); ++r)
        glp_set_row_name(lp, static_cast<int>(r) + 1, unique(programme_.rows[r].name.text(), r).c_str());
    // Not every reader of LP text takes a constant in the objective: it is written as a column that is one.
    if (programme_.constant != 0) {
        const int one = glp_add_cols(lp, 1);
        glp_set_col_name(lp, one, "one");
        glp_set_col_bnds(lp, one, GLP_FX, 1, 1);
        glp_set_obj_coef(lp, one, programme_.constant);
        glp_set_obj_coef(lp, 0, 0);
    }
    const bool written = glp_write_lp(lp, nullptr, path.c_str()) == 0;
    if (programme_.constant != 0) {
        const int column = glp_get_num_cols(lp);
        const std::array<int, 2> gone{0, column};
        glp_del_cols(lp, 1, gone.data());
        glp_set_obj_coef(lp, 0, programme_.constant);
    }
    return written;
}

} // namespace marram
