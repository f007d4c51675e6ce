// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/season/compare_sheet.h"
#include "app/shell/pages.h"
#include "app/theme/theme.h"
#include "formats/csv/lines.h"
#include "wording/wording.h"

#include <QApplication>
#include <QClipboard>
#include <QHBoxLayout>
#include <QHeaderView>
#include <QLabel>
#include <QPushButton>
#include <QTableWidget>
#include <QVBoxLayout>
#include <cmath>
#include <glpk.h>

namespace marram {
namespace {

QString figure(double v, int decimals = 0) {
    return decimal(v, decimals);
}

const PlannedRace* raceIn(const Summary& summary, const std::string& name) {
    for (const PlannedRace& race : summary.races)
        if (race.name == name)
            return &race;
    return nullptr;
}

/// Where the fitness of a race stands, by its place among those shown.
int fitnessColumn(size_t race) {
    return 3 + 4 * static_cast<int>(race);
}

} // namespace

CompareSheet::CompareSheet(Workspace& workspace, QWidget* parent)
    : QDialog(parent), workspace_(workspace), table_(new QTableWidget), progress_(new QLabel),
      try_(new QPushButton(wording("Try the chosen one"))) {
    setWindowTitle(wording("Side by side"));
    setObjectName("compareSheet");
    setAttribute(Qt::WA_DeleteOnClose);
    auto* layout = new QVBoxLayout(this);
    auto* words = new QLabel(
        wording("The same season, changed in one thing at a time. Everything else stays as it is."));
    words->setWordWrap(true);
    layout->addWidget(words);
    // One table, so that a row stays chosen; its columns are shown in two parts.
    auto* parts = new Pages;
    parts->setObjectName("compareParts");
    parts->addPage(wording("Race mornings"), new QWidget);
    parts->addPage(wording("The riding"), new QWidget);
    parts->stack()->setFixedHeight(0);
    connect(parts->stack(), &QStackedWidget::currentChanged, this, &CompareSheet::showPart);
    layout->addWidget(parts);
    layout->addWidget(table_, 1);
    auto* onSchools = new QLabel(wording(
        "This model counts stress and cannot rank schools: harder hours have more of it. Between schools "
        "read "
        "fitness at equal points, with the hours each takes for them; there they lie close together."));
    onSchools->setObjectName("compareSchools");
    onSchools->setWordWrap(true);
    layout->addWidget(onSchools);
    auto* buttons = new QHBoxLayout;
    progress_->setForegroundRole(QPalette::PlaceholderText);
    buttons->addWidget(progress_, 1);
    auto* copy = new QPushButton(wording("Copy as CSV"));
    copy->setObjectName("compareCopy");
    try_->setObjectName("compareTry");
    try_->setEnabled(false);
    auto* close = new QPushButton(wording("Close"));
    for (QPushButton* button : {try_, copy, close})
        buttons->addWidget(button);
    layout->addLayout(buttons);
    connect(copy, &QPushButton::clicked, this, [this] { QApplication::clipboard()->setText(csv()); });
    connect(close, &QPushButton::clicked, this, &QDialog::reject);

    const auto& decided = workspace_.plans.decided();
    if (!decided)
        return;
    collect(*decided);
    fillTable();
    connect(table_, &QTableWidget::itemSelectionChanged, this,
            [this] { try_->setEnabled(table_->currentRow() > 0); });
    const auto take = [this] {
        if (const int row = table_->currentRow(); row > 0) {
            emit wantsTry(rows_[static_cast<size_t>(row)].name, rows_[static_cast<size_t>(row)].season);
            accept();
        }
    };
    connect(try_, &QPushButton::clicked, this, take);
    connect(table_, &QTableWidget::cellDoubleClicked, this, take);
    // What stands here is of one season of one rider, as it was when the sheet was opened.
    connect(&workspace_.chosen, &ChosenRider::seasonChanged, this, &QDialog::reject);
    connect(&workspace_.roster, &OpenRoster::closing, this, &QDialog::reject);
    solveAll();
}

void CompareSheet::collect(const Season& decided) {
    Season asItIs = decided;
    if (const RiderRecord* r = workspace_.chosen.rider())
        asItIs.hours = r->hours;
    rows_.push_back({{}, wording("as it is"), asItIs, std::nullopt});
    for (SeasonTry& variant : variantsOf(asItIs))
        rows_.push_back({variant.group, variant.name, std::move(variant.season), std::nullopt});
    for (const SeasonRecord& other : workspace_.chosen.seasons())
        if (other.standing == SeasonStanding::Alternative && other.id != workspace_.plans.alternative())
            rows_.push_back({wording("Alternatives"), other.name, other.season, std::nullopt});
    for (size_t r = 0; r < asItIs.races.size(); ++r)
        if (asItIs.races[r].priority != Priority::C)
            raceOrder_.push_back(r);
}

void CompareSheet::fillTable() {
    table_->setTabKeyNavigation(false);
    table_->setRowCount(static_cast<int>(rows_.size()));
    const QStringList names = heads();
    table_->setColumnCount(static_cast<int>(names.size()));
    table_->setHorizontalHeaderLabels(names);
    table_->verticalHeader()->hide();
    table_->setEditTriggers(QAbstractItemView::NoEditTriggers);
    table_->setSelectionBehavior(QAbstractItemView::SelectRows);
    table_->setSelectionMode(QAbstractItemView::SingleSelection);
    table_->setShowGrid(false);
    table_->horizontalHeader()->setDefaultAlignment(Qt::AlignRight | Qt::AlignBottom);
    for (size_t r = 0; r < rows_.size(); ++r)
        fill(r);
    showPart(0);
    table_->resizeColumnsToContents();
    resize(qRound(1180 * textScale()), qRound(640 * textScale()));
}

void CompareSheet::solveAll() {
    progress_->setText(wording("Solving %1 seasons…").arg(rows_.size()));
    std::vector<Season> whole;
    std::vector<bool> schools;
    for (const Row& row : rows_) {
        whole.push_back(workspace_.chosen.facts().completed(row.season));
        schools.push_back(row.school());
    }
    jobs_.begin(
        JobKind::Compare,
        [this, whole, schools](JobLink& link) {
            std::optional<Plan> first;
            for (size_t i = 0; i < whole.size() && !link.cancelled(); ++i) {
                std::optional<Summary> summary, even;
                std::optional<HeldWeeks> held;
                if (check(whole[i])) {
                    const Plan plan = solveSeason(whole[i]).plan;
                    summary = summarise(whole[i], plan);
                    held = heldWeeks(solveBlock(whole[i], plan, monday(whole[i].start),
                                                static_cast<int>(plan.weeks.size())));
                    if (i == 0) {
                        first = plan;
                        even = summary;
                    } else if (schools[i] && first)
                        even = summarise(whole[i], planAtStress(whole[i], plan, *first));
                }
                link.deliver([this, i, summary, even, held] {
                    rows_[i].summary = summary;
                    rows_[i].held = held;
                    rows_[i].even = even;
                    ++done_;
                    fill(i);
                    table_->resizeColumnsToContents();
                    progress_->setText(wording("%1 of %2 solved").arg(done_).arg(rows_.size()));
                });
            }
            glp_free_env(); // the solver keeps an environment for every thread
        },
        [this] { progress_->clear(); });
}

CompareSheet::~CompareSheet() = default;

void CompareSheet::showPart(int part) {
    const int mornings = fitnessColumn(raceOrder_.size()); // the last of them is hours at equal points
    for (int c = fitnessColumn(0); c < table_->columnCount(); ++c)
        table_->setColumnHidden(c, (c <= mornings) != (part == 0));
}

QStringList CompareSheet::heads() const {
    QStringList all{"", wording("hours"), wording("points")};
    for (const size_t r : raceOrder_) {
        const QString name = QString::fromStdString(rows_.front().season.races[r].name);
        // A long name runs over lines, so that its columns stay narrow.
        QString lines;
        qsizetype last = 0;
        for (const QString& word : name.split(' ')) {
            const bool breaks = !lines.isEmpty() && lines.size() - last + word.size() > 9;
            if (!lines.isEmpty())
                lines += breaks ? '\n' : ' ';
            last = breaks ? lines.size() : last;
            lines += word;
        }
        all << wording("%1\nfitness", lines) << wording("at equal\npoints") << wording("form")
            << wording("chance");
    }
    return all << wording("hours at\nequal points") << wording("low h") << wording("middle h")
               << wording("high h") << wording("hard\ndays") << wording("high min\na week")
               << wording("largest\nramp") << wording("deepest\nform") << wording("mono-\ntony")
               << wording("strain") << wording("weeks that\nsessions hold");
}

QStringList CompareSheet::cells(const Row& row) const {
    QStringList all{row.name};
    if (!row.summary)
        return all;
    const Summary& s = *row.summary;
    all << figure(s.hours) << figure(s.stress);
    for (const size_t r : raceOrder_) {
        const std::string& name = rows_.front().season.races[r].name;
        const PlannedRace *race = raceIn(s, name), *even = row.even ? raceIn(*row.even, name) : nullptr;
        all << (race ? figure(race->fitness, 1) : QString()) << (even ? figure(even->fitness, 1) : QString())
            << (race ? QString::fromStdString(signedText(race->form)) +
                           (race->gateMiss > 0.05 ? wording(", %1 outside").arg(figure(race->gateMiss, 1))
                                                  : QString())
                     : QString())
            << (race && race->chance ? figure(100 * *race->chance) + " %" : QString());
    }
    return all << (row.even ? figure(row.even->hours) : QString()) << figure(s.bandHours.low)
               << figure(s.bandHours.middle) << figure(s.bandHours.high) << QString::number(s.hardDays)
               << figure(s.highMinutesAWeek) << QString::fromStdString(signedText(s.largestRamp))
               << QString::fromStdString(signedText(s.deepestForm, 0)) << figure(s.monotony, 1)
               << figure(s.strain)
               << (row.held ? wording("%1 of %2").arg(row.held->held).arg(row.held->all) : QString());
}

/// By more than a little.
static bool differ(const PlannedRace* is, const PlannedRace* was) {
    return is && was && std::abs(is->fitness - was->fitness) >= 1;
}

void CompareSheet::fill(size_t row) {
    const QStringList texts = cells(rows_[row]);
    const bool first = row == 0 || rows_[row].group != rows_[row - 1].group;
    for (int c = 0; c < texts.size(); ++c) {
        auto* item = new QTableWidgetItem(texts[c]);
        item->setTextAlignment(Qt::AlignVCenter | (c == 0 ? Qt::AlignLeft : Qt::AlignRight));
        if (c == 0 && !rows_[row].group.isEmpty())
            item->setText((first ? wording(rows_[row].group) + ":  " : QString("      ")) + texts[c]);
        if (row == 0)
            item->setFont(typeface(Type::Body, true));
        table_->setItem(static_cast<int>(row), c, item);
    }
    // What differs from the season as it is by more than a little stands out by weight, not by colour; never
    // between schools, which this model cannot rank.
    if (row == 0 || rows_[row].school() || !rows_[row].summary || !rows_[0].summary)
        return;
    for (size_t i = 0; i < raceOrder_.size(); ++i) {
        const std::string& name = rows_.front().season.races[raceOrder_[i]].name;
        if (differ(raceIn(*rows_[row].summary, name), raceIn(*rows_[0].summary, name)))
            if (auto* item = table_->item(static_cast<int>(row), fitnessColumn(i)))
                item->setFont(typeface(Type::Body, true));
    }
}

QString CompareSheet::csv() const {
    const auto line = [](const QStringList& cells) {
        QByteArrayList row;
        for (QString cell : cells) {
            cell.replace('\n', ' ').replace(QChar(0x2212), '-');
            if (cell.startsWith('+'))
                cell.remove(0, 1); // a number, not a formula
            row << cell.toUtf8();
        }
        return csvRow(row);
    };
    QByteArray all = line(heads());
    for (const Row& row : rows_)
        all += line(cells(row));
    return QString::fromUtf8(all);
}

} // namespace marram

#include "moc_compare_sheet.cpp"
