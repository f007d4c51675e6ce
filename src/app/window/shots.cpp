// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/window/shots.h"
#include "app/season/compare_sheet.h"
#include "app/theme/theme.h"
#include "wording/wording.h"

#include <QApplication>
#include <QDialog>
#include <QDir>
#include <QElapsedTimer>
#include <functional>

namespace marram {
namespace {

/// Lets the plan, its limits and the painting settle.
void settle(Workspace& workspace) {
    QElapsedTimer clock;
    clock.start();
    while (clock.elapsed() < 4000 && (!workspace.plans.solved() || workspace.plans.limits().empty()) &&
           workspace.chosen.season())
        QApplication::processEvents(QEventLoop::AllEvents, 20);
    while ((clock.elapsed() < 6000 && workspace.blocks.solving()) ||
           (clock.elapsed() < 60000 && (workspace.listening.reading() || workspace.mondays.reading() ||
                                        workspace.answers.reading() || workspace.squads.reading())))
        QApplication::processEvents(QEventLoop::AllEvents, 20);
    for (int i = 0; i < 5; ++i)
        QApplication::processEvents(QEventLoop::AllEvents, 20);
}

/// A ride of the last three weeks with intervals in it: the one with most time above threshold.
qint64 hardestRide(const Workspace& workspace) {
    qint64 ride = workspace.chosen.rides().empty() ? 0 : workspace.chosen.rides().back().id;
    double most = 600;
    for (const RideRecord& r : workspace.chosen.rides())
        if (workspace.today() - r.day <= 42 && r.score.bandSeconds && r.score.duration < 3 * 3600 &&
            r.score.bandSeconds->high > most) {
            most = r.score.bandSeconds->high;
            ride = r.id;
        }
    return ride;
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
    const auto& season = workspace.chosen.season();
    if (season)
        window.seasonView().openOn(season->races.front().date, 0);
    take("season");
    if (season) {
        window.seasonView().openOn(season->races.front().date, 0);
        window.seasonView().showRaces(true);
        take("season-races");
        window.seasonView().showRaces(false);
    }
    window.seasonView().openOn(std::nullopt, -1);
    take("season-rules");
    if (season) {
        window.seasonView().tryOut(wording("2:1 from here on"), [&] {
            Season other = *workspace.chosen.season();
            other.rules.buildWeeks = 2;
            other.rules.school = School::Polarised;
            return other;
        }());
        settle(workspace);
        take("season-alternative");
        window.seasonView().dropAlternative();
        settle(workspace);
        emit workspace.notices.said({}); // no picture tells of the one before it
        const auto takeDialog = [&](const char* name, const char* shot,
                                    const std::function<bool(QWidget*)>& ready) {
            QElapsedTimer clock;
            clock.start();
            auto* dialog = window.findChild<QDialog*>(name);
            while (dialog && clock.elapsed() < 60000 && !ready(dialog))
                QApplication::processEvents(QEventLoop::AllEvents, 20);
            ok = dialog && dialog->grab().save(QDir(folder).filePath(QString(shot) + ".png")) && ok;
            if (dialog)
                dialog->close();
        };
        window.seasonView().compare();
        takeDialog("compareSheet", "season-compare",
                   [](QWidget* d) { return static_cast<CompareSheet*>(d)->complete(); });
        window.seasonView().showPage();
        takeDialog("wallPage", "season-page", [](QWidget*) { return true; });
    }
    window.go(Place::Block);
    workspace.blocks.look(monday(workspace.today()) - 7, 4);
    settle(workspace);
    Date hard = workspace.today();
    for (Date d = monday(workspace.today()) + 13; d > workspace.today(); d = d + -1)
        if (const BlockSession* s = workspace.blocks.sessionOn(d); s && s->role == Role::Hard)
            hard = d;
    window.blockView().choose(hard);
    take("block");
    window.go(Place::Roster);
    take("roster");
    window.rosterView().openCheckIns();
    take("check-ins");
    window.rosterView().openSquad(false);
    take("squad");
    window.go(Place::Rider);
    for (const auto& [page, name] : {std::pair{0, "rider"}, {1, "rider-life"}, {3, "rider-record"}}) {
        window.riderView().openPage(page);
        take(name);
    }
    window.go(Place::Rides);
    RidePanel& panel = window.ridesView().panel();
    window.ridesView().showRide(hardestRide(workspace));
    panel.derive("stress");
    take("rides");
    panel.trace().select({1800, 3000});
    // One with repetitions over what was meant.
    for (const RideRecord& r : workspace.chosen.rides())
        if (const LaidRide* laid = workspace.blocks.laidOn(r.day);
            laid && laid->ride == r.id && laid->against.repetitions.size() >= 3 &&
            laid->against.verdict == RungVerdict::Passed)
            window.ridesView().showRide(r.id);
    panel.openPage(3);
    take("rides-meant");
    window.go(Place::Review);
    for (const auto& [page, name] : {std::pair{0, "review-monday"}, {2, "review"}}) {
        window.reviewView().openPage(page);
        take(name);
    }
    window.reviewView().ask(Question::Changing);
    take("review-questions");
    const bool dark = shore().dark;
    if (!dark) {
        window.useDark(true);
        window.go(Place::Season);
        if (season)
            window.seasonView().openOn(season->races.front().date, 0);
        take("season-dark");
    }
    window.useDark(dark);
    return ok;
}

} // namespace marram
