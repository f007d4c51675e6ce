// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "app/workspace/workspace.h"
#include <QUndoCommand>

namespace marram {

/// One edit of a rider's season: the whole of it before and after.
class SeasonCommand : public QUndoCommand {
public:
    SeasonCommand(Workspace& workspace, qint64 rider, std::optional<Season> before, Season after,
                  const QString& what)
        : QUndoCommand(what), workspace_(workspace), rider_(rider), before_(std::move(before)),
          after_(std::move(after)) {}
    void undo() override { setObsolete(!workspace_.writeSeason(rider_, before_)); }
    void redo() override { setObsolete(!workspace_.writeSeason(rider_, after_)); }

private:
    Workspace& workspace_;
    qint64 rider_;
    std::optional<Season> before_;
    Season after_;
};

/// One edit of a rider.
class RiderCommand : public QUndoCommand {
public:
    RiderCommand(Workspace& workspace, RiderRecord before, RiderRecord after, const QString& what)
        : QUndoCommand(what), workspace_(workspace), before_(std::move(before)), after_(std::move(after)) {}
    void undo() override { setObsolete(!workspace_.writeRider(before_)); }
    void redo() override { setObsolete(!workspace_.writeRider(after_)); }

private:
    Workspace& workspace_;
    RiderRecord before_, after_;
};

/// A rider who was added. Undone, they are gone with everything of theirs; what came after was undone before.
class AddRiderCommand : public QUndoCommand {
public:
    AddRiderCommand(Workspace& workspace, RiderRecord rider)
        : QUndoCommand("Add a rider"), workspace_(workspace), rider_(std::move(rider)) {}
    void undo() override { setObsolete(!workspace_.dropRider(rider_.id)); }
    void redo() override { setObsolete(!workspace_.bringRider(rider_)); }

private:
    Workspace& workspace_;
    RiderRecord rider_;
};

/// Rides that came and rides that were put aside for them; either way can be gone again.
class RidesCommand : public QUndoCommand {
public:
    RidesCommand(Workspace& workspace, qint64 rider, std::vector<qint64> came, std::vector<qint64> went,
                 bool doneAlready, const QString& what)
        : QUndoCommand(what), workspace_(workspace), rider_(rider), came_(std::move(came)),
          went_(std::move(went)), skip_(doneAlready) {}
    void undo() override { swap(came_, went_); }
    void redo() override {
        if (!skip_)
            swap(went_, came_);
        skip_ = false;
    }

private:
    void swap(const std::vector<qint64>& out, const std::vector<qint64>& in) {
        if (!workspace_.rider() || workspace_.rider()->id != rider_)
            workspace_.choose(rider_); // what is taken back is seen
        setObsolete(!workspace_.putRidesAside(out, true) || !workspace_.putRidesAside(in, false));
    }

    Workspace& workspace_;
    qint64 rider_;
    std::vector<qint64> came_, went_;
    bool skip_;
};

/// What a coach adds to a ride.
class RideCommand : public QUndoCommand {
public:
    RideCommand(Workspace& workspace, RideRecord before, RideRecord after, const QString& what)
        : QUndoCommand(what), workspace_(workspace), before_(std::move(before)), after_(std::move(after)) {}
    void undo() override { setObsolete(!workspace_.writeRide(before_)); }
    void redo() override { setObsolete(!workspace_.writeRide(after_)); }

private:
    Workspace& workspace_;
    RideRecord before_, after_;
};

/// A test result that came, changed or went.
class TestCommand : public QUndoCommand {
public:
    TestCommand(Workspace& workspace, qint64 rider, std::optional<TestRecord> before,
                std::optional<TestRecord> after, const QString& what)
        : QUndoCommand(what), workspace_(workspace), rider_(rider), before_(std::move(before)),
          after_(std::move(after)) {}
    void undo() override { setObsolete(!workspace_.writeTest(rider_, after_, before_)); }
    void redo() override { setObsolete(!workspace_.writeTest(rider_, before_, after_)); }

private:
    Workspace& workspace_;
    qint64 rider_;
    std::optional<TestRecord> before_, after_;
};

/// One day's check-in of a rider.
class CheckInCommand : public QUndoCommand {
public:
    CheckInCommand(Workspace& workspace, qint64 rider, CheckIn before, CheckIn after)
        : QUndoCommand("Change a check-in"), workspace_(workspace), rider_(rider), before_(std::move(before)),
          after_(std::move(after)) {}
    void undo() override { setObsolete(!workspace_.writeCheckIn(rider_, before_)); }
    void redo() override { setObsolete(!workspace_.writeCheckIn(rider_, after_)); }

private:
    Workspace& workspace_;
    qint64 rider_;
    CheckIn before_, after_;
};

} // namespace marram
