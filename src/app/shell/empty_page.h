// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "app/theme/theme.h"
#include <QLabel>
#include <QPushButton>
#include <QVBoxLayout>
#include <QWidget>
#include <functional>

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

} // namespace marram
