// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/settings/settings.h"
#include "wording/wording.h"

#include <QDBusConnection>
#include <QDBusMessage>
#include <QDBusVariant>
#include <QJsonDocument>
#include <QJsonObject>
#include <QLocale>
#include <QSettings>
#include <algorithm>
#include <stdexcept>

namespace marram {
namespace {

using Kind = Setting::Kind;

Setting folder(const char* key, const char* name, const char* what, const char* also = "") {
    return {key, marked("Folders"), name, what, also, Kind::Folder, QString(), {}};
}

Setting number(const char* key, const char* group, const char* name, const char* what, const char* also,
               const QVariant& usual, double low, double high, double step, const char* unit) {
    return {key, group, name, what, also, Kind::Number, usual, {}, low, high, step, unit};
}

std::vector<Setting> everySetting() {
    return {
        {"theme",
         marked("Appearance"),
         marked("Theme"),
         marked("Light, dark, or with strong contrast; Ctrl+T changes between light and dark."),
         marked("colour dark light night contrast accessibility"),
         Kind::Choice,
         "desktop",
         {{"desktop", marked("as the desktop asks")},
          {"light", marked("light")},
          {"dark", marked("dark")},
          {"strong", marked("strong contrast, light")},
          {"strong-dark", marked("strong contrast, dark")}}},
        number("textScale", marked("Appearance"), marked("Size of text"),
               marked("All text and what is measured by it; Ctrl++ and Ctrl+-."),
               marked("font zoom bigger scale accessibility"), 1.0, 0.8, 2.0, 0.1, "×"),
        {"language",
         marked("Appearance"),
         marked("Language"),
         marked("Of the window, and of what riders are sent. Taken up when Marram opens again."),
         marked("german english deutsch sprache words"),
         Kind::Choice,
         "system",
         {{"system", marked("as the desktop has it")}, {"en", "English"}, {"de", "Deutsch"}}},
        {"movement",
         marked("Appearance"),
         marked("Movement"),
         marked("Whether anything moves by itself, such as a busy line."),
         marked("animation reduced motion still accessibility"),
         Kind::Choice,
         "desktop",
         {{"desktop", marked("as the desktop asks")},
          {"usual", marked("as usual")},
          {"none", marked("none")}}},
        {"menuBar",
         marked("Appearance"),
         marked("Menu bar"),
         marked("Every action stands in it; Ctrl+K finds them without it too. Ctrl+M."),
         marked("menus"),
         Kind::Switch,
         true,
         {}},
        {"distance",
         marked("Units and weeks"),
         marked("Distances"),
         marked("Shown so; rides and courses are kept in metres."),
         marked("km miles kilometres speed"),
         Kind::Choice,
         "region",
         {{"region", marked("as the region has it")}, {"km", marked("kilometres")}, {"mi", marked("miles")}}},
        {"weight",
         marked("Units and weeks"),
         marked("Weights"),
         marked("Shown and typed so; kept in kilograms. Power for weight stays W/kg."),
         marked("kg pounds lb kilograms mass"),
         Kind::Choice,
         "region",
         {{"region", marked("as the region has it")}, {"kg", marked("kilograms")}, {"lb", marked("pounds")}}},
        {"firstDay",
         marked("Units and weeks"),
         marked("First day of a week"),
         marked(
             "In calendars and in hours by weekday. Weeks of training begin on Monday whatever stands here."),
         marked("monday sunday calendar week"),
         Kind::Choice,
         "region",
         {{"region", marked("as the region has it")},
          {"monday", marked("Monday")},
          {"sunday", marked("Sunday")}}},
        number("dailyCopies", marked("Copies and paper"), marked("Copies of the day"),
               marked("How many days keep their copy of the roster, the newest first."),
               marked("backup safety restore"), 7, 1, 60, 1, marked(" days")),
        number("weeklyCopies", marked("Copies and paper"), marked("Copies of the week"),
               marked("How many weeks before those keep one. Copies from before an upgrade stay until you "
                      "remove them."),
               marked("backup safety restore"), 8, 0, 104, 1, marked(" weeks")),
        {"healthOnPaper",
         marked("Copies and paper"),
         marked("Health words on paper"),
         marked(
             "What is noted of a rider's health, on pages that may hang where others read them. The general "
             "warning stands on every page whatever stands here."),
         marked("print privacy caution injury illness pdf"),
         Kind::Switch,
         true,
         {}},
        folder("postFolder", marked("The post"),
               marked("What riders are sent and send back; watched while a roster is open."),
               marked("send mail inbox sync")),
        folder("deviceFolder", marked("The bike computer"), marked("Where rides are taken from."),
               marked("device sync import")),
        folder("letterFolder", marked("Letters"), marked("Where letters and pages of the squad go."),
               marked("pdf review")),
        folder("handOutFolder", marked("Pages and calendars for riders"), marked("Where the shown weeks go."),
               marked("pdf ics block")),
        folder("workoutFolder", marked("Workouts"), marked("Where files for bike computers go."),
               marked("fit export trainer")),
        folder("pagesFolder", marked("The season on a page"), marked("Where pages of a season go."),
               marked("wall poster pdf svg png")),
        folder("coursesFolder", marked("Courses"), marked("Where courses of races are looked for."),
               marked("gpx")),
        folder("familyFolder", marked("Families of sessions"), marked("Where files of families are."),
               marked("json library")),
    };
}

bool american() {
    return QLocale::system().measurementSystem() == QLocale::ImperialUSSystem;
}
bool british() {
    return QLocale::system().measurementSystem() == QLocale::ImperialUKSystem;
}

/// The value in its own type: what is read from a file of settings is text.
QVariant typed(const Setting& s, const QVariant& value) {
    switch (s.kind) {
    case Kind::Switch:
        return value.toBool();
    case Kind::Number:
        return value.toDouble();
    case Kind::Choice:
    case Kind::Folder:
        break;
    }
    return value.toString();
}

} // namespace

const std::vector<Setting>& settings() {
    static const std::vector<Setting> all = everySetting();
    return all;
}

const Setting& settingOf(const char* key) {
    for (const Setting& s : settings())
        if (QLatin1String(s.key) == QLatin1String(key))
            return s;
    throw std::logic_error(std::string("no setting is called ") + key);
}

QString whyNot(const Setting& s, const QVariant& value) {
    bool ok = true;
    switch (s.kind) {
    case Kind::Switch:
        ok = value.typeId() == QMetaType::Bool || value.toString() == "true" || value.toString() == "false";
        return ok ? QString() : wording("%1: is true or false.").arg(s.key);
    case Kind::Number: {
        const double v = value.toDouble(&ok);
        ok = ok && v >= s.low - 1e-9 && v <= s.high + 1e-9;
        return ok ? QString() : wording("%1: is a number from %2 to %3.").arg(s.key).arg(s.low).arg(s.high);
    }
    case Kind::Choice: {
        QStringList all;
        for (const auto& [kept, words] : s.choices) {
            if (value.toString() == kept)
                return {};
            all << kept;
        }
        return wording("%1: is one of %2.").arg(s.key, all.join(", "));
    }
    case Kind::Folder:
        break;
    }
    ok = value.typeId() == QMetaType::QString && !value.toString().contains(QChar(0));
    return ok ? QString() : wording("%1: is the path of a folder.").arg(s.key);
}

QVariant setting(const char* key) {
    const Setting& s = settingOf(key);
    const QVariant kept = QSettings().value(s.key);
    return kept.isValid() && whyNot(s, kept).isEmpty() ? typed(s, kept) : s.usual;
}

bool isUsual(const Setting& s) {
    return setting(s.key) == typed(s, s.usual);
}

void setSetting(const Setting& s, const QVariant& value) {
    if (typed(s, value) == typed(s, s.usual))
        QSettings().remove(s.key);
    else
        QSettings().setValue(s.key, typed(s, value));
}

QByteArray settingsAsFile() {
    QJsonObject changed;
    for (const Setting& s : settings())
        if (!isUsual(s))
            changed[s.key] = QJsonValue::fromVariant(setting(s.key));
    return QJsonDocument(QJsonObject{{"marram_settings", 1}, {"settings", changed}}).toJson();
}

Result<int> settingsFromFile(const QByteArray& file) {
    QJsonParseError error;
    const QJsonObject all = QJsonDocument::fromJson(file, &error).object();
    if (error.error != QJsonParseError::NoError)
        return refuse(phrase("is no file of settings: at byte %1, %2", std::to_string(error.offset),
                             error.errorString().toStdString()));
    if (all["marram_settings"].toInt() != 1 || !all["settings"].isObject())
        return refuse(
            phrase("is no file of settings: it should say \"marram_settings\": 1 and have \"settings\""));
    const QJsonObject changed = all["settings"].toObject();
    // First all of it is looked at, then all of it is set.
    for (auto it = changed.begin(); it != changed.end(); ++it) {
        const auto s = std::find_if(settings().begin(), settings().end(),
                                    [&](const Setting& known) { return it.key() == known.key; });
        if (s == settings().end())
            return refuse(phrase("has a setting that is not known: %1", it.key().toStdString()));
        if (const QString wrong = whyNot(*s, it.value().toVariant()); !wrong.isEmpty())
            return refuse(wrong.chopped(1).toStdString());
    }
    for (const Setting& s : settings())
        setSetting(s, changed.contains(s.key) ? changed[s.key].toVariant() : s.usual);
    return static_cast<int>(changed.size());
}

Units shownUnits() {
    const QString distance = setting("distance").toString(), weight = setting("weight").toString();
    return {distance == "region" ? american() || british() : distance == "mi",
            weight == "region" ? american() : weight == "lb"};
}

Qt::DayOfWeek firstWeekday() {
    const QString day = setting("firstDay").toString();
    if (day == "region")
        return QLocale::system().firstDayOfWeek() == Qt::Sunday ? Qt::Sunday : Qt::Monday;
    return day == "sunday" ? Qt::Sunday : Qt::Monday;
}

const DesktopWish& desktopWish() {
    static const DesktopWish wish = [] {
        DesktopWish w;
        constexpr int patience = 300; // ms: a window does not wait for a desktop that says nothing
        const auto bus = QDBusConnection::sessionBus();
        if (!bus.isConnected())
            return w;
        const auto ask = [&](const QString& space, const QString& key) {
            auto call = QDBusMessage::createMethodCall("org.freedesktop.portal.Desktop",
                                                       "/org/freedesktop/portal/desktop",
                                                       "org.freedesktop.portal.Settings", "Read");
            call.setAutoStartService(false);
            call << space << key;
            const QDBusMessage reply = bus.call(call, QDBus::Block, patience);
            // Portals wrap the value twice.
            QVariant value = reply.type() == QDBusMessage::ReplyMessage && !reply.arguments().isEmpty()
                                 ? reply.arguments().front()
                                 : QVariant();
            while (value.canConvert<QDBusVariant>())
                value = value.value<QDBusVariant>().variant();
            return value;
        };
        w.dark = ask("org.freedesktop.appearance", "color-scheme").toInt() == 1;
        w.strong = ask("org.freedesktop.appearance", "contrast").toInt() == 1;
        const QVariant moves = ask("org.gnome.desktop.interface", "enable-animations");
        w.still = moves.isValid() && !moves.toBool();
        return w;
    }();
    return wish;
}

} // namespace marram
