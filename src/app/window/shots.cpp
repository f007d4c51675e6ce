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

/// The last ride with repetitions over what was meant.
std::optional<qint64> rideAsMeant(const Workspace& workspace) {
    std::optional<qint64> ride;
    for (const RideRecord& r : workspace.chosen.rides())
        if (const LaidRide* laid = workspace.blocks.laidOn(r.day);
            laid && laid->ride == r.id && laid->against.repetitions.size() >= 3 &&
            laid->against.verdict == RungVerdict::Passed)
            ride = r.id;
    return ride;
}

/// The window, place by place.
class Shooting {
public:
    Shooting(MainWindow& window, Workspace& workspace, const QString& folder)
        : window_(window), workspace_(workspace), folder_(folder) {}

    bool all() {
        season();
        block();
        roster();
        riderAndRides();
        review();
        darkSeason();
        return ok_;
    }

private:
    void take(const QString& name) {
        settle(workspace_);
        keep(window_, name);
    }

    void keep(QWidget& what, const QString& name) {
        ok_ = what.grab().save(QDir(folder_).filePath(name + ".png")) && ok_;
    }

    /// A dialog, once it has all it shows, within a minute.
    void takeDialog(const char* object, const QString& name, const std::function<bool(QWidget*)>& ready) {
        QElapsedTimer clock;
        clock.start();
        auto* dialog = window_.findChild<QDialog*>(object);
        while (dialog && clock.elapsed() < 60000 && !ready(dialog))
            QApplication::processEvents(QEventLoop::AllEvents, 20);
        ok_ = ok_ && dialog;
        if (!dialog)
            return;
        keep(*dialog, name);
        dialog->close();
    }

    void openFirstRace() {
        if (const auto& season = workspace_.chosen.season())
            window_.seasonView().openOn(season->races.front().date, 0);
    }

    void season() {
        SeasonView& view = window_.seasonView();
        window_.go(Place::Season);
        settle(workspace_);
        openFirstRace();
        take("season");
        if (workspace_.chosen.season()) {
            openFirstRace();
            view.showRaces(true);
            take("season-races");
            view.showRaces(false);
        }
        view.openOn(std::nullopt, -1);
        take("season-rules");
        if (workspace_.chosen.season())
            alternative();
    }

    void alternative() {
        SeasonView& view = window_.seasonView();
        Season other = *workspace_.chosen.season();
        other.rules.buildWeeks = 2;
        other.rules.school = School::Polarised;
        view.tryOut(wording("2:1 from here on"), other);
        settle(workspace_);
        take("season-alternative");
        view.dropAlternative();
        settle(workspace_);
        emit workspace_.notices.said({}); // no picture tells of the one before it
        view.compare();
        takeDialog("compareSheet", "season-compare",
                   [](QWidget* d) { return static_cast<CompareSheet*>(d)->complete(); });
        view.showPage();
        takeDialog("wallPage", "season-page", [](QWidget*) { return true; });
    }

    void block() {
        window_.go(Place::Block);
        workspace_.blocks.look(monday(workspace_.today()) - 7, 4);
        settle(workspace_);
        Date hard = workspace_.today();
        for (Date d = monday(workspace_.today()) + 13; d > workspace_.today(); d = d + -1)
            if (const BlockSession* s = workspace_.blocks.sessionOn(d); s && s->role == Role::Hard)
                hard = d;
        window_.blockView().choose(hard);
        take("block");
    }

    void roster() {
        window_.go(Place::Roster);
        take("roster");
        window_.rosterView().openCheckIns();
        take("check-ins");
        window_.rosterView().openSquad(false);
        take("squad");
    }

    void riderAndRides() {
        window_.go(Place::Rider);
        for (const auto& [page, name] : {std::pair{0, "rider"}, {1, "rider-life"}, {3, "rider-record"}}) {
            window_.riderView().openPage(page);
            take(name);
        }
        window_.go(Place::Rides);
        RidePanel& panel = window_.ridesView().panel();
        window_.ridesView().showRide(hardestRide(workspace_));
        panel.derive("stress");
        take("rides");
        panel.trace().select({1800, 3000});
        if (const auto ride = rideAsMeant(workspace_))
            window_.ridesView().showRide(*ride);
        panel.openPage(3);
        take("rides-meant");
    }

    void review() {
        window_.go(Place::Review);
        for (const auto& [page, name] : {std::pair{0, "review-monday"}, {2, "review"}}) {
            window_.reviewView().openPage(page);
            take(name);
        }
        window_.reviewView().ask(Question::Changing);
        take("review-questions");
    }

    void darkSeason() {
        const bool dark = shore().dark;
        if (!dark) {
            window_.useDark(true);
            window_.go(Place::Season);
            openFirstRace();
            take("season-dark");
        }
        window_.useDark(dark);
    }

    MainWindow& window_;
    Workspace& workspace_;
    const QString folder_;
    bool ok_ = true;
};

} // namespace

bool takeShots(MainWindow& window, Workspace& workspace, const QString& folder) {
    if (!QDir().mkpath(folder))
        return false;
    window.resize(1280, 800);
    window.show();
    return Shooting(window, workspace, folder).all();
}

} // namespace marram
