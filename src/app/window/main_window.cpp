// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/window/main_window.h"
#include "app/settings/settings.h"
#include "app/shell/binding.h"
#include "app/shell/dates.h"
#include "app/shell/empty_page.h"
#include "app/shell/palette.h"
#include "app/shell/read_aloud.h"
#include "app/shell/stack.h"
#include "app/theme/theme.h"
#include "app/window/failure.h"
#include "app/window/keys.h"
#include "app/window/reader.h"
#include "app/window/roster_dialogs.h"
#include "app/window/settings_page.h"
#include "store/exchange.h"
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
#include <QScreen>
#include <QSettings>
#include <QShortcut>
#include <QStatusBar>
#include <QTextBrowser>
#include <QVBoxLayout>

namespace marram {

/// The size a window has the first time: 1280×800, or what a smaller screen leaves beside its title, so that
/// the line at the foot is seen.
static QSize firstSize(const QSize& screen) {
    constexpr int title = 40, least = 1024;
    return {screen.width() >= least ? std::min(1280, screen.width()) : 1280,
            screen.width() >= least ? std::min(800, screen.height() - title) : 800};
}

MainWindow::MainWindow(Workspace& workspace)
    : workspace_((offerParts(), workspace)), // before the first field is made
      outer_(new Stack), places_(new Stack), roster_(new RosterView(workspace)),
      rider_(new RiderView(workspace)), season_(new SeasonView(workspace)), block_(new BlockView(workspace)),
      rides_(new RidesView(workspace)), review_(new ReviewView(workspace)), buttons_(new QButtonGroup(this)),
      riders_(new QComboBox), line_(new QLabel), files_(new RosterDialogs(workspace, this)),
      chosen_(chosenLook()), units_(shownUnits()), firstWeekday_(firstWeekday()) {
    QSettings settings;
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
        wording("Marram plans seasons for endurance cyclists"),
        wording(
            "From the rider, the races and the hours a rider really has, it works out daily stress, fitness, "
            "fatigue and form, and plans again when life interferes. Everything stays in one file on this "
            "machine."),
        {{wording("An invented club on a sandy coast: six riders, their seasons and a year of rides."),
          wording("Look round in the demo club"), "lookRoundButton", [this] { emit wantsDemo(); }},
         {wording("A roster is made for them, and their page asks for what a season can't do without."),
          wording("Add the first rider"), "firstRiderButton", [this] { addRider(); }},
         {wording("A roster of yours from elsewhere, or an export of one."), wording("Bring a roster"),
          "bringRosterButton", [this] { files_->bringOrOpen(); }}}));
    outer_->addWidget(inside);
    setCentralWidget(outer_);
    line_->setTextFormat(Qt::PlainText); // names are text
    line_->setTextInteractionFlags(Qt::TextSelectableByMouse);
    line_->setContentsMargins(14, 0, 0, 0);
    line_->setAccessibleName(wording("What happened last"));
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
        if (workspace_.roster.isOpen() && !workspace_.roster.jobs().importing())
            bringIn(recordingsBelow(folder).files, name);
    });
    connect(&workspace_.roster, &OpenRoster::opened, this, [this] {
        workspace_.inbox.watch(setting("postFolder").toString());
        failure::reportBeside(workspace_.roster.path());
    });
    connect(&workspace_.roster, &OpenRoster::closing, this, [] { failure::reportBeside({}); });
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
    connect(&workspace_.roster.steps().stack(), &QUndoStack::indexChanged, this, [this](int index) {
        const QUndoStack& steps = workspace_.roster.steps().stack();
        const bool back = index < std::exchange(steps_, index);
        if (const QString text = back ? steps.redoText() : steps.undoText(); !text.isEmpty())
            say(back ? wording("Taken back: %1.", text) : text + ".", false);
    });
    if (const QByteArray g = settings.value("window").toByteArray(); g.isEmpty() || !restoreGeometry(g))
        resize(firstSize(screen()->availableSize()));
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
    riders_->setAccessibleName(wording("Rider"));
    riders_->setSizeAdjustPolicy(QComboBox::AdjustToMinimumContentsLengthWithIcon);
    riders_->setMinimumContentsLength(15);
    layout->addWidget(riders_);
    layout->addSpacing(10);
    for (int i = 0; i < 6; ++i) {
        auto* b = new QToolButton;
        b->setText(wording(placeWords[static_cast<size_t>(i)].name));
        b->setIcon(icon(placeWords[static_cast<size_t>(i)].icon));
        b->setToolButtonStyle(Qt::ToolButtonTextBesideIcon);
        b->setCheckable(true);
        b->setFocusPolicy(Qt::TabFocus);
        buttons_->addButton(b, i);
        layout->addWidget(b);
    }
    layout->addStretch();
    auto* more = new QToolButton;
    more->setText(wording("Actions"));
    more->setIcon(icon("search"));
    more->setToolButtonStyle(Qt::ToolButtonTextBesideIcon);
    more->setToolTip(wording("Find any action (Ctrl+K)"));
    connect(more, &QToolButton::clicked, this, [this] { findChild<QAction*>("palette")->trigger(); });
    layout->addWidget(more);
    connect(buttons_, &QButtonGroup::idClicked, this, [this](int i) { go(static_cast<Place>(i)); });
    return header;
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
    say(last && inReview ? wording("That was the last who needs a look; from the first again.")
                         : next.name + ": " + QString::fromStdString(next.reasons.front().sentence),
        false);
}

