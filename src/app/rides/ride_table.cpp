// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/rides/ride_table.h"
#include "app/rides/ride_words.h"
#include "app/theme/theme.h"
#include "wording/wording.h"

#include <algorithm>
#include <map>

namespace marram {

QString clockText(int seconds) {
    return QString("%1:%2").arg(seconds / 3600).arg(seconds / 60 % 60, 2, 10, QChar('0'));
}

static std::map<Date, DayWork> riddenByDay(const std::vector<RideRecord>& rides) {
    std::map<Date, DayWork> ridden;
    for (const RideRecord& r : rides) {
        if (r.excluded)
            continue;
        DayWork& day = ridden[r.day];
        day.hours += r.score.duration / 3600.0;
        if (r.score.stress)
            day.stress = day.stress.value_or(0) + *r.score.stress;
    }
    return ridden;
}

std::vector<RideRow> rideRows(const std::vector<RideRecord>& rides, const std::vector<SolvedDay>& planned,
                              Date today) {
    std::map<Date, DayWork> plan, ridden = riddenByDay(rides);
    for (const SolvedDay& d : planned)
        if (d.date <= today)
            plan[d.date] = {d.hours, d.stress};
    std::vector<std::pair<DayWork, DayWork>> both;
    constexpr int lately = 180;
    for (const auto& [day, work] : plan)
        if (const auto found = ridden.find(day); found != ridden.end() && today - day <= lately)
            both.push_back({work, found->second});
    const PlanSpread spread = spreadFromPlan(both);
    std::vector<RideRow> rows;
    for (const RideRecord& r : rides) {
        RideRow row{r.day, r, std::nullopt, {}, {}};
        if (const auto p = plan.find(r.day); p != plan.end()) {
            row.planned = p->second.stress;
            row.verdict = judgeDay(p->second, ridden[r.day], spread);
        }
        rows.push_back(row);
    }
    for (const auto& [day, work] : plan)
        if (const DayVerdict v = judgeDay(work, {}, spread);
            v.kind == DayVerdict::Kind::Missed && !ridden.contains(day) && day < today)
            rows.push_back({day, std::nullopt, work.stress, v, {}});
    std::stable_sort(rows.begin(), rows.end(), [](const RideRow& a, const RideRow& b) {
        return a.day != b.day ? a.day > b.day : a.ride && b.ride && a.ride->score.start > b.ride->score.start;
    });
    return rows;
}

void RideTable::show(std::vector<RideRow> rows, Date today) {
    beginResetModel();
    today_ = today;
    rows_ = std::move(rows);
    endResetModel();
}

QVariant RideTable::headerData(int section, Qt::Orientation orientation, int role) const {
    static const char* names[] = {marked("Day"),    marked("Time"), marked("Planned"),
                                  marked("Ridden"), marked("By"),   marked("Against plan")};
    if (orientation != Qt::Horizontal)
        return {};
    if (role == Qt::DisplayRole)
        return wording(names[section]);
    if (role == Qt::TextAlignmentRole)
        return QVariant((section == 0 || section >= 4 ? Qt::AlignLeft : Qt::AlignRight) | Qt::AlignVCenter);
    return {};
}

static QString againstPlan(const RideRow& r) {
    if (r.ride && r.ride->excluded)
        return wording("set aside");
    if (!r.laid.empty())
        return QString::fromStdString(r.laid);
    return !r.planned ? wording("no plan kept") : QString::fromStdString(wordsFor(r.verdict));
}

static QString textOf(const RideRow& r, int column, Date today) {
    const QString none = QString("–");
    switch (column) {
    case 0:
        return QString::fromStdString(shortDayText(r.day, today));
    case 1:
        return r.ride ? clockText(r.ride->score.duration) : none;
    case 2:
        return r.planned ? decimal(*r.planned, 0) : none;
    case 3:
        return r.ride && r.ride->score.stress ? decimal(*r.ride->score.stress, 0) : none;
    case 4:
        return r.ride ? methodWords(r.ride->score) + (r.ride->score.indoors ? wording(" · indoors") : "")
                      : QString();
    default:
        return againstPlan(r);
    }
}

QVariant RideTable::data(const QModelIndex& index, int role) const {
    const RideRow& r = row(index.row());
    const int column = index.column();
    if (role == Qt::TextAlignmentRole)
        return QVariant((column == 0 || column >= 4 ? Qt::AlignLeft : Qt::AlignRight) | Qt::AlignVCenter);
    if (role == Qt::ForegroundRole) {
        if (!r.ride || r.ride->excluded)
            return shore().muted;
    }
    if (role != Qt::DisplayRole)
        return {};
    return textOf(r, column, today_);
}

} // namespace marram

#include "moc_ride_table.cpp"
