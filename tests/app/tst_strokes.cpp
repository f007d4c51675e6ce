// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/season/season_pen.h"
#include "app/theme/theme.h"
#include "support/suite.h"

#include <QApplication>
#include <QBuffer>
#include <QSvgGenerator>
#include <QTest>
#include <cmath>
#include <numeric>

using namespace marram;

namespace {

constexpr int wide = 400, tall = 240;

/// What a pen of the cross-section leaves on white paper.
template <class Draw>
QImage drawn(const Draw& draw) {
    QImage image(wide, tall, QImage::Format_RGB32);
    image.fill(Qt::white);
    QPainter p(&image);
    p.setRenderHint(QPainter::Antialiasing);
    const SeasonScene scene;
    const SeasonPicture picture;
    const SeasonMarks marks;
    draw(SeasonPen{p, scene, picture, marks, shore(), 14});
    return image;
}

double ink(const QImage& image, int x, int y) {
    return 1 - qGray(image.pixel(x, y)) / 255.0;
}

/// The ink of one column of pixels: how much, how dark at most, and where its middle is.
struct Column {
    double sum = 0, most = 0, middle = 0;
};
Column columnOf(const QImage& image, int x) {
    Column c;
    for (int y = 0; y < tall; ++y) {
        const double here = ink(image, x, y);
        c.sum += here;
        c.most = std::max(c.most, here);
        c.middle += here * y;
    }
    c.middle /= std::max(1e-9, c.sum);
    return c;
}

QRect inked(const QImage& image) {
    QRect all;
    for (int y = 0; y < image.height(); ++y)
        for (int x = 0; x < image.width(); ++x)
            if (ink(image, x, y) > 0.3)
                all |= QRect(x, y, 1, 1);
    return all;
}

} // namespace

/// What is drawn quickly looks as if it were drawn slowly.
class StrokesTest : public QObject {
    Q_OBJECT
private slots:
    void initTestCase() { dress(*qApp, {}); }

    void aCurveIsAsWideAndAsDarkAsOneStroke_data() {
        QTest::addColumn<double>("width");
        QTest::addColumn<double>("rise");
        for (const double width : {1.8, 1.9, 2.8})
            for (const double rise : {0.0, 12.0, 60.0})
                QTest::addRow("%g wide, waves of %g", width, rise) << width << rise;
    }
    void aCurveIsAsWideAndAsDarkAsOneStroke() {
        QFETCH(double, width);
        QFETCH(double, rise);
        QPolygonF curve;
        for (double x = 10; x <= 390; x += 5)
            curve << QPointF(x, 120.3 + rise * std::sin(x / 25));
        const QImage strands = drawn([&](const SeasonPen& pen) { pen.curve(curve, Qt::black, width); });
        const QImage stroke = drawn([&](const SeasonPen& pen) {
            pen.p.setPen(QPen(Qt::black, width, Qt::SolidLine, Qt::FlatCap, Qt::BevelJoin));
            pen.p.drawPolyline(curve);
        });
        double one = 0, other = 0;
        for (int x = 15; x < 385; ++x) {
            const Column a = columnOf(strands, x), b = columnOf(stroke, x);
            one += a.sum;
            other += b.sum;
            QVERIFY2(std::abs(a.middle - b.middle) < 0.4,
                     qPrintable(QString("at %1: %2, %3").arg(x).arg(a.middle).arg(b.middle)));
            QVERIFY2(a.most > b.most - 0.2,
                     qPrintable(QString("at %1: %2, %3").arg(x).arg(a.most).arg(b.most)));
        }
        QVERIFY2(std::abs(one / other - 1) < 0.2, qPrintable(QString::number(one / other)));
    }

    void aPaleCurveIsNoDarkerWhereItsStrandsWouldMeet() {
        QColor pale = Qt::black;
        pale.setAlphaF(0.5F);
        const QPolygonF curve({{10, 120}, {200, 110}, {390, 130}});
        const QImage image = drawn([&](const SeasonPen& pen) { pen.curve(curve, pale, 2.8); });
        for (int x = 15; x < 385; ++x)
            QVERIFY(columnOf(image, x).most < 0.53);
    }

