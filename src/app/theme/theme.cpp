// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/theme/theme.h"
#include "app/settings/settings.h"
#include "formats/paper/letter.h"
#include "wording/wording.h"

#include <QApplication>
#include <QFile>
#include <QPainter>
#include <QPalette>
#include <QProxyStyle>
#include <QScreen>
#include <QStyleFactory>
#include <QSvgRenderer>
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

/// Moves nothing by itself where the coach or the desktop asks for that.
class StillStyle : public QProxyStyle {
public:
    StillStyle() : QProxyStyle(QStyleFactory::create("Fusion")) {}
    int styleHint(StyleHint hint, const QStyleOption* option, const QWidget* widget,
                  QStyleHintReturn* data) const override {
        const bool moves = hint == SH_Widget_Animate || hint == SH_Widget_Animation_Duration;
        return moves && current().look.still ? 0 : QProxyStyle::styleHint(hint, option, widget, data);
    }
};

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
    p.setColor(QPalette::Mid, s.hairline);
    for (const auto role : {QPalette::WindowText, QPalette::Text, QPalette::ButtonText})
        p.setColor(QPalette::Disabled, role, s.muted);
    return p;
}

QString sheetOf(const Shore& s) {
    const int pad = qRound(6 * textScale());
    return QString(R"(
        QToolTip { color: %1; background: %2; border: 1px solid %3; padding: 4px; }
        QLineEdit, QDoubleSpinBox, QSpinBox, QComboBox, QDateEdit { background: %2; color: %1; border: 0; border-bottom: 1px solid %3; padding: 3px 2px; selection-background-color: %4; }
        QLineEdit:focus, QDoubleSpinBox:focus, QSpinBox:focus, QComboBox:focus, QDateEdit:focus { border-bottom: 2px solid %4; }
        QComboBox::drop-down, QDateEdit::drop-down { border: 0; width: %11px; }
        QComboBox::down-arrow, QDateEdit::down-arrow { image: url(:/marram/icons/list-%10.svg); width: %11px; height: %11px; }
        QPushButton { background: transparent; color: %1; border: 0; border-bottom: 1px solid %5; padding: %6px 4px; }
        QPushButton:hover, QPushButton:focus { color: %4; border-bottom: 2px solid %4; }
        QPushButton:disabled { color: %5; border-bottom-color: %3; }
        QToolButton { border: 0; padding: %6px 10px; color: %5; background: transparent; }
        QToolButton:hover { color: %1; }
        QToolButton:checked { color: %1; border-bottom: 3px solid %7; }
        QToolButton:focus { color: %4; }
        QTableView { background: %8; border: 0; gridline-color: %3; selection-background-color: %9; selection-color: %1; outline: 0; }
        QTableView::item { padding: 3px 8px; border-bottom: 1px solid %3; }
        QHeaderView { background: %8; border: 0; }
        QHeaderView::section { background: %8; color: %5; border: 0; border-bottom: 1px solid %5; padding: 4px 8px; }
        QScrollArea, QTextBrowser { border: 0; background: transparent; }
        QScrollBar:vertical { width: 10px; background: transparent; } QScrollBar:horizontal { height: 10px; background: transparent; }
        QScrollBar::handle { background: %3; min-height: 30px; min-width: 30px; }
        QScrollBar::add-line, QScrollBar::sub-line { width: 0; height: 0; }
        QMenu { background: %2; color: %1; border: 1px solid %3; } QMenu::item { padding: 5px 22px; } QMenu::item:selected { background: %9; }
        QSplitter::handle { background: %3; } QSplitter::handle:horizontal { width: 1px; } QSplitter::handle:vertical { height: 1px; }
        QProgressBar { border: 0; background: %3; height: 4px; color: transparent; } QProgressBar::chunk { background: %7; }
        QStatusBar { color: %5; } QStatusBar::item { border: 0; }
    )")
        .arg(s.ink.name(), s.sheet.name(), s.hairline.name(), s.tide.name(), s.muted.name())
        .arg(pad)
        .arg(s.grass.name(), s.paper.name(), s.water.name(), s.dark ? "night" : "day")
        .arg(qRound(14 * textScale()));
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
        QApplication::setStyle(new StillStyle);
    }
    d.look = look;
    d.look.scale = std::clamp(look.scale, 0.8, 2.0);
    d.shore = look.strong ? (look.dark ? strongNight() : strongDay()) : (look.dark ? night() : day());
    QApplication::setFont(typeface(Type::Body));
    QApplication::setPalette(paletteOf(d.shore));
    app.setStyleSheet(sheetOf(d.shore));
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
