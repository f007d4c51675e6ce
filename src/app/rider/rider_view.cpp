// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/rider/rider_view.h"
#include "app/shell/empty_page.h"
#include "app/shell/stack.h"
#include "app/shell/tables.h"
#include "core/review/attention.h"
#include "wording/wording.h"

#include <QScrollArea>
#include <QSettings>

namespace marram {

RiderView::RiderView(Workspace& workspace, QWidget* parent)
    : QWidget(parent), workspace_(workspace), stack_(new Stack), pages_(new Pages),
      values_(new ValuesPage(workspace)), life_(new LifePage(workspace)), tests_(new TestsPage(workspace)),
      record_(new RecordPage(workspace)) {
    auto* outer = new QVBoxLayout(this);
    outer->setContentsMargins(0, 0, 0, 0);
    outer->addWidget(stack_);
    stack_->addWidget(emptyPage(
        wording("No rider yet"),
        wording("Add the first rider under Roster; then set what they can do and the hours they have."),
        wording("Add a rider"), [this] { emit wantsRider(); }));
    const auto scrolled = [](QWidget* page) {
        auto* scroll = new QScrollArea;
        scroll->setWidget(page);
        scroll->setWidgetResizable(true);
        scroll->setAccessibleName(wording("Page, scrolled"));
        scroll->setFrameShape(QFrame::NoFrame);
        return scroll;
    };
    pages_->addPage(wording("What they can do"), scrolled(values_));
    pages_->addPage(wording("Hours and life"), scrolled(life_));
    pages_->addPage(wording("Tests"), scrolled(tests_));
    pages_->addPage(wording("What the record says"), scrolled(record_));
    connect(record_, &RecordPage::wantsRide, this, &RiderView::wantsRide);
    connect(record_, &RecordPage::wantsImport, this, &RiderView::wantsImport);
    connect(&workspace_.listening, &Listening::changed, this, [this] {
        if (isVisible())
            fillNeeds();
    });
    auto* page = new QWidget;
    auto* inside = new QVBoxLayout(page);
    inside->setContentsMargins(32, 14, 32, 12);
    needs_ = wordsLabel({});
    needs_->setObjectName("riderNeeds");
    needs_->setTextInteractionFlags(Qt::TextBrowserInteraction);
    connect(needs_, &QLabel::linkActivated, this, &RiderView::followNeed);
    inside->addWidget(needs_);
    inside->addWidget(pages_, 1);
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
    fillNeeds();
    values_->refresh();
    life_->refresh();
    tests_->refresh();
    record_->refresh();
}

namespace {

/// A question skipped for one rider of one roster.
QString skippedKey(const QString& roster, qint64 rider, const QString& need) {
    return QString("%1#%2#%3").arg(roster).arg(rider).arg(need);
}

} // namespace

std::vector<RiderNeed> riderNeeds(const RiderRecord& r, bool loadKnown, const Counted& counted) {
    std::vector<RiderNeed> needs;
    if (counted.byHours)
        needs.push_back({"record", QString::fromStdString(unscoredSentence(counted.unscored))});
    if (r.hours == guessedHours)
        needs.push_back(
            {"hours",
             wording("Hours by weekday: those shown are a guess, and the season fits itself into them.")});
    const auto& v = r.values;
    const bool beats =
        !v.of(Quantity::ThresholdHeartRate).empty() && !v.of(Quantity::RestingHeartRate).empty();
    if (v.of(Quantity::ThresholdPower).empty() && !beats && !counted.byHours)
        needs.push_back(
            {"threshold",
             wording("Threshold power, or threshold and resting heart rate: without one, rides have no "
                     "points and there are no zones.")});
    if (!loadKnown)
        needs.push_back(
            {"lately",
             wording("Hours of a usual week lately: without them fitness starts from nothing, and no rhythm "
                     "is proposed.")});
    return needs;
}

void RiderView::fillNeeds() {
    const RiderRecord* r = workspace_.chosen.rider();
    QString html;
    if (r) {
        const QStringList skipped = QSettings().value("skippedNeeds").toStringList();
        const QString link = shore().tide.name();
        for (const RiderNeed& n :
             riderNeeds(*r, workspace_.chosen.history().known(), workspace_.chosen.counted())) {
            // What the record proposes in its place, once it was read; under Rider it need not say where.
            const QString words = workspace_.listening.proposedWords();
            const QString proposed = n.key == "record" && words != wording(whereProposed) ? words : QString();
            if (!skipped.contains(skippedKey(workspace_.roster.path(), r->id, n.key)))
                html +=
                    wording("<p style='margin:0 0 3px 0'>%1 &nbsp;<a href='enter:%2' style='color:%3'>%4</a> "
                            "&nbsp;<a href='skip:%2' style='color:%3'>Skip</a></p>")
                        .arg(n.what + proposed, n.key, link,
                             n.key == "record" ? wording("Look") : wording("Enter"));
        }
    }
    needs_->setText(html);
    needs_->setVisible(!html.isEmpty());
}

void RiderView::followNeed(const QString& link) {
    const QString key = link.section(':', 1);
    if (link.startsWith("skip:")) {
        QSettings settings;
        QStringList skipped = settings.value("skippedNeeds").toStringList();
        skipped << skippedKey(workspace_.roster.path(), workspace_.chosen.id(), key);
        settings.setValue("skippedNeeds", skipped);
        fillNeeds();
        return;
    }
    if (key == "record") {
        openRecord();
        return;
    }
    pages_->open(key == "threshold" ? 0 : 1);
    if (key == "threshold")
        values_->addToday();
    else
        life_->takeFocus(key == "lately");
}

void RiderView::nameFirst() {
    pages_->open(0);
    refresh();
    values_->nameFirst();
}

} // namespace marram

#include "moc_rider_view.cpp"
