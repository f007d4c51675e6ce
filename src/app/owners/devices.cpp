// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/owners/devices.h"
#include "wording/wording.h"

#include <QDir>

namespace marram {

Devices::Devices(QObject* parent) : QObject(parent) {
    settle_.setSingleShot(true);
    settle_.setInterval(1500);
    connect(&settle_, &QTimer::timeout, this, &Devices::look);
    connect(&watcher_, &QFileSystemWatcher::directoryChanged, this, [this] { settle_.start(); });
    const QString user = qEnvironmentVariable("USER");
    if (!user.isEmpty())
        watch({"/media/" + user, "/run/media/" + user});
}

void Devices::watch(const QStringList& mediaFolders) {
    media_ = mediaFolders;
    if (const QStringList old = watcher_.directories(); !old.isEmpty())
        watcher_.removePaths(old);
    // A user's folder comes with the first volume: the one above it is watched for that.
    for (const QString& folder : media_)
        for (const QString& path : {folder, QFileInfo(folder).path()})
            if (QFileInfo(path).isDir() && !watcher_.directories().contains(path))
                watcher_.addPath(path);
}

void Devices::begin() {
    on_ = true;
    settle_.start();
}

QString Devices::activitiesOf(const QString& volume) {
    const auto named = [](const QDir& in) {
        for (const QString& name :
             in.entryList(QDir::Dirs | QDir::NoDotAndDotDot | QDir::NoSymLinks, QDir::Name))
            if (const QString low = name.toLower(); low == "activities" || low == "activity")
                return in.filePath(name);
        return QString();
    };
    const QDir top(volume);
    if (QString here = named(top); !here.isEmpty())
        return here;
    for (const QString& name :
         top.entryList(QDir::Dirs | QDir::NoDotAndDotDot | QDir::NoSymLinks, QDir::Name))
        if (QString below = named(QDir(top.filePath(name))); !below.isEmpty())
            return below;
    return {};
}

void Devices::look() {
    watch(media_);
    if (!on_)
        return;
    QSet<QString> there;
    for (const QString& folder : media_)
        for (const QFileInfo& volume :
             QDir(folder).entryInfoList(QDir::Dirs | QDir::NoDotAndDotDot | QDir::NoSymLinks, QDir::Name)) {
            const QString activities = activitiesOf(volume.filePath());
            if (activities.isEmpty())
                continue;
            there.insert(volume.filePath());
            if (!told_.contains(volume.filePath()))
                emit found(volume.fileName(), activities);
        }
    for (const QString& before : told_)
        if (!there.contains(before))
            emit left(before);
    told_ = there; // what was pulled out is told of when it comes again
}

} // namespace marram

#include "moc_devices.cpp"
