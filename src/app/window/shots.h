// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "app/window/main_window.h"

namespace marram {

/// Renders the main views of the window into PNG files in a folder. False when one can't be written.
bool takeShots(MainWindow& window, Workspace& workspace, const QString& folder);

} // namespace marram
