// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "app/owners/workspace.h"
#include <QWidget>

namespace marram {

/// Asks for the name of a new roster file, ".marram" added where it is left out; empty where nobody answers.
QString askForNewRoster(QWidget* parent, const QString& title);

/// What the window asks and tells of rosters as files: opened, made, brought, damaged, gone, copied.
class RosterDialogs : public QObject {
    Q_OBJECT
public:
    RosterDialogs(Workspace& workspace, QWidget* window);

    void makeNew();
    void open();
    /// A roster from elsewhere, or an export of one, which asks for the roster it comes into.
    void bringOrOpen();
    /// A roster for a first rider, where none is open: it lies where a programme's own things do, which needs
    /// no decision about files. False where that can't be.
    bool makeFirst();
    void saveWhole();
    void saveElsewhere();
    /// Asks from when on recordings stay in the roster, and moves the older ones beside it.
    void moveRecordings();
    void showCopies();

private:
    void askOverlap(quint64 question, const RideRecord& now, const RideRecord& there);
    void askList(quint64 question, const QString& file, const ActivityHead& head);
    void askStranger(quint64 question, const QString& why);
    void tellDamage(const Damage& damage);
    void askPost(int files, int riders);
    void beginMoving(int years);
    void tellLost(const QString& sentence);
    void tellSaved(const QString& path, const Damage& leftBehind);
    /// Opens a file, or makes it where it is not there, and remembers it.
    bool use(const QString& path);

    Workspace& workspace_;
    QWidget* window_;
};

} // namespace marram
