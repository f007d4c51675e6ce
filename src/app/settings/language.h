// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include <QString>

class QCoreApplication;

namespace marram {

/// Takes a language in force, before the first window: "en", "de", "system" for the desktop's where Marram
/// speaks it, or "pseudo" (English 40 % longer and full of accents, for looking at what clips), "pseudo-rtl"
/// (the same from right to left). Qt's own dialogs follow where their texts are installed. False where there
/// is no such language; English is spoken then.
bool takeLanguage(QCoreApplication& app, const QString& wanted);

} // namespace marram
