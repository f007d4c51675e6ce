// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include <QCoreApplication>
#include <QTest>
#include <string_view>
#include <vector>

namespace marram::test {

/// The test class of one file. Several files make one programme, which is told by the file's name whose tests
/// to run (tests/main.cpp); one programme a file took three times as long to build.
struct Suite {
    std::string_view name; ///< the file's, without folder and ending
    int (*run)(int argc, char** argv);
};

inline std::vector<Suite>& suites() {
    static std::vector<Suite> all;
    return all;
}

template <class Application, class Test>
bool addSuite(std::string_view file) {
    file.remove_prefix(file.rfind('/') + 1);
    suites().push_back({file.substr(0, file.rfind('.')), [](int argc, char** argv) {
                            Application application(argc, argv);
                            QCoreApplication::setAttribute(Qt::AA_Use96Dpi);
                            Test test;
                            return QTest::qExec(&test, argc, argv);
                        }});
    return true;
}

} // namespace marram::test

/// Once at the end of a test file: its class is run without a window, or with one.
#define MARRAM_SUITE(Test)                                                                                   \
    static const bool added##Test = marram::test::addSuite<QCoreApplication, Test>(__FILE__);
#define MARRAM_WINDOW_SUITE(Test)                                                                            \
    static const bool added##Test = marram::test::addSuite<QApplication, Test>(__FILE__);
