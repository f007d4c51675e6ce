// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include <QAction>
#include <QDialog>
#include <QLineEdit>
#include <QListWidget>

namespace marram {

/// The property of an action that has the words coaches call it by otherwise.
inline constexpr const char* alsoCalled = "alsoCalled";

/// Finds any action by a few letters of its name, or by what else coaches call it. Enter does it, Escape
/// leaves.
class CommandPalette : public QDialog {
    Q_OBJECT
public:
    CommandPalette(const QList<QAction*>& actions, QWidget* parent);

protected:
    bool eventFilter(QObject* watched, QEvent* event) override;
    void showEvent(QShowEvent* event) override;

private:
    void narrow(const QString& letters);
    void run();

    QList<QAction*> actions_;
    QLineEdit* search_;
    QListWidget* list_;
};

/// True where the letters occur in the name in this order.
bool matchesLetters(const QString& name, const QString& letters);
/// True where words of the name begin with the words typed, in order.
bool beginsWords(const QString& name, const QString& typed);

} // namespace marram
