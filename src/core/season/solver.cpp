// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/season/solver.h"

#include <algorithm>
#include <cmath>
#include <fstream>
#include <glpk.h>
#include <iomanip>

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

} // namespace

Simplex::Simplex(const Programme& programme) {
    glp_term_out(GLP_OFF);
    problem_ = std::shared_ptr<glp_prob>(glp_create_prob(), glp_delete_prob);
    glp_prob* lp = problem_.get();
    glp_set_prob_name(lp, "season");
    // The library takes adding none of something for a mistake.
    if (!programme.columns.empty())
        glp_add_cols(lp, static_cast<int>(programme.columns.size()));
    if (!programme.rows.empty())
        glp_add_rows(lp, static_cast<int>(programme.rows.size()));
    for (size_t c = 0; c < programme.columns.size(); ++c) {
        const auto& column = programme.columns[c];
        glp_set_col_name(lp, static_cast<int>(c) + 1, column.name.c_str());
        columnNames_.push_back(column.name);
        boundColumn(static_cast<int>(c), column.lower, column.upper);
    }
    std::vector<int> index;
    std::vector<double> value;
    for (size_t r = 0; r < programme.rows.size(); ++r) {
        const auto& row = programme.rows[r];
        glp_set_row_name(lp, static_cast<int>(r) + 1, row.name.c_str());
        rowNames_.push_back(row.name);
        boundRow(static_cast<int>(r), row.lower, row.upper);
        index.assign(1, 0);
        value.assign(1, 0);
        for (const auto& [column, coefficient] : row.terms) {
            index.push_back(column + 1);
            value.push_back(coefficient);
        }
        glp_set_mat_row(lp, static_cast<int>(r) + 1, static_cast<int>(row.terms.size()), index.data(),
                        value.data());
    }
}

void Simplex::startFrom(const Basis& basis) {
    glp_prob* lp = problem_.get();
    int basic = 0;
    const auto at = [&](const std::string& name, int fallback) {
        const auto found = basis.find(name);
        return found == basis.end() ? fallback : found->second;
    };
    const int rows = static_cast<int>(rowNames_.size());
    std::vector<int> rowStatus(rowNames_.size());
    for (size_t c = 0; c < columnNames_.size(); ++c) {
        const int status = at(columnNames_[c], GLP_NL);
        basic += status == GLP_BS ? 1 : 0;
        glp_set_col_stat(lp, static_cast<int>(c) + 1, status);
    }
    for (size_t r = 0; r < rowNames_.size(); ++r) {
        rowStatus[r] = at(rowNames_[r], GLP_BS);
        basic += rowStatus[r] == GLP_BS ? 1 : 0;
    }
    // As many basic variables as rows: rows fill what is short, and give way where there are too many.
    for (size_t r = rowNames_.size(); r-- > 0 && basic != rows;) {
        if (basic < rows && rowStatus[r] != GLP_BS) {
            rowStatus[r] = GLP_BS;
            ++basic;
        } else if (basic > rows && rowStatus[r] == GLP_BS) {
            rowStatus[r] = GLP_NU;
            --basic;
        }
    }
    for (size_t r = 0; r < rowNames_.size(); ++r)
        glp_set_row_stat(lp, static_cast<int>(r) + 1, rowStatus[r]);
    if (basic != rows || glp_factorize(lp) != 0)
        glp_std_basis(lp);
}

bool Simplex::knows(const Basis& basis) const {
    const auto named = [&](const std::string& name) { return basis.contains(name); };
    return basis.size() == columnNames_.size() + rowNames_.size() &&
           std::all_of(columnNames_.begin(), columnNames_.end(), named) &&
           std::all_of(rowNames_.begin(), rowNames_.end(), named);
}

Basis Simplex::basis() const {
    Basis basis;
    basis.reserve(columnNames_.size() + rowNames_.size());
    for (size_t c = 0; c < columnNames_.size(); ++c)
        basis[columnNames_[c]] = glp_get_col_stat(problem_.get(), static_cast<int>(c) + 1);
    for (size_t r = 0; r < rowNames_.size(); ++r)
        basis[rowNames_[r]] = glp_get_row_stat(problem_.get(), static_cast<int>(r) + 1);
    return basis;
}

bool Simplex::solve(std::span<const std::pair<int, double>> cost, Sense sense, double constant) {
    glp_prob* lp = problem_.get();
    glp_set_obj_dir(lp, sense == Sense::Maximise ? GLP_MAX : GLP_MIN);
    for (const auto& term : cost_)
        glp_set_obj_coef(lp, term.first + 1, 0);
    cost_.assign(cost.begin(), cost.end());
    for (const auto& term : cost_)
        glp_set_obj_coef(lp, term.first + 1, glp_get_obj_coef(lp, term.first + 1) + term.second);
    glp_set_obj_coef(lp, 0, constant);
    // Held aims leave thin, degenerate programmes. A run that cycles or goes numerically astray is begun
    // again from nothing by another method before its verdict is believed.
    const auto settled = [&] {
        const int status = glp_get_status(lp);
        return status == GLP_OPT || status == GLP_UNBND;
    };
    glp_smcp p = parameters(GLP_PRIMAL, glp_get_num_rows(lp) + glp_get_num_cols(lp));
    if (glp_simplex(lp, &p) == 0 && settled())
        return glp_get_status(lp) == GLP_OPT;
    for (const int method : {GLP_DUALP, GLP_PRIMAL}) {
        glp_std_basis(lp);
        p.meth = method;
        if (method == GLP_PRIMAL) {
            p.pricing = GLP_PT_STD;
            p.r_test = GLP_RT_STD;
        }
        if (glp_simplex(lp, &p) == 0 && settled())
            return glp_get_status(lp) == GLP_OPT;
    }
    return false;
}

void Simplex::boundColumn(int column, double lower, double upper) {
    glp_set_col_bnds(problem_.get(), column + 1, boundType(lower, upper), lower, upper);
}

void Simplex::boundRow(int row, double lower, double upper) {
    glp_set_row_bnds(problem_.get(), row + 1, boundType(lower, upper), lower, upper);
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
    return glp_write_lp(problem_.get(), nullptr, path.c_str()) == 0;
}

} // namespace marram
