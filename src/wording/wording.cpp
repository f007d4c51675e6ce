// SPDX-License-Identifier: GPL-3.0-or-later
#include "wording/wording.h"

namespace marram {

QString decimal(double value, int decimals) {
    QString digits = QString::number(value, 'f', decimals);
    return decimalMark() == '.' ? digits : digits.replace('.', decimalMark());
}

} // namespace marram
