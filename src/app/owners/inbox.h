// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "app/owners/open_roster.h"
#include <deque>

namespace marram {

/// What came from one rider.
struct FromRider {
    qint64 rider = 0;
    QString name;
    int rides = 0, known = 0, checkIns = 0;
    QString note;        ///< what they wrote, at most 2000 letters
    QStringList refused; ///< a sentence each
    bool anything() const { return rides > 0 || checkIns > 0 || !note.isEmpty() || !refused.isEmpty(); }
};

/// Takes in what riders put into their folders of the post: recordings, filled-in sheets, notes. Nothing
/// there is removed or changed; what is there already is known by its content. One rider after the other.
class Inbox : public QObject {
    Q_OBJECT
public:
    Inbox(OpenRoster& roster, Notices& notices, QObject* parent = nullptr);
    /// Looks through a folder of the post; taken() follows.
    void takeIn(const QString& folder);
    bool busy() const { return active_; }

signals:
    void taken(const std::vector<marram::FromRider>& all);

private:
    struct Waiting {
        FromRider from;
        QStringList recordings;
    };
    void next();
    void sheet(const QString& file, FromRider& to);

    OpenRoster& roster_;
    Notices& notices_;
    std::deque<Waiting> waiting_;
    std::vector<FromRider> done_;
    bool active_ = false;
};

} // namespace marram
