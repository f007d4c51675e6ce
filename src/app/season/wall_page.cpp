// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/season/wall_page.h"
#include "app/season/season_painter.h"
#include "app/theme/theme.h"
#include "formats/csv/plan_csv.h"
#include "formats/files/files.h"
#include "formats/ical/calendar.h"
#include "formats/json/season_json.h"
#include "wording/wording.h"

#include <QBuffer>
#include <QFileDialog>
#include <QHBoxLayout>
#include <QJsonDocument>
#include <QLabel>
#include <QPainter>
#include <QPdfWriter>
#include <QPushButton>
#include <QSettings>
#include <QSvgGenerator>
#include <QVBoxLayout>

namespace marram {
namespace {

constexpr double pageWidth = 1123, pageHeight = 794; ///< A4 across, at 96 dots an inch
const char* const healthWords = marked(
    "A plan is advice to a coach, not a diagnosis. Stop and see a doctor for fever, chest pain, fainting, "
    "palpitations or unusual breathlessness, and for fatigue that does not lift in two weeks. Minors, "
    "pregnancy, "
    "heart or metabolic disease and return from illness or injury: under licensed care.");

/// Numbers of the weeks under the picture, as many as there is room for.
void weekNumbers(QPainter& painter, const SeasonScene& scene, const Shore& colours, double lineHeight) {
    painter.setFont(typeface(Type::Small));
    painter.setPen(colours.muted);
    const double week = 7 * scene.dayWidth();
    const double room = QFontMetricsF(typeface(Type::Small)).horizontalAdvance("52") + 5;
    const int every = std::max(1, static_cast<int>(std::ceil(room / week)));
    painter.drawText(QRectF(2, scene.plot.bottom() + 2, scene.plot.left() - 8, lineHeight),
                     Qt::AlignLeft | Qt::AlignVCenter, wording("Week"));
    int n = 0;
    for (Date w = monday(scene.first); w <= scene.last; w = w + 7, ++n)
        if (n % every == 0)
            painter.drawText(QRectF(scene.xOf(w), scene.plot.bottom() + 2, week * every, lineHeight),
                             Qt::AlignLeft | Qt::AlignVCenter,
                             QString::number(QDate(1970, 1, 1).addDays(w.days).weekNumber()));
}

} // namespace

void paintWallPage(QPainter& painter, const QSizeF& size, const SeasonPicture& picture,
                   const WallWords& words) {
    // Laid out at screen size and scaled, so that paper and screen look the same.
    const double factor = size.width() / pageWidth, height = size.height() / factor;
    const Shore& colours = paperShore();
    painter.save();
    painter.scale(factor, factor);
    painter.fillRect(QRectF(0, 0, pageWidth, height), Qt::white);
    const double margin = 24, line = QFontMetricsF(typeface(Type::Small)).height();
    painter.translate(margin, margin);
    const double width = pageWidth - 2 * margin, inner = height - 2 * margin;
    painter.setFont(typeface(Type::Title, true));
    painter.setPen(colours.ink);
    painter.drawText(QRectF(0, 0, width, 30), Qt::AlignLeft | Qt::AlignVCenter, words.rider);
    painter.setFont(typeface(Type::Body));
    painter.setPen(colours.muted);
    painter.drawText(QRectF(0, 0, width, 30), Qt::AlignRight | Qt::AlignVCenter,
                     wording("%1 to %2, as planned on %3")
                         .arg(QString::fromStdString(dayText(picture.season.start, picture.season.end)),
                              QString::fromStdString(dayText(picture.season.end, picture.season.start)),
                              QString::fromStdString(dayText(picture.today, picture.season.end))));
    const QString cautions =
        (words.cautions.trimmed().isEmpty() ? QString()
                                            : wording("For this rider: %1 ", words.cautions.simplified())) +
        wording(healthWords);
    const QRectF footer = QFontMetricsF(typeface(Type::Small))
                              .boundingRect(QRectF(0, 0, width, 400), Qt::TextWordWrap, cautions);
    SeasonScene scene;
    scene.namesWidth = strataNamesWidth();
    const double foot = footer.height() + line + 12;
    scene.layOut(picture, QRectF(0, 34, width, inner - 34 - foot), line, raceLabelWidths(picture));
    paintSeason(painter, scene, picture, {}, colours);
    weekNumbers(painter, scene, colours, line);
    painter.setFont(typeface(Type::Small));
    painter.setPen(colours.ink);
    painter.drawText(QRectF(0, inner - footer.height(), width, footer.height() + 4),
                     Qt::AlignLeft | Qt::TextWordWrap, cautions);
    painter.restore();
}

QByteArray wallPdf(const SeasonPicture& picture, const WallWords& words) {
    QByteArray bytes;
    QBuffer buffer(&bytes);
    buffer.open(QIODevice::WriteOnly);
    QPdfWriter writer(&buffer);
    writer.setPageLayout(
        QPageLayout(QPageSize(QPageSize::A4), QPageLayout::Landscape, QMarginsF(0, 0, 0, 0)));
    writer.setResolution(paperResolution());
    writer.setTitle(words.rider);
    writer.setCreator("Marram");
    QPainter painter(&writer);
    paintWallPage(painter, QSizeF(writer.width(), writer.height()), picture, words);
    painter.end();
    return bytes;
}

QByteArray wallSvg(const SeasonPicture& picture, const WallWords& words) {
    QByteArray bytes;
    QBuffer buffer(&bytes);
    buffer.open(QIODevice::WriteOnly);
    QSvgGenerator generator;
    generator.setOutputDevice(&buffer);
    generator.setSize(QSize(qRound(pageWidth), qRound(pageHeight)));
    generator.setViewBox(QRectF(0, 0, pageWidth, pageHeight));
    generator.setTitle(words.rider.toHtmlEscaped()); // it is written into the file as it stands
    QPainter painter(&generator);
    paintWallPage(painter, QSizeF(pageWidth, pageHeight), picture, words);
    painter.end();
    return bytes;
}

QByteArray wallPng(const SeasonPicture& picture, const WallWords& words) {
    constexpr double sharp = 2.5; // about 240 dots an inch
    QImage image(qRound(pageWidth * sharp), qRound(pageHeight * sharp), QImage::Format_RGB32);
    image.fill(Qt::white);
    QPainter painter(&image);
    paintWallPage(painter, QSizeF(image.width(), image.height()), picture, words);
    painter.end();
    QByteArray bytes;
    QBuffer buffer(&bytes);
    buffer.open(QIODevice::WriteOnly);
    image.save(&buffer, "PNG");
    return bytes;
}

WallPage::WallPage(const SeasonPicture& picture, const Season& whole, const WallWords& words,
                   const QString& key, QWidget* parent)
    : QDialog(parent), picture_(picture), whole_(whole), words_(words), key_(key) {
    setObjectName("wallPage");
    setWindowTitle(wording("The season on a page"));
    setAttribute(Qt::WA_DeleteOnClose);
    auto* layout = new QVBoxLayout(this);
    auto* preview = new QLabel;
    preview->setObjectName("wallPreview");
    preview->setAccessibleName(wording("The page as it will be"));
    QImage image(qRound(pageWidth * 0.85), qRound(pageHeight * 0.85), QImage::Format_RGB32);
    image.fill(Qt::white);
    QPainter painter(&image);
    paintWallPage(painter, QSizeF(image.width(), image.height()), picture_, words_);
    painter.end();
    preview->setPixmap(QPixmap::fromImage(image));
    layout->addWidget(preview);
    auto* buttons = new QHBoxLayout;
    const auto button = [&](const QString& text, auto what) {
        auto* b = new QPushButton(text);
        buttons->addWidget(b);
        connect(b, &QPushButton::clicked, this, what);
        return b;
    };
    button("PDF", [this] { ask("pdf", "PDF"); })->setObjectName("wallPdf");
    button("SVG", [this] { ask("svg", "SVG"); });
    button("PNG", [this] { ask("png", "PNG"); });
    button(wording("Print"), [this] { emit wantsPrint(); });
    buttons->addSpacing(20);
    button(wording("Calendar"), [this] { ask("ics", wording("Calendar")); })->setObjectName("wallCalendar");
    button(wording("Plan as CSV"), [this] { ask("csv", "CSV"); });
    button(wording("Season as JSON"), [this] { ask("json", "SEASON.json"); });
    buttons->addStretch();
    button(wording("Close"), [this] { close(); });
    layout->addLayout(buttons);
}

void WallPage::ask(const QString& ending, const QString& what) {
    const QString folder = QSettings().value("pagesFolder").toString();
    QString name = words_.rider.isEmpty() ? "season" : words_.rider;
    name.replace('/', '-');
    const QString path =
        QFileDialog::getSaveFileName(this, wording("Save the season"), folder + "/" + name + "." + ending,
                                     QString("%1 (*.%2)").arg(what, ending));
    if (path.isEmpty())
        return;
    QSettings().setValue("pagesFolder", QFileInfo(path).absolutePath());
    const QString full = path.endsWith("." + ending) ? path : path + "." + ending;
    if (const QString wrong = save(full); wrong.isEmpty())
        emit saved(wording("Saved as %1.", full));
    else
        emit failed(wrong);
}

QString WallPage::save(const QString& path) const {
    const Date from = whole_.past ? whole_.past->today : whole_.start;
    const QByteArray bytes = path.endsWith(".pdf")    ? wallPdf(picture_, words_)
                             : path.endsWith(".svg")  ? wallSvg(picture_, words_)
                             : path.endsWith(".png")  ? wallPng(picture_, words_)
                             : path.endsWith(".json") ? QJsonDocument(writeSeason(whole_)).toJson()
                             : path.endsWith(".ics")  ? writeCalendar(words_.rider, key_, whole_,
                                                                      picture_.plan, from, picture_.today)
                                                      : writePlanCsv(whole_, picture_.plan);
    const auto ok = writeWholeFile(path, bytes);
    return ok ? QString() : QString::fromStdString(ok.error().sentence);
}

} // namespace marram

#include "moc_wall_page.cpp"
