// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "app/owners/open_roster.h"
#include <QWidget>

namespace marram {

/// One window a roster on a desktop: a roster that a window has open already brings that window to the front
/// when it is opened once more, with what was to be opened beside it. Over the session's message bus; where
/// there is none, two windows open as they always could.
class Instance : public QObject {
    Q_OBJECT
public:
    Instance(OpenRoster& roster, QWidget& window);
    ~Instance() override;
    /// True where another window of this user has the roster, and took it over.
    static bool handOver(const QString& roster, const QStringList& recordings);
    /// The name a roster's window has on the bus: of the file it is, whatever path leads there.
    static QString nameOf(const QString& roster);

public slots:
    /// What another start asks for.
    Q_SCRIPTABLE void show(const QStringList& recordings);

signals:
    void handed(const QStringList& recordings);

private:
    void follow();

    OpenRoster& roster_;
    QWidget& window_;
    QString name_; ///< held on the bus; empty for none
};

} // namespace marram
