// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "core/calendar/problem.h"
#include "core/session/session.h"
#include <string_view>

namespace marram {

/// A kind of session and the rungs it grows by. Figures are common practice.
struct Family {
    std::string name;
    std::string purpose; ///< what it is for
    std::string grows;   ///< by what
    std::string stop;    ///< when the rider stops early; empty where nothing but the day says
    std::string caution; ///< empty where none belongs
    /// The work of each rung as shorthand, first to last, without warm-up and cool-down. Empty for a family
    /// whose rungs are lengths or that is not ridden.
    std::vector<std::string> rungs;
    std::vector<std::string> notWith = {}; ///< words of injuries it is not for: "knee"
    std::vector<std::string> phases = {};  ///< of a coach's own: the phases it is placed in by itself
    std::vector<Session> work = {};        ///< the rungs as they are ridden; readRungs() fills it
    bool own = false;                      ///< the coach's, or changed by the coach
    bool test = false;                     ///< ridden to know
    bool together = false;                 ///< needs others: only where it is pinned
    bool operator==(const Family&) const = default;
};

/// What to take care of on a day: the trade's words about heat stand from May to September only (of the
/// north).
std::string cautionOn(const Family& family, Date day);

/// Reads the rungs of a family; refuses the first that can't be read, with its number and place, and families
/// without a name, with a name over 60 characters or more than 40 rungs.
Result<void> readRungs(Family& family);

/// Whether one of the trade's families goes by this name and is placed by its rungs.
bool needsRungs(std::string_view name);

/// The most families a coach may add or change.
inline constexpr size_t mostOwnFamilies = 30;

/// Families of sessions: those of the trade, in the order a season meets them, and a coach's own.
class FamilyBook {
public:
    explicit FamilyBook(std::vector<Family> families) : all_(std::move(families)) {}
    /// Those of the trade.
    static const FamilyBook& standard();
    /// The same with a coach's own added; one of the same name takes the place of the trade's. Rungs are
    /// read already.
    FamilyBook with(const std::vector<Family>& own) const;
    const std::vector<Family>& all() const { return all_; }
    /// The family of a name; null for none.
    const Family* named(std::string_view name) const;

private:
    std::vector<Family> all_;
};

/// Of the trade's book.
const std::vector<Family>& families();
const Family* familyNamed(std::string_view name);

/// Whether an injury, in a coach's words, is one the family is not for.
bool excludedBy(const Family& family, std::string_view injury);

/// A rung's work, 0 the first; past the last rung the last, nothing for a family without rungs.
const Session& rungOf(const Family& family, size_t rung);
/// The same with fewer repetitions: `keep` of them, a half rounded up or one fewer, never none.
enum class Lighter { OneFewer, Half };
Session lighter(const Session& work, Lighter how);

} // namespace marram
