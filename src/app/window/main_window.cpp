// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/window/main_window.h"
#include "app/shell/binding.h"
#include "app/shell/dates.h"
#include "app/shell/empty_page.h"
#include "app/shell/palette.h"
#include "app/theme/theme.h"
#include "app/window/keys.h"
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
namespace {

struct PlaceWord {
    const char* name;
    const char* icon;
};
constexpr std::array<PlaceWord, 6> placeWords{{{"Roster", "users"},
                                               {"Rider", "user"},
                                               {"Season", "mountain"},
                                               {"Block", "columns-3"},
                                               {"Rides", "bike"},
                                               {"Review", "scan-search"}}};

} // namespace

MainWindow::MainWindow(Workspace& workspace)
    : workspace_(workspace), outer_(new QStackedWidget), places_(new QStackedWidget),
      roster_(new RosterView(workspace)), rider_(new RiderView(workspace)),
      season_(new SeasonView(workspace)), block_(new BlockView(workspace)), rides_(new RidesView(workspace)),
      review_(new ReviewView(workspace)), buttons_(new QButtonGroup(this)), riders_(new QComboBox),
      line_(new QLabel), files_(new RosterDialogs(workspace, this)) {
    QSettings settings;
    dark_ = shore().dark;
    scale_ = textScale();
    setWindowTitle("Marram");
    auto* inside = new QWidget;
    auto* layout = new QVBoxLayout(inside);
    layout->setContentsMargins(0, 0, 0, 0);
    layout->setSpacing(0);
    layout->addWidget(makeHeader());
    layout->addWidget(places_, 1);
    places_->addWidget(roster_);
    places_->addWidget(rider_);
    places_->addWidget(season_);
    places_->addWidget(block_);
    places_->addWidget(rides_);
    places_->addWidget(review_);
    outer_->addWidget(beginPage(
        "Marram plans seasons for endurance cyclists",
        "From the rider, the races and the hours a rider really has, it works out daily stress, fitness, "
        "fatigue and form, and plans again when life interferes. Everything stays in one file on this "
        "machine.",
        {{"An invented club on a sandy coast: six riders, their seasons and a year of rides.",
          "Look round in the demo club", "lookRoundButton", [this] { emit wantsDemo(); }},
         {"A roster is made for them, and their page asks for what a season can't do without.",
          "Add the first rider", "firstRiderButton", [this] { addRider(); }},
         {"A roster of yours from elsewhere, or an export of one.", "Bring a roster", "bringRosterButton",
          [this] { files_->bringOrOpen(); }}}));
    outer_->addWidget(inside);
    setCentralWidget(outer_);
    line_->setTextFormat(Qt::PlainText); // names are text
    line_->setTextInteractionFlags(Qt::TextSelectableByMouse);
    line_->setContentsMargins(14, 0, 0, 0);
    line_->setAccessibleName("What happened last");
    statusBar()->addWidget(line_, 1);
    statusBar()->setSizeGripEnabled(false);
    makeActions();

    connect(&workspace_.notices, &Notices::said, this, [this](const QString& s) { say(s, false); });
    connect(&workspace_.notices, &Notices::failed, this, [this](const QString& s) { say(s, true); });
    connect(&workspace_.roster, &OpenRoster::leaving, this, &endEditing);
    connect(&workspace_.chosen, &ChosenRider::leaving, this, &endEditing);
    connect(&workspace_.roster, &OpenRoster::ridersChanged, this, &MainWindow::refreshRiders);
    connect(&workspace_.chosen, &ChosenRider::riderChanged, this, &MainWindow::refreshRiders);
    connect(roster_, &RosterView::wantsSeason, this, [this] { go(Place::Season); });
    connect(roster_, &RosterView::wantsRider, this, &MainWindow::addRider);
    connect(&roster_->squad(), &SquadPage::wantsSend, this, [this](const std::vector<qint64>& to, Date week) {
        review_->mondayPage().sendWeek({}, to, week);
    });
    connect(&workspace_.devices, &Devices::found, this, [this](const QString& name, const QString& folder) {
        if (workspace_.roster.isOpen() && !workspace_.roster.importing())
            bringIn(recordingsBelow(folder).files, name);
    });
    connect(&workspace_.roster, &OpenRoster::opened, this,
            [this] { workspace_.inbox.watch(QSettings().value("postFolder").toString()); });
    connect(roster_, &RosterView::wantsDemo, this, &MainWindow::wantsDemo);
    connect(season_, &SeasonView::wantsPrint, this, &MainWindow::print);
    connect(block_, &BlockView::wantsSeason, this, [this] { go(Place::Season); });
    connect(block_, &BlockView::wantsRider, this, &MainWindow::addRider);
    const auto showRide = [this](qint64 ride) {
        go(Place::Rides);
        rides_->showRide(ride);
    };
    const auto bringRides = [this] {
        go(Place::Rides);
        rides_->chooseFiles();
    };
    connect(block_, &BlockView::wantsRide, this, showRide);
    connect(rider_, &RiderView::wantsRider, this, &MainWindow::addRider);
    connect(rider_, &RiderView::wantsRide, this, showRide);
    connect(rider_, &RiderView::wantsImport, this, bringRides);
    connect(review_, &ReviewView::wantsRide, this, showRide);
    connect(review_, &ReviewView::wantsImport, this, bringRides);
    connect(review_, &ReviewView::wantsNext, this, &MainWindow::nextToLookAt);
    connect(review_, &ReviewView::wantsTry, this, [this](const QString& name, const Season& season) {
        go(Place::Season);
        season_->tryOut(name, season);
    });
    connect(riders_, &QComboBox::activated, this,
            [this](int i) { workspace_.chosen.choose(riders_->itemData(i).toLongLong()); });
    connect(&workspace_.roster.undoStack(), &QUndoStack::indexChanged, this, [this](int index) {
        if (const QString text = workspace_.roster.undoStack().undoText(); !text.isEmpty() && index > 0)
            say(text + ".", false);
    });
    if (const QByteArray g = settings.value("window").toByteArray(); g.isEmpty() || !restoreGeometry(g))
        resize(1280, 800);
    refreshRiders();
    go(static_cast<Place>(
        std::clamp(settings.value("place", static_cast<int>(Place::Season)).toInt(), 0, 5)));
}

