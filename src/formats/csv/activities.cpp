// SPDX-License-Identifier: GPL-3.0-or-later
#include "formats/csv/activities.h"
#include "core/words/phrase.h"
#include "formats/csv/lines.h"
#include "formats/text/moment.h"

#include <QRegularExpression>
#include <array>

namespace marram {
namespace {

struct Named {
    int ActivityColumns::*column;
    std::array<const char*, 8> names;
};
constexpr std::array<Named, 5> usualNames{
    {{&ActivityColumns::day,
      {"date", "day", "activity date", "start", "start time", "start date", "datum", "date and time"}},
     {&ActivityColumns::file, {"file", "filename", "file name", "recording", "datei", "", "", ""}},
     {&ActivityColumns::name, {"name", "title", "activity name", "activity", "titel", "ride", "", ""}},
     {&ActivityColumns::effort,
      {"effort", "session effort", "perceived exertion", "rpe", "exertion", "cr-10", "cr10", "belastung"}},
     {&ActivityColumns::note,
      {"note", "notes", "comment", "comments", "description", "activity description", "notiz",
       "private note"}}}};

QByteArray plainName(const QByteArray& name) {
    return name.toLower().replace('_', ' ').replace('-', ' ').simplified();
}

/// What channels of a recording are called: a table of them is no list.
bool isChannel(const QByteArray& name) {
    static const QByteArrayList channels{"power",          "watts",   "heart rate", "heartrate", "hr",
                                         "cadence",        "power w", "watt",       "seconds",   "secs",
                                         "heart rate bpm", "lat",     "latitude"};
    return channels.contains(plainName(name));
}

/// Which part of a date with slashes is the day.
enum class SlashOrder { DayFirst, MonthFirst };

std::optional<int> clock(const QString& text) {
    static const QRegularExpression time("(\\d{1,2}):(\\d{2})(?::(\\d{2}))?\\s*([AaPp][Mm])?");
    const auto found = time.match(text);
    if (!found.hasMatch())
        return std::nullopt;
    int hour = found.captured(1).toInt();
    if (!found.captured(4).isEmpty())
        hour = hour % 12 + (found.captured(4).startsWith('p', Qt::CaseInsensitive) ? 12 : 0);
    const int second = hour * 3600 + found.captured(2).toInt() * 60 + found.captured(3).toInt();
    return hour < 24 && second < 86400 ? std::optional(second) : std::nullopt;
}

std::optional<Date> dayOf(const QString& text, SlashOrder order) {
    static const QRegularExpression iso("^(\\d{4}-\\d{2}-\\d{2})"),
        parts("^(\\d{1,2})([./])(\\d{1,2})[./](\\d{4})"),
        monthFirst("^([A-Za-z]{3})[a-z]*\\.? (\\d{1,2}),? (\\d{4})"),
        dayFirst("^(\\d{1,2})\\.? ([A-Za-z]{3})[a-z]*\\.?,? (\\d{4})");
    const auto written = [](int day, const QString& month, const QString& year) {
        return parseDayText((QString::number(day) + ' ' + month + ' ' + year).toStdString(), Date{});
    };
    if (const auto m = iso.match(text); m.hasMatch())
        return parseDate(m.captured(1).toStdString());
    if (const auto m = parts.match(text); m.hasMatch()) {
        const bool swapped = order == SlashOrder::MonthFirst && m.captured(2) == "/";
        const QString day = m.captured(swapped ? 3 : 1), month = m.captured(swapped ? 1 : 3);
        return parseDate(QString("%1-%2-%3")
                             .arg(m.captured(4))
                             .arg(month.toInt(), 2, 10, QChar('0'))
                             .arg(day.toInt(), 2, 10, QChar('0'))
                             .toStdString());
    }
    if (const auto m = monthFirst.match(text); m.hasMatch())
        return written(m.captured(2).toInt(), m.captured(1), m.captured(3));
    if (const auto m = dayFirst.match(text); m.hasMatch())
        return written(m.captured(1).toInt(), m.captured(2), m.captured(3));
    return std::nullopt;
}

SlashOrder orderOf(const std::vector<QByteArrayList>& rows, int column) {
    static const QRegularExpression slashes("^(\\d{1,2})/(\\d{1,2})/\\d{4}");
    bool monthFirst = false;
    for (const QByteArrayList& cells : rows) {
        const auto m = slashes.match(QString::fromUtf8(cells.value(column)));
        if (m.hasMatch() && m.captured(1).toInt() > 12)
            return SlashOrder::DayFirst;
        monthFirst = monthFirst || (m.hasMatch() && m.captured(2).toInt() > 12);
    }
    return monthFirst ? SlashOrder::MonthFirst : SlashOrder::DayFirst;
}

} // namespace

ActivityColumns recognisedColumns(const QByteArrayList& header) {
    ActivityColumns found;
    for (const Named& n : usualNames)
        for (const char* name : n.names) { // the first of the usual names that is there
            if (*name == 0 || found.*n.column >= 0)
                continue;
            for (qsizetype i = 0; i < header.size(); ++i)
                if (plainName(header[i]) == plainName(name))
                    found.*n.column = static_cast<int>(i);
        }
    return found;
}

std::optional<ActivityHead> activityHead(const QByteArray& text) {
    if (text.isEmpty() || !text.isValidUtf8() || text.left(4096).contains('\0') || text.startsWith('<'))
        return std::nullopt;
    CsvLines lines(text);
    ActivityHead head;
    if (!lines.next(head.columns) || head.columns.size() < 2 || head.columns.size() > CsvLines::mostCells)
        return std::nullopt;
    for (const QByteArray& name : head.columns)
        if (isChannel(name))
            return std::nullopt;
    QByteArrayList cells;
    while (head.rows.size() < 3 && lines.next(cells))
        if (cells.size() == head.columns.size())
            head.rows.push_back(cells);
    return head.rows.empty() ? std::nullopt : std::optional(head);
}

/// Of ten; nothing where it is none.
static std::optional<double> effortFrom(QByteArray cell) {
    const auto effort = parseNumber({cell.replace(',', '.').constData(), static_cast<size_t>(cell.size())});
    return effort && *effort > 0 && *effort <= 10 ? effort : std::nullopt;
}

Result<ActivityList> readActivities(const QByteArray& text, const ActivityColumns& columns) {
    if (!text.isValidUtf8())
        return refuse(phrase("is not in UTF-8; save it as UTF-8"));
    CsvLines lines(text);
    QByteArrayList cells;
    if (!lines.next(cells))
        return refuse(phrase("is empty; its first line should name the columns"));
    std::vector<QByteArrayList> rows;
    std::vector<int> numbers;
    constexpr size_t most = 200000;
    while (lines.next(cells)) {
        if (rows.size() == most)
            return refuse(phrase("holds more than 200 000 lines"));
        rows.push_back(cells);
        numbers.push_back(lines.line());
    }
    const SlashOrder order = orderOf(rows, columns.day);
    ActivityList list;
    for (size_t i = 0; i < rows.size(); ++i) {
        const auto cell = [&](int column) {
            return column >= 0 ? rows[i].value(column).trimmed() : QByteArray();
        };
        Activity a;
        a.line = numbers[i];
        const QString when = QString::fromUtf8(cell(columns.day));
        a.day = dayOf(when, order);
        if (a.day)
            a.second = clock(when);
        a.file = cell(columns.file);
        a.file = a.file.mid(a.file.lastIndexOf('/') + 1);
        const auto words = [&](int column) {
            const QByteArray bytes = cell(column);
            return isPlainText({bytes.constData(), static_cast<size_t>(bytes.size())}) ? bytes : QByteArray();
        };
        a.name = words(columns.name);
        a.note = words(columns.note);
        a.effort = effortFrom(cell(columns.effort));
        if (!a.day && a.file.isEmpty())
            ++list.unread;
        else if (!a.name.isEmpty() || !a.note.isEmpty() || a.effort)
            list.activities.push_back(std::move(a));
    }
    if (list.activities.empty())
        return refuse(phrase("no line has a day like 2027-01-04 and a name, an effort or a note"));
    return list;
}

} // namespace marram
