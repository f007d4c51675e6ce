// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/rides/rides_view.h"
#include "app/owners/ride_today.h"
#include "app/settings/settings.h"
#include "app/shell/empty_page.h"
#include "app/shell/stack.h"
#include "app/theme/theme.h"
#include "wording/wording.h"

#include <QDir>
#include <QDragEnterEvent>
#include <QFileDialog>
#include <QHeaderView>
#include <QMenu>
#include <QMessageBox>
#include <QMimeData>
#include <QSettings>
#include <QSplitter>
#include <QStandardPaths>

namespace marram {

QString describeImport(const ImportReport& r) {
    QStringList counts;
    const auto count = [&](qsizetype n, const char* one, const char* many) {
        if (n > 0)
            counts << (n == 1 ? QString(one) : QString(many).arg(n));
    };
    count(static_cast<qsizetype>(r.added.size()), "One ride came in", "%1 rides came in");
    count(r.duplicates.size(), "one was there already", "%1 were there already");
    count(r.overlaps.size(), "one shares time with another ride and was left out",
          "%1 share time with other rides and were left out");
    count(r.secondDevices, "one of them is a second device's recording",
          "%1 of them are second devices' recordings");
    count(r.strangers.size(), "one looks like another rider's and was left out",
          "%1 look like another rider's and were left out");
    count(static_cast<qsizetype>(r.listed.size()), "one ride gained what a list said of it",
          "%1 rides gained what a list said of them");
    count(r.refused.size(), "one file could not be read", "%1 files could not be read");
    if (r.cancelled)
        counts << wording("the rest was cancelled");
    QString out = counts.isEmpty() ? wording("There was nothing to bring in.") : counts.join(", ") + ".";
    out[0] = out[0].toUpper();
    for (const QString& line : r.refused + r.strangers + r.remarks)
        out += "\n" + line;
    return out;
}

QString RidesView::deviceFolder() {
    const QString usual = QStandardPaths::writableLocation(QStandardPaths::AppDataLocation) + "/device";
    const QString chosen = setting("deviceFolder").toString();
    return chosen.isEmpty() ? usual : chosen;
}

RidesView::RidesView(Workspace& workspace, QWidget* parent)
    : QWidget(parent), workspace_(workspace), stack_(new Stack), model_(new RideTable(this)),
      table_(new QTableView), panel_(new RidePanel(workspace)), underWay_(new QWidget),
      progress_(new QProgressBar), progressWords_(new QLabel) {
    setAcceptDrops(true);
    auto* layout = new QVBoxLayout(this);
    layout->setContentsMargins(0, 0, 0, 0);
    layout->setSpacing(0);
    layout->addWidget(stack_, 1);
    stack_->addWidget(emptyPage(
        wording("No rides yet"),
        wording("Drop FIT, GPX or CSV files here, or whole folders and archives of them. What comes in is "
                "scored by what the rider could do that day."),
        wording("Choose files"), [this] { chooseFiles(); }));

    auto* split = new QSplitter(Qt::Horizontal);
    split->addWidget(makeList());
    split->addWidget(panel_);
    split->setStretchFactor(1, 1);
    split_ = split;
    fitColumns();
    split->setChildrenCollapsible(false);
    stack_->addWidget(split);
    makeBar();
    layout->addWidget(underWay_);
    follow();
    refresh();
}

QWidget* RidesView::makeList() {
    auto* left = new QWidget;
    auto* leftLayout = new QVBoxLayout(left);
    leftLayout->setContentsMargins(20, 14, 8, 8);
    auto* head = new QLabel(wording("Ridden against the plan"));
    head->setFont(typeface(Type::Title, true));
    leftLayout->addWidget(head);
    table_->setModel(model_);
    table_->setObjectName("rides");
    table_->setAccessibleName(wording("Rides"));
    table_->verticalHeader()->hide();
    table_->verticalHeader()->setDefaultSectionSize(qRound(26 * textScale()));
    table_->setShowGrid(false);
    table_->setTabKeyNavigation(false);
    table_->setSelectionBehavior(QAbstractItemView::SelectRows);
    table_->setSelectionMode(QAbstractItemView::SingleSelection);
    table_->horizontalHeader()->setHighlightSections(false);
    table_->horizontalHeader()->setSectionResizeMode(QHeaderView::ResizeToContents);
    table_->horizontalHeader()->setResizeContentsPrecision(30);
    table_->horizontalHeader()->setStretchLastSection(true);
    leftLayout->addWidget(table_);
    auto* buttons = new QHBoxLayout;
    const auto button = [&](const QString& text, auto slot) {
        auto* b = new QPushButton(text);
        connect(b, &QPushButton::clicked, this, slot);
        buttons->addWidget(b);
        return b;
    };
    button(wording("Import files"), [this] { chooseFiles(); });
    button(wording("Sync device"), [this] { sync(); });
    button(wording("Simulate today's ride"), [this] { rideToday(); });
    buttons->addStretch();
    leftLayout->addLayout(buttons);
    table_->setContextMenuPolicy(Qt::CustomContextMenu);
    connect(table_, &QWidget::customContextMenuRequested, this, [this](const QPoint& at) {
        if (!table_->indexAt(at).isValid() || panel_->rideShown() == 0)
            return;
        QMenu menu(this);
        menu.addAction(wording("Save the ride in another format"), panel_, &RidePanel::saveAs);
        menu.addAction(wording("Remove the ride"), this, &RidesView::removeSelected);
        menu.exec(table_->viewport()->mapToGlobal(at));
    });
    connect(table_->selectionModel(), &QItemSelectionModel::currentRowChanged, this,
            [this](const QModelIndex& now) { open(now.row()); });
    return left;
}

/// What is under way, and a way out of it.
void RidesView::makeBar() {
    auto* bar = new QHBoxLayout(underWay_);
    bar->setContentsMargins(20, 4, 20, 6);
    auto* cancel = new QPushButton(wording("Cancel"));
    cancel->setObjectName("cancelImport");
    bar->addWidget(progressWords_);
    bar->addWidget(progress_, 1);
    bar->addWidget(cancel);
    underWay_->hide();
    connect(cancel, &QPushButton::clicked, this, [this] {
        workspace_.roster.jobs().cancel(workspace_.roster.jobs().importing() ? JobKind::Import
                                                                             : JobKind::Scoring);
    });
}

void RidesView::follow() {
    for (const auto signal : {&ChosenRider::ridesChanged, &ChosenRider::settled})
        connect(&workspace_.chosen, signal, this, &RidesView::refreshWhenSeen);
    connect(&workspace_.plans, &PlanService::planChanged, this, &RidesView::refreshWhenSeen);
    connect(&workspace_.blocks, &BlockService::laidChanged, this, &RidesView::refreshWhenSeen);
    connect(&workspace_.roster.jobs(), &RosterJobs::jobProgress, this,
            [this](JobKind kind, int done, int total) {
                if (kind != JobKind::Import)
                    return;
                underWay_->show();
                progress_->setRange(0, total);
                progress_->setValue(done);
                progressWords_->setText(wording("Reading %1 of %2").arg(done).arg(total));
            });
    connect(&workspace_.roster.jobs(), &RosterJobs::importFinished, this, &RidesView::finished);
    connect(&workspace_.roster.jobs(), &RosterJobs::scoringProgress, this, [this](int waiting) {
        if (workspace_.roster.jobs().importing())
            return;
        underWay_->setVisible(waiting > 0);
        progress_->setRange(0, std::max(waiting, progress_->isVisible() ? progress_->maximum() : waiting));
        progress_->setValue(progress_->maximum() - waiting);
        progressWords_->setText(wording("Scoring again, %1 left").arg(waiting));
    });
}

void RidesView::fitColumns() {
    // With large text the list keeps what the panel does not say.
    const bool large = textScale() > 1.2;
    for (const int column : {1, 5})
        table_->setColumnHidden(column, large);
    table_->verticalHeader()->setDefaultSectionSize(qRound(26 * textScale()));
    const int list = qRound((large ? 400 : 565) * textScale());
    split_->setSizes({std::min(list, 620), 1280 - std::min(list, 620)});
}

void RidesView::changeEvent(QEvent* event) {
    if (event->type() == QEvent::FontChange && split_)
        fitColumns();
    QWidget::changeEvent(event);
}

void RidesView::refreshWhenSeen() {
    if (workspace_.chosen.choosing())
        return; // settled() follows
    stale_ = !isVisible();
    if (!stale_)
        refresh();
}

void RidesView::showEvent(QShowEvent*) {
    if (stale_)
        refresh();
    stale_ = false;
}

/// Where this ride stands, or else the first there is; −1 where there is none.
static int rowOf(const RideTable& table, qint64 ride) {
    int first = -1;
    for (int i = 0; i < table.rowCount(); ++i) {
        if (!table.row(i).ride)
            continue;
        if (table.row(i).ride->id == ride)
            return i;
        if (first < 0)
            first = i;
    }
    return first;
}

void RidesView::refresh() {
    std::vector<SolvedDay> planned;
    for (const auto& [day, plan] : workspace_.chosen.planned())
        if (day <= workspace_.today())
            planned.push_back(plan);
    stack_->setCurrentIndex(workspace_.chosen.rides().empty() ? 0 : 1);
    const qint64 keep = panel_->rideShown();
    std::vector<RideRow> rows = rideRows(workspace_.chosen.rides(), planned, workspace_.today());
    // What was laid over its session is said by that, as the board says it.
    for (RideRow& row : rows)
        if (const LaidRide* laid = row.ride ? workspace_.blocks.laidOn(row.day) : nullptr;
            laid && laid->ride == row.ride->id && !laid->unread)
            row.laid = wordsFor(laid->against);
    model_->show(std::move(rows), workspace_.today());
    const int row = rowOf(*model_, keep);
    if (row < 0)
        open(-1);
    else if (table_->currentIndex().row() == row)
        open(row); // the same row, with what has changed
    else
        table_->selectRow(row);
}

void RidesView::open(int index) {
    panel_->finishTyping(); // may change the rows
    panel_->show(index >= 0 && index < model_->rowCount() ? &model_->row(index) : nullptr);
}

void RidesView::showRide(qint64 ride) {
    refresh();
    for (int i = 0; i < model_->rowCount(); ++i)
        if (model_->row(i).ride && model_->row(i).ride->id == ride) {
            table_->selectRow(i);
            table_->scrollTo(model_->index(i, 0));
        }
}

void RidesView::chooseFiles() {
    if (!workspace_.chosen.rider())
        return;
    QSettings settings;
    const QStringList files = QFileDialog::getOpenFileNames(
        this, wording("Rides to bring in"), settings.value("importFolder").toString(),
        wording("Recordings (*.fit *.FIT *.gpx *.GPX *.csv *.CSV *.gz *.zip)"));
    if (files.isEmpty())
        return;
    settings.setValue("importFolder", QFileInfo(files.front()).absolutePath());
    workspace_.roster.jobs().importFiles(workspace_.chosen.id(), files);
}

void RidesView::sync() {
    const FoundFiles found = recordingsBelow(deviceFolder());
    if (found.files.isEmpty() && found.refused.isEmpty())
        emit workspace_.notices.said(wording("The device folder %1 holds no rides.", deviceFolder()));
    else
        workspace_.roster.jobs().importFiles(workspace_.chosen.id(), found.files, found.refused);
}

void RidesView::rideToday() {
    const BlockSession* today = workspace_.blocks.sessionOn(workspace_.today());
    const auto path =
        marram::rideToday(workspace_.chosen, workspace_.today(), deviceFolder(),
                          today && today->ridden() ? std::optional(today->session) : std::nullopt);
    if (!path) {
        emit workspace_.notices.failed(QString::fromStdString(path.error().sentence));
        return;
    }
    emit workspace_.notices.said(
        wording("The simulated bike computer rode today's session. Sync brings it in."));
    sync();
}

void RidesView::removeSelected() {
    if (panel_->rideShown() != 0)
        workspace_.chosen.edits().removeRide(panel_->rideShown());
}

void RidesView::finished(qint64, const ImportReport& report) {
    underWay_->hide();
    const QString words = describeImport(report);
    const QStringList lines = words.split('\n');
    emit workspace_.notices.said(lines.front());
    if (lines.size() > 1) {
        auto* box =
            new QMessageBox(QMessageBox::NoIcon, wording("Import"), lines.front(), QMessageBox::Close, this);
        box->setObjectName("importReport");
        box->setAttribute(Qt::WA_DeleteOnClose);
        box->setInformativeText(lines.mid(1, 6).join('\n'));
        if (lines.size() > 7)
            box->setDetailedText(lines.mid(1).join('\n'));
        box->open();
    }
}

void RidesView::dragEnterEvent(QDragEnterEvent* event) {
    if (event->mimeData()->hasUrls() && workspace_.chosen.rider())
        event->acceptProposedAction();
}

void RidesView::dropEvent(QDropEvent* event) {
    QStringList files, refused;
    for (const QUrl& url : event->mimeData()->urls()) {
        const QString path = url.toLocalFile();
        if (QFileInfo(path).isDir()) {
            const FoundFiles found = recordingsBelow(path);
            files += found.files;
            refused += found.refused;
        } else if (!path.isEmpty()) {
            files << path;
        }
    }
    event->acceptProposedAction();
    workspace_.roster.jobs().importFiles(workspace_.chosen.id(), files, refused);
}

} // namespace marram

#include "moc_rides_view.cpp"
