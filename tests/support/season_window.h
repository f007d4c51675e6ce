// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "app/season/compare_sheet.h"
#include "app/season/season_end.h"
#include "app/season/season_tries.h"
#include "app/theme/theme.h"
#include "app/window/main_window.h"
#include "formats/json/season_json.h"
#include "records/merge.h"
#include "support/demo_roster.h"
#include "support/waits.h"
#include "support/workspaces.h"

#include <QComboBox>
#include <QDateEdit>
#include <QDoubleSpinBox>
#include <QJsonArray>
#include <QJsonDocument>
#include <QJsonObject>
#include <QLabel>
#include <QPdfWriter>
#include <QProcess>
#include <QPushButton>
#include <QSettings>
#include <QSignalSpy>
#include <QSvgRenderer>
#include <QTableWidget>
#include <QTemporaryDir>
#include <QTest>
#include <QTextBrowser>

namespace marram::test {

/// A real window on the demo's roster, looking at its first rider's season.
class SeasonWindow : public QObject {
protected:
    QTemporaryDir folder_;
    QString path_;
    std::unique_ptr<Workspace> w_;
    std::unique_ptr<MainWindow> window_;
    const Date today_ = parseDate("2026-11-23").value();

    SeasonView& view() { return window_->seasonView(); }
    SeasonCanvas& canvas() { return view().canvas(); }
    const Season& season() { return *w_->plans.season(); }
    const Plan& plan() { return w_->plans.solved()->plan; }
    int steps() { return w_->roster.steps().stack().index(); }
    template <class T>
    T* find(const char* name) {
        return window_->findChild<T*>(name);
    }

    /// Waits until the newest edit is solved, explained and on the screen.
    bool settled() {
        QSignalSpy explained(&w_->plans, &PlanService::limitsChanged);
        return explained.wait(Patience);
    }
    void openWindow() {
        w_ = std::make_unique<Workspace>();
        w_->clock.setToday(today_);
        window_ = std::make_unique<MainWindow>(*w_);
        window_->resize(1280, 800);
        QSignalSpy explained(&w_->plans, &PlanService::limitsChanged);
        QVERIFY(w_->roster.open(path_));
        window_->show();
        QVERIFY(QTest::qWaitForWindowExposed(window_.get(), Patience));
        window_->go(Place::Season);
        QVERIFY(!explained.isEmpty() || explained.wait(Patience));
        canvas().look(std::nullopt);
    }
    void move(QPointF at, Qt::MouseButtons buttons = Qt::LeftButton) {
        QMouseEvent event(QEvent::MouseMove, at, canvas().mapToGlobal(at), Qt::NoButton, buttons, {});
        QApplication::sendEvent(&canvas(), &event);
    }
    /// Drags and says what stood at the hand before it was let go.
    QString drag(QPointF from, QPointF to) {
        QTest::mousePress(&canvas(), Qt::LeftButton, {}, from.toPoint());
        for (int i = 1; i <= 6; ++i) {
            move(from + (to - from) * i / 6);
            QTest::qWait(8);
        }
        QTest::qWait(60);
        const QString said = canvas().marks().consequence;
        QTest::mouseRelease(&canvas(), Qt::LeftButton, {}, to.toPoint());
        return said;
    }
    QPointF middleOf(Date week, double y) {
        return {canvas().scene().xOf(week) + 3.5 * canvas().scene().dayWidth(), y};
    }
    Date weekOfKind(WeekKind kind, int nth = 0) {
        for (const PlannedWeek& w : plan().weeks)
            if (w.kind == kind && w.start > today_ + 14 && nth-- == 0)
                return monday(w.start);
        return {};
    }
    void undo() {
        w_->roster.steps().stack().undo();
        QVERIFY(settled());
    }

    void openOnTheDemo() {
        qputenv("XDG_CONFIG_HOME", folder_.filePath("config").toUtf8());
        QSettings::setPath(QSettings::NativeFormat, QSettings::UserScope, folder_.filePath("config"));
        QApplication::setApplicationName("marram-test");
        QApplication::setOrganizationName("marram-test");
        dress(*qApp, {});
        path_ = folder_.filePath("club.marram");
        const auto made = demoRoster(path_, today_);
        QVERIFY2(made.has_value(), made ? "" : made.error().sentence.c_str());
        openWindow();
    }
    void closeIt() {
        window_.reset();
        w_.reset();
    }
};

} // namespace marram::test
