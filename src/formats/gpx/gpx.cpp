// SPDX-License-Identifier: GPL-3.0-or-later
#include "formats/gpx/gpx.h"

#include "formats/text/moment.h"

#include <QDateTime>
#include <QXmlStreamWriter>
#include <algorithm>
#include <array>
#include <cmath>
#include <expat.h>
#include <memory>

namespace marram {
namespace {

constexpr int deepest = 64;
constexpr size_t longestText = 128; ///< of a time or a number; what is longer is neither

double distanceBetween(const Sample& a, const Sample& b) {
    constexpr double radius = 6371008.8, rad = M_PI / 180;
    const double dLat = (b.latitude - a.latitude) * rad, dLon = (b.longitude - a.longitude) * rad;
    const double h = std::pow(std::sin(dLat / 2), 2) + std::cos(a.latitude * rad) *
                                                           std::cos(b.latitude * rad) *
                                                           std::pow(std::sin(dLon / 2), 2);
    return 2 * radius * std::asin(std::min(1.0, std::sqrt(h)));
}

std::string_view trimmed(std::string_view text) {
    constexpr std::string_view space = " \t\r\n";
    const auto first = text.find_first_not_of(space);
    return first == text.npos ? std::string_view()
                              : text.substr(first, text.find_last_not_of(space) - first + 1);
}

/// Takes track points from what the XML reader finds. The first thing wrong stops it.
class Points {
public:
    /// A course needs no times, and may be a route.
    Points(XML_Parser parser, bool course) : parser_(parser), course_(course) {
        XML_SetUserData(parser, this);
        XML_SetStartDoctypeDeclHandler(parser, [](void* self, const char*, const char*, const char*, int) {
            of(self).stop("declares a document type, which a GPX file has no need of");
        });
        XML_SetElementHandler(
            parser, [](void* self, const char* name, const char** pairs) { of(self).open(name, pairs); },
            [](void* self, const char*) { of(self).close(); });
        XML_SetCharacterDataHandler(parser, [](void* self, const char* text, int size) {
            of(self).text(text, static_cast<size_t>(size));
        });
    }

    Recording out;
    std::string problem; ///< with its line; empty while all is well

private:
    static Points& of(void* self) { return *static_cast<Points*>(self); }

    void stop(const std::string& wrong) {
        if (!problem.empty())
            return;
        problem = "line " + std::to_string(XML_GetCurrentLineNumber(parser_)) + ": " + wrong;
        XML_StopParser(parser_, XML_FALSE);
    }

    /// The name without the prefix of its namespace.
    static std::string_view local(std::string_view name) {
        const auto colon = name.rfind(':');
        return colon == name.npos ? name : name.substr(colon + 1);
    }

    void open(const char* qualified, const char** pairs) {
        const std::string_view name = local(qualified);
        if (++depth_ > deepest)
            return stop("is nested deeper than " + std::to_string(deepest) + " elements");
        if (depth_ == 1 && name != "gpx")
            return stop("is not GPX; the outermost element should be gpx");
        if (name == "trkpt" || (course_ && name == "rtept")) {
            if (name == "rtept" && !onRoute_) {
                if (!out.samples.empty())
                    return; // the track is the way; the route repeats it
                onRoute_ = true;
            } else if (name == "trkpt" && onRoute_) {
                onRoute_ = false;
                out.samples.clear();
                travelled_ = 0;
            }
            sample_ = {};
            timed_ = false;
            inPoint_ = depth_;
            std::optional<double> latitude, longitude;
            for (; *pairs; pairs += 2)
                if (const std::string_view key = pairs[0]; key == "lat")
                    latitude = parseNumber(trimmed(pairs[1]));
                else if (key == "lon")
                    longitude = parseNumber(trimmed(pairs[1]));
            if (!latitude || !longitude || std::abs(*latitude) > 90 || std::abs(*longitude) > 180)
                return stop("a track point has no place; it should have lat and lon in degrees");
            sample_.latitude = *latitude;
            sample_.longitude = *longitude;
        } else if (inPoint_ && !reading_) {
            if (const auto field = fieldOf(name)) {
                field_ = *field;
                reading_ = depth_;
                text_.clear();
            }
        }
    }

    void text(const char* text, size_t size) {
        // Text of what lies inside a field is none of the field's.
        if (reading_ == depth_ && reading_ != 0 && text_.size() < longestText)
            text_.append(text, std::min(size, longestText - text_.size()));
    }

