// SPDX-License-Identifier: GPL-3.0-or-later
#include "cli/letter.h"
#include "cli/reading.h"
#include "formats/paper/letter.h"
#include "store/letters.h"

#include <QDate>
#include <QDir>
#include <QGuiApplication>
#include <algorithm>

namespace marram::cli {
namespace {

QByteArray textOf(const Letter& l) {
    return QByteArray::fromStdString(letterText(l.monday, l.coach.toStdString()));
}

/// A page needs fonts and so Qt's graphics, but no screen.
template <class Make>
Result<void> writePage(const QString& file, Make make) {
    qputenv("QT_QPA_PLATFORM", "offscreen");
    qInstallMessageHandler([](QtMsgType, const QMessageLogContext&, const QString&) {}); // not of our affair
    static int count = 1;
    static char name[] = "marram-cli";
    static char* arguments[] = {name, nullptr};
    const QGuiApplication application(count, arguments);
    return writeWholeFile(file, make());
}

Result<QByteArray> lettersToAll(const Roster& roster, const QString& folder, Date week) {
    if (auto ok = makeFolder(folder); !ok)
        return tl::unexpected(ok.error());
    QByteArray written;
    const auto count = eachLetter(roster, week, todayHere(), {}, [&](const Letter& letter) -> Result<void> {
        const QString file = QDir(folder).filePath(letter.fileName + ".txt");
        written += file.toUtf8() + '\n';
        return writeWholeFile(file, textOf(letter));
    });
    return count ? Result<QByteArray>(written) : tl::unexpected(count.error());
}

} // namespace

Date todayHere() {
    const QDate now = QDate::currentDate();
    return fromCivil(now.year(), now.month(), now.day());
}

Result<void> writeTablePdf(const QString& file, const QString& title, const QByteArrayList& header,
                           const std::vector<QByteArrayList>& rows) {
    return writePage(file, [&] { return tablePdf(title, header, rows); });
}

Result<RiderRecord> riderNamed(const Roster& roster, const QString& name) {
    const auto riders = roster.riders();
    if (!riders)
        return tl::unexpected(riders.error());
    const auto found =
        std::find_if(riders->begin(), riders->end(), [&](const RiderRecord& r) { return r.name == name; });
    if (found != riders->end())
        return *found;
    QStringList names;
    for (const RiderRecord& r : *riders)
        names << r.name;
    return refuse(roster.path().toStdString() + ": has no rider \"" + name.toStdString() + "\"; it has " +
                  (names.isEmpty() ? "none yet" : names.join(", ").toStdString()));
}

Result<QByteArray> letter(const LetterRequest& r) {
    const auto week = parseDate(r.week);
    if (!week || weekday(*week) != 0)
        return refuse("--week: must be a Monday, as 2027-03-01");
    if (*week > todayHere())
        return refuse("--week: the week of " + isoText(*week) +
                      " has not begun; the letter looks back on one");
    const auto roster = Roster::open(r.roster);
    if (!roster)
        return tl::unexpected(roster.error());
    if (!r.all.isEmpty())
        return lettersToAll(**roster, r.all, *week);
    const auto rider = riderNamed(**roster, r.rider);
    if (!rider)
        return tl::unexpected(rider.error());
    const auto one = letterOf(**roster, *rider, *week, todayHere());
    if (!one)
        return tl::unexpected(one.error());
    if (!r.pdf.isEmpty())
        if (auto ok = writePage(r.pdf, [&] { return letterPdf(one->monday, one->coach); }); !ok)
            return tl::unexpected(ok.error());
    return textOf(*one);
}

} // namespace marram::cli
