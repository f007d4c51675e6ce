// SPDX-License-Identifier: GPL-3.0-or-later
#include "formats/paper/letter.h"
#include "formats/paper/half_bold.h"
#include "wording/wording.h"

#include <QAbstractTextDocumentLayout>
#include <QBuffer>
#include <QFontDatabase>
#include <QPageSize>
#include <QPdfWriter>
#include <QTextDocument>
#include <cmath>

static void bringFonts() {
    Q_INIT_RESOURCE(paper); // not inside a namespace
}

namespace marram {
namespace {

QString plain(const std::string& text) {
    return QString::fromStdString(text).toHtmlEscaped();
}

QString hoursOf(double hours) {
    if (hours <= 0)
        return "–";
    const int minutes = static_cast<int>(std::lround(60 * hours));
    return QString("%1:%2").arg(minutes / 60).arg(minutes % 60, 2, 10, QChar('0'));
}

QString cell(const QString& text, bool right = false) {
    return QString("<td style='padding:1px 10px 1px 0'%1>%2</td>").arg(right ? " align='right'" : "", text);
}

QString weekTable(const std::array<MondayDay, 7>& days, bool ridden, Date today) {
    QString rows;
    for (const MondayDay& d : days) {
        if (ridden && d.day >= today && d.hours <= 0)
            continue;
        const double hours = ridden ? d.hours : d.plannedHours;
        const std::optional<double> points = ridden ? d.ridden : std::optional(d.planned);
        QString words =
            d.meant.empty() && (!ridden || d.planned >= 5) ? QString(nameOf(d.role)) : plain(d.meant);
        if (ridden && !d.verdict.empty())
            words += (words.isEmpty() ? "" : ": ") + plain(d.verdict);
        rows += "<tr>" + cell(plain(weekdayText(d.day))) + cell(hoursOf(hours), true) +
                cell(points && *points >= 1 ? QString::number(*points, 'f', 0) : QString(), true) +
                cell(words) + "</tr>";
    }
    return "<table cellspacing='0' style='margin-top:3px'>" + rows + "</table>";
}

QString lines(const std::vector<std::string>& all) {
    QString out;
    for (const std::string& line : all)
        out += "<p style='margin:2px 0'>" + plain(line) + "</p>";
    return out;
}

std::vector<std::string> texts(const std::vector<ReportLine>& all) {
    std::vector<std::string> out;
    out.reserve(all.size());
    for (const ReportLine& l : all)
        out.push_back(l.text);
    return out;
}

} // namespace

QString shippedTypeface() {
    static const QString family = [] {
        bringFonts();
        const int id = QFontDatabase::addApplicationFont(":/marram/fonts/text-regular.ttf");
        QFontDatabase::addApplicationFont(":/marram/fonts/text-semibold.ttf");
        return QFontDatabase::applicationFontFamilies(id).value(0);
    }();
    return family;
}

QString letterHtml(const Monday& m, const QString& coach) {
    const auto heading = [](const QString& text) {
        return QString("<p style='margin:9px 0 1px 0; font-weight:600'>%1</p>").arg(text);
    };
    QString words = coach.toHtmlEscaped().replace('\n', "<br>");
    if (words.isEmpty())
        for (const std::string& s : m.say)
            words += (words.isEmpty() ? "" : " ") + plain(s);
    QString out = QString("<p style='margin:0; font-size:x-large; font-weight:600'>%1</p>"
                          "<p style='margin:0 0 8px 0'>Week of %2 %3</p><p style='margin:0 0 4px 0'>%4</p>")
                      .arg(plain(m.rider), plain(dayText(m.week)))
                      .arg(toCivil(m.week).year)
                      .arg(words);
    out += heading(wording("The week")) + lines({m.done}) + weekTable(m.days, true, m.today);
    const auto section = [&](const QString& title, const std::vector<std::string>& all) {
        if (!all.empty())
            out += heading(title) + lines(all);
    };
    section(wording("What it did"), m.did);
    section(wording("How it felt"), m.felt);
    section(wording("What stands out"), texts(m.standsOut));
    section(wording("The same again"), texts(m.again));
    section(wording("What comes"), m.comes);
    if (std::any_of(m.coming.begin(), m.coming.end(), [](const MondayDay& d) { return d.kept; }))
        out += weekTable(m.coming, false, m.today);
    std::vector<std::string> cautions;
    for (const Caution& c : m.cautions)
        cautions.push_back(c.text);
    section(wording("Cautions"), cautions);
    if (!m.cautions.empty())
        out += lines({phrase("Marram advises a coach; it does not diagnose.")});
    return out;
}

namespace {

/// Sets a document on A4 as large as it fits one page, from `largest` points down to seven and a half.
QByteArray setOnPaper(const QString& html, const QString& title, QPageLayout::Orientation orientation,
                      int largest) {
    QByteArray bytes;
    QBuffer buffer(&bytes);
    buffer.open(QIODevice::WriteOnly);
    QPdfWriter writer(&buffer);
    constexpr qreal margin = 18;
    writer.setPageLayout(QPageLayout(QPageSize(QPageSize::A4), orientation,
                                     QMarginsF(margin, margin, margin, margin), QPageLayout::Millimeter));
    constexpr int dots = 144;
    writer.setResolution(dots);
    writer.setTitle(title);
    writer.setCreator("Marram");
    const QSizeF page = writer.pageLayout().paintRectPixels(dots).size();
    QTextDocument document;
    document.documentLayout()->setPaintDevice(&writer);
    document.setDocumentMargin(0);
    document.setHtml(semiBold(html));
    constexpr int least = 15; // half points
    for (int half = 2 * largest; half >= least; --half) {
        QFont font(shippedTypeface());
        font.setPointSizeF(half / 2.0);
        document.setDefaultFont(font);
        document.setPageSize(page);
        if (document.pageCount() == 1)
            break;
    }
    document.print(&writer);
    return bytes;
}

} // namespace

QByteArray letterPdf(const Monday& monday, const QString& coach) {
    return setOnPaper(letterHtml(monday, coach), QString::fromStdString(monday.rider), QPageLayout::Portrait,
                      10);
}

QByteArray sheetPdf(const QString& rider, Date monday) {
    QString head = "<td></td>", rows;
    for (const CheckInScale& s : checkInScales)
        head += QString("<td><b>%1</b></td>").arg(QString::fromStdString(translated(s.name)));
    head += wording("<td><b>Resting heart rate</b></td><td><b>Weight</b></td><td><b>Ill</b></td>");
    for (int d = 0; d < 7; ++d) {
        rows += QString("<tr><td style='padding:7px 12px 0 0'><b>%1</b> %2</td>")
                    .arg(plain(weekdayText(monday + d)), plain(dayText(monday + d, monday)));
        for (size_t i = 0; i < checkInScales.size(); ++i)
            rows += "<td style='padding:7px 12px 0 0'>1 &nbsp;2 &nbsp;3 &nbsp;4 &nbsp;5</td>";
        rows +=
            "<td style='padding:7px 12px 0 0'>______</td><td style='padding:7px 12px 0 0'>______</td>"
            "<td style='padding:7px 12px 0 0'>yes</td></tr><tr><td></td><td colspan='7' "
            "style='padding:3px 0 7px 0'>_________________________________________________________________"
            "__</td></tr>";
    }
    return setOnPaper(
        QString("<p style='font-size:x-large; font-weight:600; margin:0'>%1</p>"
                "<p style='margin:0 0 8px 0'>Check-ins, week of %2</p>"
                "<p style='margin:0 0 8px 0'>Ring one number a scale; 5 is best, and for soreness 5 is none. "
                "Leave out what you do not know. The line is for a word. To answer by file instead, fill in "
                "check-in.csv, a line a day, and put it into from-rider.</p>"
                "<table cellspacing='0'><tr>%3</tr>%4</table>"
                "<p style='margin:10px 0 0 0'>Fever, chest pain, fainting, palpitations or unusual "
                "breathlessness: stop, and see a doctor. This sheet does not stand in for one.</p>")
            .arg(rider.toHtmlEscaped(), plain(dayText(monday)), head, rows),
        rider, QPageLayout::Portrait, 10);
}

QByteArray tablePdf(const QString& title, const QByteArrayList& header,
                    const std::vector<QByteArrayList>& rows) {
    const auto line = [](const QByteArrayList& cells, const char* tag) {
        QString out;
        for (const QByteArray& c : cells) {
            bool number = false;
            const double v = c.toDouble(&number);
            const auto day = parseDate(c.toStdString()); // on paper as people write them
            out += QString("<%1 style='padding:1px 10px 1px 0'%2>%3</%1>")
                       .arg(tag, number ? " align='right'" : " align='left'",
                            number && c.contains('.') ? QString::number(v, 'f', 1)
                            : day                     ? plain(shortDayText(*day, *day))
                                                      : QString::fromUtf8(c).toHtmlEscaped());
        }
        return "<tr>" + out + "</tr>";
    };
    QString body;
    for (const QByteArrayList& row : rows)
        body += line(row, "td");
    return setOnPaper(QString("<p style='font-size:x-large; font-weight:600; margin:0 0 6px 0'>%1</p>"
                              "<table cellspacing='0'><thead>%2</thead>%3</table>")
                          .arg(title.toHtmlEscaped(), line(header, "th"), body),
                      title, QPageLayout::Landscape, 10);
}

} // namespace marram
