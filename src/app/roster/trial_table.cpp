// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/roster/trial_table.h"
#include "app/shell/dates.h"
#include "app/shell/tables.h"
#include "core/review/wording.h"
#include "wording/wording.h"

#include <QComboBox>
#include <algorithm>

namespace marram {
namespace {

QString utf(const std::string& s) {
    return QString::fromStdString(s);
}

QString partWords(TeamPart part, int minutes) {
    const QString length = utf(hoursText(minutes / 60.0));
    switch (part) {
    case TeamPart::AsAsked:
        return wording("as asked");
    case TeamPart::Shorter:
        return wording("shorter, %1", length);
    case TeamPart::Easier:
        return wording("easier, %1", length);
    case TeamPart::Not:
        break;
    }
    return wording("not");
}

/// Days that read the same stand together.
QString adviceWords(const std::vector<TeamAdvice>& advice, Date today) {
    std::vector<std::pair<QString, std::vector<Date>>> said;
    for (const TeamAdvice& a : advice) {
        const QString words = partWords(a.part, a.minutes) + (a.why.empty() ? "" : ": " + utf(a.why));
        const auto same =
            std::find_if(said.begin(), said.end(), [&](const auto& s) { return s.first == words; });
        if (same == said.end())
            said.push_back({words, {a.date}});
        else
            same->second.push_back(a.date);
    }
    QStringList all;
    for (const auto& [words, days] : said)
        all << (said.size() == 1   ? words
                : days.size() == 1 ? utf(dayText(days.front(), today)) + " " + words
                                   : wording("%1 times %2").arg(days.size()).arg(words));
    return all.join("; ");
}

} // namespace

TrialTable::TrialTable(QWidget* parent) : QTableWidget(0, 3, parent) {
    setObjectName("squadTrials");
    setAccessibleName(wording("What it would do to each"));
    setHorizontalHeaderLabels({wording("Rider"), wording("Takes part"), wording("What it would do")});
    verticalHeader()->hide();
    verticalHeader()->setSectionResizeMode(QHeaderView::ResizeToContents);
    setShowGrid(false);
    setTabKeyNavigation(false);
    setWordWrap(true);
    setTextElideMode(Qt::ElideNone);
    setSelectionMode(QAbstractItemView::SingleSelection);
    setSelectionBehavior(QAbstractItemView::SelectRows);
    setEditTriggers(QAbstractItemView::NoEditTriggers);
    horizontalHeader()->setHighlightSections(false);
    horizontalHeader()->setSectionResizeMode(0, QHeaderView::ResizeToContents);
    horizontalHeader()->setSectionResizeMode(1, QHeaderView::Fixed);
    horizontalHeader()->setSectionResizeMode(2, QHeaderView::Stretch);
    for (int c = 0; c < columnCount(); ++c)
        horizontalHeaderItem(c)->setTextAlignment(Qt::AlignLeft | Qt::AlignBottom);
    connect(this, &QTableWidget::itemChanged, this, [this](QTableWidgetItem* item) {
        if (filling_ || item->column() != 0)
            return;
        left_[item->data(Qt::UserRole).toLongLong()] = item->checkState() != Qt::Checked;
        emit changed();
    });
}

static QString goalWords(const Goal& a, const Goal& b) {
    const std::string fitness = fixedText(b.fitness, 1), form = figure(b.form, 0);
    const int chanceA = a.chance ? qRound(100 * *a.chance) : 0,
              chanceB = b.chance ? qRound(100 * *b.chance) : 0;
    const bool same = fixedText(a.fitness, 1) == fitness && figure(a.form, 0) == form && chanceA == chanceB;
    QString out = same ? utf(phrase("%1 as it was: fitness %2, form %3", a.race, fitness, form))
                       : utf(phrase("%1: fitness %2 → %3, form %4 → %5", a.race, fixedText(a.fitness, 1),
                                    fitness, figure(a.form, 0), form));
    if (a.chance && b.chance)
        out += chanceA == chanceB ? wording(", gate met in %1 of 100").arg(chanceB)
                                  : wording(", gate met in %1 → %2 of 100").arg(chanceA).arg(chanceB);
    return out + ".";
}

QString TrialTable::words(const SquadAddition& addition, const SquadTrial& t, Date today) {
    if (!t.after && t.advice.empty())
        return withPeoplesDates(wording("left as they are: %1", t.whyNot), today);
    if (addition.what == SquadAddition::What::Team)
        return adviceWords(t.advice, today);
    QString out;
    if (t.goalBefore && t.goalAfter) {
        out = goalWords(*t.goalBefore, *t.goalAfter);
    } else if (t.goalAfter) {
        out = utf(phrase("%1: fitness %2, form %3.", t.goalAfter->race, fixedText(t.goalAfter->fitness, 1),
                         figure(t.goalAfter->form, 0)));
    } else {
        out = wording("No A or B race lies ahead.");
    }
    if (!t.gaveWay.empty())
        out +=
            wording(" Gives way: %1%2", utf(t.gaveWay.front()),
                    (t.gaveWay.size() > 1 ? wording(" And %1 more.").arg(t.gaveWay.size() - 1) : QString()));
    return withPeoplesDates(out, today);
}

SquadTrial TrialTable::with(const SquadTrial& trial, Part part) const {
    SquadTrial t = trial;
    if (addition_.what != SquadAddition::What::Team || part == Part::AsAdvised || !t.season)
        return t;
    for (TeamAdvice& a : t.advice) {
        // Days gone by, and those the season has nothing of, stay out whatever is said.
        if (a.date < today_ || a.date < t.season->season.start || a.date > t.season->season.end)
            continue;
        a.minutes = a.part == TeamPart::Not || part == Part::AsAsked ? addition_.minutes : a.minutes;
        a.part = part == Part::AsAsked ? TeamPart::AsAsked : TeamPart::Easier;
        a.why.clear();
    }
    t.after = withAddition(t.season->season, addition_, t.advice);
    return t;
}

void TrialTable::show(const SquadAddition& addition, const std::vector<SquadTrial>& trials, Date today) {
    if (addition.what != addition_.what) {
        parts_.clear();
        left_.clear();
    }
    addition_ = addition;
    trials_ = trials;
    today_ = today;
    fill();
}

void TrialTable::fill() {
    filling_ = true;
    const bool team = addition_.what == SquadAddition::What::Team;
    setColumnHidden(1, !team);
    setRowCount(static_cast<int>(trials_.size()));
    for (int r = 0; r < rowCount(); ++r) {
        const SquadTrial& t = trials_[static_cast<size_t>(r)];
        const auto said = parts_.find(t.rider);
        const Part part = said == parts_.end() ? Part::AsAdvised : said->second;
        const SquadTrial now = with(t, part);
        auto* name = tableCell(t.name, false);
        name->setData(Qt::UserRole, t.rider);
        const bool can = now.after.has_value();
        name->setFlags(can ? Qt::ItemIsEnabled | Qt::ItemIsSelectable | Qt::ItemIsUserCheckable
                           : Qt::ItemIsEnabled | Qt::ItemIsSelectable);
        const auto left = left_.find(t.rider);
        name->setCheckState(can && (left == left_.end() || !left->second) ? Qt::Checked : Qt::Unchecked);
        setItem(r, 0, name);
        setItem(r, 2, tableCell(words(addition_, now, today_), false));
        auto* box = qobject_cast<QComboBox*>(cellWidget(r, 1));
        if (!team || !t.season) {
            removeCellWidget(r, 1);
            continue;
        }
        if (!box) {
            box = new QComboBox;
            box->addItems({wording("as advised"), wording("as asked"), wording("easier")});
            setCellWidget(r, 1, box);
            setColumnWidth(1, std::max(columnWidth(1), box->sizeHint().width() + 16));
            connect(box, &QComboBox::activated, this, [this, box](int index) {
                parts_[box->property("rider").toLongLong()] = static_cast<Part>(index);
                fill();
                emit changed();
            });
        }
        box->setProperty("rider", t.rider);
        box->setAccessibleName(wording("How %1 takes part", t.name));
        box->setCurrentIndex(static_cast<int>(part));
    }
    filling_ = false;
}

std::vector<SquadTrial> TrialTable::chosen() const {
    std::vector<SquadTrial> all;
    for (int r = 0; r < rowCount(); ++r)
        if (item(r, 0) && item(r, 0)->checkState() == Qt::Checked)
            for (const SquadTrial& t : trials_)
                if (t.rider == item(r, 0)->data(Qt::UserRole).toLongLong()) {
                    const auto said = parts_.find(t.rider);
                    all.push_back(with(t, said == parts_.end() ? Part::AsAdvised : said->second));
                }
    return all;
}

} // namespace marram

#include "moc_trial_table.cpp"
