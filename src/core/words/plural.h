// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include <string>

namespace marram {

/// Which form of a plural a language has for so many, as a catalogue's header says it:
/// "nplurals=3; plural=n==1 ? 0 : n%10>=2 && n%10<=4 ? 1 : 2;". Without one, or with one that can't be read,
/// it is English: one, and all others. Source: GNU gettext manual, "Additional functions for plural forms"
/// (value from memory).
class PluralRule {
public:
    PluralRule() = default;
    /// The whole header of a catalogue, or its line.
    explicit PluralRule(const std::string& header);
    /// 0 for the first form; under forms().
    int formOf(long n) const;
    int forms() const { return forms_; }

private:
    int forms_ = 2;
    std::string expression_; ///< empty for English
};

} // namespace marram
