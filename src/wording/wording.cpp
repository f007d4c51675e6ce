// SPDX-License-Identifier: GPL-3.0-or-later
#include "wording/wording.h"

namespace marram {

QString pattern(QString text) {
    if (decimalMark() == '.')
        return text;
    // QString puts a figure of %L1 as the default locale writes it.
    for (qsizetype i = text.indexOf('%'); i >= 0 && i + 1 < text.size(); i = text.indexOf('%', i + 1))
        if (text[i + 1] >= '1' && text[i + 1] <= '9')
            text.insert(i + 1, 'L');
    return text;
}

QString withinSentence(const QString& name) {
    return languageCode() == "en" ? name.toLower() : name;
}

QString decimal(double value, int decimals) {
    QString digits = QString::number(value, 'f', decimals);
    return decimalMark() == '.' ? digits : digits.replace('.', decimalMark());
}

} // namespace marram
