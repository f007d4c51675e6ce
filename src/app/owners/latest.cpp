// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/owners/latest.h"

#include <utility>

namespace marram {

LatestWork::LatestWork() {
    thread_ = std::thread([this] { run(); });
}

LatestWork::~LatestWork() {
    {
        const std::lock_guard lock(mutex_);
        stop_ = true;
    }
    wake_.notify_one();
    thread_.join();
}

void LatestWork::ask(Work work) {
    busy_ = true;
    {
        const std::lock_guard lock(mutex_);
        waiting_ = std::move(work);
        ++asked_;
    }
    wake_.notify_one();
}

void LatestWork::forget() {
    busy_ = false;
    const std::lock_guard lock(mutex_);
    waiting_ = nullptr;
    ++asked_;
}

void LatestWork::run() {
    for (;;) {
        Work now;
        quint64 number = 0;
        {
            std::unique_lock lock(mutex_);
            wake_.wait(lock, [&] { return stop_ || waiting_; });
            if (stop_)
                return;
            now = std::exchange(waiting_, nullptr);
            number = asked_;
        }
        mail_.post([this, number, take = now()] {
            {
                const std::lock_guard lock(mutex_);
                if (number != asked_)
                    return;
            }
            busy_ = false;
            take();
        });
    }
}

} // namespace marram