QWidget* MainWindow::makeHeader() {
    auto* header = new QWidget;
    auto* layout = new QHBoxLayout(header);
    layout->setContentsMargins(14, 4, 14, 0);
    riders_->setFont(typeface(Type::Body, true));
    riders_->setObjectName("riderChoice");
    riders_->setAccessibleName("Rider");
    riders_->setSizeAdjustPolicy(QComboBox::AdjustToMinimumContentsLengthWithIcon);
    riders_->setMinimumContentsLength(15);
    layout->addWidget(riders_);
    layout->addSpacing(10);
    for (int i = 0; i < 6; ++i) {
        auto* b = new QToolButton;
        b->setText(placeWords[static_cast<size_t>(i)].name);
        b->setIcon(icon(placeWords[static_cast<size_t>(i)].icon));
        b->setToolButtonStyle(Qt::ToolButtonTextBesideIcon);
        b->setCheckable(true);
        b->setFocusPolicy(Qt::TabFocus);
        buttons_->addButton(b, i);
        layout->addWidget(b);
    }
    layout->addStretch();
    auto* more = new QToolButton;
    more->setText("Actions");
    more->setIcon(icon("search"));
    more->setToolButtonStyle(Qt::ToolButtonTextBesideIcon);
    more->setToolTip("Find any action (Ctrl+K)");
    connect(more, &QToolButton::clicked, this, [this] { findChild<QAction*>("palette")->trigger(); });
    layout->addWidget(more);
    connect(buttons_, &QButtonGroup::idClicked, this, [this](int i) { go(static_cast<Place>(i)); });
    return header;
}

QAction* MainWindow::act(const QString& name, const QKeySequence& keys, std::function<void()> what,
                         bool needsRider) {
    auto* a = new QAction(name.section('|', 0, 0), this);
    a->setProperty(alsoCalled, name.section('|', 1));
    a->setShortcut(keys);
    connect(a, &QAction::triggered, this, std::move(what));
    addAction(a);
    menu_->addAction(a);
    if (needsRider)
        needRider_ << a;
    return a;
}

