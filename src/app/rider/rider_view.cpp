// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/rider/rider_view.h"
#include "app/shell/empty_page.h"

#include <QScrollArea>

namespace marram {

RiderView::RiderView(Workspace& workspace, QWidget* parent)
    : QWidget(parent), workspace_(workspace), stack_(new QStackedWidget), pages_(new Pages),
      values_(new ValuesPage(workspace)), life_(new LifePage(workspace)), tests_(new TestsPage(workspace)) {
    auto* outer = new QVBoxLayout(this);
    outer->setContentsMargins(0, 0, 0, 0);
    outer->addWidget(stack_);
    stack_->addWidget(
        emptyPage("No rider yet",
                  "Add the first rider under Roster; then set what they can do and the hours they have.",
                  "Add a rider", [this] { workspace_.roster.addRider("New rider"); }));
    const auto scrolled = [](QWidget* page) {
        auto* scroll = new QScrollArea;
        scroll->setWidget(page);
        scroll->setWidgetResizable(true);
        scroll->setFrameShape(QFrame::NoFrame);
        return scroll;
    };
    pages_->addPage("What they can do", scrolled(values_));
    pages_->addPage("Hours and life", scrolled(life_));
    pages_->addPage("Tests", scrolled(tests_));
    auto* page = new QWidget;
    auto* inside = new QVBoxLayout(page);
    inside->setContentsMargins(32, 14, 32, 12);
    inside->addWidget(pages_);
    stack_->addWidget(page);
    for (const auto signal : {&ChosenRider::riderChanged, &ChosenRider::seasonChanged,
                              &ChosenRider::testsChanged, &ChosenRider::ridesChanged})
        connect(&workspace_.chosen, signal, this, &RiderView::refreshWhenSeen);
    connect(&workspace_.roster, &OpenRoster::opened, this, &RiderView::refreshWhenSeen);
    connect(&workspace_.plans, &PlanService::planChanged, this,
            [this] { // due tests lie at ends of deload weeks
                if (!workspace_.plans.trying())
                    refreshWhenSeen();
            });
    refresh();
}

void RiderView::refreshWhenSeen() {
    stale_ = !isVisible();
    if (!stale_)
        refresh();
}

void RiderView::showEvent(QShowEvent*) {
    if (stale_)
        refresh();
    stale_ = false;
}

void RiderView::refresh() {
    stack_->setCurrentIndex(workspace_.chosen.rider() ? 1 : 0);
    values_->refresh();
    life_->refresh();
    tests_->refresh();
}

} // namespace marram
