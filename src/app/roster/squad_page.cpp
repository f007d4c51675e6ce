// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/roster/squad_page.h"
#include "app/roster/groups.h"
#include "app/roster/squad_dialog.h"
#include "app/shell/stack.h"
#include "app/shell/tables.h"
#include "core/review/wording.h"
#include "formats/files/files.h"
#include "records/again.h"
#include "wording/wording.h"

#include <QApplication>
#include <QBuffer>
#include <QClipboard>
#include <QDir>
#include <QFileDialog>
#include <QHBoxLayout>
#include <QMenu>
#include <QPdfWriter>
#include <QRegularExpression>
#include <QScrollBar>
#include <QSettings>
#include <QTextDocument>
#include <QVBoxLayout>
#include <tuple>

namespace marram {
namespace {

/// A day in a cell: what, how long, and how many points; empty for rest.
QString cellText(const DayAhead& d) {
    if (d.family.empty() && d.stress < 1)
        return {};
    QString what = QString::fromStdString(d.role == Role::Race ? phrase("race")
                                          : d.title.empty()    ? translated(nameOf(d.role))
                                                               : d.title);
    // How long it is stands under it.
    static const QRegularExpression length("^([^,]+), (\\d+ h)? ?(\\d+ min)?");
    if (d.family == "endurance" || d.family == "long ride")
        what.replace(length, "\\1");
    if (!what.isEmpty())
        what[0] = what[0].toUpper();
    // The rests between stand in the session itself.
    if (!what.isEmpty() && what[0].isDigit())
        what = QString::fromStdString(upper(translated(d.family)) + ", " + withoutRests(what.toStdString()));
    QString figures = d.seconds > 0 ? QString::fromStdString(hoursText(d.seconds / 3600.0)) : QString();
    if (d.stress >= 1)
        figures += QString(figures.isEmpty() ? wording("%1 pts") : wording(", %1 pts")).arg(qRound(d.stress));
    return (d.team.empty() ? "" : QString::fromStdString(d.team) + "\n") + what +
           (figures.isEmpty() ? "" : "\n" + figures);
}

} // namespace

std::vector<SquadRow> ordered(std::vector<SquadRow> rows, SquadOrder order, Date today,
                              const std::function<int(qint64)>& urgency) {
    const auto key = [&](const SquadRow& r) {
        const SquadRace* next = nextRace(r, today);
        switch (order) {
        case SquadOrder::NextRace:
            return next ? static_cast<double>(next->date.days) : 1e9;
        case SquadOrder::Form:
            return next ? next->form : 1e9;
        case SquadOrder::Look:
            return static_cast<double>(-urgency(r.rider));
        case SquadOrder::Name:
            break;
        }
        return 0.0;
    };
    std::stable_sort(rows.begin(), rows.end(), [&](const SquadRow& a, const SquadRow& b) {
        const double x = key(a), y = key(b);
        return x != y ? x < y : QString::localeAwareCompare(a.name, b.name) < 0;
    });
    return rows;
}

SquadPage::SquadPage(Workspace& workspace, QWidget* parent)
    : QWidget(parent), workspace_(workspace), group_(new QComboBox), order_(new QComboBox),
      season_(new QToolButton), week_(new QToolButton), race_(new QToolButton),
      before_(new QPushButton(wording("‹ Bef&ore"))), after_(new QPushButton(wording("&After ›"))),
      copy_(new QPushButton(wording("&Copy as text"))), save_(new QPushButton(wording("Save…"))),
      send_(new QPushButton(wording("Se&nd…"))), put_(new QPushButton(wording("&Put on all…"))),
      close_(new QPushButton(wording("&Close"))), title_(headingLabel({})), state_(wordsLabel({}, true)),
      stack_(new Stack), scroll_(new QScrollArea), canvas_(new SquadCanvas),
      table_(quietTable({wording("Rider"), wording("Mo"), wording("Tu"), wording("We"), wording("Th"),
                         wording("Fr"), wording("Sa"), wording("Su"), wording("Hours"), wording("Points")},
                        "squadWeek", 8)),
      fits_(new RaceFitPage) {
    auto* layout = new QVBoxLayout(this);
    layout->setContentsMargins(0, 6, 0, 0);
    layout->addLayout(makeTools());
    makeWeekLine();
    layout->addWidget(ofWeek_);
    makeParts();
    layout->addWidget(stack_, 1);
    makeDid();
    layout->addWidget(didBox_);
    connectTools();
    connectCanvas();
    setFocusProxy(canvas_);
    open(Part::Seasons);
}

QLayout* SquadPage::makeTools() {
    auto* tools = new QHBoxLayout;
    season_->setText(wording("The season ahead"));
    week_->setText(wording("The week"));
    race_->setText(wording("Who for which race"));
    for (auto [button, name] :
         {std::pair{season_, "squadSeason"}, {week_, "squadWeekButton"}, {race_, "squadRaceButton"}}) {
        button->setCheckable(true);
        button->setFocusPolicy(Qt::TabFocus);
        button->setObjectName(name);
        tools->addWidget(button);
    }
    tools->addSpacing(14);
    group_->setObjectName("squadGroup");
    group_->setAccessibleName(wording("Of which group"));
    tools->addWidget(group_);
    tools->addSpacing(14);
    tools->addWidget(captionLabel(wording("In order of")));
    order_->setObjectName("squadOrder");
    order_->setAccessibleName(wording("In which order"));
    order_->addItems({wording("name"), wording("next race"), wording("form on that morning"),
                      wording("whom to look at first")});
    order_->setMinimumWidth(qRound(110 * textScale())); // its longest words may be cut, not the window grow
    tools->addWidget(order_);
    tools->addSpacing(14);
    put_->setObjectName("squadPutOnAll");
    put_->setToolTip(wording("A race, a camp, a team day, deloads, a rule or a season, on those shown"));
    tools->addWidget(put_);
    connect(put_, &QPushButton::clicked, this, [this] { askWhatToPut(); });
    state_->setObjectName("squadState");
    tools->addWidget(state_, 1);
    return tools;
}

void SquadPage::makeWeekLine() {
    ofWeek_ = new QWidget; // a line of its own: at 1.5 times text one is too short for both
    auto* week = new QHBoxLayout(ofWeek_);
    week->setContentsMargins(0, 4, 0, 4);
    title_->setObjectName("squadTitle");
    week->addWidget(title_);
    week->addSpacing(14);
    for (auto [button, name] : {std::pair{before_, "squadBefore"},
                                {after_, "squadAfter"},
                                {copy_, "squadCopy"},
                                {save_, "squadSave"},
                                {send_, "squadSend"}}) {
        button->setObjectName(name);
        week->addWidget(button);
    }
    week->addStretch();
}

void SquadPage::makeParts() {
    scroll_->setWidgetResizable(true);
    scroll_->setFrameShape(QFrame::NoFrame);
    scroll_->setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
    scroll_->setFocusPolicy(Qt::NoFocus);
    scroll_->setWidget(canvas_);
    stack_->addWidget(scroll_);
    table_->setWordWrap(true);
    table_->setTextElideMode(Qt::ElideNone);
    table_->horizontalHeader()->setSectionResizeMode(QHeaderView::Stretch);
    for (const int c : {0, 8, 9})
        table_->horizontalHeader()->setSectionResizeMode(c, QHeaderView::ResizeToContents);
    table_->setSelectionBehavior(QAbstractItemView::SelectItems);
    stack_->addWidget(table_);
    stack_->addWidget(fits_);
}

/// The line that says what was put on all last.
void SquadPage::makeDid() {
    didBox_ = new QWidget;
    auto* below = new QHBoxLayout(didBox_);
    below->setContentsMargins(0, 4, 0, 4);
    did_ = wordsLabel({});
    did_->setObjectName("squadDid");
    did_->setTextFormat(Qt::RichText);
    close_->setObjectName("squadDidClose");
    below->addWidget(did_, 1);
    below->addWidget(close_, 0, Qt::AlignTop);
    didBox_->hide();
    connect(close_, &QPushButton::clicked, this, [this] {
        was_.reset();
        didBox_->hide();
    });
    connect(&workspace_.roster.steps().stack(), &QUndoStack::indexChanged, this, [this](int index) {
        if (was_ && index < was_->step) { // taken back
            was_.reset();
            didBox_->hide();
        }
    });
    connect(&workspace_.roster, &OpenRoster::closing, this, [this] {
        was_.reset();
        didBox_->hide();
    });
}

void SquadPage::connectTools() {
    connect(season_, &QToolButton::clicked, this, [this] { open(Part::Seasons); });
    connect(week_, &QToolButton::clicked, this, [this] { open(Part::Week); });
    connect(race_, &QToolButton::clicked, this, [this] { open(Part::Race); });
    connect(order_, &QComboBox::activated, this, &SquadPage::refresh);
    connect(group_, &QComboBox::activated, this, &SquadPage::refreshRiders);
    connect(&workspace_.roster, &OpenRoster::ridersChanged, this, [this] {
        if (isVisible())
            refreshRiders();
    });
    connect(before_, &QPushButton::clicked, this,
            [this] { workspace_.squads.look(workspace_.squads.weeksAhead() - 1); });
    connect(after_, &QPushButton::clicked, this,
            [this] { workspace_.squads.look(workspace_.squads.weeksAhead() + 1); });
    connect(copy_, &QPushButton::clicked, this, [this] {
        QApplication::clipboard()->setText(weekText());
        emit workspace_.notices.said(wording("The week of the squad is on the clipboard."));
    });
    connect(save_, &QPushButton::clicked, this, [this] { saveWeek(); });
    send_->setToolTip(
        wording("The letter, calendar, workouts and check-in sheet of this week, for each shown, into the "
                "folder of the post"));
    connect(send_, &QPushButton::clicked, this, [this] {
        std::vector<qint64> riders;
        for (const SquadRow& row : workspace_.squads.rows())
            riders.push_back(row.rider);
        if (!riders.empty())
            emit wantsSend(riders, workspace_.squads.week());
    });
}

void SquadPage::connectCanvas() {
    canvas_->setContextMenuPolicy(Qt::CustomContextMenu);
    connect(canvas_, &QWidget::customContextMenuRequested, this, &SquadPage::offer);
    connect(canvas_, &SquadCanvas::slid, this, [this](int down) {
        scroll_->verticalScrollBar()->setValue(scroll_->verticalScrollBar()->value() - down);
    });
    connect(canvas_, &SquadCanvas::moveAsked, this, [this](const std::string& race, Date from, Date to) {
        SquadAddition move;
        move.what = SquadAddition::What::Move;
        move.name = race;
        move.from = from;
        move.to = to;
        if (!workspace_.roster.readOnly())
            askWhatToPut(move);
    });
    connect(canvas_, &SquadCanvas::chose, this, [this](qint64 rider) {
        scroll_->ensureVisible(0, canvas_->rowRect(rider).center().y(), 0, canvas_->rowHeight());
    });
    const auto openRider = [this](qint64 rider) {
        workspace_.chosen.choose(rider);
        emit wantsSeason();
    };
    connect(canvas_, &SquadCanvas::opened, this, openRider);
    connect(fits_, &RaceFitPage::opened, this, openRider);
    connect(table_, &QTableWidget::cellActivated, this, [this, openRider](int row) {
        if (const auto* item = table_->item(row, 0))
            openRider(item->data(Qt::UserRole).toLongLong());
    });
    connect(&workspace_.squads, &Squads::changed, this, [this] {
        if (isVisible())
            refresh();
    });
}

void SquadPage::showGroup(const QString& group) {
    refreshRiders();
    group_->setCurrentIndex(std::max(0, group_->findData(group)));
    refreshRiders();
}

/// Whoever is not archived and in the group that is chosen.
void SquadPage::refreshRiders() {
    fillGroups(group_, workspace_.roster.riders(), false);
    const QString group = group_->currentData().toString();
    std::vector<qint64> riders;
    for (const RiderRecord& r : workspace_.roster.riders())
        if (!r.archived && (group.isEmpty() || r.groups.contains(group)))
            riders.push_back(r.id);
    workspace_.squads.show(riders);
    refresh();
}

void SquadPage::open(Part part) {
    stack_->setCurrentIndex(static_cast<int>(part));
    season_->setChecked(part == Part::Seasons);
    week_->setChecked(part == Part::Week);
    race_->setChecked(part == Part::Race);
    ofWeek_->setVisible(part == Part::Week);
    put_->setVisible(part == Part::Seasons);
    order_->setEnabled(part != Part::Race); // there they stand by name
    refresh();
}

void SquadPage::showEvent(QShowEvent*) {
    refreshRiders();
    workspace_.squads.watch(true);
    refresh();
}

void SquadPage::hideEvent(QHideEvent*) {
    workspace_.squads.watch(false);
}

std::vector<SquadRow> SquadPage::rows() const {
    return ordered(workspace_.squads.rows(), static_cast<SquadOrder>(order_->currentIndex()),
                   workspace_.today(), [this](qint64 rider) {
                       const auto reasons = reasonsToLook(workspace_.standings.of(rider));
                       return reasons.empty() ? 0 : reasons.front().urgency;
                   });
}

void SquadPage::refresh() {
    if (!workspace_.roster.isOpen())
        return;
    const Squads& squads = workspace_.squads;
    title_->setText(
        wording("Week of %1", QString::fromStdString(dayText(squads.week(), workspace_.today()))));
    state_->setText(!squads.reading()       ? QString()
                    : squads.rows().empty() ? wording("Reading…")
                                            : wording("Solving %1 of %2…")
                                                  .arg(std::min(squads.done() + 1, squads.total()))
                                                  .arg(squads.total()));
    if (part() == Part::Week)
        fillWeek();
    else if (part() == Part::Race)
        fits_->show(squads.rows(), workspace_.roster.riders(), workspace_.today());
    else
        canvas_->show(rows(), workspace_.today());
    put_->setEnabled(!workspace_.roster.readOnly() && !squads.rows().empty());
    showWhatItDid();
}

/// What can be done where the hand is.
void SquadPage::offer(const QPoint& at) {
    QMenu menu(this);
    const qint64 rider = canvas_->chosen();
    if (const RiderRecord* r = workspace_.roster.rider(rider))
        menu.addAction(wording("Open the season of %1", r->name), this,
                       [this, rider] { emit canvas_->opened(rider); });
    for (const auto& [words, what] : {std::pair{wording("Put on all…"), SquadAddition::What::Race},
                                      {wording("A session ridden together…"), SquadAddition::What::Team},
                                      {wording("Deload weeks together…"), SquadAddition::What::Deloads},
                                      {wording("Move a race of the squad…"), SquadAddition::What::Move}}) {
        auto* action = menu.addAction(words, this, [this, what = what] {
            SquadAddition first;
            first.what = what;
            askWhatToPut(first);
        });
        action->setEnabled(put_->isEnabled());
    }
    menu.exec(canvas_->mapToGlobal(at));
}

void SquadPage::askWhatToPut(const std::optional<SquadAddition>& first) {
    auto* dialog = new SquadDialog(workspace_, this);
    dialog->setAttribute(Qt::WA_DeleteOnClose);
    connect(&workspace_.roster, &OpenRoster::closing, dialog, &QDialog::reject);
    connect(dialog, &SquadDialog::answered, this, &SquadPage::putOn);
    dialog->open();
    if (first)
        dialog->show(*first);
}

void SquadPage::putOnAll(const SquadAddition& addition) {
    const auto before = workspace_.squads.rows();
    const auto done = workspace_.squads.put(addition);
    if (done)
        tellOf(addition, *done, before);
    else
        emit workspace_.notices.failed(QString::fromStdString(done.error().sentence));
}

void SquadPage::putOn(const SquadAddition& addition, const std::vector<SquadTrial>& on) {
    const auto before = workspace_.squads.rows();
    tellOf(addition, workspace_.squads.put(addition, on), before);
}

void SquadPage::tellOf(const SquadAddition& addition, const Squads::Put& done, std::vector<SquadRow> before) {
    if (done.on == 0) {
        emit workspace_.notices.said(wording("Nobody shown could take it; nothing was changed."));
        return;
    }
    Put put;
    put.before = std::move(before);
    put.what = wordsFor(addition);
    put.left = done.left;
    put.step = workspace_.roster.steps().stack().index() + (workspace_.roster.steps().waiting() ? 1 : 0);
    was_ = std::move(put);
    refresh();
}

/// The first A race ahead that stands in both, as it was and as it is.
static std::pair<const SquadRace*, const SquadRace*> goalOfBoth(const SquadRow& then, const SquadRow& now,
                                                                Date today) {
    for (const SquadRace& before : then.races) {
        if (before.priority != Priority::A || before.date < today)
            continue;
        for (const SquadRace& after : now.races)
            if (before.name == after.name && before.date == after.date)
                return {&before, &after};
    }
    return {};
}

/// What the addition did to each, once all are solved with it.
void SquadPage::showWhatItDid() {
    didBox_->setVisible(was_ && part() == Part::Seasons);
    if (!was_)
        return;
    if (workspace_.squads.reading()) {
        did_->setText(wording("%1: solving what it does to each…",
                              QString::fromStdString(upper(was_->what.toStdString())).toHtmlEscaped()));
        return;
    }
    QString out =
        wording("<b>What %1 did</b><table cellspacing='0' cellpadding='2'>", was_->what.toHtmlEscaped());
    for (const SquadRow& now : rows()) {
        const auto then = std::find_if(was_->before.begin(), was_->before.end(),
                                       [&](const SquadRow& r) { return r.rider == now.rider; });
        if (then == was_->before.end() || was_->left.contains(now.name))
            continue;
        const auto [a, b] = goalOfBoth(*then, now, workspace_.today());
        const auto moved = [](const std::string& before, const std::string& after) {
            return QString::fromStdString(before == after ? after
                                                          : std::string(before).append(" → ").append(after));
        };
        const auto cell = [](const QString& text) {
            return "<td style='padding-right:18px'>" + text.toHtmlEscaped() + "</td>";
        };
        out += "<tr>" + cell(now.name);
        if (a)
            out += cell(QString::fromStdString(a->name)) +
                   cell(wording("fitness %1", moved(fixedText(a->fitness, 1), fixedText(b->fitness, 1)))) +
                   cell(wording("form %1", moved(figure(a->form, 0), figure(b->form, 0)))) +
                   cell(a->chance && b->chance
                            ? wording("gate met in %1 of 100",
                                      moved(fixedText(100 * *a->chance, 0), fixedText(100 * *b->chance, 0)))
                            : QString());
        else
            out += cell(wording("no A race lies ahead"));
        out += "</tr>";
    }
    out += "</table>";
    if (!was_->left.isEmpty())
        out += wording("<p style='margin:2px 0'>Not put on: %1, who were left out, have no season that "
                       "reaches it, or have it already.</p>",
                       was_->left.join(", ").toHtmlEscaped());
    did_->setText(semiBold(out));
}

void SquadPage::fillWeek() {
    const auto all = rows();
    table_->setRowCount(static_cast<int>(all.size()));
    const QFontMetrics m(table_->font());
    table_->verticalHeader()->setSectionResizeMode(QHeaderView::ResizeToContents);
    for (int i = 0; i < table_->rowCount(); ++i) {
        const SquadRow& row = all[static_cast<size_t>(i)];
        auto* name = tableCell(row.name, false);
        name->setData(Qt::UserRole, row.rider);
        table_->setItem(i, 0, name);
        double hours = 0, points = 0;
        for (int d = 0; d < 7; ++d)
            table_->setItem(i, d + 1, tableCell({}, false));
        for (const DayAhead& day : row.week) {
            hours += day.seconds / 3600.0;
            points += day.stress;
            const int d = day.date - workspace_.squads.week();
            if (d < 0 || d > 6)
                continue;
            auto* cell = tableCell(cellText(day), false);
            cell->setTextAlignment(Qt::AlignLeft | Qt::AlignTop);
            cell->setToolTip(day.words);
            if (!day.team.empty()) { // across the riders it reads as one
                cell->setFont(typeface(Type::Body, true));
                cell->setBackground(shore().sheet);
            }
            table_->setItem(i, d + 1, cell);
        }
        const bool known = !row.week.empty();
        table_->setItem(i, 8,
                        tableCell(known                       ? QString::fromStdString(fixedText(hours, 1))
                                  : row.planned && !row.fresh ? "…"
                                                              : "–"));
        table_->setItem(i, 9, tableCell(known ? QString::number(qRound(points)) : "–"));
    }
}

QString SquadPage::weekText() const {
    QString out = wording("Week of %1\n",
                          QString::fromStdString(dayText(workspace_.squads.week(), workspace_.today())));
    for (const SquadRow& row : rows()) {
        out += "\n" + row.name + "\n";
        if (row.week.empty())
            out += row.planned ? wording("  not worked out yet\n") : wording("  no season lies ahead\n");
        for (const DayAhead& d : row.week) {
            const QString text = cellText(d);
            out += QString("  %1  %2\n")
                       .arg(QString::fromStdString(shortestWeekdayText(weekday(d.date))),
                            text.isEmpty() ? QString(wording("rest")) : QString(text).replace('\n', ": "));
        }
    }
    return out;
}

QString SquadPage::weekHtml() const {
    QString out = wording("<h3>Week of %1</h3><table width='100%' cellspacing='0' cellpadding='4'><tr>")
                      .arg(QString::fromStdString(dayText(workspace_.squads.week(), workspace_.today())));
    for (int c = 0; c < table_->columnCount(); ++c)
        out += "<td style='color:" + paperShore().muted.name() + "'>" +
               table_->horizontalHeaderItem(c)->text().toHtmlEscaped() + "</td>";
    out += "</tr>";
    for (int r = 0; r < table_->rowCount(); ++r) {
        out += "<tr>";
        for (int c = 0; c < table_->columnCount(); ++c)
            out += QString("<td valign='top' style='border-top:1px solid %1'>%2</td>")
                       .arg(paperShore().hairline.name(),
                            table_->item(r, c)->text().toHtmlEscaped().replace('\n', "<br>"));
        out += "</tr>";
    }
    return out + "</table>";
}

void SquadPage::print(QPagedPaintDevice& paper) {
    fillWeek();
    QTextDocument page;
    page.setDefaultFont(typeface(Type::Small));
    page.setHtml(semiBold(weekHtml()));
    page.print(&paper);
}

void SquadPage::saveWeek(QString path) {
    const QString name = "squad-" + QString::fromStdString(isoText(workspace_.squads.week()));
    if (path.isEmpty())
        path = QFileDialog::getSaveFileName(
            this, wording("The week of the squad"),
            QDir(QSettings().value("letterFolder").toString()).filePath(name + ".pdf"),
            wording("A page (*.pdf);;A table (*.csv);;A text (*.txt)"));
    if (path.isEmpty())
        return;
    QSettings().setValue("letterFolder", QFileInfo(path).absolutePath());
    QByteArray bytes;
    if (path.endsWith(".csv", Qt::CaseInsensitive)) {
        std::vector<qint64> order;
        for (const SquadRow& row : rows())
            order.push_back(row.rider);
        bytes = workspace_.squads.weekCsv(order);
    } else if (path.endsWith(".txt", Qt::CaseInsensitive)) {
        bytes = weekText().toUtf8();
    } else {
        QBuffer buffer(&bytes);
        buffer.open(QIODevice::WriteOnly);
        QPdfWriter writer(&buffer);
        writer.setPageSize(QPageSize(QPageSize::A4));
        writer.setPageOrientation(QPageLayout::Landscape);
        writer.setResolution(paperResolution());
        print(writer);
    }
    if (workspace_.notices.passed(writeWholeFile(path, bytes)))
        emit workspace_.notices.said(wording("The week of the squad is in %1.", path));
}

} // namespace marram

#include "moc_squad_page.cpp"