void MainWindow::nextToLookAt() {
    // In the order of the roster: whom to look at first, then the next, and round again.
    const auto rows = rosterRows(
        workspace_.roster.riders(), {},
        [this](qint64 r) -> const Standing& { return workspace_.standings.of(r); }, workspace_.today());
    if (rows.empty())
        return;
    const auto here = std::find_if(rows.begin(), rows.end(),
                                   [&](const RosterRow& r) { return r.rider == workspace_.chosen.id(); });
    const bool last = here == rows.end() || std::next(here) == rows.end() ||
                      std::next(here)->reasons.front().urgency < needsLook;
    const bool inReview = place() == Place::Review;
    const RosterRow& next = last || !inReview ? rows.front() : *std::next(here);
    go(Place::Review);
    review_->openPage(0);
    workspace_.chosen.choose(next.rider);
    say(last && inReview ? QString("That was the last who needs a look; from the first again.")
                         : next.name + ": " + QString::fromStdString(next.reasons.front().sentence),
        false);
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
            QSettings().setValue("deviceFolder", folder);
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
    act("Light or dark", QKeySequence("Ctrl+T"), [this] { useDark(!dark_); });
    act("Larger text|zoom bigger font", QKeySequence("Ctrl++"), [this] {
        useTextScale(scale_ + 0.1);
    })->setShortcuts({QKeySequence("Ctrl++"), QKeySequence("Ctrl+=")});
    act("Smaller text", QKeySequence("Ctrl+-"), [this] { useTextScale(scale_ - 0.1); });
    menuShown_ = act("Show the menu bar", QKeySequence("Ctrl+M"), [this] {
        menuBar()->setVisible(menuShown_->isChecked());
        QSettings().setValue("menuBar", menuShown_->isChecked());
    });
    menuShown_->setCheckable(true);
    menuShown_->setChecked(QSettings().value("menuBar", true).toBool());
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

void MainWindow::addRider() {
    if (!files_->makeFirst())
        return;
    const size_t before = workspace_.roster.riders().size();
    workspace_.roster.addRider("New rider");
    if (workspace_.roster.riders().size() == before)
        return; // said why
    go(Place::Rider);
    rider_->nameFirst();
}

void MainWindow::renameAlternative() {
    const qint64 asked = workspace_.plans.alternative();
    QString name;
    for (const SeasonRecord& s : workspace_.chosen.seasons())
        if (s.id == asked)
            name = s.name;
    if (asked == 0)
        return;
    bool ok = false;
    name = QInputDialog::getText(this, "Rename the alternative", "Name", QLineEdit::Normal, name, &ok);
    // While it was asked another may have been looked at.
    if (ok && workspace_.plans.alternative() == asked)
        season_->renameAlternative(name);
}

void MainWindow::go(Place place) {
    places_->setCurrentIndex(static_cast<int>(place));
    buttons_->button(static_cast<int>(place))->setChecked(true);
    if (place == Place::Season)
        season_->canvas().setFocus();
    if (place == Place::Block)
        block_->takeFocus();
    if (place == Place::Roster)
        roster_->takeFocus();
}

void MainWindow::say(const QString& sentence, bool trouble) {
    QPalette p = line_->palette();
    p.setColor(QPalette::WindowText, trouble ? shore().rust : shore().muted);
    line_->setPalette(p);
    line_->setText(withPeoplesDates(sentence, workspace_.today()));
}

void MainWindow::refreshRiders() {
    outer_->setCurrentIndex(workspace_.roster.isOpen() ? 1 : 0);
    // A list that is open under the hand is not made anew for nothing.
    std::vector<std::pair<QString, qint64>> names;
    for (const RiderRecord& r : workspace_.roster.riders())
        names.emplace_back(r.name, r.id);
    if (names != listed_) {
        riders_->clear();
        for (const auto& [name, id] : names)
            riders_->addItem(name, id);
        listed_ = names;
    }
    const RiderRecord* now = workspace_.chosen.rider();
    if (now)
        riders_->setCurrentIndex(riders_->findData(now->id));
    riders_->setVisible(!workspace_.roster.riders().empty());
    for (QAction* a : needRider_)
        a->setEnabled(now != nullptr);
    setWindowTitle(now ? now->name + " · Marram" : QString("Marram"));
}

void MainWindow::bringIn(const QStringList& recordings, const QString& from) {
    if (recordings.isEmpty())
        return;
    if (!workspace_.roster.isOpen() || workspace_.roster.readOnly() || workspace_.roster.riders().empty()) {
        emit workspace_.notices.said("A recording is brought in for a rider: open a roster that has one, "
                                     "then drop the file on Rides.");
        return;
    }
    auto* ask = new QInputDialog(this);
    ask->setObjectName("whoseRecordings");
    ask->setAttribute(Qt::WA_DeleteOnClose);
    ask->setWindowTitle("Bring in");
    ask->setComboBoxEditable(false);
    QStringList names;
    std::vector<qint64> ids;
    for (const RiderRecord& r : workspace_.roster.riders())
        if (!r.archived) {
            names << r.name;
            ids.push_back(r.id);
        }
    ask->setComboBoxItems(names);
    if (workspace_.chosen.rider())
        ask->setTextValue(workspace_.chosen.rider()->name);
    // A device that is plugged in twice asks once.
    for (QInputDialog* other : findChildren<QInputDialog*>("whoseRecordings"))
        if (other != ask)
            other->reject();
    ask->setLabelText((from.isEmpty() ? QString() : "On " + from + ": ") +
                      (recordings.size() == 1
                           ? QFileInfo(recordings.front()).fileName() + " is a ride of"
                           : QString("%1 recordings are rides of").arg(recordings.size())));
    ask->setOkButtonText("Bring in");
    connect(ask, &QDialog::accepted, this, [this, ask, names, ids, recordings] {
        const auto at = names.indexOf(ask->textValue());
        if (at < 0 || !workspace_.roster.rider(ids[static_cast<size_t>(at)]))
            return;
        workspace_.chosen.choose(ids[static_cast<size_t>(at)]);
        go(Place::Rides);
        workspace_.roster.importFiles(ids[static_cast<size_t>(at)], recordings);
    });
    connect(&workspace_.roster, &OpenRoster::closing, ask, &QDialog::reject);
    ask->open();
}

void MainWindow::print() {
    QPrinter printer;
    printer.setResolution(paperResolution());
    printer.setPageOrientation(QPageLayout::Landscape);
    QPrintDialog dialog(&printer, this);
    const bool block = place() == Place::Block, answer = place() == Place::Review && review_->showsAnswer();
    if (answer)
        printer.setPageOrientation(QPageLayout::Portrait);
    if (dialog.exec() != QDialog::Accepted)
        return;
    if (block)
        block_->print(printer);
    else if (place() == Place::Roster && roster_->squad().isVisible())
        roster_->squad().print(printer);
    else if (answer)
        review_->reportPage().print(printer);
    else
        season_->print(printer);
}

void MainWindow::showGuide() {
    static constexpr std::array parts{"The squad", "Knowing a rider", "Reading",
                                      "The block", "Against",         "Monday"};
    auto* reader = new Reader("The guide", guideText(), this);
    reader->open(parts.at(static_cast<size_t>(place())));
    reader->QDialog::open();
}

void MainWindow::showChanges() {
    (new Reader("What is new", newestChanges(), this))->QDialog::open();
}

void MainWindow::showKeys() {
    QString rows;
    for (const QAction* a : actions())
        if (!a->shortcut().isEmpty())
            rows += QString("<tr><td style='padding-right:28px'>%1</td><td>%2</td></tr>")
                        .arg(a->text().toHtmlEscaped(),
                             a->shortcut().toString(QKeySequence::NativeText).toHtmlEscaped());
    // As tall as the window at most: the list is longer than some screens.
    auto* box = new QDialog(this);
    box->setWindowTitle("Keys");
    box->setObjectName("keys");
    box->setAttribute(Qt::WA_DeleteOnClose);
    auto* layout = new QVBoxLayout(box);
    auto* list = new QTextBrowser;
    list->setObjectName("keysList");
    list->setAccessibleName("Keys of this view");
    list->setFrameShape(QFrame::NoFrame);
    list->setHtml(keysOf(place()) + "<table>" + rows + "</table>");
    layout->addWidget(list);
    auto* guide = new QPushButton("The &guide (F1)");
    guide->setAutoDefault(false);
    const auto toGuide = [this, box] {
        box->close();
        showGuide();
    };
    connect(guide, &QPushButton::clicked, this, toGuide);
    connect(new QShortcut(QKeySequence(Qt::Key_F1), box), &QShortcut::activated, this, toGuide);
    auto* close = new QPushButton("Close");
    connect(close, &QPushButton::clicked, box, &QDialog::close);
    auto* buttons = new QHBoxLayout;
    buttons->addStretch();
    buttons->addWidget(guide);
    buttons->addWidget(close);
    layout->addLayout(buttons);
    box->resize(qRound(620 * textScale()), std::max(300, height() - 80));
    box->open();
    list->setFocus();
}

void MainWindow::redress() {
    dress(*qApp, dark_, scale_);
    for (int i = 0; i < 6; ++i)
        buttons_->button(i)->setIcon(icon(placeWords[static_cast<size_t>(i)].icon));
    emit workspace_.chosen.riderChanged(); // views hold rich text in the colours of before
    QSettings().setValue("dark", dark_);
    QSettings().setValue("textScale", scale_);
}

void MainWindow::useDark(bool dark) {
    dark_ = dark;
    redress();
}

void MainWindow::useTextScale(double scale) {
    scale_ = std::clamp(scale, 0.8, 2.0);
    redress();
}

void MainWindow::closeEvent(QCloseEvent* event) {
    endEditing(); // what is being typed is kept
    QSettings settings;
    settings.setValue("window", saveGeometry());
    settings.setValue("place", static_cast<int>(place()));
    event->accept();
}

} // namespace marram

#include "moc_main_window.cpp"
