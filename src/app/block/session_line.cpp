// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/block/session_line.h"
#include "app/theme/theme.h"
#include "core/session/shorthand.h"
#include "wording/wording.h"

#include <QAbstractItemView>
#include <QKeyEvent>
#include <QVBoxLayout>

namespace marram {
namespace {
const QString between = ":  "; ///< what parts a family's name from its work in the list
}

QStringList completionsOf(const FamilyBook& book) {
    QStringList all;
    for (const Family& f : book.all())
        for (size_t r = 0; r < f.rungs.size(); ++r)
            all << QString("%1 %2%3%4")
                       .arg(wording(QString::fromStdString(f.name)))
                       .arg(r + 1)
                       .arg(between, QString::fromStdString(spokenShorthand(f.rungs[r])));
    return all;
}

SessionLine::SessionLine(QWidget* parent)
    : QWidget(parent), field_(new QLineEdit), mistake_(new QLabel), list_(new QStringListModel(this)) {
    auto* layout = new QVBoxLayout(this);
    layout->setContentsMargins(0, 0, 0, 0);
    layout->setSpacing(2);
    field_->setObjectName("sessionWords");
    field_->setAccessibleName(wording("The session in words"));
    field_->setPlaceholderText(QString::fromStdString(
        spokenShorthand("15 min 50 to 90, 3 × 8 min 106 with 5 min 50 between, 10 min 50")));
    mistake_->setWordWrap(true);
    mistake_->setObjectName("sessionMistake");
    mistake_->hide();
    layout->addWidget(field_);
    layout->addWidget(mistake_);
    completer_ = new QCompleter(list_, this);
    completer_->setFilterMode(Qt::MatchContains);
    completer_->setCaseSensitivity(Qt::CaseInsensitive);
    completer_->setMaxVisibleItems(9);
    completer_->setWidget(field_);
    completer_->popup()->setObjectName("sessionCompletions");
    connect(completer_, qOverload<const QString&>(&QCompleter::activated), this, [this](const QString& line) {
        // In a session being written the work takes the place of the last part.
        const QString work = line.mid(line.indexOf(between) + between.size());
        const QString text = field_->text();
        const qsizetype comma = text.lastIndexOf(',');
        field_->setText(comma < 0 ? work : text.left(comma + 1) + " " + work);
        look();
    });
    connect(field_, &QLineEdit::textEdited, this, [this] {
        look();
        const QString last = field_->text().section(',', -1).trimmed();
        // Names of families are words; figures alone are being written, not looked for.
        const bool words = !last.isEmpty() && last[0].isLetter();
        if (words && last.size() >= 2) {
            completer_->setCompletionPrefix(last);
            if (completer_->completionCount() > 0)
                completer_->complete();
        } else {
            completer_->popup()->hide();
        }
    });
    connect(field_, &QLineEdit::returnPressed, this, &SessionLine::finish);
    field_->installEventFilter(this);
}

void SessionLine::completeFrom(const FamilyBook& book) {
    list_->setStringList(completionsOf(book));
}

void SessionLine::show(qint64 subject, const QString& written, bool enabled) {
    const QString words = QString::fromStdString(spokenShorthand(written.toStdString()));
    field_->setEnabled(enabled);
    if (subject == subject_ && field_->hasFocus() && field_->isModified())
        return;
    subject_ = subject;
    shown_ = words;
    field_->setText(words);
    field_->setCursorPosition(0);
    field_->setModified(false);
    mistake_->hide();
}

void SessionLine::look() {
    const QString text = field_->text();
    const auto read = readShorthand(writtenShorthand(text.toStdString()));
    if (read) {
        mistake_->hide();
        emit typing(*read);
        return;
    }
    if (text.trimmed().isEmpty()) {
        mistake_->hide();
        return;
    }
    // The place, marked in the words themselves.
    const qsizetype at = std::clamp<qsizetype>(read.error().place - 1, 0, text.size());
    const qsizetype from = std::max<qsizetype>(0, at - 14);
    mistake_->setText(
        QString("<span style='color:%1'>…%2<u><span style='font-weight:600'>%3</span></u>%4</span><br>%5")
            .arg(shore().rust.name(), text.mid(from, at - from).toHtmlEscaped(),
                 at < text.size() ? text.mid(at, 1).toHtmlEscaped() : QString("▁"),
                 text.mid(at + 1, 14).toHtmlEscaped(),
                 wording("Character %1: %2")
                     .arg(read.error().place)
                     .arg(QString::fromStdString(read.error().sentence).toHtmlEscaped())));
    mistake_->show();
}

void SessionLine::finish() {
    if (!field_->isModified() || !field_->isEnabled())
        return;
    const QString text = field_->text().trimmed();
    if (text == shown_) {
        field_->setModified(false);
        return;
    }
    const std::string written = writtenShorthand(text.toStdString());
    if (text.isEmpty() || readShorthand(written)) {
        field_->setModified(false);
        shown_ = text;
        emit entered(subject_, QString::fromStdString(written));
        return;
    }
    look();
}

bool SessionLine::eventFilter(QObject* watched, QEvent* event) {
    if (watched == field_ && event->type() == QEvent::FocusOut && !completer_->popup()->isVisible()) {
        // What can't be read is not taken, and not lost either: it stays until another day is chosen.
        finish();
    } else if (watched == field_ && event->type() == QEvent::KeyPress &&
               static_cast<QKeyEvent*>(event)->key() == Qt::Key_Escape) {
        field_->setText(shown_);
        field_->setModified(false);
        mistake_->hide();
        emit letGo();
        return true;
    }
    return QWidget::eventFilter(watched, event);
}

} // namespace marram

#include "moc_session_line.cpp"
