// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "app/season/season_edits.h"

namespace marram {

/// A change worth trying, one click away.
struct SeasonTry {
    QString group; ///< of the menu it stands in; empty: in the menu itself
    QString name;  ///< also the alternative's
    Season season;
};

/// What can be tried from a season: an hour more on a weekday, a week ill or missed, a camp, another school,
/// rhythm or order, a B race more. `day` is the day chosen in the picture, or today.
std::vector<SeasonTry> changesToTry(const SeasonPicture& picture, Date day);

/// What stands beside each other in the sheet of comparisons, by group: schools, rhythms, orders, tapers.
/// Those the season has already are left out.
std::vector<SeasonTry> variantsOf(const Season& season);

} // namespace marram
