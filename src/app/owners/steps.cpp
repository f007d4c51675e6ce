// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/owners/steps.h"

#include <chrono>
#include <thread>
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

void Steps::writeWith(std::function<bool()> claim, std::function<void()> letGo) {
    claim_ = std::move(claim);
    letGo_ = std::move(letGo);
}

void Steps::take(const QString& what, Act redo, Act undo) {
    Step step{what, std::move(redo), std::move(undo)};
    if (macro_ && !running_)
        push(std::move(step));
    else
        inTurn([this, step = std::move(step)] { push(step); });
}

void Steps::undo() {
    inTurn([this] { stack_.undo(); });
}

void Steps::redo() {
    inTurn([this] { stack_.redo(); });
}

void Steps::inTurn(std::function<void()> what) {
    waiting_.push_back(std::move(what));
    if (running_ || macro_)
        drain_.start(0);
    else
        takeWaiting();
}

bool Steps::mayWrite() {
    constexpr int again = 30, tellAfter = 2000; // ms
    bool mine = !claim_ || claim_();
    // What others write is done within milliseconds nearly always: no reason to come back later.
    for (int tries = 0; !mine && !since_.isValid() && tries < 4; ++tries) {
        std::this_thread::sleep_for(std::chrono::milliseconds(4));
        mine = claim_();
    }
    if (mine) {
        since_.invalidate();
        told_ = false;
        return true;
    }
    backlog_ = true;
    if (!since_.isValid())
        since_.start();
    if (since_.elapsed() > tellAfter && !std::exchange(told_, true))
        emit held();
    drain_.start(again);
    return false;
}

void Steps::takeWaiting() {
    while (!running_ && !macro_ && !waiting_.empty() && mayWrite()) {
        const auto next = std::move(waiting_.front());
        waiting_.pop_front();
        next();
        if (letGo_)
            letGo_();
        if (backlog_ && !waiting_.empty()) {
            drain_.start(0); // one at a turn: many at once would stand in the way of the hand
            return;
        }
    }
    backlog_ = backlog_ && !waiting_.empty();
}

void Steps::takeAll() {
    const auto claim = std::exchange(claim_, nullptr);
    while (!running_ && !macro_ && !waiting_.empty())
        takeWaiting();
    claim_ = claim;
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

void Steps::asOneStep(const QString& what, std::function<void()> edits) {
    if (running_) {
        edits();
        return;
    }
    inTurn([this, what, edits = std::move(edits)] {
        stack_.beginMacro(what);
        macro_ = true;
        edits();
        macro_ = false;
        stack_.endMacro();
    });
}

void Steps::clear() {
    waiting_.clear();
    unkept_.clear();
    stack_.clear();
}

} // namespace marram

#include "moc_steps.cpp"
