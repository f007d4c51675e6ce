// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "app/settings/settings.h"

#include <QDialog>
#include <QLabel>
#include <QLineEdit>
#include <QToolButton>
#include <functional>

namespace marram {

/// Every setting on one page, searched by its words: each is as usual until it is changed, works at once, and
/// goes back to what is usual by its own button. What is changed goes into a file and comes from one.
class SettingsPage : public QDialog {
    Q_OBJECT
public:
    explicit SettingsPage(QWidget* parent = nullptr);

    /// Shows what is set anew, as after another window or a key changed it.
    void refresh();
    /// Settings that have every one of these words.
    void search(const QString& words);
    void saveTo(QString path = {});
    void takeFrom(QString path = {});

signals:
    /// One was set by a hand, or all of them from a file.
    void changed();

private:
    struct Row {
        const Setting* setting;
        QWidget *field, *box;
        QLabel* heading; ///< of its group, where it is the first
        QToolButton* usual;
        std::function<void()> show;
    };
    Row rowOf(const Setting& s);
    void set(const Setting& s, const QVariant& value);
    void say(const QString& sentence, bool trouble = false);

    std::vector<Row> rows_;
    QLineEdit* search_;
    QLabel *none_, *said_;
    bool showing_ = false;
};

} // namespace marram
