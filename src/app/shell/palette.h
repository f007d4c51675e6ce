// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include <QAction>
#include <QDialog>
#include <QLineEdit>
#include <QListWidget>

namespace marram {

/// Finds any action by a few letters of its name. Enter does it, Escape leaves.
class CommandPalette : public QDialog {
    Q_OBJECT
public:
    CommandPalette(const QList<QAction*>& actions, QWidget* parent);

protected:
    bool eventFilter(QObject* watched, QEvent* event) override;

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
