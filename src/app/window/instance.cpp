// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/window/instance.h"
#include "wording/wording.h"

#include <QCryptographicHash>
#include <QDBusConnection>
#include <QDBusInterface>
#include <QDBusReply>
#include <QFileInfo>

namespace marram {
namespace {

constexpr auto object = "/roster";
constexpr auto contract = "local.marram.Roster";
constexpr int patience = 2000; ///< ms for a window to answer; a dead one holds nobody up

} // namespace

QString Instance::nameOf(const QString& roster) {
    const QString path = QFileInfo(roster).canonicalFilePath();
    return path.isEmpty() ? QString()
                          : QString("local.marram.Roster.r%1")
                                .arg(QString::fromLatin1(
                                    QCryptographicHash::hash(path.toUtf8(), QCryptographicHash::Sha256)
                                        .toHex()
                                        .left(32)));
}

Instance::Instance(OpenRoster& roster, QWidget& window) : roster_(roster), window_(window) {
    if (auto bus = QDBusConnection::sessionBus(); bus.isConnected())
        bus.registerObject(object, contract, this, QDBusConnection::ExportScriptableSlots);
    connect(&roster_, &OpenRoster::opened, this, &Instance::follow);
    follow();
}

Instance::~Instance() {
    if (!name_.isEmpty())
        QDBusConnection::sessionBus().unregisterService(name_);
}

void Instance::follow() {
    auto bus = QDBusConnection::sessionBus();
    if (!bus.isConnected())
        return;
    const QString now = roster_.isOpen() ? nameOf(roster_.path()) : QString();
    if (now == name_)
        return;
    if (!name_.isEmpty())
        bus.unregisterService(name_);
    name_ = !now.isEmpty() && bus.registerService(now) ? now : QString();
}

bool Instance::handOver(const QString& roster, const QStringList& recordings) {
    const auto bus = QDBusConnection::sessionBus();
    const QString name = nameOf(roster);
    if (!bus.isConnected() || name.isEmpty())
        return false;
    QDBusInterface there(name, object, contract, bus);
    if (!there.isValid())
        return false;
    there.setTimeout(patience);
    return QDBusReply<void>(there.call("show", recordings)).isValid();
}

void Instance::show(const QStringList& recordings) {
    window_.setWindowState(window_.windowState() & ~Qt::WindowMinimized);
    window_.show();
    window_.raise();
    window_.activateWindow();
    if (!recordings.isEmpty())
        emit handed(recordings);
}

} // namespace marram

#include "moc_instance.cpp"
