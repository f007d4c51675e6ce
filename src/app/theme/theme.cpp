// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/theme/theme.h"
#include "app/settings/settings.h"
#include "app/theme/shore_style.h"
#include "formats/paper/letter.h"
#include "wording/wording.h"

#include <QApplication>
#include <QFile>
#include <QPainter>
#include <QPalette>
#include <QScreen>
#include <QSvgRenderer>
#include <QWidget>
#include <algorithm>
#include <array>

/// A resource inside a static library is linked in by name; the macro has to stand outside any namespace.
static void bringResources() {
    Q_INIT_RESOURCE(theme);
}

namespace marram {
namespace {

struct Dress {
    Shore shore;
    QString family;
    Look look;
};
Dress& current() {
    static Dress dress;
    return dress;
}

Shore day() {
    return {"#F7F2E8", "#FFFCF5", "#25302D", "#5C6259", "#D8CFBD", "#56734A", "#2C4630",
            "#8A5D1C", "#E8D3A6", "#23596B", "#D3E2E2", "#6F6152", "#97402B", false};
}

Shore night() {
    return {"#1B2221", "#232C2A", "#ECE6D8", "#A9AC9E", "#3B4643", "#8FAE7C", "#C9DDB4",
            "#D9AC62", "#4A3F2A", "#86BCCB", "#22383D", "#A89986", "#E09A80", true};
}

Shore strongDay() {
    return {"#FFFFFF", "#FFFFFF", "#000000", "#2B2B2B", "#8E8E8E", "#2F5222", "#142A12",
            "#5E3B00", "#E2C98F", "#003A52", "#CFE3EC", "#3F3428", "#7A1500", false};
}

Shore strongNight() {
    return {"#000000", "#0B0B0B", "#FFFFFF", "#E2E2E2", "#7D7D7D", "#B9E39A", "#E6FFD2",
            "#FFD37A", "#5A4618", "#A6E4FA", "#0E3440", "#E3CDAF", "#FFB59C", true};
}

QPalette paletteOf(const Shore& s) {
    QPalette p;
    p.setColor(QPalette::Window, s.paper);
    p.setColor(QPalette::WindowText, s.ink);
    p.setColor(QPalette::Base, s.sheet);
    p.setColor(QPalette::AlternateBase, s.paper);
    p.setColor(QPalette::Text, s.ink);
    p.setColor(QPalette::Button, s.paper);
    p.setColor(QPalette::ButtonText, s.ink);
    p.setColor(QPalette::PlaceholderText, s.muted);
    p.setColor(QPalette::Highlight, s.tide);
    p.setColor(QPalette::HighlightedText, s.dark ? s.paper : s.sheet);
    p.setColor(QPalette::ToolTipBase, s.sheet);
    p.setColor(QPalette::ToolTipText, s.ink);
    p.setColor(QPalette::Link, s.tide);
    p.setColor(QPalette::LinkVisited, s.rust); // what needs a look: no link is drawn as visited
    p.setColor(QPalette::Mid, s.hairline);
    for (const auto role : {QPalette::WindowText, QPalette::Text, QPalette::ButtonText})
        p.setColor(QPalette::Disabled, role, s.muted);
    return p;
}

} // namespace

const Shore& paperShore() {
    static const Shore paper = [] {
        Shore s = day();
        s.paper = s.sheet = Qt::white;
        return s;
    }();
    return paper;
}

const Shore& shore() {
    return current().shore;
}
const Look& lookNow() {
    return current().look;
}
double textScale() {
    return current().look.scale;
}

int paperResolution() {
    const QScreen* screen = QGuiApplication::primaryScreen();
    return screen ? qRound(screen->logicalDotsPerInch()) : 96;
}

QFont fitting(QFont font, const QString& text, double width, double smallest) {
    while (font.pointSizeF() > smallest && QFontMetricsF(font).horizontalAdvance(text) > width)
        font.setPointSizeF(font.pointSizeF() - 0.5);
    return font;
}

QFont typeface(Type type, bool strong) {
    // Asked for with every word that is painted: made once for each dress.
    static std::array<QFont, 6> made;
    static QString family;
    static double scale = 0;
    if (family != current().family || scale != current().look.scale) {
        family = current().family;
        scale = current().look.scale;
        made.fill(QFont());
    }
    QFont& f = made.at(static_cast<size_t>(type) * 2 + (strong ? 1 : 0));
    if (f.family() == family && f.resolveMask() != 0)
        return f;
    f = QFont(family);
    const double points = type == Type::Small ? 9 : type == Type::Body ? 10.5 : 16;
    f.setPointSizeF(points * current().look.scale);
    f.setWeight(strong ? QFont::DemiBold : QFont::Normal);
    return f;
}

Look chosenLook() {
    const QString theme = setting("theme").toString(), movement = setting("movement").toString();
    const DesktopWish wish = theme == "desktop" || movement == "desktop" ? desktopWish() : DesktopWish{};
    Look look;
    look.dark = theme == "desktop" ? wish.dark : theme.contains("dark");
    look.strong = theme == "desktop" ? wish.strong : theme.startsWith("strong");
    look.still = movement == "desktop" ? wish.still : movement == "none";
    look.scale = setting("textScale").toDouble();
    return look;
}

void dress(QApplication& app, const Look& look) {
    Dress& d = current();
    if (d.family.isEmpty()) {
        bringResources();
        const QString shipped = shippedTypeface();
        d.family = shipped.isEmpty() ? app.font().family() : shipped;
        QApplication::setStyle(new ShoreStyle);
    }
    d.look = look;
    d.look.scale = std::clamp(look.scale, 0.8, 2.0);
    d.shore = look.strong ? (look.dark ? strongNight() : strongDay()) : (look.dark ? night() : day());
    QApplication::setFont(typeface(Type::Body));
    QApplication::setPalette(paletteOf(d.shore));
    for (QWidget* widget : QApplication::allWidgets())
        ShoreStyle::colour(widget);
}

void sayIn(QWidget& label, bool trouble) {
    label.setForegroundRole(trouble ? QPalette::LinkVisited : QPalette::PlaceholderText);
}

QIcon icon(const QString& name) {
    QFile file(":/marram/icons/" + name + ".svg");
    if (!file.open(QIODevice::ReadOnly))
        return {};
    const QByteArray svg = file.readAll().replace("currentColor", shore().muted.name().toLatin1());
    QSvgRenderer renderer(svg);
    QPixmap pixmap(48, 48);
    pixmap.fill(Qt::transparent);
    QPainter painter(&pixmap);
    renderer.render(&painter);
    painter.end();
    return QIcon(pixmap);
}

} // namespace marram
