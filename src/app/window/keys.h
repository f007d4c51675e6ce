// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "app/window/main_window.h"

namespace marram {

/// What keys and mouse do in a view beside the actions of the menus, as rich text; empty for a view without.
QString keysOf(Place place);

} // namespace marram
