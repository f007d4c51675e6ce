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

/// Rides that came and rides that went, with their bytes, so that either way can be gone again.
class RidesCommand : public QUndoCommand {
public:
    struct Kept {
        RideRecord ride;
        QByteArray original;
    };
    RidesCommand(Workspace& workspace, std::vector<Kept> came, std::vector<Kept> went, bool doneAlready,
                 const QString& what)
        : QUndoCommand(what), workspace_(workspace), came_(std::move(came)), went_(std::move(went)),
          skip_(doneAlready) {}
    void undo() override { swap(came_, went_); }
    void redo() override {
        if (!skip_)
            swap(went_, came_);
        skip_ = false;
    }

private:
    void swap(const std::vector<Kept>& out, const std::vector<Kept>& in);

    Workspace& workspace_;
    std::vector<Kept> came_, went_;
    bool skip_;
};

} // namespace marram
