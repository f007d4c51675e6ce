// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/season/season_end.h"
#include "app/theme/theme.h"
#include "wording/wording.h"

#include <QComboBox>
#include <QHBoxLayout>
#include <QPushButton>
#include <QTextBrowser>
#include <QVBoxLayout>
#include <algorithm>
#include <cmath>

namespace marram {
namespace {

QString html(const std::string& s) {
    return QString::fromStdString(s).toHtmlEscaped();
}

QString paragraph(const QString& words) {
    return "<p style='margin:4px 0'>" + words + "</p>";
}

QString fixedNumber(double v, int decimals = 0) {
    return decimal(v, decimals);
}

/// What the races say about the taper and the gate they were met with.
QString lesson(const Race& race, double form) {
    const auto gate = raceGate(race);
    if (!gate || (form >= gate->low && form <= gate->high))
        return {};
    return form < gate->low ? wording(" That was under its gate: a longer taper is worth trying.")
                            : wording(" That was over its gate: a shorter taper is worth trying.");
}

} // namespace

Season nextSeason(const Season& season, Date today) {
    constexpr int year = 364; // whole weeks
    Season next;
    next.rules = season.rules;
    next.tau = season.tau;
    next.start = std::max(monday(today), monday(season.end) + 7);
    next.end = next.start + year - 1;
    for (const Race& race : season.races) {
        if (race.priority == Priority::C)
            continue;
        Race again = race;
        again.result.clear();
        again.note.clear();
        again.squad.reset();
        while (again.date < next.start)
            again.date = again.date + year;
        if (again.date + (again.days - 1) <= next.end)
            next.races.push_back(again);
    }
    const bool goal = std::any_of(next.races.begin(), next.races.end(),
                                  [](const Race& r) { return r.priority == Priority::A; });
    if (!goal) {
        Race a;
        a.name = phrase("A race");
        a.date = next.start + 26 * 7 + 6;
        a.priority = Priority::A;
        next.races.push_back(a);
    }
    return next;
}

static QString raceWords(const Race& race, const LoadState& state, Date today) {
    return paragraph(wording("<b>%1</b>, %2, %3: form %4, fitness %5.%6%7%8")
                         .arg(html(race.name), wording(nameOf(race.priority)),
                              html(dayText(race.date, today)), html(signedText(state.form(), 0)),
                              fixedNumber(state.fitness),
                              race.result.empty() ? QString() : " " + html(race.result) + ".",
                              race.note.empty() ? QString() : " " + html(race.note),
                              race.priority == Priority::C ? QString() : lesson(race, state.form())));
}

QString howItWent(const Workspace& workspace, const SeasonRecord& record) {
    const Season& s = record.season;
    const Date today = workspace.today(), end = std::min(s.end, today - 1);
    if (end < s.start)
        return paragraph(wording("It has not begun."));
    const LoadHistory& history = workspace.chosen.history();
    double seconds = 0, points = 0, planned = 0, kept = 0, highest = 0;
    Date when = s.start;
    int rides = 0;
    for (const RideRecord& ride : workspace.chosen.rides())
        if (!ride.excluded && s.start <= ride.day && ride.day <= end) {
            ++rides;
            seconds += ride.score.duration;
            points += workspace.chosen.facts().pointsOf(ride);
        }
    std::vector<PlannedAndRidden> days;
    for (Date d = s.start; d <= end; d = d + 1) {
        if (const auto plan = workspace.chosen.facts().plannedOn(d)) {
            planned += plan->stress;
            kept += workspace.chosen.facts().riddenOn(d);
            if (plan->role != Role::Race)
                days.push_back({plan->stress, workspace.chosen.facts().riddenOn(d)});
        }
        if (const double f = history.before(d + 1).fitness; f > highest) {
            highest = f;
            when = d;
        }
    }
    QString out = paragraph(wording("%1 to %2: %3 rides, %4 hours, %5 points.")
                                .arg(html(dayText(s.start, today)), html(dayText(end, today)))
                                .arg(rides)
                                .arg(fixedNumber(seconds / 3600), fixedNumber(points)));
    out += paragraph(wording("Fitness went from %1 to %2, and was highest on %3 with %4.")
                         .arg(fixedNumber(history.before(s.start).fitness),
                              fixedNumber(history.before(end + 1).fitness), html(dayText(when, today)),
                              fixedNumber(highest)));
    const MissRate miss = missRate(days);
    if (planned > 0)
        out += paragraph(
            wording("Of %1 points planned day by day %2 were ridden, %3 %%. %4")
                .replace("%%", "%")
                .arg(fixedNumber(planned), fixedNumber(kept), fixedNumber(100 * kept / planned),
                     miss.known ? wording("%1 of %2 planned days were missed; the next season's chances "
                                          "are reckoned with that.")
                                      .arg(miss.missed)
                                      .arg(miss.planned)
                                : QString()));
    std::vector<Race> races = s.races;
    std::sort(races.begin(), races.end(), [](const Race& a, const Race& b) { return a.date < b.date; });
    for (const Race& race : races) {
        if (race.date <= end)
            out += raceWords(race, history.before(race.date), today);
    }
    return out;
}

SeasonEnd::SeasonEnd(Workspace& workspace, QWidget* parent)
    : QDialog(parent), workspace_(workspace), which_(new QComboBox), words_(new QTextBrowser),
      begin_(new QPushButton(wording("Begin the next season from it"))) {
    setObjectName("seasonEnd");
    setWindowTitle(wording("How the season went"));
    setAttribute(Qt::WA_DeleteOnClose);
    auto* layout = new QVBoxLayout(this);
    which_->setObjectName("seasonsOver");
    which_->setAccessibleName(wording("Season"));
    words_->setObjectName("seasonSummary");
    words_->setFont(typeface(Type::Body));
    layout->addWidget(which_);
    layout->addWidget(words_, 1);
    auto* buttons = new QHBoxLayout;
    begin_->setObjectName("beginNext");
    auto* close = new QPushButton(wording("Close"));
    buttons->addWidget(begin_);
    buttons->addStretch();
    buttons->addWidget(close);
    layout->addLayout(buttons);
    resize(qRound(620 * textScale()), qRound(460 * textScale()));
    for (const SeasonRecord& s : workspace_.chosen.seasons())
        if (s.standing != SeasonStanding::Alternative)
            seasons_.push_back(s);
    std::sort(seasons_.begin(), seasons_.end(),
              [](const SeasonRecord& a, const SeasonRecord& b) { return a.season.start > b.season.start; });
    for (const SeasonRecord& s : seasons_)
        which_->addItem(QString::fromStdString(phrase("%1 to %2", dayText(s.season.start, s.season.end + 400),
                                                      dayText(s.season.end, s.season.end + 400))) +
                        (s.standing == SeasonStanding::InForce ? wording(", in force") : wording(", over")));
    connect(which_, &QComboBox::currentIndexChanged, this, &SeasonEnd::fill);
    connect(close, &QPushButton::clicked, this, &QDialog::reject);
    connect(begin_, &QPushButton::clicked, this, [this] {
        if (!workspace_.chosen.season())
            return;
        const Season next = nextSeason(*workspace_.chosen.season(), workspace_.today());
        const qint64 rider = workspace_.chosen.id();
        accept();
        workspace_.roster.edits().beginSeason(rider, next, wording("Begin the next season"));
    });
    // It speaks of one rider's seasons as they were when it was opened.
    connect(&workspace_.chosen, &ChosenRider::riderChanged, this, &QDialog::reject);
    connect(&workspace_.roster, &OpenRoster::closing, this, &QDialog::reject);
    fill();
}

void SeasonEnd::fill() {
    const int i = which_->currentIndex();
    const bool any = i >= 0 && static_cast<size_t>(i) < seasons_.size();
    words_->setHtml(any ? semiBold(howItWent(workspace_, seasons_[static_cast<size_t>(i)]))
                        : wording("<p>There is no season yet.</p>"));
    begin_->setVisible(any && seasons_[static_cast<size_t>(i)].standing == SeasonStanding::InForce);
}

} // namespace marram

#include "moc_season_end.cpp"
