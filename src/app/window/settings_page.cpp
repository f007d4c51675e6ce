// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/window/settings_page.h"
#include "app/shell/fields.h"
#include "app/shell/tables.h"
#include "app/theme/theme.h"
#include "formats/files/files.h"
#include "wording/wording.h"

#include <QCheckBox>
#include <QComboBox>
#include <QDir>
#include <QFile>
#include <QFileDialog>
#include <QHBoxLayout>
#include <QPushButton>
#include <QScrollArea>
#include <QVBoxLayout>

namespace marram {
namespace {

/// A path as people read it: their home folder is a tilde.
QString shortPath(const QString& path) {
    const QString home = QDir::homePath();
    return path == home || path.startsWith(home + "/") ? "~" + path.mid(home.size()) : path;
}

} // namespace

SettingsPage::SettingsPage(QWidget* parent)
    : QDialog(parent), search_(new QLineEdit), none_(captionLabel(wording("No setting has these words."))),
      said_(captionLabel({})) {
    setObjectName("settings");
    setWindowTitle(wording("Settings"));
    setAttribute(Qt::WA_DeleteOnClose);
    auto* layout = new QVBoxLayout(this);
    search_->setObjectName("settingsSearch");
    search_->setPlaceholderText(wording("Search: contrast, miles, backup, folder …"));
    search_->setAccessibleName(wording("Search the settings"));
    search_->setClearButtonEnabled(true);
    layout->addWidget(search_);
    auto* inside = new QWidget;
    auto* list = new QVBoxLayout(inside);
    list->setContentsMargins(0, 6, 12, 0);
    list->setSpacing(4);
    const char* group = "";
    for (const Setting& s : settings()) {
        Row row = rowOf(s);
        if (QLatin1String(s.group) != QLatin1String(group)) {
            group = s.group;
            row.heading = headingLabel(wording(group));
            row.heading->setContentsMargins(0, 12, 0, 2);
            list->addWidget(row.heading);
        }
        list->addWidget(row.box);
        rows_.push_back(std::move(row));
    }
    none_->hide();
    list->addWidget(none_);
    list->addStretch();
    auto* scroll = new QScrollArea;
    scroll->setWidget(inside);
    scroll->setWidgetResizable(true);
    scroll->setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
    layout->addWidget(scroll, 1);
    said_->setObjectName("settingsSaid");
    said_->setWordWrap(true);
    layout->addWidget(said_);
    auto* buttons = new QHBoxLayout;
    const auto button = [&](const QString& text, const char* name, auto what) {
        auto* b = new QPushButton(text);
        b->setObjectName(name);
        b->setAutoDefault(false);
        connect(b, &QPushButton::clicked, this, what);
        buttons->addWidget(b);
    };
    button(wording("Save them to a file"), "settingsSave", [this] { saveTo(); });
    button(wording("Take them from a file"), "settingsTake", [this] { takeFrom(); });
    button(wording("All as usual"), "settingsUsual", [this] {
        for (const Setting& s : settings())
            setSetting(s, s.usual);
        refresh();
        say(wording("Everything is as usual."));
        emit changed();
    });
    buttons->addStretch();
    button(wording("Close"), "settingsClose", [this] { accept(); });
    layout->addLayout(buttons);
    connect(search_, &QLineEdit::textChanged, this, &SettingsPage::search);
    resize(qRound(820 * textScale()), qRound(620 * textScale()));
    refresh();
    search_->setFocus();
}

SettingsPage::Row SettingsPage::rowOf(const Setting& s) {
    Row row{&s, nullptr, new QWidget, nullptr, new QToolButton, {}};
    auto* line = new QHBoxLayout(row.box);
    line->setContentsMargins(0, 3, 0, 3);
    line->setSpacing(14);
    auto* words = new QVBoxLayout;
    words->setSpacing(0);
    auto* name = new QLabel(wording(s.name));
    words->addWidget(name);
    words->addWidget(wordsLabel(wording(s.what), true));
    line->addLayout(words, 3);
    switch (s.kind) {
    case Setting::Kind::Switch: {
        auto* box = new QCheckBox(wording("yes"));
        connect(box, &QCheckBox::toggled, this, [this, &s](bool on) { set(s, on); });
        row.show = [box, &s] { box->setChecked(setting(s.key).toBool()); };
        row.field = box;
        break;
    }
    case Setting::Kind::Number: {
        auto* box = numberField(s.low, s.high, s.step, s.step < 1 ? 1 : 0, wording(s.unit), s.key);
        connect(box, &QDoubleSpinBox::valueChanged, this, [this, &s](double v) { set(s, v); });
        row.show = [box, &s] { box->setValue(setting(s.key).toDouble()); };
        row.field = box;
        break;
    }
    case Setting::Kind::Choice: {
        auto* box = new QComboBox;
        for (const auto& [kept, shown] : s.choices)
            box->addItem(wording(shown), kept);
        connect(box, &QComboBox::activated, this, [this, &s, box](int i) { set(s, box->itemData(i)); });
        row.show = [box, &s] { box->setCurrentIndex(box->findData(setting(s.key))); };
        row.field = box;
        break;
    }
    case Setting::Kind::Folder: {
        auto* box = new QPushButton;
        box->setAutoDefault(false);
        connect(box, &QPushButton::clicked, this, [this, &s] {
            const QString folder =
                QFileDialog::getExistingDirectory(this, wording(s.name), setting(s.key).toString());
            if (!folder.isEmpty())
                set(s, folder);
        });
        row.show = [box, &s] {
            const QString path = setting(s.key).toString();
            box->setText(path.isEmpty() ? wording("Choose…")
                                        : box->fontMetrics().elidedText(shortPath(path), Qt::ElideMiddle,
                                                                        qRound(210 * textScale())));
            box->setToolTip(path);
            box->setAccessibleDescription(path);
        };
        row.field = box;
        break;
    }
    }
    row.field->setObjectName(QString("set-%1").arg(s.key));
    row.field->setAccessibleName(wording(s.name));
    row.field->setToolTip(row.field->toolTip().isEmpty() ? wording(s.what) : row.field->toolTip());
    row.field->setFixedWidth(qRound(230 * textScale()));
    name->setBuddy(row.field);
    line->addWidget(row.field, 0, Qt::AlignTop);
    row.usual->setText(wording("as usual"));
    row.usual->setObjectName(QString("usual-%1").arg(s.key));
    row.usual->setAccessibleName(wording("%1: as usual").arg(wording(s.name)));
    row.usual->setToolTip(wording("Back to what it is until it is changed"));
    row.usual->setFixedWidth(row.usual->sizeHint().width());
    QSizePolicy keeps = row.usual->sizePolicy();
    keeps.setRetainSizeWhenHidden(true);
    row.usual->setSizePolicy(keeps);
    connect(row.usual, &QToolButton::clicked, this, [this, &s] {
        set(s, s.usual);
        refresh();
    });
    line->addWidget(row.usual, 0, Qt::AlignTop);
    return row;
}

void SettingsPage::refresh() {
    showing_ = true;
    for (const Row& row : rows_) {
        row.show();
        row.usual->setVisible(!isUsual(*row.setting));
    }
    showing_ = false;
}

void SettingsPage::set(const Setting& s, const QVariant& value) {
    if (showing_)
        return;
    setSetting(s, value);
    refresh();
    emit changed();
}

void SettingsPage::search(const QString& words) {
    const QStringList wanted = words.simplified().split(' ', Qt::SkipEmptyParts);
    QLabel* heading = nullptr;
    bool any = false;
    for (const Row& row : rows_) {
        const Setting& s = *row.setting;
        const QString all =
            QString("%1 %2 %3 %4").arg(wording(s.name), wording(s.what), wording(s.also), wording(s.group));
        const bool has = std::all_of(wanted.begin(), wanted.end(), [&](const QString& word) {
            return all.contains(word, Qt::CaseInsensitive);
        });
        if (row.heading) {
            heading = row.heading;
            heading->hide();
        }
        row.box->setVisible(has);
        if (has && heading)
            heading->show();
        any = any || has;
    }
    none_->setVisible(!any);
}

void SettingsPage::saveTo(QString path) {
    if (path.isEmpty())
        path = QFileDialog::getSaveFileName(this, wording("Settings to a file"), "marram settings.json",
                                            wording("Settings (*.json)"));
    if (path.isEmpty())
        return;
    const auto written = writeWholeFile(path, settingsAsFile());
    say(written ? wording("What is not as usual is in %1.", path)
                : QString::fromStdString(written.error().sentence),
        !written);
}

void SettingsPage::takeFrom(QString path) {
    if (path.isEmpty())
        path = QFileDialog::getOpenFileName(this, wording("Settings from a file"), {},
                                            wording("Settings (*.json)"));
    if (path.isEmpty())
        return;
    constexpr qint64 most = 1 << 20;
    QFile file(path);
    if (!file.open(QIODevice::ReadOnly))
        return say(wording("%1 can't be read: %2.", path, file.errorString()), true);
    const auto taken = file.size() > most ? Result<int>(refuse(phrase("is too large for a file of settings")))
                                          : settingsFromFile(file.readAll());
    if (!taken)
        return say(
            wording("%1 %2. Nothing was changed.", path, QString::fromStdString(taken.error().sentence)),
            true);
    refresh();
    say(*taken == 1 ? wording("One setting came from it; the others are as usual.")
                    : wording("%1 settings came from it; the others are as usual.").arg(*taken));
    emit changed();
}

void SettingsPage::say(const QString& sentence, bool trouble) {
    sayIn(*said_, trouble);
    said_->setText(sentence);
}

} // namespace marram

#include "moc_settings_page.cpp"
