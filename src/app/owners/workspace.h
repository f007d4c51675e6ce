// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "app/owners/answers.h"
#include "app/owners/block_service.h"
#include "app/owners/devices.h"
#include "app/owners/inbox.h"
#include "app/owners/listening.h"
#include "app/owners/mondays.h"
#include "app/owners/plan_service.h"
#include "app/owners/squads.h"
#include "app/owners/standings.h"

namespace marram {

/// What the views share, each owner by name. Nothing of its own: it only puts them together in order.
struct Workspace {
    Notices notices;
    Clock clock;
    OpenRoster roster{notices, clock};
    ChosenRider chosen{roster, notices, clock};
    PlanService plans{roster, chosen, notices, clock};
    BlockService blocks{roster, chosen, plans, notices, clock};
    Standings standings{roster, plans, clock};
    Listening listening{roster, chosen, notices, clock};
    Mondays mondays{roster, chosen, notices, clock};
    Answers answers{roster, chosen, notices, clock};
    Squads squads{roster, notices, clock};
    Inbox inbox{roster, notices, clock};
    Devices devices;

    Date today() const { return clock.today(); }
};

} // namespace marram