    void close() {
        const int depth = depth_--;
        if (reading_ == depth && depth != 0) {
            reading_ = 0;
            take(trimmed(text_));
        } else if (inPoint_ == depth && depth != 0) {
            inPoint_ = 0;
            if (!timed_ && !course_)
                return stop("a track point has no time, so this is a route and not a ride");
            if (out.samples.size() == mostSamples)
                return stop("holds more than " + std::to_string(mostSamples) + " points, which no ride has");
            if (!out.samples.empty())
                travelled_ += distanceBetween(out.samples.back(), sample_);
            sample_.distance = static_cast<float>(travelled_);
            out.samples.push_back(sample_);
        }
    }

    enum class Field { Time, Altitude, HeartRate, Cadence, Power, Temperature };
    static std::optional<Field> fieldOf(std::string_view name) {
        if (name.size() > 12)
            return std::nullopt;
        std::array<char, 12> lower{};
        std::transform(name.begin(), name.end(), lower.begin(),
                       [](char c) { return c >= 'A' && c <= 'Z' ? static_cast<char>(c + 32) : c; });
        const std::string_view key(lower.data(), name.size());
        if (key == "time")
            return Field::Time;
        if (key == "ele")
            return Field::Altitude;
        if (key == "hr" || key == "heartrate")
            return Field::HeartRate;
        if (key == "cad" || key == "cadence")
            return Field::Cadence;
        if (key == "power" || key == "powerinwatts" || key == "watts")
            return Field::Power;
        if (key == "atemp")
            return Field::Temperature;
        return std::nullopt;
    }

    void take(std::string_view text) {
        if (field_ == Field::Time) {
            const auto when = parseMoment(text);
            if (!when)
                return stop("\"" + std::string(text.substr(0, 30)) +
                            "\" is no time; it should be like 2027-01-04T09:30:00Z");
            sample_.time = when->seconds;
            timed_ = true;
            if (!out.utcOffset) // the first one decides the day
                out.utcOffset = when->utcOffset;
            return;
        }
        const auto value = parseNumber(text);
        if (!value || std::abs(*value) > 1e9)
            return;
        const auto number = static_cast<float>(*value);
        switch (field_) {
        case Field::Altitude:
            sample_.altitude = number;
            break;
        case Field::HeartRate:
            sample_.heartRate = number;
            break;
        case Field::Cadence:
            sample_.cadence = number;
            break;
        case Field::Power:
            sample_.power = number;
            break;
        case Field::Temperature:
            sample_.temperature = number;
            break;
        case Field::Time:
            break;
        }
    }

