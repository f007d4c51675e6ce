// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include <QStringList>

namespace marram {

/// The version of a roster's tables (docs/formats.md).
inline constexpr int schemaVersion = 10;
/// The statements that bring a file from a version, 0 for an empty one, to the next.
const QStringList& schemaStep(int fromVersion);

} // namespace marram
