// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include <QFileSystemWatcher>
#include <QObject>
#include <QSet>
#include <QStringList>
#include <QTimer>

namespace marram {

/// Bike computers as they are plugged in: a volume mounted under the user's media folders that has a folder
/// of activities. Nothing is written to one, nor read but the names of its folders.
class Devices : public QObject {
    Q_OBJECT
public:
    explicit Devices(QObject* parent = nullptr);
    /// Where volumes are mounted; by default the user's folders under /media and /run/media.
    void watch(const QStringList& mediaFolders);
    /// Tells of what is there and was not told of yet. Off until it is asked for.
    void begin();
    /// How long a volume has to come up before it is looked at.
    void setSettling(int milliseconds) { settle_.setInterval(milliseconds); }
    /// The folder of activities of a volume, two levels down at most; empty where there is none.
    static QString activitiesOf(const QString& volume);

signals:
    void found(const QString& name, const QString& activities);
    void left(const QString& volume); ///< its path: it was pulled out

private:
    void look();

    QStringList media_;
    QFileSystemWatcher watcher_;
    QSet<QString> told_; ///< volumes that are there and were told of
    QTimer settle_;
    bool on_ = false;
};

} // namespace marram
