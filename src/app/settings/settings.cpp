// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/settings/settings.h"

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
    return {key, "Folders", name, what, also, Kind::Folder, QString(), {}};
}

Setting number(const char* key, const char* group, const char* name, const char* what, const char* also,
               const QVariant& usual, double low, double high, double step, const char* unit) {
    return {key, group, name, what, also, Kind::Number, usual, {}, low, high, step, unit};
}

std::vector<Setting> everySetting() {
    return {
        {"theme",
         "Look",
         "Theme",
         "Light, dark, or with strong contrast; Ctrl+T changes between light and dark.",
         "colour dark light night contrast accessibility",
         Kind::Choice,
         "desktop",
         {{"desktop", "as the desktop asks"},
          {"light", "light"},
          {"dark", "dark"},
          {"strong", "strong contrast, light"},
          {"strong-dark", "strong contrast, dark"}}},
        number("textScale", "Look", "Size of text", "All text and what is measured by it; Ctrl++ and Ctrl+-.",
               "font zoom bigger scale accessibility", 1.0, 0.8, 2.0, 0.1, "×"),
        {"movement",
         "Look",
         "Movement",
         "Whether anything moves by itself, such as a busy line.",
         "animation reduced motion still accessibility",
         Kind::Choice,
         "desktop",
         {{"desktop", "as the desktop asks"}, {"usual", "as usual"}, {"none", "none"}}},
        {"menuBar",
         "Look",
         "Menu bar",
         "Every action stands in it; Ctrl+K finds them without it too. Ctrl+M.",
         "menus",
         Kind::Switch,
         true,
         {}},
        {"distance",
         "Units and weeks",
         "Distances",
         "Shown so; rides and courses are kept in metres.",
         "km miles kilometres speed",
         Kind::Choice,
         "region",
         {{"region", "as the region has it"}, {"km", "kilometres"}, {"mi", "miles"}}},
        {"weight",
         "Units and weeks",
         "Weights",
         "Shown and typed so; kept in kilograms. Power for weight stays W/kg.",
         "kg pounds lb kilograms mass",
         Kind::Choice,
         "region",
         {{"region", "as the region has it"}, {"kg", "kilograms"}, {"lb", "pounds"}}},
        {"firstDay",
         "Units and weeks",
         "First day of a week",
         "In calendars and in hours by weekday. Weeks of training begin on Monday whatever stands here.",
         "monday sunday calendar week",
         Kind::Choice,
         "region",
         {{"region", "as the region has it"}, {"monday", "Monday"}, {"sunday", "Sunday"}}},
        number("dailyCopies", "Copies and paper", "Copies of the day",
               "How many days keep their copy of the roster, the newest first.", "backup safety restore", 7,
               1, 60, 1, " days"),
        number(
            "weeklyCopies", "Copies and paper", "Copies of the week",
            "How many weeks before those keep one. Copies from before an upgrade stay until you remove them.",
            "backup safety restore", 8, 0, 104, 1, " weeks"),
        {"healthOnPaper",
         "Copies and paper",
         "Health words on paper",
         "What is noted of a rider's health, on pages that may hang where others read them. The general "
         "warning stands on every page whatever stands here.",
         "print privacy caution injury illness pdf",
         Kind::Switch,
         true,
         {}},
        folder("postFolder", "The post",
               "What riders are sent and send back; watched while a roster is open.", "send mail inbox sync"),
        folder("deviceFolder", "The bike computer", "Where rides are taken from.", "device sync import"),
        folder("letterFolder", "Letters", "Where letters and pages of the squad go.", "pdf review"),
        folder("handOutFolder", "Pages and calendars for riders", "Where the shown weeks go.",
               "pdf ics block"),
        folder("workoutFolder", "Workouts", "Where files for bike computers go.", "fit export trainer"),
        folder("pagesFolder", "The season on a page", "Where pages of a season go.",
               "wall poster pdf svg png"),
        folder("coursesFolder", "Courses", "Where courses of races are looked for.", "gpx"),
        folder("familyFolder", "Families of sessions", "Where files of families are.", "json library"),
    };
}

bool american() {
    return QLocale().measurementSystem() == QLocale::ImperialUSSystem;
}
bool british() {
    return QLocale().measurementSystem() == QLocale::ImperialUKSystem;
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
        return ok ? QString() : QString("%1: is true or false.").arg(s.key);
    case Kind::Number: {
        const double v = value.toDouble(&ok);
        ok = ok && v >= s.low - 1e-9 && v <= s.high + 1e-9;
        return ok ? QString() : QString("%1: is a number from %2 to %3.").arg(s.key).arg(s.low).arg(s.high);
    }
    case Kind::Choice: {
        QStringList all;
        for (const auto& [kept, words] : s.choices) {
            if (value.toString() == kept)
                return {};
            all << kept;
        }
        return QString("%1: is one of %2.").arg(s.key, all.join(", "));
    }
    case Kind::Folder:
        break;
    }
    ok = value.typeId() == QMetaType::QString && !value.toString().contains(QChar(0));
    return ok ? QString() : QString("%1: is the path of a folder.").arg(s.key);
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
        return refuse("is no file of settings: at byte " + std::to_string(error.offset) + ", " +
                      error.errorString().toStdString());
    if (all["marram_settings"].toInt() != 1 || !all["settings"].isObject())
        return refuse("is no file of settings: it should say \"marram_settings\": 1 and have \"settings\"");
    const QJsonObject changed = all["settings"].toObject();
    // First all of it is looked at, then all of it is set.
    for (auto it = changed.begin(); it != changed.end(); ++it) {
        const auto s = std::find_if(settings().begin(), settings().end(),
                                    [&](const Setting& known) { return it.key() == known.key; });
        if (s == settings().end())
            return refuse("has a setting that is not known: " + it.key().toStdString());
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
        return QLocale().firstDayOfWeek() == Qt::Sunday ? Qt::Sunday : Qt::Monday;
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
