// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "core/calendar/problem.h"
#include "store/roster.h"
#include <QByteArrayList>

/// `marram-cli letter`: the letter of a week to a rider, or to every rider.
namespace marram::cli {

/// The rider of a name; refuses a roster without one, with the names it has.
Result<RiderRecord> riderNamed(const Roster& roster, const QString& name);

/// The day it is on this machine.
Date todayHere();

/// A table as a page, owner-only; numbers to the right.
Result<void> writeTablePdf(const QString& file, const QString& title, const QByteArrayList& header,
                           const std::vector<QByteArrayList>& rows);

struct LetterRequest {
    QString roster, rider; ///< no rider with `all`
    std::string week;      ///< its Monday
    QString pdf;           ///< written beside the text; empty for none
    QString all;           ///< folder that receives a text of every rider; empty for one rider
};
Result<QByteArray> letter(const LetterRequest& request);

} // namespace marram::cli
