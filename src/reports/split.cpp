// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/season/frame.h"
#include "core/season/proposals.h"
#include "core/words/phrase.h"
#include "reports/pages.h"

#include <algorithm>

namespace marram {
namespace {

/// Time of some days, for its purpose and as it was ridden.
struct BandHours {
    Bands purpose, band;
    double hours = 0;
    int rides = 0;
    void add(const Score& s) {
        if (!s.purposeSeconds || !s.bandSeconds)
            return;
        const auto sum = [](Bands& to, const Bands& from) {
            to.low += from.low;
            to.middle += from.middle;
            to.high += from.high;
        };
        sum(purpose, *s.purposeSeconds);
        sum(band, *s.bandSeconds);
        hours += s.duration / 3600.0;
        ++rides;
    }
};

Bands shares(const Bands& of) {
    const double sum = of.sum();
    return sum > 0 ? Bands{of.low / sum, of.middle / sum, of.high / sum} : Bands{};
}

std::string text(const Bands& b) {
    return fixedText(100 * b.low, 0) + " / " + fixedText(100 * b.middle, 0) + " / " +
           fixedText(100 * b.high, 0);
}

std::string indexText(const Bands& b) {
    const auto index = polarisationIndex(b);
    return index ? fixedText(*index, 2) : "–";
}

/// An easy day that was ridden harder than easy: over a tenth of it and ten minutes over the low threshold,
/// or five minutes over threshold.
bool wasEasy(const Score& s) {
    constexpr double tenMinutes = 600, fiveMinutes = 300;
    return s.bandSeconds->middle + s.bandSeconds->high <= std::max(tenMinutes, 0.1 * s.duration) &&
           s.bandSeconds->high <= fiveMinutes;
}

std::optional<ReportPart> easyDays(const WholeRecord& r) {
    std::vector<const RideRecord*> other;
    int easy = 0;
    for (const RideRecord& ride : r.rides) {
        const auto p = r.planned.find(ride.day);
        if (ride.day <= r.today - halfYear / 2 || p == r.planned.end() || p->second.role != Role::Easy ||
            !ride.score.bandSeconds)
            continue;
        ++easy;
        if (!wasEasy(ride.score))
            other.push_back(&ride);
    }
    if (easy == 0)
        return std::nullopt;
    ReportPart part;
    part.heading = phrase("Easy days that were not");
    if (other.empty()) {
        part.words.push_back(
            {phrase("All %1 easy rides of the last three months were easy.", std::to_string(easy)), 0});
        return part;
    }
    part.words.push_back(
        {phrase("%1 of %2 easy rides of the last three months were ridden harder: over ten minutes and a "
                "tenth of it above the low threshold, or five minutes above threshold.",
                std::to_string(other.size()), std::to_string(easy)),
         0});
    constexpr size_t most = 6;
    for (size_t i = other.size(); i-- > 0 && other.size() - i <= most;) {
        const Score& s = other[i]->score;
        part.words.push_back(
            {phrase("%1, %2: %3 min above the low threshold, %4 of them above threshold, in %5.",
                    weekdayText(other[i]->day), dayText(other[i]->day, r.today),
                    fixedText((s.bandSeconds->middle + s.bandSeconds->high) / 60, 0),
                    fixedText(s.bandSeconds->high / 60, 0), hoursText(s.duration / 3600.0)),
             other[i]->id});
    }
    return part;
}

/// The A race that comes next; null for none.
const Race* nextGoal(const Season& season, Date today) {
    const Race* next = nullptr;
    for (const Race& race : season.races)
        if (race.priority == Priority::A && race.date >= today && (!next || race.date < next->date))
            next = &race;
    return next;
}

/// Says where a phase had another part of its time in a band than its school asks.
void sayApart(Phase phase, double hours, const Bands& asks, const Bands& was, ReportPart& part) {
    constexpr double enoughHours = 15, apart = 0.06;
    const double middle = was.middle - asks.middle, high = was.high - asks.high;
    if (hours < enoughHours)
        return;
    const auto say = [&](double off, const char* band) {
        if (std::abs(off) >= apart)
            part.words.push_back(
                {phrase("In %1 %2 points %3 of the time was for the %4 band than the "
                        "school asks, over %5 h.",
                        translated(nameOf(phase)), fixedText(100 * std::abs(off), 0),
                        (off > 0 ? marked("more") : marked("less")), band, fixedText(hours, 0)),
                 0});
    };
    say(middle, marked("middle"));
    say(high, marked("high"));
}

} // namespace

Report splitReport(const ReportBasis& basis) {
    const WholeRecord& r = basis.record;
    const std::string title = phrase("Ridden as the school has it?");
    const SeasonRecord* season = r.inForce();
    BandHours all;
    std::map<Phase, BandHours> phases;
    for (const RideRecord& ride : r.rides) {
        if (ride.day <= r.today - halfYear)
            continue;
        all.add(ride.score);
        const auto p = r.planned.find(ride.day);
        if (season && ride.day >= season->season.start && p != r.planned.end() && p->second.phase)
            phases[*p->second.phase].add(ride.score);
    }
    if (all.purpose.sum() <= 0)
        return cannotTell(
            title,
            phrase("Cannot tell: no ride of the last half year has power and a threshold to read its "
                   "intensity by."),
            {});
    Report out{title, {}, false};
    ReportPart part;
    ReportTable table{{"", phrase("Hours"), phrase("The school asks"), phrase("Ridden, by purpose"),
                       phrase("Ridden, by band"), phrase("Index ridden")},
                      1,
                      {}};
    for (const auto& each : phases) {
        if (!season)
            break; // no phases without one
        const Race* next = nextGoal(season->season, r.today);
        const Phase phase = each.first;
        const BandHours& ridden = each.second;
        const Bands asks = phaseSplit(season->season.rules, phase, next ? next->demand : Demand::Unstated);
        const Bands was = shares(ridden.purpose);
        table.rows.push_back({translated(nameOf(phase)), fixedText(ridden.hours, 0), text(asks), text(was),
                              text(shares(ridden.band)), indexText(was)});
        sayApart(phase, ridden.hours, asks, was, part);
    }
    const Bands was = shares(all.purpose);
    table.rows.push_back({phrase("last half year"), fixedText(all.hours, 0), "", text(was),
                          text(shares(all.band)), indexText(was)});
    if (part.words.empty())
        part.words.push_back(
            {phases.empty()
                 ? phrase("No season with its phases lies behind, so there is nothing to hold it against.")
                 : phrase("Every phase with fifteen hours and more was ridden within six points of what "
                          "its school asks in each band."),
             0});
    part.table = std::move(table);
    part.asides.push_back(
        phrase("Shares of time for the low, middle and high band. By purpose a set counts whole, rests "
               "included, as the studies behind the schools count; by band every second counts where it "
               "was ridden. The index is log10(low / middle × high × 100); over 2.00 a split is polarised "
               "(Treff et al. 2019). Races count as they were ridden."));
    out.parts.push_back(std::move(part));
    if (auto easy = easyDays(r))
        out.parts.push_back(std::move(*easy));
    return out;
}

} // namespace marram
