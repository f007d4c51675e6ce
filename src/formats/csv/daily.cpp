// SPDX-License-Identifier: GPL-3.0-or-later
#include "formats/csv/csv.h"
#include "formats/csv/lines.h"

#include <cmath>

namespace marram {
namespace {

constexpr double mostStressADay = 10000; // four days and nights at threshold

} // namespace

Result<std::map<Date, double>> readDailyStress(const QByteArray& text) {
    if (!text.isValidUtf8())
        return refuse("is not in UTF-8; save it as UTF-8");
    CsvLines lines(text);
    QByteArrayList cells;
    std::map<Date, double> days;
    bool header = true;
    while (lines.next(cells)) {
        const std::string where = "line " + std::to_string(lines.line()) + ": ";
        if (header) {
            header = false;
            if (cells.size() != 2 || cells[0].toLower() != "date" || cells[1].toLower() != "stress")
                return refuse(where + "the header should be date,stress");
            continue;
        }
        if (cells.size() != 2)
            return refuse(where + std::to_string(cells.size()) +
                          " cells; each line should be a date and a stress");
        const auto date = parseDate(cells[0].toStdString());
        if (!date)
            return refuse(where + "\"" + cells[0].left(30).toStdString() +
                          "\" is not a day; a date reads like 2027-01-04");
        bool ok = false;
        const double stress = cells[1].toDouble(&ok);
        if (!ok || !std::isfinite(stress) || stress < 0 || stress > mostStressADay)
            return refuse(where + "\"" + cells[1].left(30).toStdString() +
                          "\" is not a stress; it should be 0 to 10000 points");
        if ((days[*date] += stress) > mostStressADay)
            return refuse(where + isoText(*date) + " sums to more than 10000 points");
    }
    if (days.empty())
        return refuse("holds no days; it should hold lines of date,stress");
    if (days.rbegin()->first - days.begin()->first > 60 * 366)
        return refuse("spans more than 60 years, " + isoText(days.begin()->first) + " to " +
                      isoText(days.rbegin()->first));
    return days;
}

} // namespace marram
