// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/words/plural.h"

#include <array>
#include <cctype>
#include <cstdlib>
#include <optional>
#include <string_view>

namespace marram {
namespace {

/// What C makes of such an expression for one n. Every part is gone through, so a rule is either read whole
/// or not at all.
class Reading {
public:
    Reading(std::string_view text, long n) : rest_(text), n_(n) {}

    std::optional<long> whole() {
        const long value = choice();
        return bad_ || !rest_.empty() ? std::nullopt : std::optional(value);
    }

private:
    /// From the weakest to the strongest; of one level the longer sign first.
    static constexpr std::array<std::array<std::string_view, 4>, 6> levels{
        {{"||"}, {"&&"}, {"==", "!="}, {"<=", ">=", "<", ">"}, {"+", "-"}, {"*", "/", "%"}}};

    bool take(std::string_view sign) {
        if (sign.empty() || !rest_.starts_with(sign))
            return false;
        rest_.remove_prefix(sign.size());
        return true;
    }

    long choice() { // NOLINT(misc-no-recursion)
        constexpr int deepest = 50;
        if (++depth_ > deepest)
            bad_ = true;
        const long held = bad_ ? 0 : level(0);
        long value = held;
        if (!bad_ && take("?")) {
            const long yes = choice();
            bad_ = bad_ || !take(":");
            const long no = choice();
            value = held != 0 ? yes : no;
        }
        --depth_;
        return value;
    }

    long level(size_t k) { // NOLINT(misc-no-recursion)
        if (k == levels.size())
            return single();
        long value = level(k + 1);
        for (bool more = true; more && !bad_;) {
            more = false;
            for (const std::string_view sign : levels.at(k))
                if (take(sign)) {
                    value = joined(value, sign, level(k + 1));
                    more = true;
                    break;
                }
        }
        return value;
    }

    long single() { // NOLINT(misc-no-recursion)
        if (take("!"))
            return single() == 0 ? 1 : 0;
        if (take("(")) {
            const long value = choice();
            bad_ = bad_ || !take(")");
            return value;
        }
        if (take("n"))
            return n_;
        long value = 0;
        size_t digits = 0;
        for (; digits < rest_.size() && digits < 9 &&
               std::isdigit(static_cast<unsigned char>(rest_[digits])) != 0;
             ++digits)
            value = 10 * value + (rest_[digits] - '0');
        bad_ = bad_ || digits == 0;
        rest_.remove_prefix(digits);
        return value;
    }

    long joined(long a, std::string_view sign, long b) {
        if ((sign == "/" || sign == "%") && b == 0) {
            bad_ = true;
            return 0;
        }
        const bool both = sign.size() == 2;
        switch (sign.front()) {
        case '|':
            return a != 0 || b != 0 ? 1 : 0;
        case '&':
            return a != 0 && b != 0 ? 1 : 0;
        case '=':
            return a == b ? 1 : 0;
        case '!':
            return a != b ? 1 : 0;
        case '<':
            return (both ? a <= b : a < b) ? 1 : 0;
        case '>':
            return (both ? a >= b : a > b) ? 1 : 0;
        case '+':
            return a + b;
        case '-':
            return a - b;
        case '*':
            return a * b;
        case '/':
            return a / b;
        default:
            return a % b;
        }
    }

    std::string_view rest_;
    long n_;
    int depth_ = 0;
    bool bad_ = false;
};

} // namespace

PluralRule::PluralRule(const std::string& header) {
    const size_t count = header.find("nplurals="),
                 at = header.find("plural=", count == std::string::npos ? 0 : count + 9);
    if (count == std::string::npos || at == std::string::npos)
        return;
    const int forms = std::atoi(header.c_str() + count + 9);
    std::string expression;
    for (const char c : header.substr(at + 7, header.find_first_of(";\n", at) - at - 7))
        if (std::isspace(static_cast<unsigned char>(c)) == 0)
            expression += c;
    constexpr int mostForms = 6;
    if (forms < 1 || forms > mostForms || !Reading(expression, 1).whole())
        return;
    forms_ = forms;
    expression_ = expression;
}

int PluralRule::formOf(long n) const {
    const long size = std::labs(n);
    if (expression_.empty())
        return n == 1 ? 0 : 1;
    const long form = Reading(expression_, size).whole().value_or(0);
    return form < 0 || form >= forms_ ? 0 : static_cast<int>(form);
}

} // namespace marram
