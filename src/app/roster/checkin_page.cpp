// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/roster/checkin_page.h"
#include "app/owners/checkin_file.h"
#include "app/settings/settings.h"
#include "app/shell/tables.h"
#include "wording/wording.h"

#include <QFileDialog>
#include <QHBoxLayout>
#include <QKeyEvent>
#include <QVBoxLayout>

namespace marram {
namespace {

enum Column { Name, Feel, Sleep, Soreness, Motivation, RestHeartRate, Weight, Ill, Note, ColumnCount };

bool isScale(int column) {
    return column >= Feel && column <= Motivation;
}

} // namespace

CheckInPage::CheckInPage(Workspace& workspace, QWidget* parent)
    : QWidget(parent), workspace_(workspace), day_(workspace.today()) {
    setFocusPolicy(Qt::StrongFocus);
    auto* layout = new QVBoxLayout(this);
    layout->setContentsMargins(0, 6, 0, 0);
    auto* head = new QHBoxLayout;
    title_ = new QLabel;
    title_->setObjectName("checkInDay");
    title_->setFont(typeface(Type::Body, true));
    const auto step = [&](const QString& text, const char* name, int days) {
        auto* b = new QPushButton(text);
        b->setObjectName(name);
        connect(b, &QPushButton::clicked, this,
                [this, days] { goTo(days == 0 ? workspace_.today() : day_ + days); });
        return b;
    };
    head->addWidget(title_);
    head->addSpacing(18);
    head->addWidget(step(wording("Day before"), "dayBefore", -1));
    head->addWidget(step(wording("Today"), "checkInToday", 0));
    head->addWidget(step(wording("Day after"), "dayAfter", 1));
    head->addStretch();
    layout->addLayout(head);
    table_ = quietTable({wording("Rider"), wording("Feel"), wording("Sleep"), wording("Soreness"),
                         wording("Motivation"), wording("Resting\nbpm"), wording("Weight\nkg"),
                         wording("Ill"), wording("Note")},
                        "checkIns", 1);
    table_->setSelectionBehavior(QAbstractItemView::SelectItems);
    table_->horizontalHeaderItem(Note)->setTextAlignment(Qt::AlignLeft | Qt::AlignBottom);
    table_->horizontalHeader()->setSectionResizeMode(Note, QHeaderView::Stretch);
    table_->setEditTriggers(QAbstractItemView::DoubleClicked | QAbstractItemView::EditKeyPressed |
                            QAbstractItemView::AnyKeyPressed);
    table_->installEventFilter(this);
    fitToRows(table_);
    layout->addWidget(table_, 1000);
    layout->addWidget(wordsLabel(
        wording(
            "1 poor to 5 very good; for soreness 5 is none. A digit fills the cell and moves on; Y marks "
            "illness, "
            "Delete clears, PageUp and PageDown change the day. How a rider feels outranks every number."),
        true));
    auto* buttons = new QHBoxLayout;
    const auto file = [&](const QString& text, auto slot) {
        auto* b = new QPushButton(text);
        connect(b, &QPushButton::clicked, this, slot);
        buttons->addWidget(b);
    };
    file(wording("Take in from CSV"), [this] { readFile(); });
    file(wording("Write all as CSV"), [this] { writeFile(); });
    buttons->addStretch();
    layout->addLayout(buttons);
    layout->addStretch(1);
    connect(table_, &QTableWidget::cellChanged, this, &CheckInPage::take);
    const auto follow = [this] {
        if (isVisible() && !isBeingTyped(table_))
            refresh();
    };
    connect(&workspace_.roster, &OpenRoster::ridersChanged, this, follow);
    connect(&workspace_.roster, &OpenRoster::touched, this, follow);
    connect(&workspace_.clock, &Clock::dayChanged, this, follow);
    whenTyped(table_, this, follow);
}

void CheckInPage::goTo(Date day) {
    day_ = day;
    refresh();
}

void CheckInPage::beginAt(qint64 rider) {
    refresh();
    for (int row = 0; row < table_->rowCount(); ++row)
        if (table_->item(row, Name)->data(Qt::UserRole).toLongLong() == rider)
            table_->setCurrentCell(row, Feel);
}

void CheckInPage::refresh() {
    if (!workspace_.roster.isOpen())
        return;
    filling_ = true;
    const int row = table_->currentRow(), column = table_->currentColumn();
    const QString when = day_ == workspace_.today() ? wording("Today, ") : "";
    title_->setText(when + QString::fromStdString(namedDayText(day_)));
    table_->horizontalHeaderItem(Weight)->setText(
        QString(wording("Weight\n%1")).arg(shownUnits().weightUnit()));
    std::vector<const RiderRecord*> shown;
    for (const RiderRecord& r : workspace_.roster.riders())
        if (!r.archived)
            shown.push_back(&r);
    table_->setRowCount(static_cast<int>(shown.size()));
    for (int i = 0; i < table_->rowCount(); ++i) {
        const RiderRecord& r = *shown[static_cast<size_t>(i)];
        const CheckIn c = workspace_.roster.checkInOn(r.id, day_).value_or(CheckIn{});
        auto* name = tableCell(r.name, false);
        name->setData(Qt::UserRole, r.id);
        name->setFlags(Qt::ItemIsEnabled);
        table_->setItem(i, Name, name);
        for (size_t s = 0; s < checkInScales.size(); ++s) {
            const auto v = c.*checkInScales[s].value;
            auto* cell = tableCell(v ? QString::number(*v) : "·");
            cell->setFlags(Qt::ItemIsEnabled | Qt::ItemIsSelectable); // digits are taken by key
            if (v && *v <= 2)
                cell->setForeground(shore().rust);
            table_->setItem(i, Feel + static_cast<int>(s), cell);
        }
        table_->setItem(i, RestHeartRate, tableCell(c.restHeartRate ? decimal(*c.restHeartRate, 0) : ""));
        table_->setItem(i, Weight, tableCell(c.weightKg ? decimal(shownUnits().weight(*c.weightKg), 1) : ""));
        auto* ill = tableCell(c.ill ? wording("ill") : "");
        ill->setFlags(Qt::ItemIsEnabled | Qt::ItemIsSelectable);
        ill->setForeground(shore().rust);
        table_->setItem(i, Ill, ill);
        table_->setItem(i, Note, tableCell(QString::fromStdString(c.note), false));
    }
    if (table_->rowCount() > 0)
        table_->setCurrentCell(std::clamp(row, 0, table_->rowCount() - 1),
                               std::clamp(column, 1, ColumnCount - 1));
    filling_ = false;
}

void CheckInPage::take(int row, int column) {
    if (filling_)
        return;
    const qint64 rider = table_->item(row, Name)->data(Qt::UserRole).toLongLong();
    CheckIn c = workspace_.roster.checkInOn(rider, day_).value_or(CheckIn{});
    c.day = day_;
    const QString text = table_->item(row, column)->text().trimmed();
    bool ok = false;
    const double v = QString(text).replace(',', '.').toDouble(&ok);
    if (column == Note)
        c.note = text.toStdString();
    else if (column == RestHeartRate || column == Weight)
        (column == Weight ? c.weightKg : c.restHeartRate) =
            text.isEmpty() ? std::nullopt : std::optional(column == Weight ? shownUnits().kilograms(v) : v);
    const std::string wrong =
        !text.isEmpty() && column != Note && !ok ? phrase("That is not a number") : whyImpossible(c);
    if (!wrong.empty())
        emit workspace_.notices.failed(wording("%1. Nothing was changed.", QString::fromStdString(wrong)));
    else
        change(rider, c);
    refresh();
}

void CheckInPage::change(qint64 rider, const CheckIn& after) {
    CheckIn none;
    none.day = after.day;
    const CheckIn before = workspace_.roster.checkInOn(rider, after.day).value_or(none);
    workspace_.roster.edits().editCheckIns({{rider, before, after}}, wording("Change a check-in"));
}

bool CheckInPage::key(int code, const QString& text) {
    if (code == Qt::Key_PageUp || code == Qt::Key_PageDown) {
        goTo(day_ + (code == Qt::Key_PageUp ? -1 : 1));
        return true;
    }
    const int row = table_->currentRow(), column = table_->currentColumn();
    if (row < 0)
        return false;
    const qint64 rider = table_->item(row, Name)->data(Qt::UserRole).toLongLong();
    CheckIn c = workspace_.roster.checkInOn(rider, day_).value_or(CheckIn{});
    c.day = day_;
    const bool clear = code == Qt::Key_Delete || code == Qt::Key_Backspace;
    const bool marks = code == Qt::Key_Y && column != Note; // wherever in the row a hand is
    if (isScale(column) && (clear || (text.size() == 1 && text[0] >= '1' && text[0] <= '5'))) {
        c.*checkInScales[static_cast<size_t>(column - Feel)].value =
            clear ? std::nullopt : std::optional(text.toInt());
    } else if (marks || (column == Ill && (clear || code == Qt::Key_N || code == Qt::Key_Space))) {
        c.ill = marks || (!clear && code != Qt::Key_N && !c.ill);
    } else if (clear && (column == RestHeartRate || column == Weight)) {
        (column == Weight ? c.weightKg : c.restHeartRate).reset();
    } else if (clear && column == Note) {
        c.note.clear();
    } else {
        return false;
    }
    change(rider, c);
    refresh();
    if (!clear && !marks && isScale(column))
        moveOn();
    return true;
}

void CheckInPage::moveOn() {
    const int row = table_->currentRow(), column = table_->currentColumn();
    if (column < Motivation)
        table_->setCurrentCell(row, column + 1);
    else if (row + 1 < table_->rowCount())
        table_->setCurrentCell(row + 1, Feel);
}

bool CheckInPage::eventFilter(QObject* watched, QEvent* event) {
    if (watched == table_ && event->type() == QEvent::KeyPress) {
        const auto* k = static_cast<QKeyEvent*>(event);
        if (k->modifiers() == Qt::NoModifier && key(k->key(), k->text()))
            return true;
    }
    return QWidget::eventFilter(watched, event);
}

void CheckInPage::writeFile() {
    const QString path =
        QFileDialog::getSaveFileName(this, wording("Check-ins as CSV"), "check-ins.csv", "CSV (*.csv)");
    if (path.isEmpty())
        return;
    const auto ok = writeCheckInsTo(workspace_.roster, path);
    if (ok)
        emit workspace_.notices.said(wording("All check-ins are in %1.", path));
    else
        emit workspace_.notices.failed(QString::fromStdString(ok.error().sentence));
}

void CheckInPage::readFile() {
    const QString path = QFileDialog::getOpenFileName(this, wording("Check-ins as CSV"), {}, "CSV (*.csv)");
    if (path.isEmpty())
        return;
    const auto count = readCheckInsFrom(workspace_.roster, path);
    if (count)
        emit workspace_.notices.said(wording("%1 check-ins came in.").arg(*count));
    else
        emit workspace_.notices.failed(QString::fromStdString(count.error().sentence));
}

} // namespace marram

#include "moc_checkin_page.cpp"
