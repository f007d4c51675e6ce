// SPDX-License-Identifier: GPL-3.0-or-later
#include "formats/gpx/gpx.h"

#include <QBuffer>
#include <QDateTime>
#include <QXmlStreamReader>
#include <QXmlStreamWriter>
#include <algorithm>
#include <array>
#include <cmath>

namespace marram {
namespace {

constexpr int deepest = 64;

double distanceBetween(const Sample& a, const Sample& b) {
    constexpr double radius = 6371008.8, rad = M_PI / 180;
    const double dLat = (b.latitude - a.latitude) * rad, dLon = (b.longitude - a.longitude) * rad;
    const double h = std::pow(std::sin(dLat / 2), 2) + std::cos(a.latitude * rad) *
                                                           std::cos(b.latitude * rad) *
                                                           std::pow(std::sin(dLon / 2), 2);
    return 2 * radius * std::asin(std::min(1.0, std::sqrt(h)));
}

} // namespace

Result<Recording> readGpx(const QByteArray& bytes) {
    // From a device it is read piece by piece; given bytes, the reader would widen all of them at once.
    QBuffer buffer;
    buffer.setData(bytes);
    buffer.open(QIODevice::ReadOnly);
    QXmlStreamReader xml(&buffer);
    xml.setEntityExpansionLimit(64);
    Recording out;
    Sample sample;
    bool inPoint = false, timed = false;
    double travelled = 0;
    int depth = 0;
    const auto where = [&] { return "line " + std::to_string(xml.lineNumber()) + ": "; };
    while (!xml.atEnd()) {
        switch (xml.readNext()) {
        case QXmlStreamReader::DTD:
            return refuse(where() + "declares a document type, which a GPX file has no need of");
        case QXmlStreamReader::StartElement: {
            if (++depth > deepest)
                return refuse(where() + "is nested deeper than " + std::to_string(deepest) + " elements");
            const auto name = xml.name();
            if (depth == 1 && name != QLatin1String("gpx"))
                return refuse(where() + "is not GPX; the outermost element should be gpx");
            if (name == QLatin1String("trkpt")) {
                sample = {};
                timed = false;
                inPoint = true;
                bool okLat = false, okLon = false;
                sample.latitude = xml.attributes().value("lat").toDouble(&okLat);
                sample.longitude = xml.attributes().value("lon").toDouble(&okLon);
                if (!okLat || !okLon || std::abs(sample.latitude) > 90 || std::abs(sample.longitude) > 180)
                    return refuse(where() +
                                  "a track point has no place; it should have lat and lon in degrees");
            } else if (inPoint) {
                const QString key = name.toString().toLower();
                float* to = key == "ele"                                                ? &sample.altitude
                            : key == "hr" || key == "heartrate"                         ? &sample.heartRate
                            : key == "cad" || key == "cadence"                          ? &sample.cadence
                            : key == "power" || key == "powerinwatts" || key == "watts" ? &sample.power
                            : key == "atemp"                                            ? &sample.temperature
                                                                                        : nullptr;
                if (to || key == "time") {
                    const QString text = xml.readElementText(QXmlStreamReader::SkipChildElements).trimmed();
                    --depth;
                    if (to) {
                        bool ok = false;
                        const float value = text.toFloat(&ok);
                        if (ok && std::isfinite(value))
                            *to = value;
                    } else {
                        const QDateTime time = QDateTime::fromString(text, Qt::ISODateWithMs);
                        if (!time.isValid())
                            return refuse(where() + "\"" + text.left(30).toStdString() +
                                          "\" is no time; it should be like 2027-01-04T09:30:00Z");
                        sample.time = static_cast<double>(time.toMSecsSinceEpoch()) / 1000.0;
                        timed = true;
                    }
                }
            }
            break;
        }
        case QXmlStreamReader::EndElement:
            --depth;
            if (xml.name() == QLatin1String("trkpt")) {
                inPoint = false;
                if (!timed)
                    return refuse(where() + "a track point has no time, so this is a route and not a ride");
                if (!out.samples.empty())
                    travelled += distanceBetween(out.samples.back(), sample);
                sample.distance = static_cast<float>(travelled);
                out.samples.push_back(sample);
            }
            break;
        default:
            break;
        }
    }
    if (xml.hasError())
        return refuse(where() + "broken XML (" + xml.errorString().toStdString() +
                      "); export the ride again");
    if (out.samples.empty())
        return refuse("holds no track points; a ride should have at least one");
    return out;
}

namespace {

QString shortest(float v) {
    for (int digits = 6; digits < 9; ++digits)
        if (const QString text = QString::number(static_cast<double>(v), 'g', digits); text.toFloat() == v)
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
    xml.writeTextElement("name", QString::fromUtf8(name));
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
