// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/shell/binding.h"

#include <QAbstractItemView>
#include <QApplication>
#include <QEvent>
#include <QTextDocument>
#include <utility>

namespace marram {

Binding::Binding(QWidget* field, std::function<QVariant()> read, std::function<void(const QVariant&)> write,
                 Commit commit)
    : QObject(field), field_(field), read_(std::move(read)), write_(std::move(write)),
      commit_(std::move(commit)) {}

void Binding::show(qint64 subject, const QVariant& value) {
    if (changed_ && subject == subject_)
        return;
    finish(); // typed for somebody else
    subject_ = subject;
    showing_ = true;
    write_(value);
    showing_ = false;
    changed_ = false;
}

void Binding::take() {
    if (showing_)
        return;
    changed_ = false;
    commit_(subject_, read_());
}

void Binding::finish() {
    if (!changed_)
        return;
    if (settle_)
        settle_(); // it commits by itself where that changed its value
    if (std::exchange(changed_, false) && !settle_)
        commit_(subject_, read_());
}

void Binding::finishWithin(QWidget* part) {
    for (Binding* b : part->findChildren<Binding*>())
        b->finish();
}

void endEditing() {
    for (QWidget* window : QApplication::topLevelWidgets()) {
        for (QAbstractItemView* view : window->findChildren<QAbstractItemView*>())
            for (QLineEdit* editor : view->viewport()->findChildren<QLineEdit*>())
                if (editor->isVisible()) {
                    QMetaObject::invokeMethod(view, "commitData", Q_ARG(QWidget*, editor));
                    QMetaObject::invokeMethod(
                        view, "closeEditor", Q_ARG(QWidget*, editor),
                        Q_ARG(QAbstractItemDelegate::EndEditHint, QAbstractItemDelegate::NoHint));
                }
        Binding::finishWithin(window);
    }
}

bool Binding::eventFilter(QObject* watched, QEvent* event) {
    if (event->type() == QEvent::FocusOut)
        finish();
    return QObject::eventFilter(watched, event);
}

Binding* Binding::text(QLineEdit* field, Commit commit) {
    auto* b = new Binding(
        field, [field] { return field->text().trimmed(); },
        [field](const QVariant& v) {
            if (field->text() != v.toString())
                field->setText(v.toString());
        },
        std::move(commit));
    connect(field, &QLineEdit::textEdited, b, [b] { b->changed_ = true; });
    connect(field, &QLineEdit::editingFinished, b, [b] { b->finish(); });
    return b;
}

Binding* Binding::area(QPlainTextEdit* field, Commit commit) {
    auto* b = new Binding(
        field, [field] { return field->toPlainText(); },
        [field](const QVariant& v) {
            if (field->toPlainText() != v.toString())
                field->setPlainText(v.toString());
        },
        std::move(commit));
    connect(field, &QPlainTextEdit::textChanged, b, [b] { b->changed_ = b->changed_ || !b->showing_; });
    field->installEventFilter(b);
    return b;
}

Binding* Binding::number(QDoubleSpinBox* field, Commit commit) {
    auto* b = new Binding(
        field, [field] { return field->value(); },
        [field](const QVariant& v) { field->setValue(v.toDouble()); }, std::move(commit));
    b->settle_ = [field] { field->interpretText(); };
    // Typing is finished, and stepping done, when the value changes; until then nothing is shown over it.
    connect(field, &QDoubleSpinBox::valueChanged, b, [b] { b->take(); });
    if (auto* line = field->findChild<QLineEdit*>()) {
        connect(line, &QLineEdit::textEdited, b, [b] { b->changed_ = true; });
        connect(field, &QDoubleSpinBox::editingFinished, b, [b] { b->changed_ = false; });
    }
    return b;
}

Binding* Binding::whole(QSpinBox* field, Commit commit) {
    auto* b = new Binding(
        field, [field] { return field->value(); }, [field](const QVariant& v) { field->setValue(v.toInt()); },
        std::move(commit));
    b->settle_ = [field] { field->interpretText(); };
    connect(field, &QSpinBox::valueChanged, b, [b] { b->take(); });
    if (auto* line = field->findChild<QLineEdit*>()) {
        connect(line, &QLineEdit::textEdited, b, [b] { b->changed_ = true; });
        connect(field, &QSpinBox::editingFinished, b, [b] { b->changed_ = false; });
    }
    return b;
}

Binding* Binding::choice(QComboBox* field, Commit commit) {
    auto* b = new Binding(
        field, [field] { return field->currentIndex(); },
        [field](const QVariant& v) { field->setCurrentIndex(v.toInt()); }, std::move(commit));
    connect(field, &QComboBox::activated, b, [b] { b->take(); });
    return b;
}

Binding* Binding::check(QCheckBox* field, Commit commit) {
    auto* b = new Binding(
        field, [field] { return field->isChecked(); },
        [field](const QVariant& v) { field->setChecked(v.toBool()); }, std::move(commit));
    connect(field, &QCheckBox::clicked, b, [b] { b->take(); });
    return b;
}

Binding* Binding::date(QDateEdit* field, Commit commit) {
    auto* b = new Binding(
        field, [field] { return field->date(); }, [field](const QVariant& v) { field->setDate(v.toDate()); },
        std::move(commit));
    b->settle_ = [field] { field->interpretText(); };
    connect(field, &QDateEdit::dateChanged, b, [b] { b->take(); });
    if (auto* line = field->findChild<QLineEdit*>()) {
        connect(line, &QLineEdit::textEdited, b, [b] { b->changed_ = true; });
        connect(field, &QDateEdit::editingFinished, b, [b] { b->changed_ = false; });
    }
    return b;
}

} // namespace marram

#include "moc_binding.cpp"
