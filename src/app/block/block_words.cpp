// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/block/block_words.h"
#include "core/session/feel.h"
#include "core/session/shorthand.h"
#include "wording/wording.h"

#include <algorithm>
#include <cmath>

namespace marram {

const char* const riderCaution = marked(
    "Stop, and see a doctor, with chest pain, fainting, palpitations, fever or unusual breathlessness. Ill, "
    "do "
    "not train; tell your coach. Maximal efforts only rested, healthy and cleared for them.");

QString figuresWords(const Session& session, const BoardPicture& picture) {
    const SessionFigures f = figuresOf(session, picture.lowThreshold);
    QString words = wording("%1, %2 points").arg(lengthText(f.seconds)).arg(f.stress, 0, 'f', 0);
    if (picture.thresholdPower)
        words += QString(", %1 kJ").arg(f.mean * *picture.thresholdPower * f.seconds / 1000, 0, 'f', 0);
    QStringList bands;
    if (f.purpose.middle >= 60)
        bands << wording("%1 middle", lengthText(static_cast<int>(f.purpose.middle)));
    if (f.purpose.high >= 30)
        bands << wording("%1 high", lengthText(static_cast<int>(f.purpose.high)));
    return bands.isEmpty() ? words : wording("%1; of it %2", words, bands.join(wording(" and ")));
}

std::optional<std::pair<std::string, int>> rungIn(const Session& session, const FamilyBook& book) {
    for (const Family& f : book.all())
        for (size_t r = 0; r < f.work.size(); ++r) {
            const auto& work = f.work[r].items;
            if (!work.empty() && std::search(session.items.begin(), session.items.end(), work.begin(),
                                             work.end()) != session.items.end())
                return std::pair{f.name, static_cast<int>(r) + 1};
        }
    return std::nullopt;
}

namespace {

QString stepLine(const BoardPicture& picture, const Step& s) {
    QString words = QString::fromStdString(writeShorthand(s));
    QStringList more;
    if (picture.thresholdPower && s.kind == TargetKind::Power) {
        const long from = std::lround(s.from * *picture.thresholdPower),
                   to = std::lround(s.to * *picture.thresholdPower);
        more << (from == to ? QString("%1 W").arg(from) : wording("%1 to %2 W").arg(from).arg(to));
    }
    more << QString::fromStdString(feelWords(feelOf(s, picture.heartRate, picture.lowThreshold)));
    return words + " (" + more.join(", ") + ")";
}

void itemLines(const BoardPicture& picture, const std::vector<Item>& items, int depth, QStringList& out) {
    const QString indent(qsizetype{4} * depth, ' ');
    for (const Item& item : items) {
        if (item.count == 0) {
            out << indent + stepLine(picture, item.step);
            continue;
        }
        out << indent + wording("%1 times:").arg(item.count);
        itemLines(picture, item.part, depth + 1, out);
        for (const Step& rest : item.rest)
            out << wording("%1    between: %2", indent, stepLine(picture, rest));
    }
}

} // namespace

QStringList sessionLines(const BoardPicture& picture, const Session& session) {
    QStringList out;
    itemLines(picture, session.items, 0, out);
    return out;
}

QString weekText(const BoardPicture& picture, const BoardWeek& week, const QString& rider) {
    QStringList out{rider + ", " + spanWords(week.start, week.start + 6, picture.today)};
    if (week.planned && week.summed)
        out << wording("%1 of riding, %2 points.")
                   .arg(lengthText(static_cast<int>(week.sum.purpose.sum())))
                   .arg(week.sum.stress, 0, 'f', 0);
    for (const BoardDay& d : week.days) {
        const QString day = QString::fromStdString(namedDayText(d.date, picture.today));
        out << "";
        if (!d.race.isEmpty()) {
            out << day + ": " + d.race;
            continue;
        }
        if (!d.away.isEmpty()) {
            out << day + ": " + withinSentence(d.away);
            continue;
        }
        if (d.sessions.empty()) {
            out << day + (d.past && !d.meantSession.items.empty()
                              ? ": " + wording(QString::fromStdString(d.meant->family))
                              : wording(": rest"));
            continue;
        }
        for (const BlockSession& s : d.sessions) {
            out << day + ": " +
                       (s.family.empty() ? wording("session") : wording(QString::fromStdString(s.family))) +
                       ", " + lengthText(s.seconds);
            if (s.ridden()) {
                for (const QString& line : sessionLines(picture, s.session))
                    out << "    " + line;
                if (s.seconds >= 3600)
                    out << "    " + QString::fromStdString(fuelWords(s.seconds));
            }
            if (!s.note.empty())
                out << "    " + QString::fromStdString(s.note);
        }
    }
    out << "" << wording(riderCaution);
    return out.join('\n') + "\n";
}

} // namespace marram
