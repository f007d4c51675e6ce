// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include <array>
#include <optional>
#include <string_view>

namespace marram {

/// What asks for licensed care before hard training.
enum class Care { Pregnancy, Postpartum, Heart, Metabolic, Energy, Bone, Other };
inline constexpr std::array<const char*, 7> careNames{"pregnancy", "postpartum", "heart", "metabolic",
                                                      "energy",    "bone",       "other"};

/// What a rider needs care for, and whether a licensed practitioner has cleared hard training.
struct RiderCare {
    unsigned what = 0; ///< a bit for each Care
    bool cleared = false;
    bool any() const { return what != 0; }
    bool has(Care c) const { return (what >> static_cast<unsigned>(c) & 1u) != 0; }
    void set(Care c, bool on = true) {
        const unsigned bit = 1u << static_cast<unsigned>(c);
        what = on ? what | bit : what & ~bit;
    }
    bool operator==(const RiderCare&) const = default;
};

inline std::optional<Care> careNamed(std::string_view name) {
    for (size_t i = 0; i < careNames.size(); ++i)
        if (name == careNames[i])
            return static_cast<Care>(i);
    return std::nullopt;
}

} // namespace marram
