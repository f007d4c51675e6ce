// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/block/board_painter.h"
#include "app/season/season_painter.h"
#include "app/theme/theme.h"
#include "core/block/block.h"
#include "support/generator.h"

#include <QApplication>
#include <QDir>
#include <QFontMetricsF>
#include <QImage>
#include <QPainter>
#include <algorithm>
#include <cstdio>
#include <functional>

using namespace marram;
using namespace marram::test;

namespace {

constexpr int width = 1000, height = 560;

double lineHeight() {
    return QFontMetricsF(typeface(Type::Small)).height();
}

void writeHead(QPainter& painter, unsigned seed, const Season& season) {
    double hours = 0;
    for (const double h : season.hours)
        hours += h;
    painter.setFont(typeface(Type::Body, true));
    painter.setPen(Qt::black);
    painter.drawText(QRectF(4, 0, width, 20), Qt::AlignLeft | Qt::AlignVCenter,
                     QString("seed %1 · %2 h · %3 · %4 · %5:%6 · ramp %7 · floor %8 · fitness %9 · hard %10")
                         .arg(seed)
                         .arg(hours, 0, 'f', 1)
                         .arg(nameOf(season.rules.school), nameOf(season.rules.order))
                         .arg(season.rules.buildWeeks)
                         .arg(season.rules.deloadWeeks)
                         .arg(season.rules.ramp)
                         .arg(season.rules.formFloor)
                         .arg(season.before.fitness, 0, 'f', 0)
                         .arg(season.rules.hardDays));
}

void drawSeason(QPainter& painter, unsigned seed) {
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
        p.planned[monday(w.start)] = layersOf(w.bandHours, w.stress - whole, whole, p.season.lowThreshold);
    }
    writeHead(painter, seed, p.season);
    SeasonScene scene;
    scene.layOut(p, QRectF(0, 20, width, height - 30), lineHeight(), raceLabelWidths(p));
    paintSeason(painter, scene, p, {}, paperShore());
}

BoardDay dayOf(const Season& season, const Plan& plan, Date date) {
    BoardDay day;
    day.date = date;
    for (const PlannedDay& planned : plan.days)
        if (planned.date == date) {
            day.inSeason = true;
            day.availableHours = planned.availableHours;
        }
    for (const Race& race : season.races)
        if (race.date <= date && date < race.date + race.days)
            day.race = QString::fromStdString(race.name);
    for (const Away& away : season.away)
        if (away.from <= date && date <= away.to)
            day.away = nameOf(away.why);
    return day;
}

/// One of the blocks of a season, those before it ridden as they were meant.
void drawBlock(QPainter& painter, unsigned seed) {
    BoardPicture p;
    p.season = Generator(seed).season();
    p.lowThreshold = p.season.lowThreshold;
    p.thresholdPower = p.season.thresholdPower;
    const Plan plan = solveSeason(p.season).plan;
    const int blocks = std::max(1, static_cast<int>(plan.weeks.size()) / 4);
    std::vector<DoneRung> done;
    Date from = monday(p.season.start);
    SessionBlock block = solveBlock(p.season, plan, from, 4, done);
    for (int n = 0; n < static_cast<int>(seed) % blocks; ++n) {
        for (const BlockWeek& week : block.weeks)
            for (const BlockSession& s : week.sessions)
                if (s.rung > 0)
                    done.push_back({s.date, s.family, s.rung, true});
        from = from + 28;
        block = solveBlock(p.season, plan, from, 4, done);
    }
    p.today = from;
    for (const BlockWeek& week : block.weeks) {
        BoardWeek w;
        w.start = week.start;
        w.planned = w.summed = true;
        w.kind = week.kind;
        w.phase = week.phase;
        w.target = week.target;
        w.sum = week.sum;
        for (int d = 0; d < 7; ++d)
            w.days[static_cast<size_t>(d)] = dayOf(p.season, plan, week.start + d);
        for (const BlockSession& s : week.sessions) {
            w.days[static_cast<size_t>(weekday(s.date))].sessions.push_back(s);
            p.longest = std::max(p.longest, s.seconds);
        }
        p.weeks.push_back(std::move(w));
    }
    writeHead(painter, seed, p.season);
    BoardScene scene;
    scene.layOut(QRectF(0, 20, width, height - 30), static_cast<int>(p.weeks.size()), lineHeight());
    paintBoard(painter, scene, p, {}, paperShore());
}

bool drawSheets(const QString& folder, const char* name, unsigned first, unsigned count,
                const std::function<void(QPainter&, unsigned)>& draw) {
    constexpr unsigned across = 2, down = 3;
    for (unsigned sheet = 0; sheet * across * down < count; ++sheet) {
        QImage image(across * width, down * height, QImage::Format_RGB32);
        image.fill(Qt::white);
        QPainter painter(&image);
        for (unsigned i = 0; i < across * down && sheet * across * down + i < count; ++i) {
            painter.save();
            painter.translate(static_cast<int>(i % across) * width, static_cast<int>(i / across) * height);
            painter.setClipRect(0, 0, width, height);
            draw(painter, first + sheet * across * down + i);
            painter.restore();
        }
        painter.end();
        if (!image.save(
                QDir(folder).filePath(QString("%1-%2.png").arg(name).arg(sheet + 1, 2, 10, QChar('0')))))
            return false;
    }
    return true;
}

} // namespace

/// Draws invented seasons and as many blocks as the window does, six to a sheet, to be looked at with a
/// coach's eye: marram-pictures FOLDER FIRST-SEED COUNT.
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
    return drawSheets(folder, "seasons", first, count, drawSeason) &&
                   drawSheets(folder, "blocks", first, count, drawBlock)
               ? 0
               : 3;
}
