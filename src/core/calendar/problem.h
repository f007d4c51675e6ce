// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include <string>
#include <tl/expected.hpp>

namespace marram {

/// Why something could not be done: one sentence a coach can act on
/// (file, place, what is wrong, what would be right). Never empty.
struct Problem {
    std::string sentence;
};

/// A value, or the sentence that says why there is none.
template <class T>
using Result = tl::expected<T, Problem>;

/// The failing half of a Result. What a file wrote and the sentence quotes stays on its one line.
inline tl::unexpected<Problem> refuse(std::string sentence) {
    for (char& c : sentence)
        if (static_cast<unsigned char>(c) < 0x20 || c == 0x7F)
            c = ' ';
    return tl::unexpected<Problem>(Problem{std::move(sentence)});
}

/// Whether it went well, without what came of it.
template <class T>
Result<void> whether(const Result<T>& done) {
    return done ? Result<void>{} : tl::unexpected(done.error());
}

} // namespace marram
