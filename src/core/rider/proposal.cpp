// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/rider/proposal.h"
#include "core/words/phrase.h"

#include <algorithm>

#include <cmath>

namespace marram {

Proposal proposeRhythm(const Background& rider, Date today) {
    Proposal p;
    constexpr int masters = 55, seasoned = 8;
    const auto defer = [&](std::string why) {
        p.offered = false;
        p.why.push_back(std::move(why));
    };
    if (rider.age && *rider.age < 18)
        defer(phrase(
            "Under eighteen: how much is right belongs to those who know the child, a doctor among them."));
    for (const Injury& i : rider.injuries)
        if (i.from <= today && (!i.to || *i.to >= today))
            defer(phrase("%1 is not over: how much is right is for whoever treats it to say.",
                         (i.what.empty() ? phrase("An injury") : i.what)));
    if (rider.cautions)
        defer(phrase("Cautions are written for this rider: read them, and ask whoever looks after them."));
    if (!rider.loadKnown)
        defer(phrase(
            "There are under six weeks of record: enter the hours of a usual week lately, and it can be said "
            "what is a step up from there."));
    if (!p.offered)
        return p;
    const auto recent = [&](const Injury& i) { return !i.to || today - *i.to <= 365; };
    const auto injury = std::find_if(rider.injuries.begin(), rider.injuries.end(), recent);
    const bool injured = injury != rider.injuries.end();
    const bool older = rider.age && *rider.age >= masters;
    if (older)
        p.why.push_back(phrase("At %1 recovery takes longer: two weeks of build to one of deload.",
                               std::to_string(*rider.age)));
    if (rider.slowRecoverer)
        p.why.push_back(phrase("Recovers slowly: two weeks of build to one of deload."));
    if (injured)
        p.why.push_back(
            phrase("%1%2: shorter blocks, a gentler ramp, and the advice of whoever treats it.",
                   (injury->what.empty() ? phrase("An injury") : injury->what),
                   (injury->to ? phrase(" ended less than a year ago") : phrase(" is not over"))));
    if (older || rider.slowRecoverer || injured) {
        p.buildWeeks = 2;
        p.ramp = injured ? 3 : 4;
        return p;
    }
    if (rider.trainingYears && *rider.trainingYears <= 2) {
        p.ramp = 4;
        p.why.push_back(phrase("New to regular training: the ramp stays at 4 points a week."));
    } else if (rider.trainingYears && *rider.trainingYears >= seasoned && rider.fitness >= 70) {
        p.buildWeeks = 4;
        p.ramp = 6;
        p.why.push_back(phrase("Years of training and a fitness of %1: four weeks of build and a ramp of 6 "
                               "can be absorbed. Go back to 3:1 if they can't.",
                               std::to_string(std::lround(rider.fitness))));
    }
    if (p.why.empty())
        p.why.push_back(
            phrase("Nothing speaks against the classic: three weeks of build, one of deload, ramp 5."));
    return p;
}

} // namespace marram
