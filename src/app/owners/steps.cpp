// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/owners/steps.h"

#include <utility>

namespace marram {

class Steps::Command : public QUndoCommand {
public:
    Command(Steps& steps, Step step) : QUndoCommand(step.what), steps_(steps), step_(std::move(step)) {}
    void undo() override { act(step_.undo); }
    void redo() override { act(step_.redo); }

private:
    void act(const Act& what) {
        const bool before = std::exchange(steps_.running_, true);
        setObsolete(!what());
        steps_.running_ = before;
    }

    Steps& steps_;
    Step step_;
};

Steps::Steps(QObject* parent) : QObject(parent) {
    drain_.setSingleShot(true);
    connect(&drain_, &QTimer::timeout, this, &Steps::takeWaiting);
}

void Steps::take(const QString& what, Act redo, Act undo) {
    waiting_.push_back({what, std::move(redo), std::move(undo)});
    if (running_)
        drain_.start(0);
    else
        takeWaiting();
}

void Steps::takeWaiting() {
    while (!running_ && !waiting_.empty()) {
        Step next = std::move(waiting_.front());
        waiting_.pop_front();
        push(std::move(next));
    }
}

void Steps::push(Step step) {
    lost_ = false;
    stack_.push(new Command(*this, step));
    if (std::exchange(lost_, false))
        unkept_.push_back(std::move(step));
}

void Steps::takeLost() {
    for (Step& step : std::exchange(unkept_, {}))
        take(step.what, std::move(step.redo), std::move(step.undo));
}

void Steps::asOneStep(const QString& what, const std::function<void()>& edits) {
    if (running_) {
        edits();
        return;
    }
    stack_.beginMacro(what);
    edits();
    stack_.endMacro();
}

void Steps::clear() {
    waiting_.clear();
    unkept_.clear();
    stack_.clear();
}

} // namespace marram

#include "moc_steps.cpp"
