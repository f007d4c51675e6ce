// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "app/theme/theme.h"
#include "wording/wording.h"

#include <QAbstractItemDelegate>
#include <QHeaderView>
#include <QLabel>
#include <QLineEdit>
#include <QTableWidget>
#include <algorithm>
#include <array>

namespace marram {

/// A label for what stands beside it.
inline QLabel* captionLabel(const QString& text) {
    auto* label = new QLabel(text);
    label->setForegroundRole(QPalette::PlaceholderText);
    return label;
}

/// A label that may run over several lines.
inline QLabel* wordsLabel(const QString& text, bool muted = false) {
    auto* label = muted ? captionLabel(text) : new QLabel(text);
    label->setWordWrap(true);
    label->setTextInteractionFlags(Qt::TextSelectableByMouse);
    return label;
}

/// The heading of a part of a page.
inline QLabel* headingLabel(const QString& text) {
    auto* label = new QLabel(text);
    label->setFont(typeface(Type::Title, true));
    return label;
}

/// A table without boxes: hairlines, numbers to the right, the first `left` columns to the left.
/// The names tables and fields are read aloud by, as wordsOfName() makes them, for the catalogue.
inline constexpr std::array tableNames{
    marked("Check ins"),    marked("Copies"),     marked("Efforts"),
    marked("Improvements"), marked("Injuries"),   marked("List preview"),
    marked("Other weeks"),  marked("Races list"), marked("Record proposals"),
    marked("Roster"),       marked("Squad fits"), marked("Squad week"),
    marked("Test results"), marked("Values"),     marked("Cautions"),
    marked("Note"),         marked("Weeks"),      marked("Zones")};

/// What a widget of ours is called, as words: "otherWeeks" is "Other weeks".
inline QString wordsOfName(const QString& name) {
    QString words;
    for (const QChar c : name)
        words += words.isEmpty() ? QString(c.toUpper())
                 : c.isUpper()   ? " " + QString(c.toLower())
                                 : QString(c);
    return words;
}

inline QTableWidget* quietTable(const QStringList& columns, const QString& name, int left = 1) {
    auto* table = new QTableWidget(0, static_cast<int>(columns.size()));
    table->setObjectName(name);
    table->setAccessibleName(wording(wordsOfName(name)));
    table->setHorizontalHeaderLabels(columns);
    table->verticalHeader()->hide();
    table->verticalHeader()->setDefaultSectionSize(qRound(27 * textScale()));
    table->setShowGrid(false);
    table->setSelectionBehavior(QAbstractItemView::SelectRows);
    table->setSelectionMode(QAbstractItemView::SingleSelection);
    table->setEditTriggers(QAbstractItemView::NoEditTriggers);
    table->setTabKeyNavigation(false); // Tab leaves it; a keyboard has no other way out
    table->horizontalHeader()->setHighlightSections(false);
    table->horizontalHeader()->setSectionResizeMode(QHeaderView::ResizeToContents);
    table->horizontalHeader()->setResizeContentsPrecision(30); // rows looked at, not all of them
    for (int c = 0; c < table->columnCount(); ++c)
        table->horizontalHeaderItem(c)->setTextAlignment((c < left ? Qt::AlignLeft : Qt::AlignRight) |
                                                         Qt::AlignBottom);
    return table;
}

/// Leaves a table no higher than its rows, so that what stands under it stands by them; what is left of the
/// page stays empty below. To be laid out beside a stretch at the end.
inline void fitToRows(QTableWidget* table) {
    const auto fit = [table] {
        table->setMaximumHeight(table->horizontalHeader()->sizeHint().height() +
                                table->verticalHeader()->length() + 2 * table->frameWidth());
    };
    QObject::connect(table->verticalHeader(), &QHeaderView::sectionResized, table, fit);
    QObject::connect(table->verticalHeader(), &QHeaderView::sectionCountChanged, table, fit);
    QObject::connect(table->horizontalHeader(), &QHeaderView::geometriesChanged, table, fit);
    fit();
}

/// True while somebody types into a cell: filling the table anew would take it from them.
inline bool isBeingTyped(const QTableWidget* table) {
    const auto editors = table->viewport()->findChildren<QLineEdit*>();
    return std::any_of(editors.begin(), editors.end(), [](const QLineEdit* e) { return e->isVisible(); });
}

/// Has `refill` called once typing into a cell has ended, for what was put off meanwhile.
template <class Refill>
void whenTyped(QTableWidget* table, QObject* owner, Refill refill) {
    QObject::connect(table->itemDelegate(), &QAbstractItemDelegate::closeEditor, owner, refill,
                     Qt::QueuedConnection);
}

/// Whose rows a table shows: what is typed into it goes to them, whoever is chosen by then.
inline void setSubject(QTableWidget* table, qint64 subject) {
    table->setProperty("subject", subject);
}
inline qint64 subjectOf(const QTableWidget* table) {
    return table->property("subject").toLongLong();
}

/// One cell of such a table.
inline QTableWidgetItem* tableCell(const QString& text, bool right = true) {
    auto* item = new QTableWidgetItem(text);
    item->setTextAlignment((right ? Qt::AlignRight : Qt::AlignLeft) | Qt::AlignVCenter);
    return item;
}

} // namespace marram
