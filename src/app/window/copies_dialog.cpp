// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/window/copies_dialog.h"
#include "app/settings/settings.h"
#include "app/shell/tables.h"
#include "app/window/roster_dialogs.h"
#include "store/backup.h"
#include "wording/wording.h"

#include <QPushButton>
#include <QVBoxLayout>

namespace marram {

CopiesDialog::CopiesDialog(OpenRoster& roster, QWidget* parent)
    : QDialog(parent), roster_(roster),
      table_(quietTable({wording("Copy of"), "", wording("Size")}, "copies", 2)) {
    setWindowTitle(wording("Copies of this roster"));
    setAttribute(Qt::WA_DeleteOnClose);
    resize(520, 360);
    auto* layout = new QVBoxLayout(this);
    const auto copies = roster.jobs().copies();
    layout->addWidget(wordsLabel(
        copies.empty()
            ? QString(wording(
                  "There is no copy yet. One is made every day the roster is open, in the folder beside it."))
            : wording("A copy is kept of each of the last %1 days with one and of each of %2 weeks before, "
                      "in the folder "
                      "beside the roster; those from before an upgrade stay.")
                  .arg(setting("dailyCopies").toInt())
                  .arg(setting("weeklyCopies").toInt())));
    table_->horizontalHeader()->setStretchLastSection(true);
    table_->setRowCount(static_cast<int>(copies.size()));
    for (int row = 0; row < table_->rowCount(); ++row) {
        const BackupCopy& c = copies[static_cast<size_t>(row)];
        auto* day = tableCell(QString::fromStdString(dayText(c.day)), false);
        day->setData(Qt::UserRole, c.day.days);
        table_->setItem(row, 0, day);
        table_->setItem(
            row, 1,
            tableCell(c.upgradedFrom ? wording("before version %1").arg(c.upgradedFrom) : QString(), false));
        table_->setItem(row, 2, tableCell(wording("%1 MB").arg(c.bytes / 1048576.0, 0, 'f', 1)));
    }
    if (!copies.empty())
        table_->selectRow(0);
    layout->addWidget(table_, 1);
    auto* button = new QPushButton(wording("Restore it as a new file"));
    button->setObjectName("restoreCopy");
    button->setEnabled(!copies.empty());
    layout->addWidget(button, 0, Qt::AlignLeft);
    connect(button, &QPushButton::clicked, this, [this] { restore(); });
    connect(&roster_, &OpenRoster::closing, this, &QDialog::reject);
    table_->setFocus();
}

void CopiesDialog::restore(QString to) {
    const int row = table_->currentRow();
    if (row < 0)
        return;
    const Date day{table_->item(row, 0)->data(Qt::UserRole).toInt()};
    if (to.isEmpty())
        to = askForNewRoster(this, wording("The copy as a new file"));
    if (!to.isEmpty() && roster_.jobs().restore(day, to)) {
        emit restored(to);
        accept();
    }
}

} // namespace marram

#include "moc_copies_dialog.cpp"
