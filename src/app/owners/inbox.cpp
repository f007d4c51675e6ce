// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/owners/inbox.h"
#include "formats/csv/csv.h"
#include "formats/files/files.h"
#include "store/exchange.h"

#include <QDir>
#include <QRegularExpression>

namespace marram {

Inbox::Inbox(OpenRoster& roster, Notices& notices, QObject* parent)
    : QObject(parent), roster_(roster), notices_(notices) {
    connect(&roster_, &OpenRoster::closing, this, [this] {
        waiting_.clear();
        done_.clear();
        active_ = false;
    });
    connect(&roster_, &OpenRoster::importFinished, this, [this](qint64 rider, const ImportReport& report) {
        if (!active_ || waiting_.empty() || waiting_.front().from.rider != rider)
            return;
        FromRider& from = waiting_.front().from;
        from.rides = static_cast<int>(report.added.size());
        from.known = static_cast<int>(report.duplicates.size());
        from.refused << report.refused << report.strangers;
        if (report.stopped)
            from.refused << QString::fromStdString(report.stopped->sentence);
        done_.push_back(from);
        waiting_.pop_front();
        if (report.cancelled)
            waiting_.clear();
        next();
    });
}

void Inbox::takeIn(const QString& folder) {
    if (!roster_.isOpen() || roster_.readOnly())
        return;
    if (active_ || roster_.importing()) {
        emit notices_.said("Rides are being brought in; take the post in when they are.");
        return;
    }
    static const QRegularExpression ofRider("^(\\d+)-");
    for (const QFileInfo& home : QDir(folder).entryInfoList(QDir::Dirs | QDir::NoDotAndDotDot, QDir::Name)) {
        const auto match = ofRider.match(home.fileName());
        const RiderRecord* who = match.hasMatch() ? roster_.rider(match.captured(1).toLongLong()) : nullptr;
        const QDir from(QDir(home.filePath()).filePath("from-rider"));
        // The number is the rider's here; the name says that it is this roster's.
        if (!who || !from.exists() || !home.fileName().endsWith("-" + fileNameOf(who->name)))
            continue;
        Waiting one;
        one.from.rider = who->id;
        one.from.name = who->name;
        if (const QString sheetFile = from.filePath("check-in.csv"); QFile::exists(sheetFile))
            sheet(sheetFile, one.from);
        constexpr qint64 longest = 2000;
        if (QFile note(from.filePath("note.txt")); note.open(QIODevice::ReadOnly))
            one.from.note = QString::fromUtf8(note.read(4 * longest)).trimmed().left(longest);
        for (const QFileInfo& file : from.entryInfoList(QDir::Files, QDir::Name))
            if (file.fileName() != "check-in.csv" && file.fileName() != "note.txt")
                one.recordings << file.filePath();
        waiting_.push_back(std::move(one));
    }
    active_ = true;
    done_.clear();
    next();
}

/// A sheet the rider filled in; what stays empty says nothing.
void Inbox::sheet(const QString& file, FromRider& to) {
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
            to.refused << QString("%1: names \"%2\", and this is %3's; nothing of it was taken in")
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
        roster_.editCheckIns(edits, QString("Take in %1's check-ins").arg(to.name));
}

void Inbox::next() {
    while (!waiting_.empty() && waiting_.front().recordings.isEmpty()) {
        done_.push_back(waiting_.front().from);
        waiting_.pop_front();
    }
    if (waiting_.empty()) {
        active_ = false;
        emit taken(std::exchange(done_, {}));
        return;
    }
    roster_.importFiles(waiting_.front().from.rider, waiting_.front().recordings);
    if (roster_.importing())
        return;
    // The rider went meanwhile, or the roster takes nothing any more: the others go on.
    done_.push_back(waiting_.front().from);
    done_.back().refused << "The rides of " + done_.back().name + " could not be brought in.";
    waiting_.pop_front();
    next();
}

} // namespace marram

#include "moc_inbox.cpp"