    void aLineAlongThePixelsIsSharp_data() {
        QTest::addColumn<double>("width");
        for (const double width : {0.6, 1.0, 1.6, 2.0, 3.0})
            QTest::addRow("%g", width) << width;
    }
    void aLineAlongThePixelsIsSharp() {
        QFETCH(double, width);
        const QImage upright = drawn(
                         [&](const SeasonPen&pen) { pen.line(100.4, 20, 100.4, 200, Qt::black, width); }),
                     flat = drawn(
                         [&](const SeasonPen&pen) { pen.line(20, 100.4, 200, 100.4, Qt::black, width); });
        double across = 0, along = 0;
        int grey = 0;
        for (int i = 0; i < tall; ++i) {
            across += ink(upright, i, 110);
            along += ink(flat, 110, i);
            grey += ink(upright, i, 110) > 0.01 && ink(upright, i, 110) < 0.99 ? 1 : 0;
        }
        QVERIFY2(std::abs(across - width) < 0.02, qPrintable(QString::number(across)));
        QVERIFY2(std::abs(along - width) < 0.02, qPrintable(QString::number(along)));
        QCOMPARE(grey, width == std::floor(width) ? 0 : 1);
        QCOMPARE(inked(upright).top(), 20);
        QCOMPARE(inked(upright).bottom(), 199);
    }

    void wordsStandWherePlainOnesWould_data() {
        QTest::addColumn<int>("flags");
        QTest::newRow("left") << int(Qt::AlignLeft);
        QTest::newRow("left, in the middle") << int(Qt::AlignLeft | Qt::AlignVCenter);
        QTest::newRow("right") << int(Qt::AlignRight | Qt::AlignVCenter);
        QTest::newRow("in the middle") << int(Qt::AlignCenter);
    }
    void wordsStandWherePlainOnesWould() {
        QFETCH(int, flags);
        const QRectF box(60, 80, 220, 40);
        const QString words = "Lighthouse Hill Climb";
        for (const double scale : {1.0, 1.5, 1.0}) { // what was set in another size is set anew
            Look look;
            look.scale = scale;
            dress(*qApp, look);
            const QImage kept = drawn([&](const SeasonPen&pen) { pen.text(box, flags, words, Qt::black); }),
                         plain = drawn([&](const SeasonPen&pen) {
                             pen.p.setFont(typeface(Type::Small));
                             pen.p.setPen(Qt::black);
                             pen.p.drawText(box, flags | Qt::TextDontClip, words);
                         });
            const QRect a = inked(kept), b = inked(plain);
            QVERIFY(b.width() > 80);
            for (const int off :
                 {a.left() - b.left(), a.right() - b.right(), a.top() - b.top(), a.bottom() - b.bottom()})
                QVERIFY2(std::abs(off) <= 1,
                         qPrintable(QString("%1 pixels off at scale %2").arg(off).arg(scale)));
        }
        dress(*qApp, {});
    }

    void onPaperWordsStayWordsAndCurvesOneStroke() {
        QByteArray svg;
        QBuffer buffer(&svg);
        QSvgGenerator paper;
        paper.setOutputDevice(&buffer);
        paper.setSize({wide, tall});
        {
            QPainter p(&paper);
            const SeasonScene scene;
            const SeasonPicture picture;
            const SeasonMarks marks;
            const SeasonPen pen{p, scene, picture, marks, shore(), 14};
            pen.text({10, 10, 200, 20}, Qt::AlignLeft, "Groyne Road Race", Qt::black);
            pen.curve(QPolygonF({{10, 120}, {200, 110}, {390, 130}}), Qt::black, 2.8);
        }
        QVERIFY(svg.contains("Groyne Road Race</text>"));
        QCOMPARE(svg.count("<polyline"), 1);
    }
};

MARRAM_WINDOW_SUITE(StrokesTest)
#include "tst_strokes.moc"
