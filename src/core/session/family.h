// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "core/session/session.h"
#include <string_view>

namespace marram {

/// A kind of session and the rungs it grows by. Figures are common practice.
struct Family {
    const char* name;
    const char* purpose; ///< what it is for
    const char* grows;   ///< by what
    const char* stop;    ///< when the rider stops early; empty where nothing but the day says
    const char* caution; ///< empty where none belongs
    /// The work of each rung as shorthand, first to last, without warm-up and cool-down. Empty for a family
    /// whose rungs are lengths or that is not ridden.
    std::vector<std::string> rungs;
};

/// All families, in the order a season meets them.
const std::vector<Family>& families();
/// The family of a name; null for none.
const Family* familyNamed(std::string_view name);

/// A rung's work, 0 the first.
const Session& rungOf(const Family& family, size_t rung);
/// The same with fewer repetitions: `keep` of them, a half rounded up or one fewer, never none.
enum class Lighter { OneFewer, Half };
Session lighter(const Session& work, Lighter how);

} // namespace marram
