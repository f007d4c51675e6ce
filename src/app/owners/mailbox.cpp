// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/owners/mailbox.h"

#include <QCoreApplication>
#include <QEvent>
#include <utility>

namespace marram {

void Mailbox::post(std::function<void()> what) {
    {
        const std::lock_guard lock(mutex_);
        waiting_.push_back(std::move(what));
    }
    QCoreApplication::postEvent(this, new QEvent(QEvent::User));
}

void Mailbox::customEvent(QEvent*) {
    std::function<void()> next;
    {
        const std::lock_guard lock(mutex_);
        if (waiting_.empty())
            return;
        next = std::move(waiting_.front());
        waiting_.pop_front();
    }
    next();
}

} // namespace marram
