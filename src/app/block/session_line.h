// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "core/session/family.h"
#include "core/session/shorthand.h"
#include <QCompleter>
#include <QLabel>
#include <QLineEdit>
#include <QStringListModel>
#include <QWidget>

namespace marram {

/// A line a session is typed into as it is said, with its mistakes in place: the character they are at is
/// marked, and what would be right stands under it. Completes to what families hold, by family or by words.
class SessionLine : public QWidget {
    Q_OBJECT
public:
    explicit SessionLine(QWidget* parent = nullptr);

    /// The work of every rung that can be completed to.
    void completeFrom(const FamilyBook& book);
    /// Shows a session of a subject. What is being typed for the same subject is left alone.
    void show(qint64 subject, const QString& words, bool enabled);
    /// Takes what was typed, if anything was and it can be read.
    void finish();
    QLineEdit* field() { return field_; }
    QString mistake() const { return mistake_->text(); }

signals:
    void typing(const marram::Session& session); ///< what can be read of what is being typed
    void entered(qint64 subject, const QString& words);
    void letGo(); ///< Escape: as it was

protected:
    bool eventFilter(QObject* watched, QEvent* event) override;

private:
    void look();

    QLineEdit* field_;
    QLabel* mistake_;
    QCompleter* completer_;
    QStringListModel* list_;
    qint64 subject_ = 0;
    QString shown_;
};

/// What is completed to for some typed words: rungs whose family or work holds them.
QStringList completionsOf(const FamilyBook& book);

} // namespace marram
