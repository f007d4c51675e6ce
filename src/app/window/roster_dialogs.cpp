// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/window/roster_dialogs.h"
#include "app/window/copies_dialog.h"
#include "app/window/list_dialog.h"
#include "core/ride/devices.h"
#include "formats/files/files.h"
#include "wording/wording.h"

#include <QCheckBox>
#include <QDir>
#include <QFileDialog>
#include <QInputDialog>
#include <QMessageBox>
#include <QProgressDialog>
#include <QPushButton>
#include <QSettings>
#include <QStandardPaths>

namespace marram {
namespace {

constexpr auto rosterFiles = marked("Rosters (*.marram)");

QString lastFolder() {
    return QSettings().value("rosterFolder").toString();
}

void remember(const QString& path) {
    QSettings().setValue("roster", path);
    QSettings().setValue("rosterFolder", QFileInfo(path).absolutePath());
}

/// A box that waits beside the work, its words as they are.
QMessageBox* boxOf(QWidget* window, const char* name, const QString& title, const QString& text,
                   QMessageBox::StandardButtons buttons) {
    auto* box = new QMessageBox(QMessageBox::NoIcon, title, text, buttons, window);
    box->setObjectName(name);
    box->setTextFormat(Qt::PlainText);
    box->setAttribute(Qt::WA_DeleteOnClose);
    return box;
}

} // namespace

QString askForNewRoster(QWidget* parent, const QString& title) {
    const QString path = QFileDialog::getSaveFileName(parent, title, lastFolder(), wording(rosterFiles));
    return path.isEmpty() || path.endsWith(".marram") ? path : path + ".marram";
}

RosterDialogs::RosterDialogs(Workspace& workspace, QWidget* window)
    : QObject(window), workspace_(workspace), window_(window) {
    const OpenRoster& roster = workspace.roster;
    connect(&roster.jobs(), &RosterJobs::overlapAsked, this, &RosterDialogs::askOverlap);
    connect(&roster.jobs(), &RosterJobs::strangerAsked, this, &RosterDialogs::askStranger);
    connect(&roster.jobs(), &RosterJobs::listAsked, this, &RosterDialogs::askList);
    connect(&roster, &OpenRoster::damageFound, this, &RosterDialogs::tellDamage);
    connect(&roster.jobs(), &RosterJobs::savedWhole, this, &RosterDialogs::tellSaved);
    connect(&roster, &OpenRoster::fileLost, this, &RosterDialogs::tellLost);
    connect(&workspace.inbox, &Inbox::waiting, this, &RosterDialogs::askPost);
}

void RosterDialogs::askPost(int files, int riders) {
    if (window_->findChild<QMessageBox*>("postWaiting"))
        return;
    auto* box =
        boxOf(window_, "postWaiting", wording("The post"),
              wording("%1 from %2 in the folder of the post. Nothing there is changed by taking it in.")
                  .arg(files == 1 ? wording("A new file lies") : wording("%1 new files lie").arg(files),
                       riders == 1 ? wording("one rider") : wording("%1 riders").arg(riders)),
              QMessageBox::NoButton);
    connect(box->addButton(wording("Not now"), QMessageBox::RejectRole), &QAbstractButton::clicked, box,
            &QDialog::close);
    auto* take = box->addButton(wording("Take in"), QMessageBox::AcceptRole);
    connect(take, &QAbstractButton::clicked, &workspace_.inbox, &Inbox::takeInWaiting);
    box->setDefaultButton(qobject_cast<QPushButton*>(take));
    connect(&workspace_.roster, &OpenRoster::closing, box, &QDialog::close);
    box->open();
}

bool RosterDialogs::use(const QString& path) {
    if (!(QFile::exists(path) ? workspace_.roster.open(path) : workspace_.roster.create(path)))
        return false;
    remember(path);
    return true;
}

void RosterDialogs::makeNew() {
    // A name that is taken is refused by the roster itself: nothing is written over.
    if (const QString path = askForNewRoster(window_, wording("A new roster"));
        !path.isEmpty() && workspace_.roster.create(path))
        remember(path);
}

void RosterDialogs::open() {
    if (const QString path = QFileDialog::getOpenFileName(window_, wording("Open a roster"), lastFolder(),
                                                          wording(rosterFiles));
        !path.isEmpty() && workspace_.roster.open(path))
        remember(path);
}

void RosterDialogs::bringOrOpen() {
    const QString path =
        QFileDialog::getOpenFileName(window_, wording("A roster, or the roster.json of an export"),
                                     lastFolder(), wording("Rosters and exports (*.marram *.json)"));
    if (path.isEmpty())
        return;
    if (!path.endsWith(".json")) {
        if (workspace_.roster.open(path))
            remember(path);
        return;
    }
    if (const QString to = askForNewRoster(window_, wording("The roster it is brought into"));
        !to.isEmpty() && use(to))
        workspace_.roster.jobs().bringRiders(ridersIn(path));
}

bool RosterDialogs::makeFirst() {
    if (workspace_.roster.isOpen())
        return true;
    const QString folder = QStandardPaths::writableLocation(QStandardPaths::AppDataLocation);
    return workspace_.notices.passed(makeFolder(folder)) && use(QDir(folder).filePath("riders.marram"));
}

void RosterDialogs::saveWhole() {
    if (!workspace_.roster.isOpen())
        return;
    if (const QString path = askForNewRoster(window_, wording("A new roster of what is whole"));
        !path.isEmpty())
        workspace_.roster.jobs().saveWhole(path);
}

void RosterDialogs::saveElsewhere() {
    if (!workspace_.roster.isOpen())
        return;
    const QString path = askForNewRoster(window_, wording("All of this roster, as another file"));
    if (path.isEmpty() || !workspace_.roster.saveElsewhere(path))
        return;
    remember(path);
    emit workspace_.notices.said(wording("All of it is in %1, and you go on there.", path));
}

void RosterDialogs::moveRecordings() {
    OpenRoster& roster = workspace_.roster;
    if (!roster.isOpen() || roster.readOnly()) {
        emit workspace_.notices.said(wording("A roster that can be written has to be open for that."));
        return;
    }
    auto* ask = new QInputDialog(window_);
    ask->setObjectName("keepRecordings");
    ask->setAttribute(Qt::WA_DeleteOnClose);
    ask->setWindowTitle(wording("Old recordings beside the roster"));
    ask->setInputMode(QInputDialog::IntInput);
    ask->setIntRange(1, 30);
    ask->setIntValue(2);
    ask->setLabelText(wording(
        "A large roster opens and is copied faster where the recordings of old rides lie in a file of "
        "their own beside it.\nTheir figures stay here, and what needs a recording reads it there. Keep "
        "the two files together: copies of\nthe day hold the roster alone.\n\nRecordings that stay in "
        "the roster, in years:"));
    ask->setOkButtonText(wording("Move the older ones"));
    connect(ask, &QInputDialog::intValueSelected, this, &RosterDialogs::beginMoving);
    connect(&roster, &OpenRoster::closing, ask, &QDialog::reject);
    ask->open();
}

void RosterDialogs::beginMoving(int years) {
    OpenRoster& roster = workspace_.roster;
    auto* progress = new QProgressDialog(wording("Moving recordings"), wording("Cancel"), 0, 0, window_);
    progress->setObjectName("movingRecordings");
    progress->setAttribute(Qt::WA_DeleteOnClose);
    progress->setWindowModality(Qt::WindowModal);
    progress->setAutoReset(false);
    connect(progress, &QProgressDialog::canceled, &roster,
            [&roster] { roster.jobs().cancel(JobKind::Beside); });
    connect(&roster.jobs(), &RosterJobs::jobProgress, progress,
            [progress](JobKind kind, int done, int total) {
                if (kind != JobKind::Beside)
                    return;
                progress->setMaximum(std::max(1, total));
                progress->setValue(std::min(done, total));
            });
    connect(&roster, &OpenRoster::closing, progress, &QWidget::close);
    connect(&roster.jobs(), &RosterJobs::recordingsMoved, progress, [this, progress](int count) {
        progress->close();
        if (count == 0)
            emit workspace_.notices.said(wording("No recording here is that old; nothing was moved."));
        else if (count > 0)
            emit workspace_.notices.said(wording(
                "%1 beside the roster now.",
                (count == 1 ? wording("One recording lies") : wording("%1 recordings lie").arg(count))));
    });
    progress->show();
    roster.jobs().moveRecordings(workspace_.today() - static_cast<int>(365.25 * years));
}

void RosterDialogs::showCopies() {
    if (!workspace_.roster.isOpen())
        return;
    auto* dialog = new CopiesDialog(workspace_.roster, window_);
    connect(dialog, &CopiesDialog::restored, this, [this](const QString& path) {
        emit workspace_.notices.said(wording("The copy is in %1; open it to look at it.", path));
    });
    dialog->show();
}

void RosterDialogs::askOverlap(quint64 question, const RideRecord& now, const RideRecord& there) {
    const bool devices =
        sameRideTwice(now.score.start, now.score.elapsed, there.score.start, there.score.elapsed);
    auto* box = boxOf(window_, "overlap",
                      devices ? wording("One ride, two devices") : wording("Two rides at the same time"),
                      devices ? wording("%1 begins and ends with %2, which is in the roster already.")
                                    .arg(now.fileName, there.fileName)
                              : wording("%1 shares time with %2, which is in the roster already.")
                                    .arg(now.fileName, there.fileName),
                      QMessageBox::NoButton);
    if (devices)
        box->setInformativeText(
            wording("As one ride it counts once, with power, heart rate and the rest from whichever "
                    "device has more of each; both recordings are kept."));
    auto* all = new QCheckBox(wording("The same for all of this import that are alike"));
    all->setObjectName("overlapAll");
    box->setCheckBox(all);
    std::vector<std::pair<const char*, OverlapChoice>> ways{
        {marked("Leave the new one out"), OverlapChoice::Skip},
        {marked("Keep both"), OverlapChoice::KeepBoth},
        {marked("Replace the old one"), OverlapChoice::Replace}};
    if (devices)
        ways.emplace_back(marked("One ride"), OverlapChoice::OneRide);
    for (const auto& [words, choice] : ways) {
        const auto role = choice == OverlapChoice::Skip ? QMessageBox::RejectRole : QMessageBox::AcceptRole;
        QPushButton* button = box->addButton(wording(words), role);
        connect(button, &QAbstractButton::clicked, &workspace_.roster,
                [this, question, all, choice = choice] {
                    workspace_.roster.jobs().answerOverlap(question, {choice, all->isChecked()});
                });
        if (choice == OverlapChoice::OneRide)
            box->setDefaultButton(button);
    }
    // Closed without an answer, the new ride stays out; a question nobody asks any more goes by itself.
    connect(box, &QDialog::rejected, &workspace_.roster,
            [this, question] { workspace_.roster.jobs().answerOverlap(question, {}); });
    connect(&workspace_.roster.jobs(), &RosterJobs::questionWithdrawn, box, &QWidget::close);
    box->open();
}

void RosterDialogs::askStranger(quint64 question, const QString& why) {
    const RiderRecord* who = workspace_.chosen.rider();
    auto* box = boxOf(window_, "stranger", wording("Another rider's?"),
                      wording("This may not be %1's: %2.").arg(who ? who->name : wording("the rider"), why),
                      QMessageBox::NoButton);
    box->setInformativeText(
        wording("The answer holds for all of this import that look like another rider's."));
    connect(box->addButton(wording("Leave them out"), QMessageBox::RejectRole), &QAbstractButton::clicked,
            &workspace_.roster,
            [this, question] { workspace_.roster.jobs().answerStranger(question, false); });
    connect(box->addButton(wording("Bring them in"), QMessageBox::AcceptRole), &QAbstractButton::clicked,
            &workspace_.roster,
            [this, question] { workspace_.roster.jobs().answerStranger(question, true); });
    connect(box, &QDialog::rejected, &workspace_.roster,
            [this, question] { workspace_.roster.jobs().answerStranger(question, false); });
    connect(&workspace_.roster.jobs(), &RosterJobs::questionWithdrawn, box, &QWidget::close);
    box->open();
}

void RosterDialogs::askList(quint64 question, const QString& file, const ActivityHead& head) {
    if (const auto known = ListDialog::rememberedFor(head)) {
        workspace_.roster.jobs().answerList(question, known);
        return;
    }
    auto* dialog = new ListDialog(file, head, window_);
    connect(dialog, &ListDialog::answered, &workspace_.roster,
            [this, question](const std::optional<ActivityColumns>& columns) {
                workspace_.roster.jobs().answerList(question, columns);
            });
    connect(&workspace_.roster.jobs(), &RosterJobs::questionWithdrawn, dialog, &QWidget::close);
    dialog->open();
}

void RosterDialogs::tellDamage(const Damage& damage) {
    if (window_->findChild<QMessageBox*>("damage"))
        return; // told already
    auto* box = boxOf(window_, "damage", wording("Damage"), wording("Part of this roster is damaged."),
                      QMessageBox::Close);
    box->setInformativeText(wording("The rest can be used. Save what is whole makes a new roster of it; a "
                                    "copy from before may hold what is lost here:\n%1",
                                    damage.sentences.mid(0, 6).join('\n')));
    if (damage.sentences.size() > 6)
        box->setDetailedText(damage.sentences.join('\n'));
    connect(box->addButton(wording("Save what is whole"), QMessageBox::AcceptRole), &QAbstractButton::clicked,
            this, &RosterDialogs::saveWhole);
    box->open();
}

void RosterDialogs::tellLost(const QString& sentence) {
    auto* box =
        boxOf(window_, "fileLost", wording("The file is no longer there"), sentence, QMessageBox::Close);
    box->setInformativeText(
        wording("What is on the screen is whole, and so is what you change from now on, as long as this "
                "window is open. Save all of it elsewhere to keep it."));
    connect(box->addButton(wording("Save all of it elsewhere"), QMessageBox::AcceptRole),
            &QAbstractButton::clicked, this, &RosterDialogs::saveElsewhere);
    box->open();
}

void RosterDialogs::tellSaved(const QString& path, const Damage& leftBehind) {
    emit workspace_.notices.said(
        wording("What is whole is in %1%2", path,
                (leftBehind.empty()
                     ? wording(", and that is everything.")
                     : wording(", without %1 things that are damaged.").arg(leftBehind.sentences.size()))));
}

} // namespace marram

#include "moc_roster_dialogs.cpp"
