// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include <QColor>
#include <algorithm>
#include <cmath>

namespace marram::test {

/// Relative luminance and contrast. Source: Web Content Accessibility Guidelines 2.1, 1.4.3 (formula from
/// memory)
inline double luminance(const QColor& c) {
    const auto part = [](double v) { return v <= 0.03928 ? v / 12.92 : std::pow((v + 0.055) / 1.055, 2.4); };
    return 0.2126 * part(c.redF()) + 0.7152 * part(c.greenF()) + 0.0722 * part(c.blueF());
}
inline double contrast(const QColor& a, const QColor& b) {
    const double x = luminance(a), y = luminance(b);
    return (std::max(x, y) + 0.05) / (std::min(x, y) + 0.05);
}

} // namespace marram::test
