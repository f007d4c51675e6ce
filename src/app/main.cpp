// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/settings/language.h"
#include "app/settings/settings.h"
#include "app/theme/theme.h"
#include "app/window/failure.h"
#include "app/window/instance.h"
#include "app/window/reader.h"
#include "app/window/shots.h"
#include "demo/scenario.h"
#include "store/looking_back.h"
#include "version.h"
#include "wording/wording.h"

#include <QApplication>
#include <QCommandLineParser>
#include <QDir>
#include <QFile>
#include <QIcon>
#include <QProgressDialog>
#include <QSettings>
#include <QStandardPaths>
#include <QTemporaryDir>
#include <cstdio>
#include <sys/stat.h>
#include <unistd.h>
#include <utility>

using namespace marram;

namespace {

/// What riders of the demo are sent, to be looked at.
void sendDemoPost(Workspace& workspace) {
    if (QSettings().contains("postFolder"))
        return;
    const QString post = QDir(QDir::tempPath()).filePath(QString("marram-post-%1").arg(::getuid()));
    setSetting(settingOf("postFolder"), post);
    workspace.roster.jobs().sendWeek(post, {}, weekToLookAt(workspace.today()));
}

/// Opens the demo roster, which is a roster like any other: made once, with its progress shown, and kept. It
/// is shown as soon as its first rider is there; the others ride beside the interface and come one by one;
/// all at once where it is to be `quiet`. Asked for `anew` it is made under another name beside the ones
/// there are. False when it was cancelled or failed.
bool openDemo(Workspace& workspace, const QString& folder, bool quiet, bool anew, QWidget* parent) {
    QDir().mkpath(folder);
    QString path = QDir(folder).filePath("demo.marram");
    if (!anew && QFile::exists(path))
        return workspace.roster.open(path);
    for (int n = 2; QFile::exists(path); ++n)
        path = QDir(folder).filePath(QString("demo %1.marram").arg(n));
    QProgressDialog progress(wording("The simulated bike computer is riding…"), wording("Cancel"), 0, 100,
                             parent);
    progress.setWindowTitle("Marram");
    progress.setWindowModality(Qt::ApplicationModal); // a second one is not begun within the first
    progress.setMinimumDuration(quiet ? 1000000 : 0);
    progress.setMinimumWidth(460);
    const Date today = workspace.today();
    const auto made = writeDemo(
        path, today,
        [&](int done, int total) {
            if (quiet)
                return true;
            progress.setMaximum(total);
            progress.setValue(done);
            QApplication::processEvents();
            return !progress.wasCanceled();
        },
        quiet ? std::nullopt : std::optional<size_t>(1));
    progress.reset();
    if (!made) {
        emit workspace.notices.failed(QString::fromStdString(made.error().sentence));
        return false;
    }
    if (!workspace.roster.open(path))
        return false;
    if (quiet)
        return true;
    RosterJobs& jobs = workspace.roster.jobs();
    QObject::connect(
        &jobs, &RosterJobs::bringFinished, &workspace.roster,
        [&workspace, path] {
            if (workspace.roster.path() != path)
                return;
            emit workspace.notices.said(wording("Every rider of the club is here."));
            sendDemoPost(workspace);
        },
        Qt::SingleShotConnection);
    jobs.bringRiders([today](Roster& roster, const std::function<bool(int, int)>& going,
                             const std::function<void()>& came) {
        const auto all = addToDemo(roster, today, 1, going, came);
        return all ? Result<std::vector<qint64>>(std::vector<qint64>{}) : tl::unexpected(all.error());
    });
    emit workspace.notices.said(
        wording("The other riders of the club are still riding; they come one by one."));
    return true;
}

/// Whatever is not called as a recording is.
bool isRoster(const QString& path) {
    static const QStringList recordings{"fit", "gpx", "csv", "gz", "zip"};
    return !recordings.contains(QFileInfo(path).suffix().toLower());
}

void openOn(Workspace& workspace, const QString& name) {
    for (const RiderRecord& r : workspace.roster.riders())
        if (!name.isEmpty() && r.name.contains(name, Qt::CaseInsensitive)) {
            workspace.chosen.choose(r.id);
            return;
        }
}

/// What the command line takes, in the language spoken.
void describe(QCommandLineParser& parser) {
    parser.setApplicationDescription(wording("Marram plans and follows the seasons of endurance cyclists."));
    parser.addHelpOption();
    parser.addVersionOption();
    parser.addOption({"demo", wording("Open the demo roster; it is made the first time.")});
    parser.addOption({"demo-anew", wording("Make another demo roster as of today and open it.")});
    parser.addOption({"shots",
                      wording("Render the main views of the demo into PNG files in this folder, and leave."),
                      wording("folder")});
    parser.addOption({"safe", wording("Start without the roster that was open last.")});
    parser.addOption({"rider", wording("Open on this rider."), wording("name")});
    parser.addOption({"text-scale", wording("Scale of all text, 0.8 to 2."), wording("factor")});
    parser.addOption(
        {"language", wording("Speak this language: en, de, or pseudo to see what clips."), wording("code")});
    parser.addOption({"dark", wording("Start in the dark theme.")});
    parser.addPositionalArgument("files",
                                 wording("Roster to open, or recordings to bring into the one opened last."),
                                 wording("[roster | recordings…]"));
}

} // namespace

