// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "app/theme/theme.h"

#include <QWidget>

namespace marram {

/// Whether what stands side by side in `pixels` at usual text stands one above the other here: the text is
/// large, or the room is not there.
inline bool needsOneColumn(const QWidget& page, double pixels) {
    return textScale() > 1.2 || page.width() < pixels * textScale();
}

} // namespace marram
