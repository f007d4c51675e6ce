// SPDX-License-Identifier: GPL-3.0-or-later
#include "support/suite.h"

#include <algorithm>
#include <iostream>

/// Runs the tests of the file named first; what follows goes to Qt Test. Without a name, or with one it does
/// not hold, it says which it holds and fails.
int main(int argc, char** argv) {
    const auto& all = marram::test::suites();
    const std::string_view wanted = argc > 1 ? argv[1] : "";
    const auto found =
        std::find_if(all.begin(), all.end(), [&](const marram::test::Suite& s) { return s.name == wanted; });
    if (found == all.end()) {
        for (const marram::test::Suite& s : all)
            std::cout << s.name << '\n';
        return 2;
    }
    argv[1] = argv[0];
    return found->run(argc - 1, argv + 1);
}
