// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/review/review_view.h"
#include "app/shell/empty_page.h"
#include "app/shell/stack.h"
#include "wording/wording.h"

namespace marram {

ReviewView::ReviewView(Workspace& workspace, QWidget* parent)
    : QWidget(parent), workspace_(workspace), stack_(new Stack), pages_(new Pages),
      monday_(new MondayPage(workspace)), report_(new ReportPage(workspace)),
      curves_(new CurvePage(workspace)), trends_(new TrendPage(workspace)), weeks_(new WeekPage(workspace)) {
    auto* outer = new QVBoxLayout(this);
    outer->setContentsMargins(0, 0, 0, 0);
    outer->addWidget(stack_);
    stack_->addWidget(
        emptyPage(wording("Nothing to look back on yet"),
                  wording("When rides are in, two stretches of the rider's record lie over each other here: "
                          "best efforts, efficiency and drift, durability, and the weeks with how the rider "
                          "was."),
                  wording("Bring rides in"), [this] { emit wantsImport(); }));
    pages_->addPage(wording("Monday"), monday_);
    pages_->addPage(wording("Questions"), report_);
    pages_->addPage(wording("Best efforts"), curves_);
    pages_->addPage(wording("Checks and tests"), trends_);
    pages_->addPage(wording("Weeks and check-ins"), weeks_);
    auto* page = new QWidget;
    auto* inside = new QVBoxLayout(page);
    inside->setContentsMargins(32, 14, 32, 12);
    inside->addWidget(pages_);
    stack_->addWidget(page);
    connect(curves_, &CurvePage::wantsRide, this, &ReviewView::wantsRide);
    connect(monday_, &MondayPage::wantsRide, this, &ReviewView::wantsRide);
    connect(report_, &ReportPage::wantsRide, this, &ReviewView::wantsRide);
    connect(report_, &ReportPage::wantsTry, this, &ReviewView::wantsTry);
    connect(monday_, &MondayPage::wantsNext, this, &ReviewView::wantsNext);
    for (const auto signal :
         {&ChosenRider::ridesChanged, &ChosenRider::testsChanged, &ChosenRider::checkInsChanged})
        connect(&workspace_.chosen, signal, this, &ReviewView::refreshWhenSeen);
}

void ReviewView::ask(Question question) {
    pages_->open(1);
    report_->ask(question);
}

void ReviewView::refreshWhenSeen() {
    stale_ = true;
    if (isVisible())
        refresh();
}

void ReviewView::showEvent(QShowEvent*) {
    if (stale_)
        refresh();
}

void ReviewView::refresh() {
    stale_ = false;
    stack_->setCurrentIndex(workspace_.chosen.rides().empty() && workspace_.chosen.checkIns().empty() ? 0
                                                                                                      : 1);
    curves_->refresh();
    trends_->refresh();
    weeks_->refresh();
}

} // namespace marram

#include "moc_review_view.cpp"
