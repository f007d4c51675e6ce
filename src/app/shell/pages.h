// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include <QButtonGroup>
#include <QHBoxLayout>
#include <QKeyEvent>
#include <QStackedWidget>
#include <QToolButton>
#include <QVBoxLayout>
#include <QWidget>

namespace marram {

/// A few pages of one view, named in a row above them. Left and right move between the names.
class Pages : public QWidget {
public:
    explicit Pages(QWidget* parent = nullptr) : QWidget(parent) {
        auto* layout = new QVBoxLayout(this);
        layout->setContentsMargins(0, 0, 0, 0);
        layout->setSpacing(6);
        row_ = new QHBoxLayout;
        row_->setContentsMargins(0, 0, 0, 0);
        row_->addStretch();
        layout->addLayout(row_);
        layout->addWidget(stack_, 1);
        group_.setExclusive(true);
        QObject::connect(&group_, &QButtonGroup::idClicked, stack_, &QStackedWidget::setCurrentIndex);
    }
    void addPage(const QString& name, QWidget* page) {
        auto* button = new QToolButton;
        button->setText(name);
        button->setCheckable(true);
        button->setFocusPolicy(Qt::TabFocus);
        button->setObjectName("page " + name);
        const int place = stack_->addWidget(page);
        group_.addButton(button, place);
        row_->insertWidget(place, button);
        button->setChecked(place == 0);
    }
    /// Something that belongs to every page, at the right end of the row.
    void addAside(QWidget* widget) { row_->addWidget(widget); }
    void open(int page) {
        stack_->setCurrentIndex(page);
        group_.button(page)->setChecked(true);
    }
    int page() const { return stack_->currentIndex(); }
    QStackedWidget* stack() { return stack_; }

private:
    QHBoxLayout* row_;
    QStackedWidget* stack_ = new QStackedWidget;
    QButtonGroup group_;
};

} // namespace marram