void MainWindow::addRider() {
    if (!files_->makeFirst())
        return;
    const size_t before = workspace_.roster.riders().size();
    workspace_.roster.edits().addRider(wording("New rider"));
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
    name = QInputDialog::getText(this, wording("Rename the alternative"), wording("Name"), QLineEdit::Normal,
                                 name, &ok);
    // While it was asked another may have been looked at.
    if (ok && workspace_.plans.alternative() == asked)
        season_->renameAlternative(name);
}

void MainWindow::go(Place place) {
    failure::note(placeWords[static_cast<size_t>(place)].name);
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
    sayIn(*line_, trouble);
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
    setWindowTitle(now ? wording("%1 · Marram", now->name) : QString("Marram"));
}

void MainWindow::bringIn(const QStringList& recordings, const QString& from) {
    if (recordings.isEmpty())
        return;
    if (!workspace_.roster.isOpen() || workspace_.roster.readOnly() || workspace_.roster.riders().empty()) {
        emit workspace_.notices.said(
            wording("A recording is brought in for a rider: open a roster that has one, "
                    "then drop the file on Rides."));
        return;
    }
    auto* ask = new QInputDialog(this);
    ask->setObjectName("whoseRecordings");
    ask->setAttribute(Qt::WA_DeleteOnClose);
    ask->setWindowTitle(wording("Bring in"));
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
    ask->setLabelText((from.isEmpty() ? QString() : wording("On %1: ", from)) +
                      (recordings.size() == 1
                           ? wording("%1 is a ride of", QFileInfo(recordings.front()).fileName())
                           : wording("%1 recordings are rides of").arg(recordings.size())));
    ask->setOkButtonText(wording("Bring in"));
    connect(ask, &QDialog::accepted, this, [this, ask, names, ids, recordings] {
        const auto at = names.indexOf(ask->textValue());
        if (at < 0 || !workspace_.roster.rider(ids[static_cast<size_t>(at)]))
            return;
        workspace_.chosen.choose(ids[static_cast<size_t>(at)]);
        go(Place::Rides);
        workspace_.roster.jobs().importFiles(ids[static_cast<size_t>(at)], recordings);
    });
    connect(&workspace_.roster, &OpenRoster::closing, ask, &QDialog::reject);
    ask->open();
}

