// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/shell/palette.h"
#include "app/theme/theme.h"
#include "wording/wording.h"

#include <QKeyEvent>
#include <QVBoxLayout>
#include <algorithm>

namespace marram {

bool matchesLetters(const QString& name, const QString& letters) {
    qsizetype at = 0;
    for (const QChar letter : letters) {
        if (letter.isSpace())
            continue;
        at = name.indexOf(letter, at, Qt::CaseInsensitive);
        if (at < 0)
            return false;
        ++at;
    }
    return true;
}

bool beginsWords(const QString& name, const QString& typed) {
    const QStringList words = name.split(' ', Qt::SkipEmptyParts);
    qsizetype at = 0;
    for (const QString& part : typed.split(' ', Qt::SkipEmptyParts)) {
        while (at < words.size() && !words[at].startsWith(part, Qt::CaseInsensitive))
            ++at;
        if (at++ >= words.size())
            return false;
    }
    return true;
}

CommandPalette::CommandPalette(const QList<QAction*>& actions, QWidget* parent)
    : QDialog(parent, Qt::Popup), actions_(actions), search_(new QLineEdit), list_(new QListWidget) {
    auto* layout = new QVBoxLayout(this);
    search_->setPlaceholderText(wording("What would you like to do?"));
    search_->setObjectName("paletteSearch");
    list_->setFrameShape(QFrame::NoFrame);
    list_->setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
    list_->setWordWrap(true);
    list_->setFocusPolicy(Qt::NoFocus);
    layout->addWidget(search_);
    layout->addWidget(list_);
    search_->installEventFilter(this);
    connect(search_, &QLineEdit::textChanged, this, &CommandPalette::narrow);
    connect(search_, &QLineEdit::returnPressed, this, &CommandPalette::run);
    connect(list_, &QListWidget::itemClicked, this, &CommandPalette::run);
    resize(qRound(460 * textScale()), qRound(380 * textScale()));
    narrow({});
}

void CommandPalette::narrow(const QString& letters) {
    list_->clear();
    // What begins as it was typed first, then what has its letters somewhere.
    for (const bool begins : {true, false})
        for (QAction* action : actions_) {
            const QString name = action->text().remove('&');
            const bool meant =
                beginsWords(name, letters) ||
                (!letters.isEmpty() && beginsWords(action->property(alsoCalled).toString(), letters));
            if (!action->isEnabled() || meant != begins || (!meant && !matchesLetters(name, letters)))
                continue;
            const QString keys = action->shortcut().toString(QKeySequence::NativeText);
            auto* item = new QListWidgetItem(keys.isEmpty() ? name : name + "    " + keys, list_);
            item->setData(Qt::UserRole, QVariant::fromValue<void*>(action));
        }
    if (list_->count() == 0) {
        auto* none =
            new QListWidgetItem(wording("Nothing is called like that. Fewer letters find more."), list_);
        none->setFlags(Qt::NoItemFlags);
    }
    list_->setCurrentRow(0);
}

void CommandPalette::showEvent(QShowEvent* event) {
    QDialog::showEvent(event);
    // A popup gets the keys and gives them to nobody by itself.
    search_->setFocus(Qt::PopupFocusReason);
}

void CommandPalette::run() {
    const QListWidgetItem* item = list_->currentItem();
    if (!item || !(item->flags() & Qt::ItemIsEnabled))
        return;
    auto* action = static_cast<QAction*>(item->data(Qt::UserRole).value<void*>());
    accept();
    // Once the list's own click is over: what an action opens may have events of its own, and with the first
    // of them this palette goes.
    QMetaObject::invokeMethod(action, &QAction::trigger, Qt::QueuedConnection);
}

bool CommandPalette::eventFilter(QObject* watched, QEvent* event) {
    if (watched == search_ && event->type() == QEvent::KeyPress) {
        const int key = static_cast<QKeyEvent*>(event)->key();
        if (key == Qt::Key_Down || key == Qt::Key_Up) {
            list_->setCurrentRow(std::clamp(list_->currentRow() + (key == Qt::Key_Down ? 1 : -1), 0,
                                            std::max(0, list_->count() - 1)));
            return true;
        }
    }
    return QDialog::eventFilter(watched, event);
}

} // namespace marram

#include "moc_palette.cpp"
