// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/roster/roster_view.h"
#include "app/roster/groups.h"
#include "app/shell/empty_page.h"
#include "app/shell/stack.h"
#include "app/shell/tables.h"
#include "app/theme/theme.h"
#include "wording/wording.h"

#include <QApplication>
#include <QFileDialog>
#include <QFileInfo>
#include <QMenu>
#include <QProgressDialog>
#include <QSettings>

namespace marram {

std::vector<RosterRow> rosterRows(const std::vector<RiderRecord>& riders, const RosterFilter& filter,
                                  const std::function<const Standing&(qint64)>& standing, Date today) {
    std::vector<RosterRow> rows;
    for (const RiderRecord& r : riders) {
        const bool named = (r.name + ' ' + r.groups.join(' ') + ' ' + r.note)
                               .contains(filter.letters.trimmed(), Qt::CaseInsensitive);
        if (r.archived != filter.archived || !named ||
            (!filter.group.isEmpty() && !r.groups.contains(filter.group)))
            continue;
        const Standing& s = standing(r.id);
        rows.push_back({r.id, r.name, reasonsToLook(s), s, r.values.on(Quantity::ThresholdPower, today)});
    }
    std::stable_sort(rows.begin(), rows.end(), [](const RosterRow& a, const RosterRow& b) {
        return a.reasons.front().urgency > b.reasons.front().urgency;
    });
    return rows;
}

RosterView::RosterView(Workspace& workspace, QWidget* parent)
    : QWidget(parent), workspace_(workspace), stack_(new Stack), pages_(new Pages) {
    auto* layout = new QVBoxLayout(this);
    layout->setContentsMargins(0, 0, 0, 0);
    layout->addWidget(stack_);
    stack_->addWidget(beginPage(
        wording("Nobody here yet"),
        wording("A roster keeps your riders, their seasons and everything they rode, in one file on this "
                "machine."),
        {{wording("Their page opens and asks for what a season can't do without."),
          wording("Add the first rider"), "firstRider", [this] { emit wantsRider(); }},
         {wording("Riders from an export of another roster come in with all they rode."),
          wording("Bring riders"), "bringFirst", [this] { bringRiders(); }},
         {wording("An invented club on a sandy coast, to try things on. Your own roster stays as it is."),
          wording("Look round in the demo club"), "lookRound", [this] { emit wantsDemo(); }}}));
    auto* page = new QWidget;
    auto* inside = new QVBoxLayout(page);
    inside->setContentsMargins(32, 14, 32, 12);
    pages_->addPage(wording("Whom to look at first"), makeList());
    checkIns_ = new CheckInPage(workspace);
    pages_->addPage(wording("Check-ins"), checkIns_);
    squad_ = new SquadPage(workspace);
    pages_->addPage(wording("Squad"), squad_);
    connect(squad_, &SquadPage::wantsSeason, this, &RosterView::wantsSeason);
    inside->addWidget(pages_);
    stack_->addWidget(page);
    for (const auto signal : {&ChosenRider::riderChanged, &ChosenRider::settled})
        connect(&workspace_.chosen, signal, this, &RosterView::refreshWhenSeen);
    connect(&workspace_.roster, &OpenRoster::ridersChanged, this, &RosterView::refreshWhenSeen);
    connect(&workspace_.standings, &Standings::changed, this, &RosterView::refreshWhenSeen);
    connect(&workspace_.roster.jobs(), &RosterJobs::exportFinished, this, &RosterView::exported);
    connect(&workspace_.roster.jobs(), &RosterJobs::bringFinished, this, &RosterView::brought);
    refresh();
}

QWidget* RosterView::makeList() {
    auto* page = new QWidget;
    auto* layout = new QVBoxLayout(page);
    layout->setContentsMargins(0, 6, 0, 0);
    auto* tools = new QHBoxLayout;
    search_ = new QLineEdit;
    search_->setObjectName("searchRiders");
    search_->setAccessibleName(wording("Search riders"));
    search_->setPlaceholderText(wording("Search a name, a group or a note"));
    search_->setClearButtonEnabled(true);
    search_->setMaximumWidth(qRound(320 * textScale()));
    group_ = new QComboBox;
    group_->setObjectName("groupChoice");
    group_->setAccessibleName(wording("Group"));
    group_->setMinimumWidth(qRound(150 * textScale()));
    archived_ = new QCheckBox(wording("Archived riders"));
    archived_->setObjectName("showArchived");
    tools->addWidget(search_, 2);
    tools->addSpacing(18);
    tools->addWidget(group_);
    tools->addSpacing(18);
    tools->addWidget(archived_);
    tools->addStretch(1);
    layout->addLayout(tools);
    table_ = quietTable({wording("Rider"), wording("Why"), wording("Fitness"), wording("Form"),
                         wording("Threshold, W"), wording("Last ride")},
                        "roster", 2);
    table_->setAccessibleName(wording("Riders"));
    table_->verticalHeader()->setDefaultSectionSize(qRound(40 * textScale()));
    table_->setWordWrap(true);
    table_->horizontalHeader()->setSectionResizeMode(1, QHeaderView::Stretch);
    connect(table_->horizontalHeader(), &QHeaderView::sectionResized, this, [this](int column) {
        if (column == 1)
            fitRows();
    });
    layout->addWidget(table_, 1);
    glance_ = new Glance;
    layout->addWidget(glance_);
    auto* buttons = new QHBoxLayout;
    const auto button = [&](const QString& text, const char* name, auto slot) {
        auto* b = new QPushButton(text);
        b->setObjectName(name);
        connect(b, &QPushButton::clicked, this, slot);
        buttons->addWidget(b);
        return b;
    };
    button(wording("Add a rider"), "addRider", [this] { emit wantsRider(); });
    archive_ = button(wording("Archive"), "archiveRider", [this] { archiveChosen(); });
    button(wording("Export the rider"), "exportRider", [this] { exportChosen(); });
    button(wording("Bring riders"), "bringRiders", [this] { bringRiders(); });
    buttons->addStretch();
    layout->addLayout(buttons);
    connect(search_, &QLineEdit::textChanged, this, &RosterView::refresh);
    connect(group_, &QComboBox::activated, this, &RosterView::refresh);
    connect(archived_, &QCheckBox::toggled, this, &RosterView::refresh);
    connect(table_, &QTableWidget::currentCellChanged, this, [this](int row) {
        if (!filling_ && row >= 0)
            workspace_.chosen.choose(table_->item(row, 0)->data(Qt::UserRole).toLongLong());
    });
    connect(table_, &QTableWidget::cellActivated, this, &RosterView::wantsSeason);
    table_->setContextMenuPolicy(Qt::CustomContextMenu);
    connect(table_, &QWidget::customContextMenuRequested, this, [this](const QPoint& at) {
        if (!table_->itemAt(at))
            return;
        QMenu menu(this);
        menu.addAction(wording("Open the season"), this, &RosterView::wantsSeason);
        menu.addAction(wording("Enter check-ins"), this, &RosterView::openCheckIns);
        menu.addSeparator();
        menu.addAction(archive_->text(), this, &RosterView::archiveChosen);
        menu.addAction(wording("Export the rider"), this, &RosterView::exportChosen);
        menu.exec(table_->viewport()->mapToGlobal(at));
    });
    connect(search_, &QLineEdit::returnPressed, this, [this] {
        if (table_->rowCount() > 0) {
            table_->setFocus();
            table_->setCurrentCell(0, 0);
        }
    });
    return page;
}

void RosterView::takeFocus() {
    if (pages_->page() == 0)
        table_->setFocus();
    else if (pages_->page() == 1)
        checkIns_->setFocus();
    else
        squad_->setFocus();
}

void RosterView::openSquad(bool week) {
    pages_->open(2);
    squad_->open(week ? SquadPage::Part::Week : SquadPage::Part::Seasons);
    squad_->setFocus();
}

void RosterView::openCheckIns() {
    pages_->open(1);
    checkIns_->beginAt(workspace_.chosen.id());
    checkIns_->setFocus();
}

void RosterView::refreshWhenSeen() {
    if (workspace_.chosen.choosing())
        return; // settled() follows
    stale_ = !isVisible();
    if (!stale_)
        refresh();
}

void RosterView::showEvent(QShowEvent*) {
    if (stale_)
        refresh();
    stale_ = false;
}

void RosterView::refresh() {
    stack_->setCurrentIndex(workspace_.roster.riders().empty() ? 0 : 1);
    if (!workspace_.roster.isOpen())
        return;
    filling_ = true;
    const QSignalBlocker quiet(table_);
    fillGroups(group_, workspace_.roster.riders(), true);
    const RosterFilter filter{search_->text(), group_->currentData().toString(), archived_->isChecked()};
    const auto rows = rosterRows(
        workspace_.roster.riders(), filter,
        [this](qint64 id) -> const Standing& { return workspace_.standings.of(id); }, workspace_.today());
    const RiderRecord* chosen = workspace_.chosen.rider();
    fill(rows);
    glance_->show(rows.empty()
                      ? wording("No rider fits. Clear the search, or look among the archived riders.")
                      : QString());
    table_->clearSelection();
    for (size_t line = 0; line < rows.size(); ++line) {
        const RosterRow& r = rows[line];
        if (chosen && chosen->id == r.rider) {
            table_->selectRow(static_cast<int>(line));
            glance_->show(r.name, r.reasons, r.standing, r.threshold);
        }
    }
    archive_->setText(chosen && chosen->archived ? wording("Bring back from the archive")
                                                 : wording("Archive"));
    archive_->setEnabled(chosen);
    filling_ = false;
    fitGlance();
}

static std::array<QString, 6> cellsOf(const RosterRow& r) {
    const Standing& s = r.standing;
    const QString none = "–";
    const QString threshold =
        r.threshold ? (s.thresholdAtLeast ? "≥ " : "") + decimal(*r.threshold, 0) : none;
    if (!s.lastRide)
        return {r.name, QString::fromStdString(r.reasons.front().sentence), none, none, threshold, none};
    return {r.name,
            QString::fromStdString(r.reasons.front().sentence),
            decimal(s.state.fitness, 0),
            QString::fromStdString(signedText(s.state.form(), 0)),
            threshold,
            QString::fromStdString(dayText(*s.lastRide))};
}

static bool reads(const QTableWidgetItem* item, const QString& text, qint64 rider) {
    return item && item->text() == text && item->data(Qt::UserRole).toLongLong() == rider;
}

void RosterView::fill(const std::vector<RosterRow>& rows) {
    std::vector<std::array<QString, 6>> texts;
    texts.reserve(rows.size());
    for (const RosterRow& r : rows)
        texts.push_back(cellsOf(r));
    // Most changes touch one rider: only lines that read otherwise are set again, and measured once at the
    // end.
    auto* header = table_->horizontalHeader();
    header->setSectionResizeMode(QHeaderView::Fixed);
    bool changed = table_->rowCount() != static_cast<int>(rows.size()) || filledScale_ != textScale() ||
                   filledDark_ != shore().dark;
    filledScale_ = textScale();
    filledDark_ = shore().dark;
    table_->setRowCount(static_cast<int>(rows.size()));
    for (int line = 0; line < table_->rowCount(); ++line)
        for (int column = 0; column < 6; ++column) {
            const RosterRow& r = rows[static_cast<size_t>(line)];
            const QString& text = texts[static_cast<size_t>(line)][static_cast<size_t>(column)];
            QTableWidgetItem* item = table_->item(line, column);
            if (!changed && reads(item, text, r.rider))
                continue;
            changed = true;
            item = tableCell(text, column >= 2);
            item->setData(Qt::UserRole, r.rider);
            if (column == 0)
                item->setFont(typeface(Type::Body, true));
            if (column == 1 && r.reasons.front().urgency >= 80)
                item->setForeground(shore().rust);
            table_->setItem(line, column, item);
        }
    for (int column = 0; column < 6; ++column)
        header->setSectionResizeMode(column, column == 1 ? QHeaderView::Stretch : QHeaderView::Interactive);
    if (!changed)
        return;
    for (const int column : {0, 2, 3, 4, 5})
        table_->resizeColumnToContents(column);
    fitRows();
}

void RosterView::resizeEvent(QResizeEvent*) {
    fitGlance();
}

void RosterView::fitGlance() {
    constexpr int first = 8; // riders
    int rows = table_->horizontalHeader()->height();
    for (int i = 0; i < std::min(first, table_->rowCount()); ++i)
        rows += table_->rowHeight(i);
    glance_->setBrief(rows + glance_->wholeHeight() > table_->height() + glance_->height());
}

void RosterView::fitRows() {
    table_->resizeRowsToContents();
    const QFontMetrics metrics(table_->font());
    const int width = table_->columnWidth(1) - qRound(16 * textScale());
    for (int i = 0; i < table_->rowCount(); ++i) {
        // What a table asks for counts no margin beside the words.
        const QTableWidgetItem* why = table_->item(i, 1);
        const int words =
            why ? metrics.boundingRect(0, 0, width, 1000, Qt::TextWordWrap, why->text()).height() : 0;
        table_->setRowHeight(
            i, std::max({table_->rowHeight(i), words + qRound(8 * textScale()), qRound(38 * textScale())}));
    }
    fitGlance();
}

void RosterView::archiveChosen() {
    if (!workspace_.chosen.rider())
        return;
    RiderRecord r = *workspace_.chosen.rider();
    r.archived = !r.archived;
    workspace_.chosen.edits().setRider(r, r.archived ? wording("Archive a rider")
                                                     : wording("Bring a rider back from the archive"));
}

void RosterView::watch(JobKind kind, const QString& what) {
    auto* dialog = new QProgressDialog(what, wording("Cancel"), 0, 0, this);
    dialog->setObjectName("jobProgress");
    dialog->setAttribute(Qt::WA_DeleteOnClose);
    dialog->setMinimumDuration(400);
    dialog->setWindowModality(Qt::WindowModal);
    dialog->setMinimumWidth(420);
    dialog->setAutoReset(false);
    connect(dialog, &QProgressDialog::canceled, &workspace_.roster,
            [this, kind] { workspace_.roster.jobs().cancel(kind); });
    connect(&workspace_.roster.jobs(), &RosterJobs::jobProgress, dialog,
            [dialog, kind](JobKind of, int done, int total) {
                if (of != kind)
                    return;
                dialog->setMaximum(std::max(1, total));
                dialog->setValue(std::min(done, total));
            });
    connect(&workspace_.roster, &OpenRoster::closing, dialog, &QWidget::close);
    connect(&workspace_.roster.jobs(), &RosterJobs::exportFinished, dialog, &QWidget::close);
    connect(&workspace_.roster.jobs(), &RosterJobs::bringFinished, dialog, &QWidget::close);
}

void RosterView::exported(const QString& folder, const Damage& damage) {
    if (folder.isEmpty())
        return;
    if (damage.empty())
        emit workspace_.notices.said(
            wording("The export is in %1, whole; another roster can bring it in.", folder));
    else
        emit workspace_.notices.failed(
            wording("The export is in %1, but could not hold: %2.", folder, damage.sentences.join("; ")));
}

void RosterView::brought(const std::vector<qint64>& riders) {
    if (riders.empty())
        return;
    workspace_.chosen.choose(riders.front());
    emit workspace_.notices.said(riders.size() == 1 ? wording("One rider came in.")
                                                    : wording("%1 riders came in.").arg(riders.size()));
}

void RosterView::exportChosen() {
    const RiderRecord* r = workspace_.chosen.rider();
    if (!r)
        return;
    QSettings settings;
    const QString folder = QFileDialog::getExistingDirectory(
        this, wording("Folder for the export of %1", r->name), settings.value("exportFolder").toString());
    if (folder.isEmpty())
        return;
    settings.setValue("exportFolder", folder);
    watch(JobKind::Export, wording("Writing %1 with all recordings…", r->name));
    workspace_.roster.jobs().exportRiders(folder, {r->id});
}

void RosterView::bringRiders() {
    if (!workspace_.roster.isOpen()) {
        emit workspace_.notices.failed(
            wording("No roster is open. Open one, or make one, first; riders come into it."));
        return;
    }
    QSettings settings;
    const QString file = QFileDialog::getOpenFileName(
        this, wording("roster.json of an export, or one rider's file"),
        settings.value("exportFolder").toString(), wording("Exported riders (*.json)"));
    if (file.isEmpty())
        return;
    settings.setValue("exportFolder", QFileInfo(file).absolutePath());
    watch(JobKind::Bring, wording("Bringing riders in…"));
    workspace_.roster.jobs().bringRiders(ridersIn(file));
}

} // namespace marram

#include "moc_roster_view.cpp"
