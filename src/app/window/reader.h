// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include <QDialog>
#include <QLineEdit>
#include <QListWidget>
#include <QTextBrowser>

namespace marram {

/// A text in parts, each under a heading, to be read and searched: the guide, and what is new.
class Reader : public QDialog {
    Q_OBJECT
public:
    /// `markdown` with its parts under headings of the second order.
    Reader(const QString& title, const QString& markdown, QWidget* parent);
    /// Opens a part by a word of its heading; the first where none has it.
    void open(const QString& part);

private:
    struct Part {
        QString heading, text;
    };
    void search(const QString& words);
    void showPart(int part);

    std::vector<Part> parts_;
    QLineEdit* search_;
    QListWidget* list_;
    QTextBrowser* page_;
};

/// The guide, and the part of the changes that belongs to the newest version, in the language in force.
QString guideText();
QString newestChanges();
/// True once after an upgrade: another version than this one was here before. Remembers this one.
bool isNewerThanSeen(const QString& version);

} // namespace marram
