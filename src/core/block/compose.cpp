// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/block/compose.h"

#include <algorithm>

namespace marram {
namespace {

int secondsOf(const Session& session) {
    int sum = 0;
    for (const UnfoldedStep& s : figuresOf(session).steps)
        sum += s.step.seconds;
    return sum;
}

} // namespace

Item stepAt(int seconds, int percent) {
    Item item;
    item.step.seconds = seconds;
    item.step.from = item.step.to = percent / 100.0;
    return item;
}

Frame frameFor(int seconds, int warm) {
    Frame frame = seconds >= 3600 ? Frame{900, 600} : Frame{600, 300};
    frame.warm = std::max(frame.warm, warm);
    return frame;
}

int warmFor(const Session& work) {
    int warm = 0;
    eachStep(work.items, [&](const Step& step) {
        const bool allOut =
            step.kind == TargetKind::AllOut || (step.kind == TargetKind::Effort && step.effort >= 10);
        warm = std::max(warm, allOut ? 1200 : meanTarget(step) >= 1.05 - 1e-9 ? 900 : 0);
    });
    return warm;
}

int shortestAround(int workSeconds, int warm) {
    const Frame little = frameFor(0, warm), much = frameFor(3600, warm);
    const int few = (workSeconds + little.warm + little.cool + fiveMinutes - 1) / fiveMinutes * fiveMinutes;
    if (few < 3600)
        return few;
    return (workSeconds + much.warm + much.cool + fiveMinutes - 1) / fiveMinutes * fiveMinutes;
}

Session rideAround(const Session& work, int seconds, int percent) {
    Session out;
    if (work.items.empty()) {
        out.items.push_back(stepAt(seconds, percent));
        return out;
    }
    const Frame frame = frameFor(seconds, warmFor(work));
    Item warm = stepAt(frame.warm, 50);
    warm.step.to = frame.warm >= 900 ? 0.90 : 0.85;
    out.items.push_back(warm);
    out.items.insert(out.items.end(), work.items.begin(), work.items.end());
    int left = seconds - frame.warm - secondsOf(work);
    const int filler = left - frame.cool;
    if (filler >= fiveMinutes) {
        out.items.push_back(stepAt(filler, percent));
        left -= filler;
    }
    if (left > 0)
        out.items.push_back(stepAt(left, 50));
    return out;
}

Lying lyingOf(std::string_view family) {
    return family == "late efforts" ? Lying::Late
           : family == "sprints" || family == "endurance with drills" || family == "lead-outs"
               ? Lying::Within
               : Lying::Around;
}

int shortestWith(Lying lying, int workSeconds, int warm) {
    constexpr int before = 7200, after = 600, within = 1200;
    const int around = lying == Lying::Late ? before + after : 2 * within;
    return lying == Lying::Around ? shortestAround(workSeconds, warm)
                                  : (workSeconds + around + fiveMinutes - 1) / fiveMinutes * fiveMinutes;
}

Session rideWith(Lying lying, const Session& work, int seconds, int percent) {
    if (lying == Lying::Around)
        return rideAround(work, seconds, percent);
    const int left = seconds - secondsOf(work);
    const int after = lying == Lying::Late ? 600 : std::max(300, left - 1200);
    Session out;
    if (left - after > 0)
        out.items.push_back(stepAt(left - after, percent));
    out.items.insert(out.items.end(), work.items.begin(), work.items.end());
    if (std::min(left, after) > 0)
        out.items.push_back(stepAt(std::min(left, after), lying == Lying::Late ? 50 : percent));
    return out;
}

Session longRide(int seconds, int percent, int tempo, int target) {
    constexpr int cool = 600;
    Session out;
    if (tempo <= 0 || seconds < tempo + cool + 3600)
        return rideAround({}, seconds, percent);
    out.items.push_back(stepAt(seconds - tempo - cool, percent));
    out.items.push_back(stepAt(tempo, target));
    out.items.push_back(stepAt(cool, 50));
    return out;
}

} // namespace marram
