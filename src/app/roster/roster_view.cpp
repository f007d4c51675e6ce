// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/roster/roster_view.h"
#include "app/shell/empty_page.h"
#include "app/theme/theme.h"

#include <QHeaderView>

namespace marram {

QString whyLook(const Glance& g, Date today) {
    if (!g.lastRide)
        return "Nothing ridden yet: import rides, or set a season and start.";
    const int idle = today - *g.lastRide;
    if (g.nextRace && *g.nextRaceDay - today <= 14 && g.raceMiss > 0.05)
        return QString("%1 is %2 days away and form will miss its gate by %3.")
            .arg(*g.nextRace)
            .arg(*g.nextRaceDay - today)
            .arg(g.raceMiss, 0, 'f', 1);
    if (g.state.form() < -30)
        return QString("Form is %1: ask how they feel before anything hard.")
            .arg(QString::fromStdString(signedText(g.state.form(), 0)));
    if (idle >= 4)
        return QString("No ride for %1 days.").arg(idle);
    if (g.missedThisWeek > 0)
        return QString("%1 planned %2 not ridden in the last seven days.")
            .arg(g.missedThisWeek)
            .arg(g.missedThisWeek == 1 ? "session was" : "sessions were");
    if (g.nextRace)
        return QString("On course: %1 is in %2 days.").arg(*g.nextRace).arg(*g.nextRaceDay - today);
    return "No race ahead.";
}

RosterView::RosterView(Workspace& workspace, QWidget* parent)
    : QWidget(parent), workspace_(workspace), stack_(new QStackedWidget), table_(new QTableWidget(0, 6)) {
    auto* layout = new QVBoxLayout(this);
    layout->setContentsMargins(0, 0, 0, 0);
    layout->addWidget(stack_);
    stack_->addWidget(emptyPage("Nobody here yet",
                                "A roster keeps your riders, their seasons and everything they rode, in one "
                                "file on this machine. Add the first rider to begin.",
                                "Add a rider", [this] { workspace_.addRider("New rider"); }));
    auto* page = new QWidget;
    auto* inside = new QVBoxLayout(page);
    inside->setContentsMargins(32, 18, 32, 18);
    auto* title = new QLabel("Whom to look at first");
    title->setFont(typeface(Type::Title, true));
    inside->addWidget(title);
    table_->setObjectName("roster");
    table_->setAccessibleName("Riders");
    table_->setHorizontalHeaderLabels({"Rider", "Why", "Fitness", "Form", "Threshold, W", "Last ride"});
    table_->verticalHeader()->hide();
    table_->verticalHeader()->setDefaultSectionSize(qRound(38 * textScale()));
    table_->setShowGrid(false);
    table_->setSelectionBehavior(QAbstractItemView::SelectRows);
    table_->setSelectionMode(QAbstractItemView::SingleSelection);
    table_->setEditTriggers(QAbstractItemView::NoEditTriggers);
    table_->horizontalHeader()->setHighlightSections(false);
    table_->horizontalHeader()->setSectionResizeMode(QHeaderView::ResizeToContents);
    table_->horizontalHeader()->setSectionResizeMode(1, QHeaderView::Stretch);
    for (int c = 0; c < 6; ++c)
        table_->horizontalHeaderItem(c)->setTextAlignment(c < 2 ? Qt::AlignLeft : Qt::AlignRight);
    inside->addWidget(table_);
    auto* buttons = new QHBoxLayout;
    auto* add = new QPushButton("Add a rider");
    add->setObjectName("addRider");
    buttons->addWidget(add);
    buttons->addStretch();
    inside->addLayout(buttons);
    stack_->addWidget(page);
    connect(add, &QPushButton::clicked, this, [this] { workspace_.addRider("New rider"); });
    connect(table_, &QTableWidget::currentCellChanged, this, [this](int row) {
        if (!filling_ && row >= 0)
            workspace_.choose(table_->item(row, 0)->data(Qt::UserRole).toLongLong());
    });
    connect(table_, &QTableWidget::cellActivated, this, &RosterView::wantsSeason);
    for (const auto signal : {&Workspace::rosterChanged, &Workspace::ridesChanged, &Workspace::planChanged,
                              &Workspace::riderChanged})
        connect(&workspace_, signal, this, &RosterView::refreshWhenSeen);
    refresh();
}

void RosterView::refreshWhenSeen() {
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
    stack_->setCurrentIndex(workspace_.riders().empty() ? 0 : 1);
    filling_ = true;
    const QSignalBlocker quiet(table_);
    table_->setRowCount(static_cast<int>(workspace_.riders().size()));
    int row = 0;
    for (const RiderRecord& r : workspace_.riders()) {
        const Glance g = workspace_.glance(r.id);
        const Threshold* t = thresholdOn(r.thresholds, workspace_.today());
        const auto set = [&](int column, const QString& text) {
            auto* item = new QTableWidgetItem(text);
            item->setTextAlignment((column < 2 ? Qt::AlignLeft : Qt::AlignRight) | Qt::AlignVCenter);
            item->setData(Qt::UserRole, r.id);
            if (column == 0)
                item->setFont(typeface(Type::Body, true));
            table_->setItem(row, column, item);
        };
        set(0, r.name);
        set(1, whyLook(g, workspace_.today()));
        set(2, g.lastRide ? QString::number(g.state.fitness, 'f', 0) : "–");
        set(3, g.lastRide ? QString::fromStdString(signedText(g.state.form(), 0)) : "–");
        set(4, t ? QString::number(t->power.value, 'f', 0) : "–");
        set(5, g.lastRide ? QString::fromStdString(dayText(*g.lastRide)) : "–");
        if (workspace_.rider() && workspace_.rider()->id == r.id)
            table_->selectRow(row);
        ++row;
    }
    filling_ = false;
}

} // namespace marram
