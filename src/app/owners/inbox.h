// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "app/owners/open_roster.h"
#include <QElapsedTimer>
#include <QFileInfo>
#include <QFileSystemWatcher>
#include <QSet>
#include <deque>

namespace marram {

/// What came from one rider.
struct FromRider {
    qint64 rider = 0;
    QString name;
    int rides = 0, known = 0, checkIns = 0;
    QString note;        ///< what they wrote and nobody has read yet, at most 2000 letters
    QStringList refused; ///< a sentence each
    bool anything() const { return rides > 0 || checkIns > 0 || !note.isEmpty() || !refused.isEmpty(); }
};

/// Takes in what riders put into their folders of the post: recordings, filled-in sheets, notes – a note is
/// kept in the check-in of the day it was written. Nothing there is removed or changed; what is there already
/// is known by its content. One rider after the other. The folder is watched while a roster is open; what
/// came while none was is waiting() to be asked about.
class Inbox : public QObject {
    Q_OBJECT
public:
    Inbox(OpenRoster& roster, Notices& notices, Clock& clock, QObject* parent = nullptr);
    /// Looks through a folder of the post; taken() follows.
    void takeIn(const QString& folder);
    bool busy() const { return active_; }

    /// Watches a folder for the riders of the roster that is open; an empty path ends it.
    void watch(const QString& folder);
    /// Takes in what is new in the watched folder, at most every so often.
    static constexpr int leastBetween = 10000; ///< ms
    void setLeastBetween(int milliseconds) { between_ = milliseconds; }
    /// Takes in what waiting() told of.
    void takeInWaiting();

signals:
    /// What came; `asked` where the coach's hand asked for it.
    void taken(const std::vector<marram::FromRider>& all, bool asked);
    /// So many files nobody has looked at lie there as the folder begins to be watched.
    void waiting(int files, int riders);

private:
    struct Waiting {
        FromRider from;
        QStringList recordings;
        QString sheet, note; ///< paths; empty for none
    };
    std::vector<Waiting> lookThrough(const QString& folder, bool onlyNew) const;
    void begin(std::vector<Waiting> all, bool asked);
    void next();
    void takeSheet(const QString& file, FromRider& to);
    void takeNote(const QString& file, FromRider& to);
    void stir();
    void takeNew();
    void follow();
    bool seen(const QFileInfo& file) const;
    void see(const QString& file);
    QString seenKey() const;
    void remember();

    OpenRoster& roster_;
    Notices& notices_;
    Clock& clock_;
    std::deque<Waiting> waiting_;
    std::vector<FromRider> done_;
    bool active_ = false, asked_ = false;
    QString watched_;
    QFileSystemWatcher watcher_;
    QTimer soon_;
    QElapsedTimer since_; ///< the last time it was looked through
    int between_ = leastBetween;
    QSet<quint64> seen_; ///< files as they were looked at: of their path, size and time
};

} // namespace marram
