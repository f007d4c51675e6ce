// SPDX-License-Identifier: GPL-3.0-or-later
#include "formats/csv/plan_csv.h"
#include "formats/csv/lines.h"

namespace marram {
QByteArray writePlanCsv(const Season& season, const Plan& plan) {
    QByteArray out = csvRow({"date", "weekday", "week_kind", "phase", "role", "hours", "stress", "fitness",
                             "fatigue", "form", "race"});
    size_t w = 0;
    for (const PlannedDay& day : plan.days) {
        while (w + 1 < plan.weeks.size() && monday(plan.weeks[w].start) < monday(day.date))
            ++w;
        QByteArray race;
        for (const Race& r : season.races)
            if (r.date <= day.date && day.date < r.date + r.days)
                race += (race.isEmpty() ? "" : "; ") + QByteArray::fromStdString(r.name);
        out += csvRow({QByteArray::fromStdString(isoText(day.date)),
                       QByteArray::fromStdString(weekdayText(day.date)),
                       w < plan.weeks.size() ? nameOf(plan.weeks[w].kind) : "",
                       w < plan.weeks.size() ? nameOf(plan.weeks[w].phase) : "", nameOf(day.role),
                       csvNumber(day.hours), csvNumber(day.stress), csvNumber(day.fitness),
                       csvNumber(day.fatigue), csvNumber(day.form), race});
    }
    return out;
}

} // namespace marram
