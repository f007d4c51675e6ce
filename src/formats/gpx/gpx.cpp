// SPDX-License-Identifier: GPL-3.0-or-later
#include "formats/gpx/gpx.h"
#include "core/words/phrase.h"

#include "formats/text/moment.h"

#include <QDateTime>
#include <QXmlStreamWriter>
#include <algorithm>
#include <array>
#include <cmath>
#include <cstring>
#include <libxml/SAX2.h>
#include <libxml/parser.h>
#include <libxml/parserInternals.h>
#include <memory>
#include <span>

namespace marram {
namespace {

constexpr int deepest = 64;
constexpr size_t longestText = 128; ///< of a time or a number; what is longer is neither
constexpr size_t mostAttributes = 256;
constexpr int mostNamespaces = 64;
constexpr const char* notUtf8 = "is not in UTF-8; save it as UTF-8, or export the ride again";

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

std::string_view viewOf(const xmlChar* text) {
    return reinterpret_cast<const char*>(text);
}

/// The line of the first element with more than `mostAttributes` attributes, which libxml2 compares each with
/// each before it tells of any. Right up to the first mistake in the XML, where reading ends anyway.
std::optional<size_t> lineOfCrowdedElement(std::string_view xml) {
    const auto skip = [&](size_t from, std::string_view end) { return xml.find(end, from); };
    size_t at = 0;
    while ((at = xml.find('<', at)) != xml.npos) {
        const std::string_view rest = xml.substr(at);
        if (rest.starts_with("<!--"))
            at = skip(at + 4, "-->");
        else if (rest.starts_with("<![CDATA["))
            at = skip(at + 9, "]]>");
        else if (rest.starts_with("<?"))
            at = skip(at + 2, "?>");
        else {
            size_t attributes = 0;
            char quote = 0;
            for (const size_t start = at++; at < xml.size(); ++at) {
                const char c = xml[at];
                if (quote != 0) {
                    if (c == quote)
                        quote = 0;
                } else if (c == '"' || c == '\'') {
                    quote = c;
                    if (++attributes > mostAttributes)
                        return 1 + static_cast<size_t>(
                                       std::count(xml.begin(), xml.begin() + static_cast<long>(start), '\n'));
                } else if (c == '>') {
                    break;
                }
            }
        }
        if (at == xml.npos)
            break;
    }
    return std::nullopt;
}

void sayNothing(void*, const char*, ...) {} // as libxml2 asks for it

/// Takes track points from what the XML reader finds. The first thing wrong stops it.
class Points {
public:
    /// A course needs no times, and may be a route.
    Points(std::string_view xml, bool course) : rest_(xml), course_(course) {
        static const bool ready = (xmlInitParser(), true); // before any thread of it reads
        // What it says of a conversion, which has no file to it, it would say on standard error.
        xmlSetGenericErrorFunc(nullptr, sayNothing);
        xmlSAXHandler handler{};
        handler.initialized = XML_SAX2_MAGIC;
        handler.startDocument = [](void* self) { of(self).begin(); };
        handler.internalSubset = [](void* self, const xmlChar*, const xmlChar*, const xmlChar*) {
            of(self).stop("declares a document type, which a GPX file has no need of");
        };
        handler.startElementNs = [](void* self, const xmlChar* name, const xmlChar*, const xmlChar*, int,
                                    const xmlChar**, int count, int, const xmlChar** attributes) {
            of(self).open(viewOf(name), {attributes, static_cast<size_t>(count) * 5});
        };
        handler.endElementNs = [](void* self, const xmlChar*, const xmlChar*, const xmlChar*) {
            of(self).close();
        };
        handler.characters = [](void* self, const xmlChar* text, int size) {
            of(self).text(reinterpret_cast<const char*>(text), static_cast<size_t>(size));
        };
        handler.ignorableWhitespace = handler.characters;
        handler.serror = [](void* self, xmlErrorPtr error) { of(self).fail(*error); };
        if (ready)
            parser_.reset(xmlCreateIOParserCtxt(
                &handler, this, [](void* self, char* to, int most) { return of(self).give(to, most); },
                nullptr, this, XML_CHAR_ENCODING_NONE));
    }

    void read() {
        if (!parser_)
            return stop("can't be read: there is no memory for it");
        xmlCtxtUseOptions(parser_.get(), XML_PARSE_NONET);
        xmlParseDocument(parser_.get());
    }

    Recording out;
    std::string problem;  ///< with its line; empty while all is well
    bool badText = false; ///< the problem is a byte or character that can't be

private:
    struct Free {
        void operator()(xmlParserCtxt* parser) const { xmlFreeParserCtxt(parser); }
    };

    static Points& of(void* self) { return *static_cast<Points*>(self); }

    void stop(const std::string& wrong) {
        if (!problem.empty())
            return;
        const int line = parser_ && parser_->input ? parser_->input->line : 1;
        problem = "line " + std::to_string(line) + ": " + wrong;
        if (parser_)
            xmlStopParser(parser_.get());
    }

    /// More of the file, as the XML reader asks for it; nothing once something is wrong.
    int give(char* to, int most) {
        const size_t size = problem.empty() ? std::min(rest_.size(), static_cast<size_t>(most)) : 0;
        std::memcpy(to, rest_.data(), size);
        rest_.remove_prefix(size);
        return static_cast<int>(size);
    }

