// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "app/theme/theme.h"
#include <QHBoxLayout>
#include <QLabel>
#include <QPushButton>
#include <QVBoxLayout>
#include <QWidget>
#include <functional>
#include <vector>

namespace marram {

/// A page with nothing on it yet: what it is for, and what to do next. Without a `button` there is nothing to
/// press.
inline QWidget* emptyPage(const QString& title, const QString& words, const QString& button = {},
                          const std::function<void()>& pressed = {}) {
    auto* page = new QWidget;
    auto* layout = new QVBoxLayout(page);
    layout->addStretch(2);
    auto* head = new QLabel(title);
    head->setFont(typeface(Type::Title, true));
    auto* body = new QLabel(words);
    body->setWordWrap(true);
    body->setMaximumWidth(qRound(560 * textScale()));
    for (QLabel* l : {head, body}) {
        l->setAlignment(Qt::AlignLeft);
        layout->addWidget(l);
    }
    if (!button.isEmpty()) {
        auto* press = new QPushButton(button);
        press->setObjectName("emptyPageButton");
        QObject::connect(press, &QPushButton::clicked, page, pressed);
        layout->addWidget(press, 0, Qt::AlignLeft);
    }
    layout->addStretch(3);
    layout->setContentsMargins(72, 24, 72, 24);
    return page;
}

/// One way on from an empty place: a sentence, and the button that goes it.
struct WayOn {
    QString sentence, button, name; ///< `name` is what tests and screen readers call the button
    std::function<void()> go;
};

/// A page that is the beginning: what this is, and the ways on.
inline QWidget* beginPage(const QString& title, const QString& words, const std::vector<WayOn>& ways) {
    auto* page = emptyPage(title, words);
    auto* layout = static_cast<QVBoxLayout*>(page->layout());
    int at = 3; // behind the title and the words
    for (const WayOn& way : ways) {
        auto* row = new QHBoxLayout;
        auto* press = new QPushButton(way.button);
        press->setObjectName(way.name);
        press->setMinimumWidth(qRound(190 * textScale()));
        QObject::connect(press, &QPushButton::clicked, page, way.go);
        auto* sentence = new QLabel(way.sentence);
        sentence->setWordWrap(true);
        sentence->setMaximumWidth(qRound(430 * textScale()));
        row->addWidget(press);
        row->addSpacing(16);
        row->addWidget(sentence, 1);
        row->addStretch(1);
        layout->insertLayout(at++, row);
    }
    layout->insertSpacing(3, 14);
    return page;
}

} // namespace marram
