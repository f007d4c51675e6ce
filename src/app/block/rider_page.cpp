// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/block/rider_page.h"
#include "app/block/block_words.h"
#include "app/block/board_painter.h"
#include "app/theme/theme.h"
#include "core/session/feel.h"
#include "wording/wording.h"

#include <QBuffer>
#include <QFontMetricsF>
#include <QPainter>
#include <QPdfWriter>

namespace marram {
namespace {

constexpr double pageWidth = 794, pageHeight = 1123, margin = 40; ///< A4 upright, at 96 dots an inch

class Pages {
public:
    Pages(QPdfWriter& writer, const BoardPicture& picture, const QString& rider, const QString& cautions)
        : writer_(writer), painter_(&writer), picture_(picture), rider_(rider), cautions_(cautions) {
        const double factor = writer.width() / pageWidth;
        painter_.scale(factor, factor);
        painter_.setRenderHint(QPainter::Antialiasing);
    }

    void run() {
        bool first = true;
        for (const BoardWeek& week : picture_.weeks) {
            if (!week.planned)
                continue;
            if (!first)
                writer_.newPage();
            first = false;
            begin(week);
            for (const BoardDay& day : week.days)
                put(week, day);
            end();
        }
        if (first) {
            write(margin, 300, wording("No week of the season is shown."), typeface(Type::Body),
                  paperShore().muted);
        }
    }

private:
    static double lineHeight(const QFont& font) { return QFontMetricsF(font).height(); }
    double write(double left, double width, const QString& words, const QFont& font, const QColor& colour) {
        painter_.setFont(font);
        painter_.setPen(colour);
        const QRectF box(left, y_, width, 2000);
        const QRectF used =
            QFontMetricsF(font).boundingRect(box, Qt::TextWordWrap | Qt::TextExpandTabs, words);
        painter_.drawText(QRectF(left, y_, width, used.height() + 2), Qt::TextWordWrap, words);
        return used.height();
    }

    void begin(const BoardWeek& week) {
        y_ = margin;
        y_ +=
            write(margin, pageWidth - 2 * margin, rider_, typeface(Type::Title, true), paperShore().ink) + 2;
        QString line = spanWords(week.start, week.start + 6, picture_.today);
        if (week.summed)
            line += wording(": %1 of riding, %2 points, %3")
                        .arg(lengthText(static_cast<int>(week.sum.purpose.sum())))
                        .arg(week.sum.stress, 0, 'f', 0)
                        .arg(wording(nameOf(week.phase)));
        y_ += write(margin, pageWidth - 2 * margin, line, typeface(Type::Body), paperShore().muted) + 8;
    }

    void end() {
        QString words = wording(riderCaution);
        if (!cautions_.trimmed().isEmpty())
            words = wording("For you: %1 %2", cautions_.simplified(), words);
        const QFont font = typeface(Type::Small);
        const double h = QFontMetricsF(font)
                             .boundingRect(QRectF(0, 0, pageWidth - 2 * margin, 400), Qt::TextWordWrap, words)
                             .height();
        y_ = std::max(y_ + 6, pageHeight - margin - h);
        write(margin, pageWidth - 2 * margin, words, font, paperShore().ink);
    }

    static QString besideDate(const BoardDay& day) {
        if (!day.race.isEmpty())
            return ": " + day.race;
        if (!day.away.isEmpty())
            return ": " + withinSentence(day.away);
        if (day.past)
            return day.meant ? ": " + wording(QString::fromStdString(day.meant->family)) : QString();
        return day.sessions.empty() ? wording(": rest") : QString();
    }

    void put(const BoardWeek& week, const BoardDay& day) {
        const Shore& c = paperShore();
        const QFont small = typeface(Type::Small), strong = typeface(Type::Body, true);
        QString head = QString::fromStdString(namedDayText(day.date, picture_.today)) + besideDate(day);
        QStringList lines;
        Session profile;
        for (const BlockSession& s : day.sessions) {
            head += (s.ridden() && day.sessions.size() > 1 ? wording(" and ") : ": ") +
                    (s.family.empty() ? wording("session") : wording(QString::fromStdString(s.family))) +
                    ", " + lengthText(s.seconds);
            if (s.ridden()) {
                profile = s.session;
                lines << sessionLines(picture_, s.session);
                if (s.seconds >= 3600)
                    lines << QString::fromStdString(fuelWords(s.seconds));
            }
            if (!s.note.empty())
                lines << QString::fromStdString(s.note);
        }
        const double left = margin + 150, width = pageWidth - margin - left;
        double needed = lineHeight(strong) + 10;
        for (const QString& line : lines)
            needed +=
                QFontMetricsF(small).boundingRect(QRectF(0, 0, width, 2000), Qt::TextWordWrap, line).height();
        needed = std::max(needed, profile.items.empty() ? 0 : lineHeight(strong) + 46.0);
        if (y_ + needed > pageHeight - margin - 60) {
            end();
            writer_.newPage();
            begin(week);
        }
        painter_.setPen(QPen(c.hairline, 1));
        painter_.drawLine(QPointF(margin, y_), QPointF(pageWidth - margin, y_));
        y_ += 4;
        const double top = y_;
        y_ += write(margin, pageWidth - 2 * margin, head, strong, c.ink) + 2;
        if (!profile.items.empty())
            paintProfile(painter_, profile, QPointF(margin, top + lineHeight(strong) + 38),
                         134.0 / std::max(3600, picture_.longest), 22, picture_.lowThreshold, c, false);
        for (const QString& line : lines) {
            const qsizetype indent = line.size() - line.trimmed().size();
            y_ += write(left + 4.0 * static_cast<double>(indent), width - 4.0 * static_cast<double>(indent),
                        line.trimmed(), small, c.ink);
        }
        y_ = std::max(y_, top + needed - 4) + 3;
    }

    QPdfWriter& writer_;
    QPainter painter_;
    const BoardPicture& picture_;
    QString rider_, cautions_;
    double y_ = margin;
};

} // namespace

QByteArray riderPdf(const BoardPicture& picture, const QString& rider, const QString& cautions) {
    QByteArray bytes;
    QBuffer buffer(&bytes);
    buffer.open(QIODevice::WriteOnly);
    QPdfWriter writer(&buffer);
    writer.setPageLayout(QPageLayout(QPageSize(QPageSize::A4), QPageLayout::Portrait, QMarginsF(0, 0, 0, 0)));
    writer.setResolution(paperResolution());
    writer.setTitle(rider);
    writer.setCreator("Marram");
    Pages(writer, picture, rider, cautions).run();
    return bytes;
}

} // namespace marram