    void begin() {
        if (foreign())
            stop(notUtf8);
    }

    /// Declared to be in an encoding that is not read.
    bool foreign() const {
        if (!parser_ || !parser_->input)
            return false;
        // UTF-8 is kept by the reader, what has to be turned into it by its input.
        const xmlChar* declared = parser_->input->encoding ? parser_->input->encoding : parser_->encoding;
        constexpr std::array<const char*, 4> read{"UTF-8", "UTF8", "US-ASCII", "ISO-8859-1"};
        return declared && std::none_of(read.begin(), read.end(), [&](const char* one) {
                   return xmlStrcasecmp(declared, BAD_CAST one) == 0;
               });
    }

    /// Told from deep inside the XML reader, which is therefore not stopped here but given nothing more.
    void fail(const xmlError& error) {
        if (error.level != XML_ERR_FATAL || !problem.empty())
            return;
        problem = "line " + std::to_string(std::max(1, error.line)) + ": ";
        if (foreign() || error.code == XML_ERR_UNSUPPORTED_ENCODING ||
            error.code == XML_ERR_UNKNOWN_ENCODING) {
            problem += notUtf8;
            return;
        }
        badText = error.code == XML_ERR_INVALID_ENCODING || error.code == XML_ERR_INVALID_CHAR;
        std::string_view words = error.message ? error.message : "";
        words = trimmed(words.substr(0, std::min<size_t>(words.find('\n'), 100)));
        const bool plain =
            std::all_of(words.begin(), words.end(), [](char c) { return c >= ' ' && c <= '~'; });
        problem += "broken XML" + (plain && !words.empty() ? " (" + std::string(words) + ")" : "") +
                   "; export the ride again";
    }

    void open(std::string_view name, std::span<const xmlChar*> attributes) {
        if (++depth_ > deepest)
            return stop("is nested deeper than " + std::to_string(deepest) + " elements");
        if (parser_->nsNr > 2 * mostNamespaces) // each with its prefix; every name is sought among them
            return stop("has more than " + std::to_string(mostNamespaces) + " namespaces at one place");
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
            // Name, prefix, namespace, begin and end of the value.
            for (size_t i = 0; i < attributes.size(); i += 5) {
                const std::string_view key = viewOf(attributes[i]);
                if (attributes[i + 1] || (key != "lat" && key != "lon"))
                    continue;
                const std::string_view value(reinterpret_cast<const char*>(attributes[i + 3]),
                                             static_cast<size_t>(attributes[i + 4] - attributes[i + 3]));
                (key == "lat" ? latitude : longitude) = parseNumber(trimmed(value));
            }
            if (!latitude || !longitude || std::abs(*latitude) > 90 || std::abs(*longitude) > 180)
                return stop("a track point has no place; it should have lat and lon in degrees");
            sample_.latitude = *latitude;
            sample_.longitude = *longitude;
        } else if (!inPoint_ && !reading_ && depth_ == 3 && name == "type") {
            field_ = Field::Kind;
            reading_ = depth_;
            text_.clear();
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

    enum class Field { Kind, Time, Altitude, HeartRate, Cadence, Power, Temperature };
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

    /// What a track calls itself, where that is no riding.
    void takeKind(std::string text) {
        std::transform(text.begin(), text.end(), text.begin(),
                       [](char c) { return c >= 'A' && c <= 'Z' ? static_cast<char>(c + 32) : c; });
        for (const char* other : {"running", "walking", "hiking", "swimming", "rowing", "skiing", "skating",
                                  "paddling", "mountaineering", "snowboarding"})
            if (text.find(other) != text.npos)
                out.otherSport = other;
    }

    void take(std::string_view text) {
        if (field_ == Field::Kind)
            return takeKind(std::string(text));
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
        case Field::Kind:
            break;
        }
    }

    std::unique_ptr<xmlParserCtxt, Free> parser_;
    std::string_view rest_; ///< not yet given to the XML reader
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
    const std::string_view xml(bytes.constData(), static_cast<size_t>(bytes.size()));
    // Bytes that are no ASCII would be other characters to the XML reader than to us.
    const auto first = xml.starts_with("\xEF\xBB\xBF") ? xml.substr(3) : xml;
    if (!first.empty() && (first[0] != '<' || first.starts_with(std::string_view("<\0", 2))) &&
        std::string_view(" \t\r\n").find(first[0]) == std::string_view::npos)
        return refuse(phrase("line 1: %1", bytes.isValidUtf8() && first[0] != '<'
                                               ? marked("is not GPX; it should begin with <")
                                               : notUtf8));
    if (const auto line = lineOfCrowdedElement(xml))
        return refuse(phrase("line %1: an element has more than %2 attributes, which GPX has no need of",
                             std::to_string(*line), std::to_string(mostAttributes)));
    Points points(xml, course);
    points.read();
    if (!points.problem.empty())
        return refuse(points.badText && !bytes.isValidUtf8()
                          ? points.problem.substr(0, points.problem.find(':') + 2) + translated(notUtf8)
                          : points.problem);
    if (points.out.samples.empty())
        return refuse(course ? phrase("holds no track or route points; a course should have some")
                             : phrase("holds no track points; a ride should have at least one"));
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
        return refuse(phrase("has no heights (ele); a course needs them for its climbs"));
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
        return refuse(phrase("this ride has no places, which GPX is made of; write it as FIT or CSV"));
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
