// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/window/reader.h"
#include "app/shell/tables.h"
#include "app/theme/theme.h"
#include "wording/wording.h"

#include <QFile>
#include <QHBoxLayout>
#include <QRegularExpression>
#include <QSettings>
#include <QVBoxLayout>

namespace marram {
namespace {

/// A text of ours in the language in force, in English where there is none.
QString textOf(const char* name) {
    for (const QString& ending : {"." + QString::fromStdString(languageCode()) + ".md", QString(".md")})
        if (QFile file(QString(":/marram/") + name + ending); file.open(QIODevice::ReadOnly))
            return QString::fromUtf8(file.readAll());
    return {};
}

} // namespace

QString guideText() {
    return textOf("guide");
}

QString newestChanges() {
    const QString all = textOf("changes");
    const auto from = all.indexOf("\n## "), to = all.indexOf("\n## ", from + 4);
    return from < 0 ? QString() : all.mid(from + 1, to < 0 ? -1 : to - from);
}

bool isNewerThanSeen(const QString& version) {
    QSettings settings;
    const QString seen = settings.value("seenVersion").toString();
    settings.setValue("seenVersion", version);
    return !seen.isEmpty() && seen != version;
}

Reader::Reader(const QString& title, const QString& markdown, QWidget* parent)
    : QDialog(parent), search_(new QLineEdit), list_(new QListWidget), page_(new QTextBrowser) {
    setObjectName("reader");
    setWindowTitle(title);
    setAttribute(Qt::WA_DeleteOnClose);
    QString heading = title, text;
    const auto keep = [&] {
        if (!text.trimmed().isEmpty())
            parts_.push_back({heading, text.trimmed()});
        text.clear();
    };
    for (const QString& line : markdown.split('\n')) {
        if (line.startsWith("## ")) {
            keep();
            heading = line.mid(3).trimmed();
        } else if (!line.startsWith("# ")) {
            text += line + "\n";
        }
    }
    keep();
    search_->setObjectName("readerSearch");
    search_->setPlaceholderText(wording("Search"));
    search_->setAccessibleName(wording("Search"));
    search_->setClearButtonEnabled(true);
    list_->setObjectName("readerParts");
    list_->setAccessibleName(wording("Parts"));
    list_->setFrameShape(QFrame::NoFrame);
    list_->setWordWrap(true);
    list_->setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
    list_->setMaximumWidth(qRound(230 * textScale()));
    page_->setObjectName("readerPage");
    page_->setAccessibleName(wording("Text"));
    page_->setOpenLinks(false); // nothing is fetched
    auto* columns = new QHBoxLayout(this);
    auto* left = new QVBoxLayout;
    left->addWidget(search_);
    left->addWidget(list_, 1);
    columns->addLayout(left);
    columns->addSpacing(14);
    columns->addWidget(page_, 1);
    resize(qRound(900 * textScale()), qRound(600 * textScale()));
    connect(search_, &QLineEdit::textChanged, this, &Reader::search);
    connect(search_, &QLineEdit::returnPressed, list_, qOverload<>(&QWidget::setFocus));
    connect(list_, &QListWidget::currentRowChanged, this, [this](int row) {
        if (row >= 0)
            showPart(list_->item(row)->data(Qt::UserRole).toInt());
    });
    search({});
    const bool one = parts_.size() < 2;
    list_->setVisible(!one);
    search_->setVisible(!one);
}

/// Parts that have every word, in their heading or text.
void Reader::search(const QString& words) {
    const QStringList wanted = words.simplified().split(' ', Qt::SkipEmptyParts);
    list_->clear();
    for (size_t i = 0; i < parts_.size(); ++i) {
        const QString all = parts_[i].heading + " " + parts_[i].text;
        bool has = true;
        for (const QString& word : wanted)
            has = has && all.contains(word, Qt::CaseInsensitive);
        if (!has)
            continue;
        auto* item = new QListWidgetItem(parts_[i].heading);
        item->setData(Qt::UserRole, static_cast<int>(i));
        list_->addItem(item);
    }
    if (list_->count() > 0)
        list_->setCurrentRow(0);
    else
        page_->setPlainText(wording("No part has these words."));
}

void Reader::showPart(int part) {
    const Part& p = parts_[static_cast<size_t>(part)];
    // The half-bold that ships, where Qt would fake a bold; pictures as wide as the page has room for.
    QTextDocument page;
    page.setDefaultFont(font());
    page.setMarkdown("## " + p.heading + "\n\n" + p.text);
    QString html = page.toHtml();
    static const QRegularExpression picture("<img src=\"(screenshots/[\\w-]+\\.png)\"");
    html.replace("font-weight:700", "font-weight:600")
        .replace(picture,
                 QString("<img width=\"%1\" src=\":/marram/\\1\"").arg(std::max(200, page_->width() - 60)));
    page_->setHtml(html);
    const QStringList wanted = search_->text().simplified().split(' ', Qt::SkipEmptyParts);
    QList<QTextEdit::ExtraSelection> marks;
    for (const QString& word : wanted)
        for (QTextCursor at = page_->document()->find(word); !at.isNull();
             at = page_->document()->find(word, at)) {
            QTextEdit::ExtraSelection mark;
            mark.cursor = at;
            mark.format.setBackground(shore().sand);
            marks << mark;
        }
    page_->setExtraSelections(marks);
}

void Reader::open(const QString& part) {
    for (int row = 0; row < list_->count(); ++row)
        if (list_->item(row)->text().contains(part, Qt::CaseInsensitive))
            return list_->setCurrentRow(row);
}

} // namespace marram

#include "moc_reader.cpp"