int main(int argc, char** argv) {
    umask(077); // everything Marram writes is for its owner only
    QApplication app(argc, argv);
    QApplication::setApplicationName("marram");
    QApplication::setOrganizationName("marram");
    QApplication::setApplicationVersion(version);
    QGuiApplication::setDesktopFileName("local.marram.Marram"); // its entry, icon and notices belong together
    QApplication::setWindowIcon(QIcon(":/marram/marram.svg"));
    // Before the first word is said, even of help.
    QCommandLineParser asked;
    describe(asked);
    asked.parse(QApplication::arguments());
    if (!takeLanguage(app,
                      asked.isSet("language") ? asked.value("language") : setting("language").toString()))
        std::fprintf(stderr, "%s\n", "There is no such language: en and de are spoken.");
    QCommandLineParser parser;
    describe(parser);
    parser.process(app);
    const bool shots = parser.isSet("shots");
    failure::watch(version);

    QSettings settings;
    if (settings.contains("dark")) { // as it was kept before 0.7
        if (settings.value("dark").toBool())
            setSetting(settingOf("theme"), "dark");
        settings.remove("dark");
    }
    Look look = shots ? Look{} : chosenLook();
    if (parser.isSet("text-scale"))
        look.scale = parser.value("text-scale").toDouble();
    look.dark = look.dark || parser.isSet("dark");
    dress(app, look);
    Workspace workspace;
    MainWindow window(workspace);
    const QString data = QStandardPaths::writableLocation(QStandardPaths::AppDataLocation);
    // The first rider rides while events go on: never within the handler of somebody who may be gone
    // afterwards.
    QObject::connect(
        &window, &MainWindow::wantsDemo, &window, [&] { openDemo(workspace, data, false, false, &window); },
        Qt::QueuedConnection);
    QObject::connect(
        &window, &MainWindow::wantsDemoAnew, &window,
        [&] { openDemo(workspace, data, false, true, &window); }, Qt::QueuedConnection);

    if (shots) {
        QTemporaryDir folder;
        if (!openDemo(workspace, folder.path(), true, false, nullptr))
            return 3;
        openOn(workspace, parser.value("rider"));
        return takeShots(window, workspace, parser.value("shots")) ? 0 : 3;
    }
    QStringList files = parser.positionalArguments(), recordings;
    for (const QString& file : std::exchange(files, {}))
        (isRoster(file) ? files : recordings) << QFileInfo(file).absoluteFilePath();
    const bool demo = parser.isSet("demo") || parser.isSet("demo-anew");
    const QString last = settings.value("roster").toString();
    const QString wanted = files.isEmpty() ? last : files.front();
    // A roster that was open when the programme failed waits until the coach has seen the report.
    const bool waits = !demo && !parser.isSet("safe") && !failure::read(failure::reportOf(wanted)).isEmpty();
    // A window that has it already comes to the front instead.
    if (!demo && (!files.isEmpty() || !recordings.isEmpty()) && Instance::handOver(wanted, recordings))
        return 0;
    if (demo) {
        if (!openDemo(workspace, data, false, parser.isSet("demo-anew"), nullptr))
            return 3;
    } else if (!waits && (!files.isEmpty() || (!parser.isSet("safe") && QFile::exists(last)))) {
        workspace.roster.open(wanted);
        if (workspace.roster.isOpen())
            settings.setValue("roster", wanted); // opened from the desktop it is the last one too
    }
    openOn(workspace, parser.value("rider"));
    Instance instance(workspace.roster, window);
    QObject::connect(&instance, &Instance::handed, &window,
                     [&](const QStringList& handed) { window.bringIn(handed); });
    window.show();
    window.bringIn(recordings);
    workspace.devices.begin();
    const bool failed = (waits && window.showFailure(wanted)) || window.showFailure({});
    if (isNewerThanSeen(version) && !failed)
        window.showChanges();
    return QApplication::exec();
}
