// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/words/phrase.h"
#include "formats/csv/csv.h"
#include "formats/csv/lines.h"

#include <cmath>

namespace marram {
namespace {

constexpr double mostStressADay = 10000; // four days and nights at threshold

} // namespace

static std::optional<double> stressFrom(const QByteArray& cell) {
    bool ok = false;
    const double stress = cell.toDouble(&ok);
    if (!ok || !std::isfinite(stress) || stress < 0 || stress > mostStressADay)
        return {};
    return stress;
}

Result<std::map<Date, double>> readDailyStress(const QByteArray& text) {
    if (!text.isValidUtf8())
        return refuse(phrase("is not in UTF-8; save it as UTF-8"));
    CsvLines lines(text);
    QByteArrayList cells;
    std::map<Date, double> days;
    bool header = true;
    while (lines.next(cells)) {
        const std::string where = "line " + std::to_string(lines.line()) + ": ";
        if (header) {
            header = false;
            if (cells.size() != 2 || cells[0].toLower() != "date" || cells[1].toLower() != "stress")
                return refuse(phrase("%1the header should be date,stress", where));
            continue;
        }
        if (cells.size() != 2)
            return refuse(phrase("%1%2 cells; each line should be a date and a stress", where,
                                 std::to_string(cells.size())));
        const auto date = parseDate(cells[0].toStdString());
        if (!date)
            return refuse(phrase("%1\"%2\" is not a day; a date reads like 2027-01-04", where,
                                 cells[0].left(30).toStdString()));
        const auto stress = stressFrom(cells[1]);
        if (!stress)
            return refuse(phrase("%1\"%2\" is not a stress; it should be 0 to 10000 points", where,
                                 cells[1].left(30).toStdString()));
        if ((days[*date] += *stress) > mostStressADay)
            return refuse(phrase("%1%2 sums to more than 10000 points", where, isoText(*date)));
    }
    if (days.empty())
        return refuse(phrase("holds no days; it should hold lines of date,stress"));
    if (days.rbegin()->first - days.begin()->first > 60 * 366)
        return refuse(phrase("spans more than 60 years, %1 to %2", isoText(days.begin()->first),
                             isoText(days.rbegin()->first)));
    return days;
}

} // namespace marram
