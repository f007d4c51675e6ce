// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/review/report_page.h"
#include "app/review/figure_painter.h"
#include "app/review/rich.h"
#include "app/shell/tables.h"
#include "wording/wording.h"

#include <QEvent>
#include <QHBoxLayout>
#include <QPainter>
#include <QScrollBar>
#include <QVBoxLayout>

namespace marram {
namespace {

struct Span {
    const char* name;
    int days;
};
constexpr std::array spans{Span{marked("8 weeks"), 56},   Span{marked("12 weeks"), 84},
                           Span{marked("20 weeks"), 140}, Span{marked("half a year"), 182},
                           Span{marked("a year"), 364},   Span{marked("three years"), 1092}};
constexpr int usualSpan = 2;

QString link(const QString& to, const QString& words, const Shore& c) {
    return QString("<a href='%1' style='color:%2'>%3</a>").arg(to, c.tide.name(), words);
}

QString tableHtml(const ReportTable& table, const Shore& c) {
    QString out = "<table cellspacing='0' cellpadding='3' style='margin:8px 0'><tr>";
    const auto align = [&](size_t i) {
        return static_cast<int>(i) < table.left ? QString("left") : QString("right");
    };
    for (size_t i = 0; i < table.columns.size(); ++i)
        out += QString("<td align='%1' valign='bottom' style='color:%2; padding-right:14px'>%3</td>")
                   .arg(align(i), c.muted.name(), html(table.columns[i]));
    out += "</tr>";
    for (const auto& row : table.rows) {
        out += "<tr>";
        for (size_t i = 0; i < row.size(); ++i)
            out += QString("<td align='%1' style='border-top:1px solid %2; padding-right:14px'>%3</td>")
                       .arg(align(i), c.hairline.name(), html(row[i]));
        out += "</tr>";
    }
    return out + "</table>";
}

/// Draws a figure and puts it into the document; its place in rich text.
QString figureHtml(QTextDocument& document, const Figure& figure, int number, double width, double height,
                   const Shore& c) {
    constexpr double sharp = 2; // drawn twice as fine, for fine screens and for paper
    QImage image((QSizeF(width, height) * sharp).toSize(), QImage::Format_ARGB32_Premultiplied);
    image.fill(c.paper);
    QPainter painter(&image);
    painter.scale(sharp, sharp);
    paintFigure(painter, QRectF(0, 0, width, height), figure, c);
    painter.end();
    const QString name = QString("figure:%1").arg(number);
    document.addResource(QTextDocument::ImageResource, QUrl(name), image);
    return QString("<img src='%1' width='%2' height='%3'>").arg(name).arg(qRound(width)).arg(qRound(height));
}

} // namespace

/// Two beside each other where there are two and room; `number` counts the figures of the report.
static QString figuresHtml(QTextDocument& document, const std::vector<Figure>& figures, int& number,
                           double width, const Shore& c) {
    const double half = (width - 52) / 2;
    const bool pairs = figures.size() > 1 && half > 300 * textScale();
    const double each = pairs ? half : std::min(width - 12, 900 * textScale());
    const double height = (pairs ? 150 : 190) * textScale();
    QString out = "<table cellspacing='0' cellpadding='0'>";
    for (size_t f = 0; f < figures.size(); ++f) {
        if (!pairs || f % 2 == 0)
            out += "<tr>";
        // More than two say in their table what they show.
        const QString tells = figures.size() > 2 ? QString() : html(figures[f].tells);
        out += QString("<td width='%1' style='padding-top:10px; padding-right:%2px'>")
                   .arg(qRound(each))
                   .arg(pairs ? 18 : 0) +
               figureHtml(document, figures[f], number++, each, height, c) +
               (tells.isEmpty() ? QString() : paragraph(tells, c.muted)) + "</td>";
        if (!pairs || f % 2 == 1 || f + 1 == figures.size())
            out += "</tr>";
    }
    return out + "</table>";
}

QString reportHtml(QTextDocument& document, const Report& report, double width, const Shore& c) {
    QString out;
    int number = 0;
    for (size_t p = 0; p < report.parts.size(); ++p) {
        const ReportPart& part = report.parts[p];
        if (!part.heading.empty())
            out += heading(html(part.heading), 16);
        for (const ReportLine& line : part.words)
            out += paragraph(html(line.text) + (line.ride == 0 ? QString()
                                                               : " " + link(QString("ride:%1").arg(line.ride),
                                                                            wording("the ride"), c)));
        for (size_t t = 0; t < part.tries.size(); ++t)
            out += paragraph(
                link(QString("try:%1:%2").arg(p).arg(t), wording("Try %1", html(part.tries[t].name)), c) +
                ": " + html(part.tries[t].does));
        if (!part.figures.empty())
            out += figuresHtml(document, part.figures, number, width, c);
        if (part.table)
            out += tableHtml(*part.table, c);
        for (const std::string& aside : part.asides)
            out += paragraph(html(aside), c.muted, 4);
    }
    return semiBold(out);
}

ReportPage::ReportPage(Workspace& workspace, QWidget* parent)
    : QWidget(parent), workspace_(workspace), questions_(new QListWidget), title_(headingLabel({})),
      state_(wordsLabel({}, true)), spanWords_(captionLabel(wording("Over"))), span_(new QComboBox),
      page_(new QTextBrowser) {
    auto* layout = new QHBoxLayout(this);
    layout->setContentsMargins(0, 8, 8, 0);
    layout->setSpacing(24);
    questions_->setObjectName("questions");
    questions_->setAccessibleName(wording("What is asked of the record"));
    questions_->setFrameShape(QFrame::NoFrame);
    questions_->setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
    questions_->setWordWrap(true);
    questions_->setSpacing(4);
    questions_->viewport()->setAutoFillBackground(false);
    for (const QuestionWords& q : questions)
        questions_->addItem(wording(q.name));
    layout->addWidget(questions_);
    auto* right = new QVBoxLayout;
    auto* head = new QHBoxLayout;
    title_->setObjectName("reportTitle");
    head->addWidget(title_);
    head->addSpacing(16);
    head->addWidget(spanWords_);
    span_->setObjectName("reportSpan");
    span_->setAccessibleName(wording("Over which span"));
    for (const Span& s : spans)
        span_->addItem(wording(s.name), s.days);
    span_->setCurrentIndex(usualSpan);
    head->addWidget(span_);
    head->addWidget(state_, 1);
    right->addLayout(head);
    page_->setObjectName("report");
    page_->setAccessibleName(wording("The answer"));
    page_->setFrameShape(QFrame::NoFrame);
    page_->setOpenLinks(false);
    page_->setHorizontalScrollBarPolicy(Qt::ScrollBarAsNeeded);
    page_->document()->setDocumentMargin(0);
    page_->viewport()->setAutoFillBackground(false);
    right->addWidget(page_, 1);
    layout->addLayout(right, 1);
    questions_->setCurrentRow(0);
    again_.setSingleShot(true);
    again_.setInterval(80);
    connect(&again_, &QTimer::timeout, this, &ReportPage::show);
    connect(questions_, &QListWidget::currentRowChanged, this, &ReportPage::askChosen);
    connect(span_, &QComboBox::activated, this, &ReportPage::askChosen);
    connect(page_, &QTextBrowser::anchorClicked, this, [this](const QUrl& url) { follow(url.toString()); });
    connect(&workspace_.answers, &Answers::changed, this, [this] {
        if (isVisible())
            refresh();
    });
}

void ReportPage::ask(Question question) {
    questions_->setCurrentRow(static_cast<int>(question));
    questions_->setFocus();
}

void ReportPage::askChosen() {
    const auto& q = questions.at(static_cast<size_t>(std::max(0, questions_->currentRow())));
    const int days =
        spans.at(static_cast<size_t>(q.spans ? std::max(0, span_->currentIndex()) : usualSpan)).days;
    workspace_.answers.ask(q.question, days);
    refresh();
}

void ReportPage::showEvent(QShowEvent*) {
    askChosen();
    workspace_.answers.watch(true);
    refresh();
}

void ReportPage::hideEvent(QHideEvent*) {
    workspace_.answers.watch(false);
}

void ReportPage::resizeEvent(QResizeEvent*) {
    again_.start();
}

void ReportPage::changeEvent(QEvent* event) {
    if (event->type() == QEvent::PaletteChange || event->type() == QEvent::FontChange)
        again_.start();
    QWidget::changeEvent(event);
}

void ReportPage::refresh() {
    const auto& q = questions.at(static_cast<size_t>(workspace_.answers.question()));
    title_->setText(wording(q.name));
    title_->setFont(typeface(Type::Title, true));
    spanWords_->setVisible(q.spans);
    span_->setVisible(q.spans);
    questions_->setFixedWidth(questions_->sizeHintForColumn(0) + qRound(24 * textScale()));
    state_->setText(workspace_.answers.reading() ? wording("Reading the record…") : QString());
    const auto now = workspace_.answers.picture();
    // What was answered stays until the new answer is there, but never under another question or rider.
    if (!now && shown_ && shown_->rider == workspace_.chosen.id() &&
        shown_->question == workspace_.answers.question())
        return;
    if (now == shown_ && now)
        return;
    const bool other = !now || !shown_ || shown_->rider != now->rider || shown_->question != now->question;
    shown_ = now;
    show();
    if (other)
        page_->verticalScrollBar()->setValue(0);
}

void ReportPage::show() {
    const int at = page_->verticalScrollBar()->value();
    page_->document()->clear();
    if (shown_)
        page_->setHtml(reportHtml(*page_->document(), shown_->report, page_->viewport()->width(), shore()));
    page_->verticalScrollBar()->setValue(at);
}

void ReportPage::follow(const QString& to) {
    const QStringList parts = to.split(':');
    if (parts.size() == 2 && parts[0] == "ride")
        emit wantsRide(parts[1].toLongLong());
    if (parts.size() != 3 || parts[0] != "try" || !shown_)
        return;
    const auto part = static_cast<size_t>(parts[1].toInt()), number = static_cast<size_t>(parts[2].toInt());
    if (part < shown_->report.parts.size() && number < shown_->report.parts[part].tries.size()) {
        const ReportTry chosen = shown_->report.parts[part].tries[number];
        emit wantsTry(QString::fromStdString(chosen.name), chosen.season);
    }
}

void ReportPage::print(QPrinter& printer) const {
    if (!shown_)
        return;
    QTextDocument document;
    document.setDefaultFont(typeface(Type::Body));
    const RiderRecord* who = workspace_.chosen.rider();
    const QRectF page = printer.pageRect(QPrinter::Point);
    document.setPageSize(page.size());
    const QString head = QString("<h3>%1: %2</h3>")
                             .arg(who ? who->name.toHtmlEscaped() : QString(), html(shown_->report.title));
    document.setHtml(semiBold(head) + reportHtml(document, shown_->report, page.width() - 20, paperShore()));
    document.print(&printer);
}

} // namespace marram

#include "moc_report_page.cpp"
