// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "records/damage.h"
#include "store/sql.h"
#include <functional>

/// A digest beside everything a roster keeps, so that a bit that changed by itself is seen: one for each
/// group of rows that are written together. What a programme of others changes in the file is seen as well.
namespace marram::seals {

/// The statement that makes the table of digests; part of the schema.
extern const char* const schema;

/// Has a connection remember which groups its transaction touched. Once a connection.
Result<void> watch(const QSqlDatabase& db);

/// Writes the digests of the groups touched since the last call; inside the transaction that touched them.
Result<void> renew(const QSqlDatabase& db);

/// Writes the digests of everything; for a file that had none.
Result<void> all(const QSqlDatabase& db);

/// Groups whose rows are not what was written, in words. `going` cancels by false.
Result<void> check(const QSqlDatabase& db, Damage& damage, const std::function<bool()>& going = {});

} // namespace marram::seals
