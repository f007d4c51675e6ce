// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/words/phrase.h"
#include "formats/csv/csv.h"
#include "formats/csv/lines.h"
#include "formats/text/moment.h"

#include <QDateTime>
#include <QHash>
#include <cmath>

namespace marram {
namespace {

enum class Column {
    None,
    Time,
    Power,
    HeartRate,
    Cadence,
    Altitude,
    Distance,
    Temperature,
    LeftShare,
    Latitude,
    Longitude,
    Lap
};

Column columnOf(QByteArray name) {
    name = name.toLower().replace(' ', '_').replace('-', '_');
    for (const char* unit : {"_w", "_watts", "_bpm", "_rpm", "_m", "_s", "_c", "_(w)", "_(bpm)", "_(rpm)",
                             "_(m)", "_(s)", "_deg"})
        if (name.endsWith(unit))
            name.chop(static_cast<qsizetype>(qstrlen(unit)));
    static const QHash<QByteArray, Column> names{{"time", Column::Time},
                                                 {"seconds", Column::Time},
                                                 {"secs", Column::Time},
                                                 {"second", Column::Time},
                                                 {"t", Column::Time},
                                                 {"timestamp", Column::Time},
                                                 {"date_time", Column::Time},
                                                 {"datetime", Column::Time},
                                                 {"elapsed", Column::Time},
                                                 {"power", Column::Power},
                                                 {"watts", Column::Power},
                                                 {"heart_rate", Column::HeartRate},
                                                 {"heartrate", Column::HeartRate},
                                                 {"hr", Column::HeartRate},
                                                 {"heart", Column::HeartRate},
                                                 {"cadence", Column::Cadence},
                                                 {"cad", Column::Cadence},
                                                 {"altitude", Column::Altitude},
                                                 {"elevation", Column::Altitude},
                                                 {"alt", Column::Altitude},
                                                 {"distance", Column::Distance},
                                                 {"dist", Column::Distance},
                                                 {"temperature", Column::Temperature},
                                                 {"temp", Column::Temperature},
                                                 {"left_share", Column::LeftShare},
                                                 {"latitude", Column::Latitude},
                                                 {"lat", Column::Latitude},
                                                 {"longitude", Column::Longitude},
                                                 {"lon", Column::Longitude},
                                                 {"lap", Column::Lap}};
    return names.value(name, Column::None);
}

/// A number with a point, or with a comma where the comma does not separate cells. Beyond a thousand million
/// nothing a ride holds is a number.
std::optional<double> number(QByteArray cell, char separator) {
    if (separator != ',')
        cell.replace(',', '.');
    const auto value = parseNumber({cell.constData(), static_cast<size_t>(cell.size())});
    return value && std::abs(*value) <= 1e9 ? value : std::nullopt;
}

std::optional<double> moment(const QByteArray& cell, char separator, Recording& out) {
    constexpr double dated = 1e8, latest = 4.2e9; // from the start below, from the epoch above
    if (const auto seconds = parseNumber({cell.constData(), static_cast<size_t>(cell.size())});
        seconds && *seconds > 1e9)
        return *seconds <= latest ? seconds : std::nullopt;
    if (const auto seconds = number(cell, separator)) {
        if (*seconds < 0)
            return std::nullopt;
        if (out.samples.empty())
            out.dated = *seconds > dated;
        return seconds;
    }
    const auto when = parseMoment({cell.constData(), static_cast<size_t>(cell.size())});
    if (!when)
        return std::nullopt;
    if (!out.utcOffset) // the first one decides the day
        out.utcOffset = when->utcOffset;
    return when->seconds;
}

float* fieldOf(Sample& s, Column column) {
    switch (column) {
    case Column::Power:
        return &s.power;
    case Column::HeartRate:
        return &s.heartRate;
    case Column::Cadence:
        return &s.cadence;
    case Column::Altitude:
        return &s.altitude;
    case Column::Distance:
        return &s.distance;
    case Column::Temperature:
        return &s.temperature;
    case Column::LeftShare:
        return &s.leftShare;
    default:
        return nullptr;
    }
}

/// A float in the fewest digits that read back as the same float.
QByteArray shortest(float v) {
    for (int digits = 6; digits < 9; ++digits)
        if (QByteArray text = QByteArray::number(static_cast<double>(v), 'g', digits); text.toFloat() == v)
            return text;
    return QByteArray::number(static_cast<double>(v), 'g', 9);
}

std::string at(int line) {
    return "line " + std::to_string(line) + ": ";
}

/// What each column of a header is; refused without one of times and one Marram knows.
Result<std::vector<Column>> columnsOf(const QByteArrayList& cells, int line) {
    if (cells.size() > CsvLines::mostCells)
        return refuse(phrase("%1names more than %2 columns", at(line), std::to_string(CsvLines::mostCells)));
    std::vector<Column> columns;
    bool time = false, value = false;
    for (const QByteArray& name : cells) {
        columns.push_back(columnOf(name));
        time = time || columns.back() == Column::Time;
        value = value || (columns.back() != Column::Time && columns.back() != Column::None);
    }
    if (!time)
        return refuse(
            phrase("%1no column of times; the header should name one `seconds` or `time`", at(line)));
    if (!value)
        return refuse(
            phrase("%1no column Marram knows; the header should name `power` or `heart_rate`", at(line)));
    return columns;
}

} // namespace

namespace {

/// A lap lasts as long as its number.
struct LapColumn {
    std::optional<double> lap;
    double start = 0;

