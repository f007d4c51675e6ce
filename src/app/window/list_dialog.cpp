// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/window/list_dialog.h"
#include "app/shell/tables.h"
#include "wording/wording.h"

#include <QCryptographicHash>
#include <QDialogButtonBox>
#include <QSettings>
#include <QVBoxLayout>
#include <array>

namespace marram {
namespace {

struct Kind {
    const char* words;
    int ActivityColumns::*column;
};
constexpr std::array<Kind, 5> kinds{{{marked("Day"), &ActivityColumns::day},
                                     {marked("Recording"), &ActivityColumns::file},
                                     {marked("Name"), &ActivityColumns::name},
                                     {marked("Effort, 1–10"), &ActivityColumns::effort},
                                     {marked("Note"), &ActivityColumns::note}}};

QString settingFor(const ActivityHead& head) {
    const QByteArray hash =
        QCryptographicHash::hash(head.columns.join('\n'), QCryptographicHash::Sha256).toHex();
    return "listColumns/" + QString::fromLatin1(hash.left(24));
}

} // namespace

std::optional<ActivityColumns> ListDialog::rememberedFor(const ActivityHead& head) {
    const QVariantList all = QSettings().value(settingFor(head)).toList();
    if (all.size() != static_cast<qsizetype>(kinds.size()))
        return std::nullopt;
    ActivityColumns columns;
    for (size_t k = 0; k < kinds.size(); ++k)
        columns.*kinds[k].column =
            std::clamp(all[static_cast<qsizetype>(k)].toInt(), -1, static_cast<int>(head.columns.size()) - 1);
    return columns.usable() ? std::optional(columns) : std::nullopt;
}

ListDialog::ListDialog(const QString& file, const ActivityHead& head, QWidget* parent)
    : QDialog(parent), head_(head), take_(new QPushButton(wording("&Take it as a list"))) {
    setWindowTitle(wording("A list of activities?"));
    setObjectName("listColumns");
    setAttribute(Qt::WA_DeleteOnClose);
    auto* layout = new QVBoxLayout(this);
    layout->addWidget(wordsLabel(wording("%1 is no recording. If it lists activities, say what stands in its "
                                         "columns: a day or the recording's name, and what is to go onto the "
                                         "rides. It is asked once for tables like this one.")
                                     .arg(file.toHtmlEscaped())));
    QStringList names;
    for (const QByteArray& name : head.columns)
        names << QString::fromUtf8(name.left(40));
    auto* table = quietTable(names, "listPreview");
    table->setRowCount(1 + static_cast<int>(head.rows.size()));
    const ActivityColumns guess = recognisedColumns(head.columns);
    for (int column = 0; column < names.size(); ++column) {
        auto* kind = new QComboBox;
        kind->addItem("–");
        for (const Kind& k : kinds) {
            kind->addItem(wording(k.words));
            if (guess.*k.column == column)
                kind->setCurrentIndex(kind->count() - 1);
        }
        kind->setAccessibleName(wording("What stands under %1", names[column]));
        kind->setObjectName(QString("listKind%1").arg(column));
        connect(kind, &QComboBox::currentIndexChanged, this, &ListDialog::follow);
        kinds_.push_back(kind);
        table->setCellWidget(0, column, kind);
        for (size_t row = 0; row < head.rows.size(); ++row) {
            auto* cell = tableCell(QString::fromUtf8(head.rows[row].value(column).left(60)), false);
            cell->setFlags(Qt::ItemIsEnabled);
            table->setItem(static_cast<int>(row) + 1, column, cell);
        }
    }
    table->resizeColumnsToContents();
    layout->addWidget(table);
    auto* buttons = new QDialogButtonBox;
    take_->setObjectName("takeList");
    buttons->addButton(take_, QDialogButtonBox::AcceptRole);
    buttons->addButton(wording("It is none"), QDialogButtonBox::RejectRole);
    layout->addWidget(buttons);
    connect(buttons, &QDialogButtonBox::accepted, this, [this] {
        QVariantList all;
        for (const Kind& k : kinds)
            all << chosen().*k.column;
        QSettings().setValue(settingFor(head_), all);
        emit answered(chosen());
        accept();
    });
    connect(buttons, &QDialogButtonBox::rejected, this, &QDialog::reject);
    connect(this, &QDialog::rejected, this, [this] { emit answered(std::nullopt); });
    resize(qRound(720 * textScale()), qRound(300 * textScale()));
    follow();
}

ActivityColumns ListDialog::chosen() const {
    ActivityColumns columns;
    for (size_t column = 0; column < kinds_.size(); ++column)
        if (const int kind = kinds_[column]->currentIndex(); kind > 0)
            columns.*kinds[static_cast<size_t>(kind - 1)].column = static_cast<int>(column);
    return columns;
}

void ListDialog::follow() {
    take_->setEnabled(chosen().usable());
}

} // namespace marram

#include "moc_list_dialog.cpp"