void MainWindow::print() {
    QPrinter printer;
    printer.setResolution(paperResolution());
    printer.setPageOrientation(QPageLayout::Landscape);
    const bool block = place() == Place::Block, answer = place() == Place::Review && review_->showsAnswer();
    const bool squad = place() == Place::Roster && roster_->squad().isVisible();
    // What is printed gives the file its name, and stands over the dialog.
    const QString whose = workspace_.chosen.rider() ? workspace_.chosen.rider()->name : QString();
    const QString what = squad    ? wording("The squad")
                         : block  ? wording("The block of %1", whose)
                         : answer ? wording("The answer for %1", whose)
                                  : wording("The season of %1", whose);
    printer.setDocName(fileNameOf(what));
    QPrintDialog dialog(&printer, this);
    dialog.setWindowTitle(wording("Print: %1", what));
    if (answer)
        printer.setPageOrientation(QPageLayout::Portrait);
    if (dialog.exec() != QDialog::Accepted)
        return;
    if (block)
        block_->print(printer);
    else if (squad)
        roster_->squad().print(printer);
    else if (answer)
        review_->reportPage().print(printer);
    else
        season_->print(printer);
}

void MainWindow::showGuide() {
    static constexpr std::array parts{"The squad", "Knowing a rider", "Reading",
                                      "The block", "Against",         "Monday"};
    auto* reader = new Reader(wording("The guide"), guideText(), this);
    reader->open(parts.at(static_cast<size_t>(place())));
    reader->QDialog::open();
}

void MainWindow::showChanges() {
    (new Reader(wording("What is new"), newestChanges(), this))->QDialog::open();
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
    box->setWindowTitle(wording("Keys"));
    box->setObjectName("keys");
    box->setAttribute(Qt::WA_DeleteOnClose);
    auto* layout = new QVBoxLayout(box);
    auto* list = new QTextBrowser;
    list->setObjectName("keysList");
    list->setAccessibleName(wording("Keys of this view"));
    list->setFrameShape(QFrame::NoFrame);
    list->setHtml(semiBold(keysOf(place())) + "<table>" + rows + "</table>");
    layout->addWidget(list);
    auto* guide = new QPushButton(wording("The &guide (F1)"));
    guide->setAutoDefault(false);
    const auto toGuide = [this, box] {
        box->close();
        showGuide();
    };
    connect(guide, &QPushButton::clicked, this, toGuide);
    connect(new QShortcut(QKeySequence(Qt::Key_F1), box), &QShortcut::activated, this, toGuide);
    auto* close = new QPushButton(wording("Close"));
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

void MainWindow::redress(const Look& look) {
    chosen_ = chosenLook();
    dress(*qApp, look);
    for (int i = 0; i < 6; ++i)
        buttons_->button(i)->setIcon(icon(placeWords[static_cast<size_t>(i)].icon));
    emit workspace_.chosen.riderChanged(); // views hold rich text in the colours of before
}

void MainWindow::applySettings() {
    // What was asked for on the command line stays until something of the look is set.
    if (const Look look = chosenLook(); look != chosen_)
        redress(look);
    menuShown_->setChecked(setting("menuBar").toBool());
    menuBar()->setVisible(menuShown_->isChecked());
    if (workspace_.roster.isOpen())
        workspace_.inbox.watch(setting("postFolder").toString());
    if (units_ != shownUnits() || firstWeekday_ != firstWeekday()) {
        units_ = shownUnits();
        firstWeekday_ = firstWeekday();
        emit workspace_.chosen.riderChanged(); // what stands in them is told anew
    }
}

bool MainWindow::showFailure(const QString& roster) {
    if (failure::read(failure::reportOf(roster)).isEmpty())
        return false;
    (new FailureDialog(workspace_, roster, this))->open();
    return true;
}

void MainWindow::showSettings() {
    if (auto* open = findChild<SettingsPage*>("settings")) {
        open->raise();
        return open->activateWindow();
    }
    auto* page = new SettingsPage(this);
    connect(page, &SettingsPage::changed, this, &MainWindow::applySettings);
    page->show();
}

void MainWindow::useDark(bool dark) {
    Look look = lookNow();
    look.dark = dark;
    setSetting(settingOf("theme"), look.strong ? (dark ? "strong-dark" : "strong") : dark ? "dark" : "light");
    redress(look);
}

void MainWindow::useTextScale(double scale) {
    Look look = lookNow();
    look.scale = std::clamp(scale, 0.8, 2.0);
    setSetting(settingOf("textScale"), look.scale);
    redress(look);
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
