// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include <QProxyStyle>

namespace marram {

/// How the shore's controls are drawn and how much room they take: fields, buttons and heads of tables with a
/// line under them and nothing round them. Drawn, not described in a style sheet: Qt reads a sheet anew for
/// every widget of the window when one word of it changes. Moves nothing by itself where the coach or the
/// desktop asks for that.
class ShoreStyle : public QProxyStyle {
public:
    ShoreStyle();

    /// Gives a widget the colours in force, where its kind has others than the window: again after dress().
    static void colour(QWidget* widget);

    void polish(QWidget* widget) override;
    using QProxyStyle::polish;
    int styleHint(StyleHint hint, const QStyleOption* option, const QWidget* widget,
                  QStyleHintReturn* data) const override;
    int pixelMetric(PixelMetric metric, const QStyleOption* option, const QWidget* widget) const override;
    QSize sizeFromContents(ContentsType type, const QStyleOption* option, const QSize& size,
                           const QWidget* widget) const override;
    QRect subElementRect(SubElement element, const QStyleOption* option,
                         const QWidget* widget) const override;
    QRect subControlRect(ComplexControl control, const QStyleOptionComplex* option, SubControl sub,
                         const QWidget* widget) const override;
    void drawPrimitive(PrimitiveElement element, const QStyleOption* option, QPainter* painter,
                       const QWidget* widget) const override;
    void drawControl(ControlElement element, const QStyleOption* option, QPainter* painter,
                     const QWidget* widget) const override;
    void drawComplexControl(ComplexControl control, const QStyleOptionComplex* option, QPainter* painter,
                            const QWidget* widget) const override;

private:
    mutable bool inItem_ =
        false; ///< an item of a table is drawn: its rectangle is inside its margins already
};

} // namespace marram
