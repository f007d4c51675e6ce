// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include <QRegularExpression>
#include <QString>

namespace marram {

/// Rich text whose <b> and headings stand in the half-bold that ships, where Qt would smear a bold of its
/// own.
inline QString semiBold(QString html) {
    static const QRegularExpression styled("<b style='([^']*)'>"), heading("<(h[1-6]|th)>");
    return html.replace("<b>", "<span style='font-weight:600'>")
        .replace(styled, "<span style='font-weight:600;\\1'>")
        .replace("</b>", "</span>")
        .replace(heading, "<\\1 style='font-weight:600'>");
}

} // namespace marram