    XML_Parser parser_;
    Sample sample_;
    std::string text_;
    double travelled_ = 0;
    Field field_ = Field::Time;                 ///< what is being read
    int depth_ = 0, inPoint_ = 0, reading_ = 0; ///< depths, 0 for outside
    bool timed_ = false;
    bool course_ = false, onRoute_ = false;
};

} // namespace

namespace {

Result<Recording> read(const QByteArray& bytes, bool course) {
    const std::unique_ptr<XML_ParserStruct, decltype(&XML_ParserFree)> parser(XML_ParserCreate(nullptr),
                                                                              XML_ParserFree);
    Points points(parser.get(), course);
    constexpr qsizetype piece = 1 << 18;
    for (qsizetype at = 0; at < bytes.size(); at += piece) {
        const qsizetype size = std::min(piece, bytes.size() - at);
        if (XML_Parse(parser.get(), bytes.constData() + at, static_cast<int>(size),
                      at + size == bytes.size()) == XML_STATUS_OK)
            continue;
        if (!points.problem.empty())
            return refuse(points.problem);
        const auto error = XML_GetErrorCode(parser.get());
        const std::string line = "line " + std::to_string(XML_GetCurrentLineNumber(parser.get())) + ": ";
        if (error == XML_ERROR_UNKNOWN_ENCODING || (error == XML_ERROR_INVALID_TOKEN && !bytes.isValidUtf8()))
            return refuse(line + "is not in UTF-8; save it as UTF-8, or export the ride again");
        return refuse(line + "broken XML (" + XML_ErrorString(error) + "); export the ride again");
    }
    if (points.out.samples.empty())
        return refuse(course ? "holds no track or route points; a course should have some"
                             : "holds no track points; a ride should have at least one");
    return std::move(points.out);
}

} // namespace

Result<Recording> readGpx(const QByteArray& bytes) {
    return read(bytes, false);
}

Result<std::vector<CoursePoint>> readGpxCourse(const QByteArray& bytes) {
    const auto way = read(bytes, true);
    if (!way)
        return tl::unexpected(way.error());
    const auto& samples = way->samples;
    const auto known = std::find_if(samples.begin(), samples.end(),
                                    [](const Sample& s) { return std::isfinite(s.altitude); });
    if (known == samples.end())
        return refuse("has no heights (ele); a course needs them for its climbs");
    std::vector<CoursePoint> course;
    double height = static_cast<double>(known->altitude);
    size_t next = 0;
    for (size_t i = 0; i < samples.size(); ++i) {
        const double at = static_cast<double>(samples[i].distance);
        if (std::isfinite(samples[i].altitude)) {
            height = static_cast<double>(samples[i].altitude);
        } else {
            // Between two known heights it goes straight.
            next = std::max(next, i);
            while (next < samples.size() && !std::isfinite(samples[next].altitude))
                ++next;
            if (next < samples.size() && i > 0) {
                const double span = static_cast<double>(samples[next].distance) - course.back().distance;
                const double part = span > 0 ? (at - course.back().distance) / span : 1;
                height += part * (static_cast<double>(samples[next].altitude) - height);
            }
        }
        course.push_back({at, height});
    }
    return course;
}

namespace {

QString shortest(float v) {
    for (int digits = 6; digits < 9; ++digits)
        if (QString text = QString::number(static_cast<double>(v), 'g', digits); text.toFloat() == v)
            return text;
    return QString::number(static_cast<double>(v), 'g', 9);
}

void writePoint(QXmlStreamWriter& xml, const Sample& s) {
    xml.writeStartElement("trkpt");
    xml.writeAttribute("lat", QString::number(s.latitude, 'f', 8));
    xml.writeAttribute("lon", QString::number(s.longitude, 'f', 8));
    if (std::isfinite(s.altitude))
        xml.writeTextElement("ele", shortest(s.altitude));
    const auto ms = static_cast<qint64>(std::llround(s.time * 1000));
    xml.writeTextElement(
        "time",
        QDateTime::fromMSecsSinceEpoch(ms, Qt::UTC).toString(ms % 1000 ? Qt::ISODateWithMs : Qt::ISODate));
    const std::array<std::pair<const char*, float>, 4> more{
        {{"hr", s.heartRate}, {"cad", s.cadence}, {"power", s.power}, {"atemp", s.temperature}}};
    if (std::any_of(more.begin(), more.end(), [](const auto& m) { return std::isfinite(m.second); })) {
        xml.writeStartElement("extensions");
        for (const auto& [name, value] : more)
            if (std::isfinite(value))
                xml.writeTextElement(name, shortest(value));
        xml.writeEndElement();
    }
    xml.writeEndElement();
}

} // namespace

Result<QByteArray> writeGpx(const Recording& recording, const QByteArray& name) {
    const auto placed = [](const Sample& s) {
        return std::isfinite(s.latitude) && std::isfinite(s.longitude);
    };
    if (std::none_of(recording.samples.begin(), recording.samples.end(), placed))
        return refuse("this ride has no places, which GPX is made of; write it as FIT or CSV");
    QByteArray out;
    QXmlStreamWriter xml(&out);
    xml.setAutoFormatting(true);
    xml.setAutoFormattingIndent(1);
    xml.writeStartDocument();
    xml.writeStartElement("gpx");
    xml.writeDefaultNamespace("http://www.topografix.com/GPX/1/1");
    xml.writeAttribute("version", "1.1");
    xml.writeAttribute("creator", "Marram");
    xml.writeStartElement("trk");
    xml.writeTextElement("name", isPlainText({name.constData(), static_cast<size_t>(name.size())})
                                     ? QString::fromUtf8(name)
                                     : QString("Ride"));
    xml.writeStartElement("trkseg");
    double last = std::numeric_limits<double>::quiet_NaN();
    for (const Sample& s : recording.samples) {
        if (!placed(s))
            continue;
        if (s.time - last > longestHeldGap) {
            xml.writeEndElement();
            xml.writeStartElement("trkseg");
        }
        last = s.time;
        writePoint(xml, s);
    }
    xml.writeEndDocument();
    return out;
}

} // namespace marram
