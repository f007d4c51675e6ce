// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/theme/shore_style.h"
#include "app/theme/theme.h"

#include <QAbstractSpinBox>
#include <QComboBox>
#include <QHeaderView>
#include <QLineEdit>
#include <QMenu>
#include <QPainter>
#include <QProgressBar>
#include <QPushButton>
#include <QScrollArea>
#include <QStatusBar>
#include <QStyleFactory>
#include <QStyleOption>
#include <QSvgRenderer>
#include <QTableView>
#include <QTextBrowser>
#include <QToolButton>

namespace marram {
namespace {

constexpr int line = 1, strongLine = 2, markedLine = 3; // px, under a control
constexpr QMargins inField{2, 3, 2, 3 + line};          // round the text of a field
constexpr QMargins inCell{8, 3, 8, 3 + line};           // round an item of a table
constexpr int barWidth = 10, shortestHandle = 30, progressHeight = 4;

int padding() {
    return qRound(6 * textScale());
}
/// Width of the mark that says a field opens a list.
int markWidth() {
    return qRound(14 * textScale());
}

bool has(const QStyleOption* option, QStyle::StateFlag flag) {
    return option->state.testFlag(flag);
}

void underline(QPainter* painter, const QRect& rect, const QColor& colour, int width) {
    painter->fillRect(QRect(rect.left(), rect.bottom() - width + 1, rect.width(), width), colour);
}

/// The ground of a field and the line under it.
void field(QPainter* painter, const QStyleOption* option) {
    painter->fillRect(option->rect, option->palette.brush(QPalette::Base));
    const bool focus = has(option, QStyle::State_HasFocus);
    underline(painter, option->rect, focus ? shore().tide : shore().hairline, focus ? strongLine : line);
}

/// Whether a line edit is the inside of another field.
bool insideAnother(const QWidget* widget) {
    return widget && (qobject_cast<const QAbstractSpinBox*>(widget->parentWidget()) ||
                      qobject_cast<const QComboBox*>(widget->parentWidget()));
}

bool inTable(const QWidget* widget) {
    return qobject_cast<const QTableView*>(widget) != nullptr;
}

/// What has no frame of its own.
bool frameless(const QWidget* widget) {
    return inTable(widget) || qobject_cast<const QTextBrowser*>(widget) ||
           qobject_cast<const QScrollArea*>(widget) || qobject_cast<const QHeaderView*>(widget);
}

QPalette withText(QPalette palette, const QColor& colour) {
    for (const auto role : {QPalette::ButtonText, QPalette::WindowText, QPalette::Text})
        palette.setColor(role, colour);
    return palette;
}

/// The line under a button, and the colour of its words.
struct ButtonLook {
    QColor text, under;
    int width;
};
ButtonLook lookOf(const QStyleOption* option) {
    const Shore& s = shore();
    if (!has(option, QStyle::State_Enabled))
        return {s.muted, s.hairline, line};
    if (has(option, QStyle::State_MouseOver) || has(option, QStyle::State_HasFocus))
        return {s.tide, s.tide, strongLine};
    return {s.ink, s.muted, line};
}

QColor toolText(const QStyleOption* option) {
    const Shore& s = shore();
    if (!has(option, QStyle::State_Enabled))
        return s.muted; // read all the same
    if (has(option, QStyle::State_HasFocus))
        return s.tide;
    return has(option, QStyle::State_MouseOver) || has(option, QStyle::State_On) ? s.ink : s.muted;
}

/// Whether a tool button shows that it opens a menu.
bool opensMenu(const QStyleOptionToolButton* button) {
    return button && button->features.testFlag(QStyleOptionToolButton::HasMenu);
}

/// The mark at the end of a field that opens a list.
void mark(QPainter* painter, const QRect& rect) {
    QSvgRenderer renderer(QString(":/marram/icons/list-%1.svg").arg(shore().dark ? "night" : "day"));
    const int side = std::min(rect.width(), markWidth());
    renderer.render(painter, QRectF(rect.left() + (rect.width() - side) / 2.0,
                                    rect.top() + (rect.height() - side) / 2.0, side, side));
}

} // namespace

ShoreStyle::ShoreStyle() : QProxyStyle(QStyleFactory::create("Fusion")) {}

void ShoreStyle::colour(QWidget* widget) {
    const Shore& s = shore();
    QPalette own; // what is set in it is taken over, the rest is the window's
    if (qobject_cast<QHeaderView*>(widget)) {
        own = withText(own, s.muted);
        for (const auto role : {QPalette::Base, QPalette::Button, QPalette::Window})
            own.setColor(role, s.paper);
    } else if (qobject_cast<QTableView*>(widget)) {
        own.setColor(QPalette::Base, s.paper);
        own.setColor(QPalette::Highlight, s.water);
        own.setColor(QPalette::HighlightedText, s.ink);
    } else if (qobject_cast<QTextBrowser*>(widget)) {
        own.setColor(QPalette::Base, Qt::transparent);
    } else if (qobject_cast<QMenu*>(widget)) {
        for (const auto role : {QPalette::Base, QPalette::Button, QPalette::Window})
            own.setColor(role, s.sheet);
        own.setColor(QPalette::Highlight, s.water);
        own.setColor(QPalette::HighlightedText, s.ink);
    } else if (qobject_cast<QStatusBar*>(widget)) {
        own = withText(own, s.muted);
    } else {
        return;
    }
    widget->setPalette(own);
}

void ShoreStyle::polish(QWidget* widget) {
    QProxyStyle::polish(widget);
    colour(widget);
    if (qobject_cast<QPushButton*>(widget) || qobject_cast<QToolButton*>(widget))
        widget->setAttribute(Qt::WA_Hover);
}

int ShoreStyle::styleHint(StyleHint hint, const QStyleOption* option, const QWidget* widget,
                          QStyleHintReturn* data) const {
    if ((hint == SH_Widget_Animate || hint == SH_Widget_Animation_Duration) && lookNow().still)
        return 0;
    if (hint == SH_Table_GridLineColor)
        return static_cast<int>(shore().hairline.rgb());
    return QProxyStyle::styleHint(hint, option, widget, data);
}

int ShoreStyle::pixelMetric(PixelMetric metric, const QStyleOption* option, const QWidget* widget) const {
    switch (metric) {
    case PM_DefaultFrameWidth:
        if (frameless(widget))
            return 0;
        break;
    case PM_HeaderMargin:
        return 4;
    case PM_ScrollBarExtent:
        return barWidth;
    case PM_ScrollBarSliderMin:
        return shortestHandle;
    case PM_SplitterWidth:
        return line;
    case PM_ButtonShiftHorizontal:
    case PM_ButtonShiftVertical:
        return 0;
    case PM_ToolTipLabelFrameWidth:
        return 4;
    default:
        break;
    }
    return QProxyStyle::pixelMetric(metric, option, widget);
}

QSize ShoreStyle::sizeFromContents(ContentsType type, const QStyleOption* option, const QSize& size,
                                   const QWidget* widget) const {
    switch (type) {
    case CT_LineEdit:
        if (!insideAnother(widget))
            return size.grownBy(inField);
        return size;
    case CT_SpinBox:
        return size.grownBy(inField);
    case CT_ComboBox:
        return size.grownBy(inField) + QSize(markWidth() + 2, 0);
    case CT_PushButton: {
        const auto* button = qstyleoption_cast<const QStyleOptionButton*>(option);
        const bool menu = button && button->features.testFlag(QStyleOptionButton::HasMenu);
        return size.grownBy({4, padding(), 4, padding() + line}) + QSize(menu ? markWidth() : 0, 0);
    }
    case CT_ToolButton: {
        const auto* button = qstyleoption_cast<const QStyleOptionToolButton*>(option);
        return size.grownBy({10, padding(), 10, padding()}) + QSize(opensMenu(button) ? markWidth() : 0, 0);
    }
    case CT_ItemViewItem:
        if (inTable(widget))
            return QProxyStyle::sizeFromContents(type, option, size, widget).grownBy(inCell);
        break;
    case CT_HeaderSection:
        return QProxyStyle::sizeFromContents(type, option, size, widget) + QSize(8, line);
    case CT_ProgressBar:
        return {size.width(), progressHeight};
    default:
        break;
    }
    return QProxyStyle::sizeFromContents(type, option, size, widget);
}

QRect ShoreStyle::subElementRect(SubElement element, const QStyleOption* option,
                                 const QWidget* widget) const {
    switch (element) {
    case SE_LineEditContents:
        return insideAnother(widget) ? option->rect : option->rect.marginsRemoved(inField);
    case SE_ItemViewItemText:
    case SE_ItemViewItemDecoration:
    case SE_ItemViewItemCheckIndicator:
    case SE_ItemViewItemFocusRect:
        if (const auto* item = qstyleoption_cast<const QStyleOptionViewItem*>(option);
            item && inTable(widget) && !inItem_) {
            QStyleOptionViewItem inner = *item;
            inner.rect = item->rect.marginsRemoved(inCell);
            return QProxyStyle::subElementRect(element, &inner, widget);
        }
        break;
    case SE_ProgressBarGroove:
    case SE_ProgressBarContents:
        return option->rect;
    default:
        break;
    }
    return QProxyStyle::subElementRect(element, option, widget);
}

QRect ShoreStyle::subControlRect(ComplexControl control, const QStyleOptionComplex* option, SubControl sub,
                                 const QWidget* widget) const {
    const QRect& r = option->rect;
    if (control == CC_ComboBox && sub != SC_ComboBoxListBoxPopup) {
        const QRect arrow(r.right() - markWidth() + 1, r.top(), markWidth(), r.height());
        if (sub == SC_ComboBoxArrow)
            return visualRect(option->direction, r, arrow);
        if (sub == SC_ComboBoxEditField)
            return visualRect(option->direction, r,
                              r.marginsRemoved(inField).adjusted(0, 0, -markWidth(), 0));
        return r;
    }
    if (control == CC_SpinBox)
        return sub == SC_SpinBoxFrame ? r : sub == SC_SpinBoxEditField ? r.marginsRemoved(inField) : QRect();
    if (control == CC_ScrollBar)
        if (const auto* bar = qstyleoption_cast<const QStyleOptionSlider*>(option)) {
            const bool across = bar->orientation == Qt::Horizontal;
            const int length = across ? r.width() : r.height();
            const qint64 span = static_cast<qint64>(bar->maximum) - bar->minimum;
            int handle = length;
            if (span > 0)
                handle = std::clamp(
                    static_cast<int>(static_cast<qint64>(bar->pageStep) * length / (span + bar->pageStep)),
                    std::min(shortestHandle, length), length);
            const int from = sliderPositionFromValue(bar->minimum, bar->maximum, bar->sliderPosition,
                                                     length - handle, bar->upsideDown);
            const auto part = [&](int begin, int end) {
                return visualRect(option->direction, r,
                                  across ? QRect(r.left() + begin, r.top(), end - begin, r.height())
                                         : QRect(r.left(), r.top() + begin, r.width(), end - begin));
            };
            switch (sub) {
            case SC_ScrollBarSlider:
                return part(from, from + handle);
            case SC_ScrollBarSubPage:
                return part(0, from);
            case SC_ScrollBarAddPage:
                return part(from + handle, length);
            case SC_ScrollBarGroove:
                return r;
            default:
                return {};
            }
        }
    return QProxyStyle::subControlRect(control, option, sub, widget);
}

void ShoreStyle::drawPrimitive(PrimitiveElement element, const QStyleOption* option, QPainter* painter,
                               const QWidget* widget) const {
    switch (element) {
    case PE_PanelLineEdit:
        if (insideAnother(widget))
            return;
        return field(painter, option);
    case PE_FrameLineEdit:
    case PE_FrameStatusBarItem:
        return;
    case PE_FrameFocusRect: // what has the hand is shown by its line and colour
        if (qobject_cast<const QPushButton*>(widget) || qobject_cast<const QToolButton*>(widget) ||
            inTable(widget))
            return;
        break;
    case PE_PanelMenu:
        painter->fillRect(option->rect, shore().sheet);
        return;
    case PE_PanelTipLabel:
        painter->fillRect(option->rect, shore().sheet);
        [[fallthrough]];
    case PE_FrameMenu:
        painter->setPen(shore().hairline);
        painter->drawRect(option->rect.adjusted(0, 0, -1, -1));
        return;
    default:
        break;
    }
    QProxyStyle::drawPrimitive(element, option, painter, widget);
}

void ShoreStyle::drawControl(ControlElement element, const QStyleOption* option, QPainter* painter,
                             const QWidget* widget) const {
    const Shore& s = shore();
    switch (element) {
    case CE_PushButtonBevel: {
        const ButtonLook look = lookOf(option);
        underline(painter, option->rect, look.under, look.width);
        if (const auto* button = qstyleoption_cast<const QStyleOptionButton*>(option);
            button && button->features.testFlag(QStyleOptionButton::HasMenu))
            mark(painter, QRect(option->rect.right() - markWidth(), option->rect.top(), markWidth(),
                                option->rect.height()));
        return;
    }
    case CE_PushButtonLabel:
        if (const auto* button = qstyleoption_cast<const QStyleOptionButton*>(option)) {
            QStyleOptionButton inner = *button;
            inner.palette = withText(button->palette, lookOf(option).text);
            inner.features &= ~QStyleOptionButton::HasMenu;
            inner.rect = option->rect.adjusted(
                0, 0, button->features.testFlag(QStyleOptionButton::HasMenu) ? -markWidth() : 0, -line);
            return QProxyStyle::drawControl(element, &inner, painter, widget);
        }
        break;
    case CE_HeaderSection:
    case CE_HeaderEmptyArea:
        painter->fillRect(option->rect, s.paper);
        if (element == CE_HeaderSection)
            underline(painter, option->rect, s.muted, line);
        return;
    case CE_HeaderLabel:
        if (const auto* head = qstyleoption_cast<const QStyleOptionHeader*>(option)) {
            QStyleOptionHeader inner = *head;
            inner.palette = withText(head->palette, s.muted);
            inner.rect.adjust(4, 0, -4, -line); // beside the margin that any head has
            return QProxyStyle::drawControl(element, &inner, painter, widget);
        }
        break;
    case CE_ItemViewItem:
        if (const auto* item = qstyleoption_cast<const QStyleOptionViewItem*>(option);
            item && inTable(widget)) {
            proxy()->drawPrimitive(PE_PanelItemViewItem, item, painter, widget);
            underline(painter, item->rect, s.hairline, line);
            QStyleOptionViewItem inner = *item;
            inner.rect = item->rect.marginsRemoved(inCell);
            inItem_ = true;
            QProxyStyle::drawControl(element, &inner, painter, widget);
            inItem_ = false;
            return;
        }
        break;
    case CE_ShapedFrame:
        if (frameless(widget))
            return;
        break;
    case CE_Splitter:
    case CE_ProgressBarGroove:
        painter->fillRect(option->rect, s.hairline);
        return;
    case CE_ProgressBarContents:
        if (const auto* bar = qstyleoption_cast<const QStyleOptionProgressBar*>(option)) {
            const double done = bar->maximum > bar->minimum
                                    ? static_cast<double>(bar->progress - bar->minimum) /
                                          (static_cast<double>(bar->maximum) - bar->minimum)
                                    : 1.0 / 3;
            const QRect part(option->rect.left(), option->rect.top(),
                             qRound(std::clamp(done, 0.0, 1.0) * option->rect.width()),
                             option->rect.height());
            painter->fillRect(visualRect(option->direction, option->rect, part), s.grass);
        }
        return;
    case CE_ProgressBarLabel:
        return;
    default:
        break;
    }
    QProxyStyle::drawControl(element, option, painter, widget);
}

void ShoreStyle::drawComplexControl(ComplexControl control, const QStyleOptionComplex* option,
                                    QPainter* painter, const QWidget* widget) const {
    switch (control) {
    case CC_SpinBox:
        return field(painter, option);
    case CC_ComboBox:
        field(painter, option);
        mark(painter, proxy()->subControlRect(control, option, SC_ComboBoxArrow, widget));
        return;
    case CC_ScrollBar:
        if (const auto* bar = qstyleoption_cast<const QStyleOptionSlider*>(option))
            painter->fillRect(proxy()->subControlRect(control, bar, SC_ScrollBarSlider, widget),
                              shore().hairline);
        return;
    case CC_ToolButton:
        if (const auto* button = qstyleoption_cast<const QStyleOptionToolButton*>(option)) {
            if (has(option, State_On))
                underline(painter, option->rect, shore().grass, markedLine);
            QStyleOptionToolButton inner = *button;
            inner.palette = withText(button->palette, toolText(option));
            inner.rect = option->rect.adjusted(10, padding(), -10, -padding());
            inner.state &= ~(State_Sunken | State_On);
            if (opensMenu(button)) {
                const QRect at(inner.rect.right() - markWidth() + 1, inner.rect.top(), markWidth(),
                               inner.rect.height());
                mark(painter, visualRect(option->direction, option->rect, at));
                inner.rect =
                    visualRect(option->direction, option->rect, inner.rect.adjusted(0, 0, -markWidth(), 0));
            }
            QProxyStyle::drawControl(CE_ToolButtonLabel, &inner, painter, widget);
        }
        return;
    default:
        QProxyStyle::drawComplexControl(control, option, painter, widget);
    }
}

} // namespace marram
