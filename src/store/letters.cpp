// SPDX-License-Identifier: GPL-3.0-or-later
#include "store/letters.h"
#include "core/words/phrase.h"
#include "store/looking_back.h"

namespace marram {

Result<Letter> letterOf(const Roster& roster, const RiderRecord& rider, Date week, Date today) {
    const auto facts = lookBack(roster, rider, week, today);
    if (!facts)
        return tl::unexpected(facts.error());
    auto coach = roster.letter(rider.id, week);
    if (!coach)
        return tl::unexpected(coach.error());
    return Letter{rider.name, QString("%1-%2").arg(rider.id, 3, 10, QChar('0')).arg(fileNameOf(rider.name)),
                  mondayOf(*facts, Reads::Rider), std::move(*coach)};
}

Result<int> eachLetter(const Roster& roster, Date week, Date today, const Progress& progress,
                       const std::function<Result<void>(const Letter&)>& take) {
    auto riders = roster.riders();
    if (!riders)
        return tl::unexpected(riders.error());
    std::erase_if(*riders, [](const RiderRecord& r) { return r.archived; });
    int done = 0;
    for (const RiderRecord& rider : *riders) {
        const auto letter = letterOf(roster, rider, week, today);
        if (!letter)
            return refuse(phrase("%1: %2", rider.name.toStdString(), letter.error().sentence));
        if (auto ok = take(*letter); !ok)
            return tl::unexpected(ok.error());
        ++done;
        if (progress && !progress(done, static_cast<int>(riders->size())))
            return refuse(phrase("Cancelled; the letters written so far are there."));
    }
    return done;
}

} // namespace marram
