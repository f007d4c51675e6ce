// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/shell/against_words.h"
#include "app/theme/theme.h"
#include "wording/wording.h"

#include <algorithm>
#include <cmath>

namespace marram {

QString repetitionsTable(const Against& against) {
    QString rows;
    const auto cell = [](const QString& text) {
        return "<td align='right' style='padding-right:9px'>" + text + "</td>";
    };
    for (size_t i = 0; i < against.repetitions.size() && i < 60; ++i) {
        const Repetition& r = against.repetitions[i];
        const auto whole = [](double v) { return QString::number(std::lround(v)); };
        const auto seconds = [](int s) {
            return QString("%1:%2").arg(s / 60).arg(s % 60, 2, 10, QChar('0'));
        };
        rows += "<tr>" + cell(QString::number(i + 1)) + cell(seconds(r.seconds)) +
                cell(r.allOut ? wording("all out") : whole(r.target)) +
                (r.found ? cell(seconds(r.found->length())) + cell(whole(r.power)) +
                               cell(QString("%1 %").arg(
                                   std::lround(100.0 * r.inTarget / std::max(1, r.found->length())))) +
                               cell(r.heartRate ? whole(*r.heartRate) : "") +
                               cell(QString("%1 %").arg(std::lround(r.fade)))
                         : cell("–") + cell("") + cell("") + cell("") + cell("")) +
                "</tr>";
    }
    return "<table><tr style='color:" + shore().muted.name() + "'>" + cell("") + cell(wording("meant")) +
           cell("W") + cell(wording("found")) + cell("W") + cell(wording("in it")) + cell("bpm") +
           cell(wording("fade")) + "</tr>" + rows + "</table>";
}

} // namespace marram
