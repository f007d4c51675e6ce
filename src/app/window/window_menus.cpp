// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/settings/settings.h"
#include "app/shell/binding.h"
#include "app/shell/dates.h"
#include "app/shell/empty_page.h"
#include "app/shell/palette.h"
#include "app/theme/theme.h"
#include "app/window/failure.h"
#include "app/window/keys.h"
#include "app/window/main_window.h"
#include "app/window/reader.h"
#include "app/window/roster_dialogs.h"
#include "wording/wording.h"

#include <QApplication>
#include <QCloseEvent>
#include <QDialog>
#include <QFileDialog>
#include <QHBoxLayout>
#include <QInputDialog>
#include <QMenu>
#include <QMenuBar>
#include <QMessageBox>
#include <QPrintDialog>
#include <QPrinter>
#include <QPushButton>
#include <QSettings>
#include <QShortcut>
#include <QStatusBar>
#include <QTextBrowser>
#include <QVBoxLayout>

namespace marram {

QAction* MainWindow::act(const QString& name, const QKeySequence& keys, std::function<void()> what,
                         bool needsRider) {
    auto* a = new QAction(name.section('|', 0, 0), this);
    a->setProperty(alsoCalled, name.section('|', 1));
    a->setShortcut(keys);
    connect(a, &QAction::triggered, this, [words = a->text(), what = std::move(what)] {
        failure::note(words);
        what();
    });
    addAction(a);
    menu_->addAction(a);
    if (needsRider)
        needRider_ << a;
    return a;
}

void MainWindow::beginMenu(const QString& title) {
    menu_ = menuBar()->addMenu(title);
}

std::function<void()> MainWindow::at(Place place, std::function<void()> what) {
    return [this, place, what = std::move(what)] {
        go(place);
        what();
    };
}

void MainWindow::makeFileMenu() {
    beginMenu(wording("&File"));
    act(wording("Make a new roster"), QKeySequence("Ctrl+Shift+N"), [this] { files_->makeNew(); });
    act(wording("Open a roster"), QKeySequence::Open, [this] { files_->open(); });
    act(wording("See the demo"), {}, [this] { emit wantsDemo(); });
    act(wording("Make a demo anew, as of today"), {}, [this] { emit wantsDemoAnew(); });
    menu_->addSeparator();
    act(
        wording("Export the rider|spreadsheet csv json save"), {}, [this] { roster_->exportChosen(); }, true);
    act(wording("Bring riders from an export|import athlete"), {}, [this] { roster_->bringRiders(); });
    act(wording("Save what is whole of a damaged roster|repair rescue"), {}, [this] { files_->saveWhole(); });
    act(wording("Save all of it elsewhere"), {}, [this] { files_->saveElsewhere(); });
    act(wording("Copies of this roster, and restore one|backup archive"), {},
        [this] { files_->showCopies(); });
    act(wording("Keep old recordings in a file beside the roster|archive large slow size"), {},
        [this] { files_->moveRecordings(); });
    menu_->addSeparator();
    act(
        wording("Print the season, the block, the squad's week or the answer that shows"),
        QKeySequence::Print, [this] { print(); }, true);
    act(wording("The season on a page: PDF, SVG, PNG, calendar, CSV|wall poster export image picture"),
        QKeySequence("Ctrl+Shift+P"), at(Place::Season, [this] { season_->showPage(); }), true);
    act(wording("Choose the device folder"), {}, [this] {
        const QString folder = QFileDialog::getExistingDirectory(this, wording("Folder of the bike computer"),
                                                                 RidesView::deviceFolder());
        if (!folder.isEmpty())
            setSetting(settingOf("deviceFolder"), folder);
    });
    menu_->addSeparator();
    act(wording("Quit"), QKeySequence::Quit, [this] { close(); });
}

void MainWindow::makeEditMenu() {
    beginMenu(wording("&Edit"));
    QUndoStack& steps = workspace_.roster.steps().stack();
    auto* undo = steps.createUndoAction(this, wording("Undo"));
    undo->disconnect(&steps);
    connect(undo, &QAction::triggered, this, [this] { workspace_.roster.steps().undo(); });
    undo->setShortcut(QKeySequence::Undo);
    auto* redo = steps.createRedoAction(this, wording("Redo"));
    redo->disconnect(&steps);
    connect(redo, &QAction::triggered, this, [this] { workspace_.roster.steps().redo(); });
    redo->setShortcuts({QKeySequence("Ctrl+Shift+Z"), QKeySequence("Ctrl+Y")});
    addActions({undo, redo});
    menu_->addActions({undo, redo});
    menu_->addSeparator();
    act(wording("Find a rider"), QKeySequence::Find, [this] {
        go(Place::Roster);
        roster_->find();
    });
    act(wording("Find any action"), QKeySequence("Ctrl+K"), [this] {
        auto* palette = new CommandPalette(actions(), this);
        palette->setAttribute(Qt::WA_DeleteOnClose);
        palette->move(mapToGlobal(QPoint((width() - palette->width()) / 2, 60)));
        palette->show();
    })->setObjectName("palette");
    menu_->addSeparator();
    act(wording("Settings|preferences options units theme folders backup language"), QKeySequence("Ctrl+,"),
        [this] { showSettings(); });
}

void MainWindow::makeRiderMenu() {
    beginMenu(wording("&Rider"));
    act(wording("Add a rider|athlete new"), QKeySequence("Ctrl+N"), [this] { addRider(); });
    act(wording("Enter check-ins"), QKeySequence("Ctrl+E"), [this] {
        go(Place::Roster);
        roster_->openCheckIns();
    });
    act(
        wording("Tests of the rider"), QKeySequence("Ctrl+Shift+T"),
        [this] {
            go(Place::Rider);
            rider_->openTests();
        },
        true);
    act(
        wording("What the record says of the rider|propose threshold listen values estimate"), {},
        [this] {
            go(Place::Rider);
            rider_->openRecord();
        },
        true);
    act(
        wording("Archive the rider, or bring them back"), {}, [this] { roster_->archiveChosen(); }, true);
}

void MainWindow::addRideActions() {
    menu_->addSeparator();
    act(
        wording("Import rides"), QKeySequence("Ctrl+I"),
        [this] {
            go(Place::Rides);
            rides_->chooseFiles();
        },
        true);
    act(
        wording("Sync the device folder"), QKeySequence("Ctrl+Shift+I"),
        [this] {
            go(Place::Rides);
            rides_->sync();
        },
        true);
    act(
        wording("Have the simulated bike computer ride today"), {},
        [this] {
            go(Place::Rides);
            rides_->rideToday();
        },
        true);
    act(
        wording("Save the shown ride in another format"), QKeySequence("Ctrl+Shift+S"),
        [this] {
            go(Place::Rides);
            rides_->panel().saveAs();
        },
        true);
    act(
        wording("Remove the shown ride"), QKeySequence("Ctrl+Shift+Backspace"),
        [this] { rides_->removeSelected(); }, true);

    menu_->addSeparator();
    act(wording("The squad: seasons beside each other|group team riders compare"),
        QKeySequence("Ctrl+Shift+U"), [this] {
            go(Place::Roster);
            roster_->openSquad(false);
        });
    act(wording("The week of the squad|group team weekdays table print csv"), {}, [this] {
        go(Place::Roster);
        roster_->openSquad(true);
    });
}

void MainWindow::makeSeasonMenu() {
    beginMenu(wording("&Season"));
    act(wording("Add a race|event goal"), QKeySequence("Ctrl+R"),
        at(Place::Season,
           [this] { season_->addRace(season_->canvas().marks().day.value_or(workspace_.today() + 56)); }),
        true);
    act(wording("Remove the chosen race"), QKeySequence("Ctrl+Backspace"),
        at(Place::Season, [this] { season_->removeSelectedRace(); }), true);
    act(wording("Make the chosen race an A race"), QKeySequence("Ctrl+Alt+A"),
        at(Place::Season, [this] { season_->setSelectedPriority(Priority::A); }), true);
    act(wording("Make the chosen race a B race"), QKeySequence("Ctrl+Alt+B"),
        at(Place::Season, [this] { season_->setSelectedPriority(Priority::B); }), true);
    act(wording("Make the chosen race a C race"), QKeySequence("Ctrl+Alt+C"),
        at(Place::Season, [this] { season_->setSelectedPriority(Priority::C); }), true);
    act(wording("Pin the chosen week as deload, or unpin it|recovery unload rest"), QKeySequence("Ctrl+D"),
        at(Place::Season, [this] { season_->pinSelectedWeek(WeekKind::Deload); }), true);
    act(wording("Pin the chosen week as build, or unpin it"), QKeySequence("Ctrl+B"),
        at(Place::Season, [this] { season_->pinSelectedWeek(WeekKind::Build); }), true);

    for (const auto& [name, why] :
         {std::pair{wording("Illness in the chosen week|ill sick fever away"), AwayWhy::Illness},
          std::pair{wording("Holiday in the chosen week|days away vacation travel work"), AwayWhy::Holiday},
          std::pair{wording("Camp in the chosen week|training camp altitude"), AwayWhy::Camp}})
        act(name, {}, at(Place::Season, [this, why = why] { season_->away(std::nullopt, why); }), true);
}

void MainWindow::addTryActions() {
    menu_->addSeparator();
    act(wording("Try a copy of the season, to change by hand|what-if alternative"),
        QKeySequence("Ctrl+Alt+T"),
        at(Place::Season,
           [this] {
               if (workspace_.plans.decided())
                   season_->tryOut({}, *workspace_.plans.decided());
           }),
        true);
    act(wording("Keep the alternative"), QKeySequence("Ctrl+Alt+K"),
        at(Place::Season, [this] { season_->keepAlternative(); }), true);
    act(wording("Drop the alternative"), QKeySequence("Ctrl+Alt+D"),
        at(Place::Season, [this] { season_->dropAlternative(); }), true);
    act(wording("Rename the alternative"), {}, at(Place::Season, [this] { renameAlternative(); }), true);
    act(wording("Schools, rhythms, orders and tapers side by side|compare"), QKeySequence("Ctrl+Shift+C"),
        at(Place::Season, [this] { season_->compare(); }), true);
    act(wording("The races in a list, or the cross-section"), QKeySequence("Ctrl+L"),
        at(Place::Season, [this] { season_->showRaces(!season_->showsRaces()); }), true);
    act(wording("How the season went, and the next one"), {},
        at(Place::Season, [this] { season_->lookBack(); }), true);
    act(wording("How this season is made"), QKeySequence("Ctrl+Shift+G"),
        at(Place::Season, [this] { season_->openOn(std::nullopt, -1); }), true);
}

void MainWindow::makeBlockMenu() {
    beginMenu(wording("&Block"));
    act(wording("Write the chosen session in words"), QKeySequence("Ctrl+W"),
        at(Place::Block, [this] { block_->typeWords(); }), true);
    act(wording("Families of sessions"), QKeySequence("Ctrl+Shift+F"),
        at(Place::Block, [this] { block_->showFamilies(!block_->showsFamilies()); }), true);
    act(wording("Pin the chosen week's sessions, or unpin them"), {},
        at(Place::Block, [this] { block_->pinWeek(); }), true);
    act(wording("Lay out a race week that matters"), {},
        at(Place::Block, [this] { block_->layRaceWeek(true); }), true);
    act(wording("Lay out a race week, trained through"), {},
        at(Place::Block, [this] { block_->layRaceWeek(false); }), true);
    act(wording("Lay out four weeks after a lay-off"), {},
        at(Place::Block, [this] { block_->layOffWeeks(); }), true);
    menu_->addSeparator();
    act(wording("Copy the week as text"), QKeySequence("Ctrl+Shift+X"),
        at(Place::Block, [this] { block_->copyWeekText(); }), true);
    act(wording("The shown weeks as pages for the rider|pdf export plan handout"), {},
        at(Place::Block, [this] { block_->savePages(); }), true);
    act(wording("Workouts of the shown weeks for the bike computer|export files trainer head unit"), {},
        at(Place::Block, [this] { block_->saveWorkouts(); }), true);
    act(wording("A calendar of the shown weeks|export ics subscribe dates"), {},
        at(Place::Block, [this] { block_->saveCalendar(); }), true);
    menu_->addSeparator();
    act(wording("More weeks on the board"), {},
        at(Place::Block, [this] { block_->showWeeks(workspace_.blocks.weeks() + 1); }), true);
    act(wording("Fewer weeks on the board"), {},
        at(Place::Block, [this] { block_->showWeeks(workspace_.blocks.weeks() - 1); }), true);
}

void MainWindow::makeReviewMenu() {
    beginMenu(wording("Revie&w"));
    const auto onMonday = [this](auto what) {
        return [this, what] {
            go(Place::Review);
            review_->openPage(0);
            what();
        };
    };
    act(wording("Monday: the week that was, and the one that comes|week review letter look back"),
        QKeySequence("Ctrl+Shift+M"), onMonday([] {}), true);
    act(
        wording("The next rider who needs a look"), QKeySequence("Ctrl+J"), [this] { nextToLookAt(); }, true);
    act(wording("The letter of the week|pdf text mail send"), {},
        onMonday([this] { review_->mondayPage().saveLetter(); }), true);
    act(wording("Letters of the week to all riders|pdf text mail send"), {},
        onMonday([this] { review_->mondayPage().saveAllLetters(); }), true);
    act(wording(
            "Send the week to all riders: letters, calendars and workouts in a folder each|post mail export"),
        {}, onMonday([this] { review_->mondayPage().sendWeek(); }), true);
    act(wording("Take in what riders sent back|post mail import inbox"), {},
        onMonday([this] { review_->mondayPage().takeInPost(); }), true);

    menu_->addSeparator();
    for (const QuestionWords& q : questions)
        act(QString("%1|%2").arg(wording(q.name), wording(q.words)), {}, [this, question = q.question] {
            go(Place::Review);
            review_->ask(question);
        });
}

void MainWindow::makeViewMenu() {
    beginMenu(wording("&View"));
    for (int i = 0; i < 6; ++i)
        act(wording("Go to %1").arg(wording(placeWords[static_cast<size_t>(i)].name)),
            QKeySequence(QString("Ctrl+%1").arg(i + 1)), [this, i] { go(static_cast<Place>(i)); });
    menu_->addSeparator();
    act(wording("Light or dark"), QKeySequence("Ctrl+T"), [this] { useDark(!shore().dark); });
    act(wording("Larger text|zoom bigger font"), QKeySequence("Ctrl++"), [this] {
        useTextScale(textScale() + 0.1);
    })->setShortcuts({QKeySequence("Ctrl++"), QKeySequence("Ctrl+=")});
    act(wording("Smaller text"), QKeySequence("Ctrl+-"), [this] { useTextScale(textScale() - 0.1); });
    menuShown_ = act(wording("Show the menu bar"), QKeySequence("Ctrl+M"), [this] {
        menuBar()->setVisible(menuShown_->isChecked());
        setSetting(settingOf("menuBar"), menuShown_->isChecked());
    });
    menuShown_->setCheckable(true);
    menuShown_->setChecked(setting("menuBar").toBool());
    menuBar()->setVisible(menuShown_->isChecked());
}

void MainWindow::makeHelpMenu() {
    beginMenu(wording("&Help"));
    act(wording("Keys of this view|shortcuts help keyboard"), QKeySequence(Qt::Key_F1),
        [this] { showKeys(); });
    act(wording("The guide|manual help documentation handbook"), QKeySequence("Shift+F1"),
        [this] { showGuide(); });
    act(wording("What is new|changes version upgrade"), {}, [this] { showChanges(); });
    act(wording("About Marram, and health"), {}, [this] {
        auto* box = new QMessageBox(
            QMessageBox::NoIcon, "Marram",
            wording(
                "Marram advises a coach; it does not diagnose.\n\nFever, chest pain, fainting, palpitations, "
                "unusual "
                "breathlessness, or fatigue that does not lift in two weeks: stop, and see a doctor. Minors, "
                "pregnancy, "
                "heart or metabolic disease and return from illness or injury belong under licensed care.\n\n"
                "Everything stays on this machine. GPL-3.0-or-later."),
            QMessageBox::Close, this);
        box->setObjectName("about");
        box->setAttribute(Qt::WA_DeleteOnClose);
        box->open();
    });
}

void MainWindow::makeActions() {
    makeFileMenu();
    makeEditMenu();
    makeRiderMenu();
    addRideActions();
    makeSeasonMenu();
    addTryActions();
    makeBlockMenu();
    makeReviewMenu();
    makeViewMenu();
    makeHelpMenu();
}

} // namespace marram
