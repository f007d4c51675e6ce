// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/owners/inbox.h"
#include "formats/csv/csv.h"
#include "formats/files/files.h"
#include "store/exchange.h"
#include "wording/wording.h"

#include <QCryptographicHash>
#include <QDataStream>
#include <QDateTime>
#include <QDir>
#include <QRegularExpression>
#include <QSettings>
#include <QtEndian>

namespace marram {

namespace {

constexpr qint64 longestNote = 2000;
constexpr int settled = 1500; ///< ms a file has not changed for before it is read

quint64 markOf(const QFileInfo& file) {
    const QByteArray of = file.filePath().toUtf8() + QByteArray::number(file.size()) +
                          QByteArray::number(file.lastModified().toMSecsSinceEpoch());
    return qFromBigEndian<quint64>(QCryptographicHash::hash(of, QCryptographicHash::Sha256).constData());
}

} // namespace

Inbox::Inbox(OpenRoster& roster, Notices& notices, Clock& clock, QObject* parent)
    : QObject(parent), roster_(roster), notices_(notices), clock_(clock) {
    soon_.setSingleShot(true);
    connect(&soon_, &QTimer::timeout, this, &Inbox::takeNew);
    connect(&watcher_, &QFileSystemWatcher::directoryChanged, this, &Inbox::stir);
    connect(&watcher_, &QFileSystemWatcher::fileChanged, this, &Inbox::stir);
    connect(&roster_, &OpenRoster::closing, this, [this] {
        waiting_.clear();
        done_.clear();
        active_ = false;
        watch({});
    });
    connect(&roster_, &OpenRoster::ridersChanged, this, &Inbox::follow);
    connect(&roster_.jobs(), &RosterJobs::weekSent, this, [this](const QString& to) {
        if (!to.isEmpty())
            watch(to); // folders there are new
    });
    connect(&roster_.jobs(), &RosterJobs::importFinished, this,
            [this](qint64 rider, const ImportReport& report) {
                if (!active_ || waiting_.empty() || waiting_.front().from.rider != rider)
                    return;
                FromRider& from = waiting_.front().from;
                from.rides = static_cast<int>(report.added.size());
                from.known = static_cast<int>(report.duplicates.size());
                from.refused << report.refused << report.strangers;
                if (report.stopped)
                    from.refused << QString::fromStdString(report.stopped->sentence);
                if (!report.cancelled)
                    for (const QString& file : waiting_.front().recordings)
                        see(file);
                done_.push_back(from);
                waiting_.pop_front();
                if (report.cancelled)
                    waiting_.clear();
                next();
            });
}

std::vector<Inbox::Waiting> Inbox::lookThrough(const QString& folder, bool onlyNew) const {
    static const QRegularExpression ofRider("^(\\d+)-");
    std::vector<Waiting> all;
    for (const QFileInfo& home :
         QDir(folder).entryInfoList(QDir::Dirs | QDir::NoDotAndDotDot | QDir::NoSymLinks, QDir::Name)) {
        const auto match = ofRider.match(home.fileName());
        const RiderRecord* who = match.hasMatch() ? roster_.rider(match.captured(1).toLongLong()) : nullptr;
        const QDir from(QDir(home.filePath()).filePath("from-rider"));
        // The number is the rider's here; the name says that it is this roster's.
        if (!who || !from.exists() || !home.fileName().endsWith("-" + fileNameOf(who->name)))
            continue;
        Waiting one;
        one.from.rider = who->id;
        one.from.name = who->name;
        for (const QFileInfo& file : from.entryInfoList(QDir::Files | QDir::NoSymLinks, QDir::Name)) {
            if (onlyNew && seen(file))
                continue;
            if (file.fileName() == "check-in.csv")
                one.sheet = file.filePath();
            else if (file.fileName() == "note.txt")
                one.note = file.filePath();
            else
                one.recordings << file.filePath();
        }
        if (!onlyNew || !one.recordings.isEmpty() || !one.sheet.isEmpty() || !one.note.isEmpty())
            all.push_back(std::move(one));
    }
    return all;
}

void Inbox::takeIn(const QString& folder) {
    if (!roster_.isOpen() || roster_.readOnly())
        return;
    if (active_ || roster_.jobs().importing()) {
        emit notices_.said(wording("Rides are being brought in; take the post in when they are."));
        return;
    }
    begin(lookThrough(folder, false), true);
}

void Inbox::takeInWaiting() {
    if (roster_.isOpen() && !roster_.readOnly() && !active_ && !roster_.jobs().importing() &&
        !watched_.isEmpty())
        begin(lookThrough(watched_, true), true);
}

void Inbox::begin(std::vector<Waiting> all, bool asked) {
    for (Waiting& one : all) {
        if (!one.sheet.isEmpty())
            takeSheet(one.sheet, one.from);
        if (!one.note.isEmpty())
            takeNote(one.note, one.from);
        waiting_.push_back(std::move(one));
    }
    active_ = true;
    asked_ = asked;
    done_.clear();
    next();
}

void Inbox::watch(const QString& folder) {
    soon_.stop();
    if (const QStringList old = watcher_.files() + watcher_.directories(); !old.isEmpty())
        watcher_.removePaths(old);
    watched_ = roster_.isOpen() && !folder.isEmpty() && QDir(folder).exists() ? folder : QString();
    seen_.clear();
    if (watched_.isEmpty())
        return;
    QDataStream in(QByteArray::fromBase64(QSettings().value(seenKey()).toByteArray()));
    in >> seen_;
    follow();
    const auto there = lookThrough(watched_, true);
    int files = 0;
    for (const Waiting& one : there)
        files += static_cast<int>(one.recordings.size()) + (one.sheet.isEmpty() ? 0 : 1) +
                 (one.note.isEmpty() ? 0 : 1);
    if (files > 0 && !active_ && !roster_.readOnly()) // what is being taken in is asked about no more
        emit waiting(files, static_cast<int>(there.size()));
}

/// The folders of the riders there are; what is in them tells by itself.
void Inbox::follow() {
    if (watched_.isEmpty())
        return;
    QStringList paths{watched_};
    for (const QFileInfo& home : QDir(watched_).entryInfoList(QDir::Dirs | QDir::NoDotAndDotDot, QDir::Name))
        if (const QString from = QDir(home.filePath()).filePath("from-rider"); QDir(from).exists())
            paths << from;
    const QStringList there = watcher_.directories();
    for (const QString& path : paths)
        if (!there.contains(path))
            watcher_.addPath(path);
}

/// Something stirred: it is looked at once it has settled, and not more often than that.
void Inbox::stir() {
    if (watched_.isEmpty() || soon_.isActive())
        return;
    const qint64 since = since_.isValid() ? since_.elapsed() : between_;
    soon_.start(static_cast<int>(std::max<qint64>(std::min(settled, between_), between_ - since)));
}

void Inbox::takeNew() {
    if (watched_.isEmpty() || !roster_.isOpen() || roster_.readOnly())
        return;
    since_.restart();
    follow();
    if (active_ || roster_.jobs().importing())
        return stir();
    std::vector<Waiting> fresh = lookThrough(watched_, true);
    const auto young = [](const QString& path) {
        return !path.isEmpty() &&
               QFileInfo(path).lastModified().msecsTo(QDateTime::currentDateTime()) < settled;
    };
    for (const Waiting& one : fresh)
        if (young(one.sheet) || young(one.note) ||
            std::any_of(one.recordings.begin(), one.recordings.end(), young)) {
            since_.invalidate(); // still being written, perhaps
            soon_.start(settled);
            return;
        }
    if (!fresh.empty())
        begin(std::move(fresh), false);
}

bool Inbox::seen(const QFileInfo& file) const {
    return seen_.contains(markOf(file));
}

void Inbox::see(const QString& file) {
    seen_.insert(markOf(QFileInfo(file)));
}

QString Inbox::seenKey() const {
    return "postSeen/" +
           (QString::fromLatin1(QCryptographicHash::hash((roster_.path() + "|" + watched_).toUtf8(),
                                                         QCryptographicHash::Sha256)
                                    .toHex()
                                    .left(16)));
}

/// Marks of files that are gone are forgotten.
void Inbox::remember() {
    if (watched_.isEmpty())
        return;
    QSet<quint64> there;
    for (const Waiting& one : lookThrough(watched_, false))
        for (const QString& file : QStringList{one.sheet, one.note} + one.recordings)
            if (const QFileInfo info(file); !file.isEmpty() && seen(info))
                there.insert(markOf(info));
    seen_ = there;
    QByteArray bytes;
    QDataStream out(&bytes, QIODevice::WriteOnly);
    out << seen_;
    QSettings().setValue(seenKey(), bytes.toBase64());
}

/// A sheet the rider filled in; what stays empty says nothing.
void Inbox::takeSheet(const QString& file, FromRider& to) {
    see(file);
    const auto bytes = readWholeFile(file);
    const auto all = bytes ? readCheckIns(*bytes) : tl::unexpected(bytes.error());
    if (!all) {
        to.refused << (bytes ? file + ": " : QString()) + QString::fromStdString(all.error().sentence);
        return;
    }
    std::vector<CheckInEdit> edits;
    for (const NamedCheckIn& n : *all) {
        if (n.checkIn.empty())
            continue;
        if (n.rider != to.name.toUtf8()) {
            to.refused << wording("%1: names \"%2\", and this is %3's; nothing of it was taken in")
                              .arg(file, QString::fromUtf8(n.rider), to.name);
            return;
        }
        CheckInEdit edit{to.rider, {}, n.checkIn};
        edit.before.day = n.checkIn.day;
        if (const auto there = roster_.checkInOn(to.rider, n.checkIn.day))
            edit.before = *there;
        if (!(edit.before == edit.after))
            edits.push_back(edit);
    }
    to.checkIns = static_cast<int>(edits.size());
    if (!edits.empty())
        roster_.edits().editCheckIns(edits, wording("Take in %1's check-ins").arg(to.name));
}

/// Words of the rider are kept in the check-in of the day they were written, once.
void Inbox::takeNote(const QString& path, FromRider& to) {
    see(path);
    QFile file(path);
    if (!file.open(QIODevice::ReadOnly)) {
        to.refused << wording("%1 can't be read: %2.", path, file.errorString());
        return;
    }
    const QString words =
        QString::fromUtf8(file.read(4 * longestNote)).remove(QChar(0)).trimmed().left(longestNote);
    if (words.isEmpty())
        return;
    const QDate written = QFileInfo(path).lastModified().date();
    CheckInEdit edit{to.rider, {}, {}};
    edit.before.day = std::min(clock_.today(), fromCivil(written.year(), written.month(), written.day()));
    if (const auto there = roster_.checkInOn(to.rider, edit.before.day))
        edit.before = *there;
    edit.after = edit.before;
    const QString now = QString::fromStdString(edit.before.note);
    if (now.contains(words))
        return; // it is there already
    edit.after.note = (now.isEmpty() ? words : now + "\n" + words).toStdString();
    if (const std::string why = whyImpossible(edit.after); !why.empty()) {
        to.refused << path + ": " + QString::fromStdString(why);
        return;
    }
    roster_.edits().editCheckIns({edit}, wording("Take in %1's note").arg(to.name));
    to.note = words;
}

void Inbox::next() {
    while (!waiting_.empty() && waiting_.front().recordings.isEmpty()) {
        done_.push_back(waiting_.front().from);
        waiting_.pop_front();
    }
    if (waiting_.empty()) {
        active_ = false;
        remember();
        emit taken(std::exchange(done_, {}), asked_);
        return;
    }
    roster_.jobs().importFiles(waiting_.front().from.rider, waiting_.front().recordings);
    if (roster_.jobs().importing())
        return;
    // The rider went meanwhile, or the roster takes nothing any more: the others go on.
    done_.push_back(waiting_.front().from);
    done_.back().refused << wording("The rides of %1 could not be brought in.", done_.back().name);
    waiting_.pop_front();
    next();
}

} // namespace marram

#include "moc_inbox.cpp"
