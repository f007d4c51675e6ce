// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/season/season_painter.h"
#include "app/theme/theme.h"
#include "support/generator.h"

#include <QApplication>
#include <QDir>
#include <QFontMetricsF>
#include <QImage>
#include <QPainter>
#include <cstdio>

using namespace marram;
using namespace marram::test;

/// Draws invented seasons as the window does, six to a sheet, to be looked at with a coach's eye:
/// marram-pictures FOLDER FIRST-SEED COUNT.
int main(int argc, char** argv) {
    QApplication app(argc, argv);
    if (argc < 4) {
        std::fprintf(stderr, "marram-pictures FOLDER FIRST-SEED COUNT\n");
        return 2;
    }
    dress(app, {});
    const QString folder = argv[1];
    const unsigned first = static_cast<unsigned>(QByteArray(argv[2]).toUInt()),
                   count = static_cast<unsigned>(QByteArray(argv[3]).toUInt());
    QDir().mkpath(folder);
    constexpr int across = 2, down = 3, width = 1000, height = 560;
    for (unsigned sheet = 0; sheet * across * down < count; ++sheet) {
        QImage image(across * width, down * height, QImage::Format_RGB32);
        image.fill(Qt::white);
        QPainter painter(&image);
        for (unsigned i = 0; i < across * down; ++i) {
            const unsigned n = sheet * across * down + i, seed = first + n;
            if (n >= count)
                break;
            SeasonPicture p;
            p.season = Generator(seed).season();
            p.today = p.season.past ? p.season.past->today : p.season.start;
            p.plan = solveSeason(p.season).plan;
            p.hasPlan = true;
            for (const PlannedWeek& w : p.plan.weeks) {
                double whole = 0;
                for (const PlannedDay& d : p.plan.days)
                    if (monday(d.date) == monday(w.start) && d.hours <= 0)
                        whole += d.stress;
                p.planned[monday(w.start)] =
                    layersOf(w.bandHours, w.stress - whole, whole, p.season.lowThreshold);
            }
            painter.save();
            painter.translate(i % across * width, i / across * height);
            painter.setClipRect(0, 0, width, height);
            double hours = 0;
            for (const double h : p.season.hours)
                hours += h;
            painter.setFont(typeface(Type::Body, true));
            painter.setPen(Qt::black);
            painter.drawText(
                QRectF(4, 0, width, 20), Qt::AlignLeft | Qt::AlignVCenter,
                QString("seed %1 · %2 h · %3 · %4 · %5:%6 · ramp %7 · floor %8 · fitness %9 · hard %10")
                    .arg(seed)
                    .arg(hours, 0, 'f', 1)
                    .arg(nameOf(p.season.rules.school), nameOf(p.season.rules.order))
                    .arg(p.season.rules.buildWeeks)
                    .arg(p.season.rules.deloadWeeks)
                    .arg(p.season.rules.ramp)
                    .arg(p.season.rules.formFloor)
                    .arg(p.season.before.fitness, 0, 'f', 0)
                    .arg(p.season.rules.hardDays));
            SeasonScene scene;
            scene.layOut(p, QRectF(0, 20, width, height - 30), QFontMetricsF(typeface(Type::Small)).height(),
                         raceLabelWidths(p));
            paintSeason(painter, scene, p, {}, paperShore());
            painter.restore();
        }
        painter.end();
        if (!image.save(QDir(folder).filePath(QString("seasons-%1.png").arg(sheet + 1, 2, 10, QChar('0')))))
            return 3;
    }
    return 0;
}
