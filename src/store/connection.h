// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "store/roster.h"
#include "store/sql.h"

namespace marram {

/// The database behind a roster. Only the files of this folder see it.
struct Roster::Connection {
    QString name;
    QSqlDatabase db;
    ~Connection();
};

} // namespace marram
