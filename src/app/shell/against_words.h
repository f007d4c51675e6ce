// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "core/review/against.h"
#include <QString>

namespace marram {

/// Repetitions as a table: meant, found, in target, heart rate, fade.
QString repetitionsTable(const Against& against);

} // namespace marram
