// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/owners/job.h"

namespace marram {

void Jobs::begin(JobKind kind, std::function<void(JobLink&)> work, std::function<void()> after) {
    end(kind);
    auto job = std::make_unique<Job>();
    job->number = ++last_;
    const auto stillAsked = [this, kind, number = job->number] {
        const auto now = jobs_.find(kind);
        return now != jobs_.end() && now->second->number == number;
    };
    job->link.deliver_ = [this, stillAsked](std::function<void()> what) {
        mail_.post([stillAsked, what = std::move(what)] {
            if (stillAsked())
                what();
        });
    };
    Job& started = *job;
    jobs_[kind] = std::move(job);
    started.thread = std::thread([&started, this, kind, work = std::move(work), after = std::move(after)] {
        work(started.link);
        started.link.deliver([this, kind, after] {
            end(kind);
            after();
        });
    });
}

void Jobs::cancel(JobKind kind) {
    if (const auto job = jobs_.find(kind); job != jobs_.end())
        job->second->link.cancelled_ = true;
}

void Jobs::end(JobKind kind) {
    const auto found = jobs_.find(kind);
    if (found == jobs_.end())
        return;
    const std::unique_ptr<Job> job = std::move(found->second);
    jobs_.erase(found);
    job->link.cancelled_ = true;
    job->thread.join();
}

void Jobs::endAll() {
    while (!jobs_.empty())
        end(jobs_.begin()->first);
}

} // namespace marram
