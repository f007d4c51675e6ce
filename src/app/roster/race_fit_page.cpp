// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/roster/race_fit_page.h"
#include "app/shell/tables.h"
#include "core/review/wording.h"
#include "wording/wording.h"

#include <QHBoxLayout>
#include <QVBoxLayout>

namespace marram {
namespace {

QString orNone(const std::optional<double>& v, int decimals) {
    return v ? decimal(*v, decimals) : QString("–");
}

} // namespace

RaceFitPage::RaceFitPage(QWidget* parent)
    : QWidget(parent), which_(new QComboBox), words_(wordsLabel({}, true)),
      table_(quietTable({wording("Rider"), wording("In their\nseason"), wording("Time"), wording("Holds\nW"),
                         wording("of\nthreshold"), "W/kg", wording("Longest\nclimb"),
                         wording("Form\nthat morning"), wording("Fitness"), wording("Gate met\nof 100")},
                        "squadFits", 2)) {
    auto* layout = new QVBoxLayout(this);
    layout->setContentsMargins(0, 6, 0, 0);
    auto* tools = new QHBoxLayout;
    auto* label = captionLabel(wording("&Race"));
    label->setBuddy(which_);
    which_->setObjectName("fitRace");
    which_->setAccessibleName(wording("Race"));
    which_->setMinimumWidth(qRound(260 * textScale()));
    tools->addWidget(label);
    tools->addWidget(which_);
    tools->addStretch();
    layout->addLayout(tools);
    words_->setObjectName("fitWords");
    layout->addWidget(words_);
    layout->addWidget(table_, 1);
    connect(which_, &QComboBox::activated, this, &RaceFitPage::fill);
    connect(table_, &QTableWidget::cellActivated, this,
            [this](int row) { emit opened(table_->item(row, 0)->data(Qt::UserRole).toLongLong()); });
}

void RaceFitPage::show(const std::vector<SquadRow>& rows, const std::vector<RiderRecord>& riders,
                       Date today) {
    rows_ = rows;
    riders_ = riders;
    today_ = today;
    const QString kept = which_->currentText();
    races_.clear();
    for (const SquadRow& row : rows)
        for (const SquadRace& race : row.races)
            if (race.date >= today && !race.course.empty() &&
                std::none_of(races_.begin(), races_.end(),
                             [&](const SquadRace& r) { return r.name == race.name && r.date == race.date; }))
                races_.push_back(race);
    std::stable_sort(races_.begin(), races_.end(),
                     [](const SquadRace& a, const SquadRace& b) { return a.date < b.date; });
    which_->clear();
    for (const SquadRace& r : races_)
        which_->addItem(QString::fromStdString(r.name + ", " + dayText(r.date, today)));
    which_->setCurrentIndex(std::max(0, which_->findText(kept)));
    fill();
}

void RaceFitPage::fill() {
    const auto at = static_cast<size_t>(std::max(0, which_->currentIndex()));
    which_->setEnabled(!races_.empty());
    table_->setVisible(!races_.empty());
    if (at >= races_.size()) {
        words_->setText(wording(
            "No race ahead has a course yet. Bring one under Season, on the race: a GPX file of it. Then "
            "everybody shown stands here beside it."));
        return;
    }
    const SquadRace& race = races_[at];
    const auto fits = fitsFor(race, rows_, riders_);
    words_->setText(wording(
        "Time and power as each can hold for as long as the course takes them, on a bicycle of 8 kg; form "
        "as their season has it that morning. No order of merit: what a race needs is yours to weigh."));
    table_->setRowCount(static_cast<int>(fits.size()));
    for (int row = 0; row < table_->rowCount(); ++row) {
        const RaceFit& f = fits[static_cast<size_t>(row)];
        int column = 0;
        const auto set = [&](const QString& text, bool right = true) {
            table_->setItem(row, column++, tableCell(text, right));
        };
        const auto time = [](const std::optional<double>& s) {
            return s ? QString::fromStdString(hoursText(*s / 3600)) : QString("–");
        };
        set(f.name, false);
        table_->item(row, 0)->setData(Qt::UserRole, f.rider);
        set(f.rides ? wording("yes") : "no", false);
        set(time(f.seconds));
        set((f.power && f.bound ? "≥ " : "") + orNone(f.power, 0));
        set(orNone(f.share, 2));
        set(orNone(f.perKilo, 1));
        set(time(f.climb));
        set(f.form ? QString::fromStdString(signedText(*f.form, 0)) : QString("–"));
        set(f.rides ? orNone(f.fitness, 0) : QString("–"));
        set(f.chance ? QString::number(qRound(100 * *f.chance)) : QString("–"));
    }
}

} // namespace marram

#include "moc_race_fit_page.cpp"
