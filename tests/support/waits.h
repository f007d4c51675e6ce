// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include <QTest>
#include <utility>

namespace marram::test {

/// How long a test waits for what must come. Only a machine that hardly gets on needs all of it, so no test
/// is quicker for less. [ms]
constexpr int Patience = 180'000;

/// Whether `held` comes to be true, events being handled meanwhile.
template <typename Held>
bool comes(Held held) {
    return QTest::qWaitFor(std::move(held), Patience);
}

} // namespace marram::test
