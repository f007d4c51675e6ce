// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include <cstdio>
#include <exception>

namespace marram {

/// Runs a programme of the command line: no exception leaves it, what went wrong is one line and ends with 3.
template <class Run>
int guarded(Run run, int argc, char** argv) {
    try {
        return run(argc, argv);
    } catch (const std::exception& e) {
        std::fputs(e.what(), stderr);
        std::fputc('\n', stderr);
    } catch (...) {
        std::fputs("Something went wrong that has no name.\n", stderr);
    }
    return 3;
}

} // namespace marram
