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

void MainWindow::makeActions() {
    const auto menu = [this](const QString& title) { menu_ = menuBar()->addMenu(title); };
    const auto inSeason = [this](auto what) {
        return [this, what] {
            go(Place::Season);
            what();
        };
    };
    menu("&File");
    act("Make a new roster", QKeySequence("Ctrl+Shift+N"), [this] { files_->makeNew(); });
    act("Open a roster", QKeySequence::Open, [this] { files_->open(); });
    act("See the demo", {}, [this] { emit wantsDemo(); });
    act("Make a demo anew, as of today", {}, [this] { emit wantsDemoAnew(); });
    menu_->addSeparator();
    act(
        "Export the rider|spreadsheet csv json save", {}, [this] { roster_->exportChosen(); }, true);
    act("Bring riders from an export|import athlete", {}, [this] { roster_->bringRiders(); });
    act("Save what is whole of a damaged roster|repair rescue", {}, [this] { files_->saveWhole(); });
    act("Save all of it elsewhere", {}, [this] { files_->saveElsewhere(); });
    act("Copies of this roster, and restore one|backup archive", {}, [this] { files_->showCopies(); });
    act("Keep old recordings in a file beside the roster|archive large slow size", {},
        [this] { files_->moveRecordings(); });
    menu_->addSeparator();
    act(
        "Print the season, the block, the squad's week or the answer that shows", QKeySequence::Print,
        [this] { print(); }, true);
    act("The season on a page: PDF, SVG, PNG, calendar, CSV|wall poster export image picture",
        QKeySequence("Ctrl+Shift+P"), inSeason([this] { season_->showPage(); }), true);
    act("Choose the device folder", {}, [this] {
        const QString folder =
            QFileDialog::getExistingDirectory(this, "Folder of the bike computer", RidesView::deviceFolder());
        if (!folder.isEmpty())
            setSetting(settingOf("deviceFolder"), folder);
    });
    menu_->addSeparator();
    act("Quit", QKeySequence::Quit, [this] { close(); });

    menu("&Edit");
    auto* undo = workspace_.roster.undoStack().createUndoAction(this, "Undo");
    undo->setShortcut(QKeySequence::Undo);
    auto* redo = workspace_.roster.undoStack().createRedoAction(this, "Redo");
    redo->setShortcuts({QKeySequence("Ctrl+Shift+Z"), QKeySequence("Ctrl+Y")});
    addActions({undo, redo});
    menu_->addActions({undo, redo});
    menu_->addSeparator();
    act("Find a rider", QKeySequence::Find, [this] {
        go(Place::Roster);
        roster_->find();
    });
    act("Find any action", QKeySequence("Ctrl+K"), [this] {
        auto* palette = new CommandPalette(actions(), this);
        palette->setAttribute(Qt::WA_DeleteOnClose);
        palette->move(mapToGlobal(QPoint((width() - palette->width()) / 2, 60)));
        palette->show();
    })->setObjectName("palette");
    menu_->addSeparator();
    act("Settings|preferences options units theme folders backup language", QKeySequence("Ctrl+,"),
        [this] { showSettings(); });

    menu("&Rider");
    act("Add a rider|athlete new", QKeySequence("Ctrl+N"), [this] { addRider(); });
    act("Enter check-ins", QKeySequence("Ctrl+E"), [this] {
        go(Place::Roster);
        roster_->openCheckIns();
    });
    act(
        "Tests of the rider", QKeySequence("Ctrl+Shift+T"),
        [this] {
            go(Place::Rider);
            rider_->openTests();
        },
        true);
    act(
        "What the record says of the rider|propose threshold listen values estimate", {},
        [this] {
            go(Place::Rider);
            rider_->openRecord();
        },
        true);
    act(
        "Archive the rider, or bring them back", {}, [this] { roster_->archiveChosen(); }, true);
    menu_->addSeparator();
    act(
        "Import rides", QKeySequence("Ctrl+I"),
        [this] {
            go(Place::Rides);
            rides_->chooseFiles();
        },
        true);
    act(
        "Sync the device folder", QKeySequence("Ctrl+Shift+I"),
        [this] {
            go(Place::Rides);
            rides_->sync();
        },
        true);
    act(
        "Have the simulated bike computer ride today", {},
        [this] {
            go(Place::Rides);
            rides_->rideToday();
        },
        true);
    act(
        "Save the shown ride in another format", QKeySequence("Ctrl+Shift+S"),
        [this] {
            go(Place::Rides);
            rides_->panel().saveAs();
        },
        true);
    act(
        "Remove the shown ride", QKeySequence("Ctrl+Shift+Backspace"), [this] { rides_->removeSelected(); },
        true);

    menu_->addSeparator();
    act("The squad: seasons beside each other|group team riders compare", QKeySequence("Ctrl+Shift+U"),
        [this] {
            go(Place::Roster);
            roster_->openSquad(false);
        });
    act("The week of the squad|group team weekdays table print csv", {}, [this] {
        go(Place::Roster);
        roster_->openSquad(true);
    });

    menu("&Season");
    act("Add a race|event goal", QKeySequence("Ctrl+R"), inSeason([this] {
            season_->addRace(season_->canvas().marks().day.value_or(workspace_.today() + 56));
        }),
        true);
    act("Remove the chosen race", QKeySequence("Ctrl+Backspace"),
        inSeason([this] { season_->removeSelectedRace(); }), true);
    act("Make the chosen race an A race", QKeySequence("Ctrl+Alt+A"),
        inSeason([this] { season_->setSelectedPriority(Priority::A); }), true);
    act("Make the chosen race a B race", QKeySequence("Ctrl+Alt+B"),
        inSeason([this] { season_->setSelectedPriority(Priority::B); }), true);
    act("Make the chosen race a C race", QKeySequence("Ctrl+Alt+C"),
        inSeason([this] { season_->setSelectedPriority(Priority::C); }), true);
    act("Pin the chosen week as deload, or unpin it|recovery unload rest", QKeySequence("Ctrl+D"),
        inSeason([this] { season_->pinSelectedWeek(WeekKind::Deload); }), true);
    act("Pin the chosen week as build, or unpin it", QKeySequence("Ctrl+B"),
        inSeason([this] { season_->pinSelectedWeek(WeekKind::Build); }), true);

    menu_->addSeparator();
    act("Try a copy of the season, to change by hand|what-if alternative", QKeySequence("Ctrl+Alt+T"),
        inSeason([this] {
            if (workspace_.plans.decided())
                season_->tryOut({}, *workspace_.plans.decided());
        }),
        true);
    act("Keep the alternative", QKeySequence("Ctrl+Alt+K"), inSeason([this] { season_->keepAlternative(); }),
        true);
    act("Drop the alternative", QKeySequence("Ctrl+Alt+D"), inSeason([this] { season_->dropAlternative(); }),
        true);
    act("Rename the alternative", {}, inSeason([this] { renameAlternative(); }), true);
    act("Schools, rhythms, orders and tapers side by side|compare", QKeySequence("Ctrl+Shift+C"),
        inSeason([this] { season_->compare(); }), true);
    act("The races in a list, or the cross-section", QKeySequence("Ctrl+L"),
        inSeason([this] { season_->showRaces(!season_->showsRaces()); }), true);
    act("How the season went, and the next one", {}, inSeason([this] { season_->lookBack(); }), true);
    act("How this season is made", QKeySequence("Ctrl+Shift+G"),
        inSeason([this] { season_->openOn(std::nullopt, -1); }), true);

    menu("&Block");
    const auto inBlock = [this](auto what) {
        return [this, what] {
            go(Place::Block);
            what();
        };
    };
    act("Write the chosen session in words", QKeySequence("Ctrl+W"), inBlock([this] { block_->typeWords(); }),
        true);
    act("Families of sessions", QKeySequence("Ctrl+Shift+F"),
        inBlock([this] { block_->showFamilies(!block_->showsFamilies()); }), true);
    act("Pin the chosen week's sessions, or unpin them", {}, inBlock([this] { block_->pinWeek(); }), true);
    act("Lay out a race week that matters", {}, inBlock([this] { block_->layRaceWeek(true); }), true);
    act("Lay out a race week, trained through", {}, inBlock([this] { block_->layRaceWeek(false); }), true);
    act("Lay out four weeks after a lay-off", {}, inBlock([this] { block_->layOffWeeks(); }), true);
    menu_->addSeparator();
    act("Copy the week as text", QKeySequence("Ctrl+Shift+X"), inBlock([this] { block_->copyWeekText(); }),
        true);
    act("The shown weeks as pages for the rider|pdf export plan handout", {},
        inBlock([this] { block_->savePages(); }), true);
    act("Workouts of the shown weeks for the bike computer|export files trainer head unit", {},
        inBlock([this] { block_->saveWorkouts(); }), true);
    act("A calendar of the shown weeks|export ics subscribe dates", {},
        inBlock([this] { block_->saveCalendar(); }), true);
    menu_->addSeparator();
    act("More weeks on the board", {}, inBlock([this] { block_->showWeeks(workspace_.blocks.weeks() + 1); }),
        true);
    act("Fewer weeks on the board", {}, inBlock([this] { block_->showWeeks(workspace_.blocks.weeks() - 1); }),
        true);

    menu("Revie&w");
    const auto onMonday = [this](auto what) {
        return [this, what] {
            go(Place::Review);
            review_->openPage(0);
            what();
        };
    };
    act("Monday: the week that was, and the one that comes|week review letter look back",
        QKeySequence("Ctrl+Shift+M"), onMonday([] {}), true);
    act(
        "The next rider who needs a look", QKeySequence("Ctrl+J"), [this] { nextToLookAt(); }, true);
    act("The letter of the week|pdf text mail send", {},
        onMonday([this] { review_->mondayPage().saveLetter(); }), true);
    act("Letters of the week to all riders|pdf text mail send", {},
        onMonday([this] { review_->mondayPage().saveAllLetters(); }), true);
    act("Send the week to all riders: letters, calendars and workouts in a folder each|post mail export", {},
        onMonday([this] { review_->mondayPage().sendWeek(); }), true);
    act("Take in what riders sent back|post mail import inbox", {},
        onMonday([this] { review_->mondayPage().takeInPost(); }), true);

    menu_->addSeparator();
    for (const QuestionWords& q : questions)
        act(QString("%1|%2").arg(q.name, q.words), {}, [this, question = q.question] {
            go(Place::Review);
            review_->ask(question);
        });

    menu("&View");
    for (int i = 0; i < 6; ++i)
        act(QString("Go to %1").arg(placeWords[static_cast<size_t>(i)].name),
            QKeySequence(QString("Ctrl+%1").arg(i + 1)), [this, i] { go(static_cast<Place>(i)); });
    menu_->addSeparator();
    act("Light or dark", QKeySequence("Ctrl+T"), [this] { useDark(!shore().dark); });
    act("Larger text|zoom bigger font", QKeySequence("Ctrl++"), [this] {
        useTextScale(textScale() + 0.1);
    })->setShortcuts({QKeySequence("Ctrl++"), QKeySequence("Ctrl+=")});
    act("Smaller text", QKeySequence("Ctrl+-"), [this] { useTextScale(textScale() - 0.1); });
    menuShown_ = act("Show the menu bar", QKeySequence("Ctrl+M"), [this] {
        menuBar()->setVisible(menuShown_->isChecked());
        setSetting(settingOf("menuBar"), menuShown_->isChecked());
    });
    menuShown_->setCheckable(true);
    menuShown_->setChecked(setting("menuBar").toBool());
    menuBar()->setVisible(menuShown_->isChecked());

    menu("&Help");
    act("Keys of this view|shortcuts help keyboard", QKeySequence(Qt::Key_F1), [this] { showKeys(); });
    act("The guide|manual help documentation handbook", QKeySequence("Shift+F1"), [this] { showGuide(); });
    act("What is new|changes version upgrade", {}, [this] { showChanges(); });
    act("About Marram, and health", {}, [this] {
        auto* box = new QMessageBox(
            QMessageBox::NoIcon, "Marram",
            "Marram advises a coach; it does not diagnose.\n\nFever, chest pain, fainting, palpitations, "
            "unusual "
            "breathlessness, or fatigue that does not lift in two weeks: stop, and see a doctor. Minors, "
            "pregnancy, "
            "heart or metabolic disease and return from illness or injury belong under licensed care.\n\n"
            "Everything stays on this machine. GPL-3.0-or-later.",
            QMessageBox::Close, this);
        box->setObjectName("about");
        box->setAttribute(Qt::WA_DeleteOnClose);
        box->open();
    });
}

} // namespace marram
