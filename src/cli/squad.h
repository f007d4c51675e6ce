// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "core/calendar/problem.h"
#include <QByteArray>
#include <QString>
#include <string>

/// `marram-cli squad`: a group's weeks, riders by days; or its races, riders by what they bring to each.
namespace marram::cli {

struct SquadRequest {
    QString roster, group;
    std::string from; ///< a Monday; empty for the races
    int weeks = 1;
    QString pdf; ///< written beside the table; empty for none
};
/// CSV: `rider,date,role,family,title,minutes,stress`, or without `from` a row for every rider and A or B
/// race to come: `rider,race,date,fitness,form,gate_low,gate_high,chance`.
Result<QByteArray> squad(const SquadRequest& request);

} // namespace marram::cli
