// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include <QObject>
#include <deque>
#include <functional>
#include <mutex>

namespace marram {

/// Where other threads leave what the owner's thread is to do, in order, one at every turn of its event loop.
/// What a letter holds is handed over under the mailbox's own lock and never touched by its sender again;
/// what was not yet done when the mailbox goes is dropped. It outlives every thread that posts to it.
class Mailbox : public QObject {
public:
    explicit Mailbox(QObject* parent = nullptr) : QObject(parent) {}
    /// From any thread.
    void post(std::function<void()> what);

protected:
    void customEvent(QEvent* event) override;

private:
    std::mutex mutex_;
    std::deque<std::function<void()>> waiting_;
};

} // namespace marram
