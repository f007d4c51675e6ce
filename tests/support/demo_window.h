// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "app/theme/theme.h"
#include "app/window/main_window.h"
#include "support/demo_roster.h"
#include "support/waits.h"

#include <QApplication>
#include <QSettings>
#include <QTemporaryDir>
#include <QTest>

namespace marram::test {

/// A real window on a demo roster of its own, whose day is 23 November 2026.
class DemoWindow : public QObject {
protected:
    QTemporaryDir folder_;
    std::unique_ptr<Workspace> w_;
    std::unique_ptr<MainWindow> window_;
    int rosters_ = 0;
    const Date today_ = parseDate("2026-11-23").value();

    template <class T>
    T* find(const char* name) {
        T* found = window_->findChild<T*>(name);
        if (!found)
            qFatal("no %s", name);
        return found;
    }
    void dressed() {
        QSettings::setPath(QSettings::NativeFormat, QSettings::UserScope, folder_.filePath("config"));
        QApplication::setApplicationName("marram-test");
        QApplication::setOrganizationName("marram-test");
        dress(*qApp, {});
    }
    void openWindow() {
        w_ = std::make_unique<Workspace>();
        w_->clock.setToday(today_);
        window_ = std::make_unique<MainWindow>(*w_);
        const QString path = folder_.filePath(QString("%1.marram").arg(++rosters_));
        QVERIFY(demoRoster(path, today_));
        QVERIFY(w_->roster.open(path));
        window_->show();
        QVERIFY(QTest::qWaitForWindowExposed(window_.get(), Patience));
    }
    void closeWindow() {
        window_.reset();
        w_.reset();
    }
    void choose(const QString& part) {
        for (const RiderRecord& r : w_->roster.riders())
            if (r.name.contains(part))
                w_->chosen.choose(r.id);
        QVERIFY(w_->chosen.rider()->name.contains(part));
    }
};

} // namespace marram::test
