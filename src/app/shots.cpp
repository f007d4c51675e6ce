// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/shots.h"

#include <QApplication>
#include <QDir>
#include <QElapsedTimer>

namespace marram {
namespace {

/// Lets the plan, its limits and the painting settle.
void settle(Workspace& workspace) {
    QElapsedTimer clock;
    clock.start();
    while (clock.elapsed() < 4000 && (!workspace.solved() || workspace.limits().empty()) &&
           workspace.season())
        QApplication::processEvents(QEventLoop::AllEvents, 20);
    for (int i = 0; i < 5; ++i)
        QApplication::processEvents(QEventLoop::AllEvents, 20);
}

} // namespace

bool takeShots(MainWindow& window, Workspace& workspace, const QString& folder) {
    if (!QDir().mkpath(folder))
        return false;
    window.resize(1280, 800);
    window.show();
    bool ok = true;
    const auto take = [&](const char* name) {
        settle(workspace);
        ok = window.grab().save(QDir(folder).filePath(QString(name) + ".png")) && ok;
    };
    window.go(Place::Season);
    settle(workspace);
    const auto& season = workspace.season();
    if (season)
        window.seasonView().openOn(season->races.front().date, 0);
    take("season");
    if (season)
        window.seasonView().openOn(monday(workspace.today()) + 29, -1);
    take("season-week");
    window.go(Place::Roster);
    take("roster");
    window.go(Place::Rider);
    take("rider");
    window.go(Place::Rides);
    take("rides");
    window.useDark(true);
    window.go(Place::Season);
    if (season)
        window.seasonView().openOn(season->races.front().date, 0);
    take("season-dark");
    window.useDark(false);
    return ok;
}

} // namespace marram
