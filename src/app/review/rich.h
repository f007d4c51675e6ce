// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "wording/wording.h"
#include <QColor>
#include <QString>
#include <string>

namespace marram {

/// Words of the core as rich text: a name is text, whatever it is.
inline QString html(const std::string& text) {
    return QString::fromStdString(text).toHtmlEscaped();
}

/// A paragraph of rich text, close to the one before it or `above` pixels under it.
inline QString paragraph(const QString& text, const QColor& colour = {}, int above = 2) {
    return QString("<p style='margin:%1px 0 2px 0%2'>%3</p>")
        .arg(above)
        .arg(colour.isValid() ? "; color:" + colour.name() : QString(), text);
}

/// A heading of a part of a page.
inline QString heading(const QString& text, int above = 10) {
    return paragraph("<b>" + text + "</b>", {}, above);
}

} // namespace marram
