// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/words/phrase.h"
#include "formats/csv/csv.h"
#include "formats/csv/lines.h"
#include "formats/text/moment.h"

#include <cmath>

namespace marram {
namespace {

const QByteArrayList columns{"rider",      "date",        "feel",      "sleep", "soreness",
                             "motivation", "rest_hr_bpm", "weight_kg", "ill",   "note"};

std::string quoted(const QByteArray& cell) {
    return "\"" + cell.left(30).toStdString() + "\"";
}

std::optional<bool> yesOrNo(const QByteArray& cell) {
    const QByteArray word = cell.toLower();
    if (word == "yes" || word == "1" || word == "true")
        return true;
    if (word == "no" || word == "0" || word == "false")
        return false;
    return {};
}

std::string takeNumber(const QByteArray& column, const QByteArray& cell, CheckIn& c) {
    bool ok = false;
    const double v = cell.toDouble(&ok);
    if (!ok || !std::isfinite(v))
        return quoted(cell) + " under " + column.toStdString() + " is not a number";
    if (column == "rest_hr_bpm")
        c.restHeartRate = v;
    if (column == "weight_kg")
        c.weightKg = v;
    for (const CheckInScale& s : checkInScales)
        if (column == s.key) {
            if (v != std::floor(v) || v < 1 || v > 5)
                return column.toStdString() + " should be a whole number from 1 to 5";
            c.*s.value = static_cast<int>(v);
        }
    return {};
}

/// Puts one cell into a check-in; what is wrong with it, or nothing.
std::string take(const QByteArray& column, const QByteArray& cell, NamedCheckIn& to) {
    CheckIn& c = to.checkIn;
    if (!isPlainText({cell.constData(), static_cast<size_t>(cell.size())}))
        return column.toStdString() + " holds a control character; take it out";
    if (column == "rider") {
        to.rider = cell;
        return cell.isEmpty() ? "names no rider" : "";
    }
    if (column == "date") {
        const auto date = parseDate(cell.toStdString());
        c.day = date.value_or(Date{});
        return date ? "" : quoted(cell) + " is not a day; a date reads like 2027-01-04";
    }
    if (cell.isEmpty())
        return {};
    if (column == "note") {
        c.note = cell.toStdString();
        return {};
    }
    if (column == "ill") {
        const auto ill = yesOrNo(cell);
        c.ill = ill.value_or(false);
        return ill ? "" : quoted(cell) + " under ill should be yes or no";
    }
    return takeNumber(column, cell, c);
}

} // namespace

Result<std::vector<NamedCheckIn>> readCheckIns(const QByteArray& text) {
    if (!text.isValidUtf8())
        return refuse(phrase("is not in UTF-8; save it as UTF-8"));
    CsvLines lines(text);
    QByteArrayList names, cells;
    if (!lines.next(names))
        return refuse(
            phrase("is empty; its first line should name the columns %1", columns.join(',').toStdString()));
    for (QByteArray& name : names) {
        name = name.toLower();
        if (!columns.contains(name) || names.count(name) > 1)
            return refuse(columns.contains(name)
                              ? phrase("line 1: column %1 comes twice; the header should name %2",
                                       quoted(name), columns.join(',').toStdString())
                              : phrase("line 1: column %1 is unknown; the header should name %2",
                                       quoted(name), columns.join(',').toStdString()));
    }
    if (!names.contains("rider") || !names.contains("date"))
        return refuse(phrase("line 1: the header should name rider and date"));
    std::vector<NamedCheckIn> all;
    while (lines.next(cells)) {
        const std::string where = "line " + std::to_string(lines.line()) + ": ";
        if (cells.size() != names.size())
            return refuse(phrase("%1%2 cells where the header names %3", where, std::to_string(cells.size()),
                                 std::to_string(names.size())));
        NamedCheckIn c;
        for (qsizetype i = 0; i < cells.size(); ++i)
            if (const std::string wrong = take(names[i], cells[i], c); !wrong.empty())
                return refuse(where + wrong);
        if (const std::string wrong = whyImpossible(c.checkIn); !wrong.empty())
            return refuse(where + wrong);
        all.push_back(std::move(c));
    }
    return all;
}

QByteArray writeCheckIns(const std::vector<NamedCheckIn>& all) {
    QByteArray out = csvRow(columns);
    for (const NamedCheckIn& n : all) {
        const CheckIn& c = n.checkIn;
        QByteArrayList cells{n.rider, QByteArray::fromStdString(isoText(c.day))};
        for (const CheckInScale& s : checkInScales)
            cells << (c.*s.value ? QByteArray::number(*(c.*s.value)) : QByteArray());
        cells << csvNumber(c.restHeartRate) << csvNumber(c.weightKg) << (c.ill ? "yes" : "")
              << QByteArray::fromStdString(c.note);
        out += csvRow(cells);
    }
    return out;
}

} // namespace marram