    void take(double number, double time, Recording& out) {
        if (lap == number)
            return;
        end(time, out);
        lap = number;
        start = time;
    }
    void end(double time, Recording& out) const {
        if (lap)
            out.laps.push_back({start, time});
    }
};

/// False where the column holds numbers and this is none.
bool put(Column column, std::optional<double> v, Sample& s, std::optional<double>& lap) {
    float* field = fieldOf(s, column);
    if (!field && column < Column::Latitude)
        return true;
    if (!v)
        return false;
    if (field)
        *field = static_cast<float>(*v);
    else if (column == Column::Lap)
        lap = v;
    else
        (column == Column::Latitude ? s.latitude : s.longitude) = *v;
    return true;
}

} // namespace

Result<Recording> readCsvRecording(const QByteArray& text) {
    CsvLines lines(text);
    QByteArrayList cells;
    if (!lines.next(cells))
        return refuse(phrase("is empty; its first line should name the columns"));
    const auto named = columnsOf(cells, lines.line());
    if (!named)
        return tl::unexpected(named.error());
    const std::vector<Column>& columns = *named;
    Recording out;
    LapColumn laps;
    while (lines.next(cells)) {
        if (cells.size() != static_cast<qsizetype>(columns.size()))
            return refuse(phrase("%1%2 cells where the header names %3", at(lines.line()),
                                 std::to_string(cells.size()), std::to_string(columns.size())));
        Sample s;
        std::optional<double> lapHere;
        for (size_t i = 0; i < columns.size(); ++i) {
            const QByteArray& cell = cells[static_cast<qsizetype>(i)];
            if (columns[i] == Column::Time) {
                const auto when = moment(cell, lines.separator(), out);
                if (!when)
                    return refuse(
                        phrase("%1\"%2\" is no time; it should be seconds or like 2027-01-04T09:30:00Z",
                               at(lines.line()), cell.left(30).toStdString()));
                s.time = *when;
            } else if (!cell.isEmpty()) {
                const auto v = number(cell, lines.separator());
                if (!put(columns[i], v, s, lapHere))
                    return refuse(
                        phrase("%1\"%2\" is not a number", at(lines.line()), cell.left(30).toStdString()));
            }
        }
        if (lapHere)
            laps.take(*lapHere, s.time, out);
        if (out.samples.size() == mostSamples)
            return refuse(phrase("%1holds more than %2 rows, which no ride has", at(lines.line()),
                                 std::to_string(mostSamples)));
        out.samples.push_back(s);
    }
    if (!out.samples.empty())
        laps.end(out.samples.back().time + 1, out);
    if (out.samples.empty())
        return refuse(phrase("holds no rows under its header"));
    return out;
}

QByteArray writeCsvRecording(const Recording& recording) {
    QByteArray out = "time,power_w,heart_rate_bpm,cadence_rpm,altitude_m,distance_m,temperature_c,left_share,"
                     "latitude_deg,longitude_deg,lap\n";
    const auto cell = [&](double v) {
        out += ',';
        if (std::isfinite(v))
            out += QByteArray::number(v, 'g', QLocale::FloatingPointShortest);
    };
    const auto single = [&](float v) {
        out += ',';
        if (std::isfinite(v))
            out += shortest(v);
    };
    size_t lap = 0;
    for (const Sample& s : recording.samples) {
        while (lap < recording.laps.size() && s.time >= recording.laps[lap].end)
            ++lap;
        const auto ms = static_cast<qint64>(std::llround(s.time * 1000));
        out += QDateTime::fromMSecsSinceEpoch(ms, Qt::UTC)
                   .toString(ms % 1000 ? Qt::ISODateWithMs : Qt::ISODate)
                   .toLatin1();
        for (const float v :
             {s.power, s.heartRate, s.cadence, s.altitude, s.distance, s.temperature, s.leftShare})
            single(v);
        cell(s.latitude);
        cell(s.longitude);
        out += ',';
        if (lap < recording.laps.size() && s.time >= recording.laps[lap].start)
            out += QByteArray::number(static_cast<qulonglong>(lap) + 1);
        out += '\n';
    }
    return out;
}

} // namespace marram
