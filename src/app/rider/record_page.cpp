// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/rider/record_page.h"
#include "app/shell/dates.h"
#include "app/shell/tables.h"
#include "wording/wording.h"

#include <QHBoxLayout>
#include <QVBoxLayout>
#include <cmath>

namespace marram {
namespace {

enum Column { Take, What, From, Value, Band, Entered, Why };

QString lengthText(double h) {
    const int minutes = static_cast<int>(std::lround(60 * h));
    return minutes % 60 == 0 ? QString("%1 h").arg(minutes / 60)
                             : QString("%1 h %2 min").arg(minutes / 60).arg(minutes % 60, 2, 10, QChar('0'));
}

QString whatText(const ValueProposal& p) {
    if (p.kind == ValueProposal::Kind::Hours)
        return wording("Hours of a week");
    return wording(wordsFor(p.quantity).name);
}

QString valueText(const ValueProposal& p, double value) {
    if (p.kind == ValueProposal::Kind::Hours) {
        QStringList days;
        for (const double h : p.hours)
            days << QString::number(h);
        return days.join(" · ");
    }
    return (p.atLeast ? wording("at least ") : QString()) +
           pattern("%1 %2").arg(value, 0, 'f', wordsFor(p.quantity).decimals).arg(wordsFor(p.quantity).unit);
}

QString day(Date d, Date today) {
    return QString::fromStdString(dayText(d, today));
}

} // namespace

static QStringList indoorWords(const LearntValues& v) {
    const auto& in = v.indoors;
    QStringList out;
    out << (in.rides == v.rides ? wording("All of it was ridden indoors.")
                                : wording("%1 of them %2 ridden indoors, %3.")
                                      .arg(in.rides)
                                      .arg(countedWording(in.rides, "was", "were"), lengthText(in.hours)));
    const auto signedPercent = [](double p) { return QString::fromStdString(signedText(p, 1)); };
    if (in.percent)
        out << wording("At the same heart rate power indoors is %1 % against outdoors in the same weeks "
                       " (80 %: %2 to %3)%4.")
                   .arg(signedPercent(*in.percent), signedPercent(in.low), signedPercent(in.high),
                        in.low <= 0 && in.high >= 0 ? wording(": no difference that can be told")
                                                    : wording(": heat, or another meter"));
    return out;
}

QString describeRecord(const Heard& heard, const std::vector<RideRecord>& rides, Date today) {
    const LearntValues& v = heard.values;
    QStringList out;
    std::optional<Date> first, last;
    std::map<QString, std::pair<int, double>> others; // recordings and hours by sport
    for (const RideRecord& r : rides) {
        if (r.excluded) {
            if (const QString sport = otherSportOf(r); !sport.isEmpty()) {
                ++others[sport].first;
                others[sport].second += r.score.duration / 3600.0;
            }
            continue;
        }
        first = std::min(first.value_or(r.day), r.day);
        last = std::max(last.value_or(r.day), r.day);
    }
    if (first)
        out << (v.rides == 1 ? wording("One ride, on %1.").arg(day(*first, today))
                             : wording("%1 rides, from %2 to %3.")
                                   .arg(v.rides)
                                   .arg(day(*first, today), day(*last, today)));
    if (v.usualWeek > 0)
        out << wording("A usual week has %1, the longest ride %2.")
                   .arg(lengthText(v.usualWeek), lengthText(v.longestRide));
    for (const auto& gap : v.gaps)
        out << wording("Nothing was ridden from %1 to %2, %3 weeks.")
                   .arg(day(gap.from, today), day(gap.to, today))
                   .arg((gap.to - gap.from + 1) / 7);
    QStringList steps;
    for (const auto& m : v.meterChanges)
        steps << wording("on %1 by %2 %")
                     .arg(day(m.day, today), QString::fromStdString(signedText(m.stepPercent, 0)));
    if (!steps.isEmpty())
        out << wording("The power that goes with a heart rate stepped %1 and stayed: was the meter changed? "
                       "Values "
                       "from before and after don't compare then.")
                   .arg(steps.join(wording(" and ")));
    if (v.indoors.rides > 0)
        out << indoorWords(v);
    for (const auto& [sport, sums] : others)
        out << wording("%1 of %2, %3, %4 no riding and left out.")
                   .arg(sums.first == 1 ? wording("One recording") : wording("%1 recordings").arg(sums.first))
                   .arg(sport, lengthText(sums.second), countedWording(sums.first, "is", "are"));
    if (heard.unread > 0)
        out << (heard.unread == 1 ? wording("One recording could not be read.")
                                  : wording("%1 recordings could not be read.").arg(heard.unread));
    return out.join(' ');
}

QString bandText(const ValueProposal& p) {
    if (p.kind == ValueProposal::Kind::Hours)
        return {};
    if (!p.high)
        return wording("this or more");
    const int decimals = wordsFor(p.quantity).decimals;
    return pattern("%1–%2").arg(p.low, 0, 'f', decimals).arg(*p.high, 0, 'f', decimals);
}

RecordPage::RecordPage(Workspace& workspace, QWidget* parent)
    : QWidget(parent), workspace_(workspace), words_(wordsLabel({})),
      key_(wordsLabel(
          wording(
              "Said by the record, with its 80 % band; dashed what is entered; under it the hours of each "
              "week."),
          true)),
      rides_(wordsLabel({})), progressWords_(new QLabel), underWay_(new QWidget), progress_(new QProgressBar),
      strip_(new RecordStrip), table_(quietTable({"", wording("What"), wording("From"), wording("Value"),
                                                  wording("80 % band"), wording("Entered"), wording("Why")},
                                                 "recordProposals", 3)),
      take_(new QPushButton(wording("&Take what is ticked"))),
      takeOne_(new QPushButton(wording("Take this &one"))), notNow_(new QPushButton(wording("&Not now"))),
      import_(new QPushButton(wording("Bring rides in"))) {
    auto* layout = new QVBoxLayout(this);
    layout->setContentsMargins(0, 6, 8, 0);
    layout->addWidget(headingLabel(wording("What the record says")));
    words_->setObjectName("recordWords");
    layout->addWidget(words_);
    layout->addWidget(import_, 0, Qt::AlignLeft);
    auto* bar = new QHBoxLayout(underWay_);
    bar->setContentsMargins(0, 0, 0, 0);
    auto* cancel = new QPushButton(wording("Cancel"));
    cancel->setObjectName("cancelListening");
    bar->addWidget(progressWords_);
    bar->addWidget(progress_, 1);
    bar->addWidget(cancel);
    layout->addWidget(underWay_);
    layout->addWidget(strip_, 2);
    layout->addWidget(key_);
    table_->setSelectionBehavior(QAbstractItemView::SelectRows);
    table_->setEditTriggers(QAbstractItemView::DoubleClicked | QAbstractItemView::EditKeyPressed |
                            QAbstractItemView::AnyKeyPressed);
    table_->horizontalHeader()->setStretchLastSection(true);
    table_->setWordWrap(true);
    table_->horizontalHeaderItem(Why)->setTextAlignment(Qt::AlignLeft | Qt::AlignBottom);
    layout->addWidget(table_, 3);
    rides_->setObjectName("recordRides");
    rides_->setTextInteractionFlags(Qt::TextBrowserInteraction);
    layout->addWidget(rides_);
    auto* buttons = new QHBoxLayout;
    take_->setObjectName("takeTicked");
    takeOne_->setObjectName("takeOne");
    import_->setObjectName("recordImport");
    buttons->addWidget(take_);
    buttons->addWidget(takeOne_);
    notNow_->setObjectName("notNow");
    notNow_->setToolTip(
        wording("Whom to look at first says no more of this value until the record says another"));
    buttons->addWidget(notNow_);
    buttons->addStretch();
    layout->addLayout(buttons);
    layout->addStretch(1);
    connect(cancel, &QPushButton::clicked, this, [this] { workspace_.listening.cancel(); });
    connect(import_, &QPushButton::clicked, this, [this] {
        if (workspace_.chosen.rides().empty())
            emit wantsImport();
        else
            workspace_.listening.listen();
    });
    connect(take_, &QPushButton::clicked, this, &RecordPage::takeTicked);
    connect(takeOne_, &QPushButton::clicked, this, &RecordPage::takeRow);
    connect(notNow_, &QPushButton::clicked, this, &RecordPage::leaveRow);
    connect(table_, &QTableWidget::cellChanged, this, &RecordPage::changeValue);
    connect(table_, &QTableWidget::currentCellChanged, this, [this] { showRides(); });
    connect(rides_, &QLabel::linkActivated, this,
            [this](const QString& link) { emit wantsRide(link.mid(5).toLongLong()); });
    connect(&workspace_.listening, &Listening::changed, this, [this] {
        if (isVisible())
            fill();
    });
    // What was left or changed was left of riders of that roster.
    connect(&workspace_.roster, &OpenRoster::closing, this, [this] {
        left_.clear();
        changed_.clear();
        rows_.clear();
        subject_ = 0;
    });
    whenTyped(table_, this, [this] { fill(); });
}

void RecordPage::showEvent(QShowEvent*) {
    refresh();
}

void RecordPage::refresh() {
    if (!isVisible())
        return;
    // Opening the page asks for it.
    if (!workspace_.listening.heard() && !workspace_.listening.reading() &&
        !workspace_.chosen.rides().empty() && !workspace_.roster.jobs().importing() &&
        subject_ != workspace_.chosen.id())
        workspace_.listening.listen();
    fill();
}

void RecordPage::fill() {
    const RiderRecord* who = workspace_.chosen.rider();
    if (!who)
        return; // somebody else is about to be chosen
    const auto& listening = workspace_.listening;
    const auto heard = listening.heard();
    const bool rides = !workspace_.chosen.rides().empty();
    underWay_->setVisible(listening.reading());
    progressWords_->setText(wording("Reading %1 of %2").arg(listening.done()).arg(listening.total()));
    progress_->setRange(0, std::max(1, listening.total()));
    progress_->setValue(listening.done());
    import_->setVisible(!rides || (!heard && !listening.reading()));
    import_->setText(rides ? wording("Read the record") : wording("Bring rides in"));
    for (QWidget* w : std::initializer_list<QWidget*>{strip_, key_, table_, rides_, take_, takeOne_, notNow_})
        w->setVisible(heard != nullptr);
    if (!heard) {
        words_->setText(
            !rides ? wording("There are no rides yet. Dropped under Rides, a folder of them is read "
                             "for thresholds, heart rates and hours, and what it says is proposed "
                             "here.")
            : listening.reading() ? wording("The recordings are read for what they say of the rider.")
                                  : wording("The record has not been read to its end."));
        subject_ = rides ? workspace_.chosen.id() : 0;
        return;
    }
    strip_->show(heard->values, workspace_.chosen.rides(), who->values.of(Quantity::ThresholdPower));
    fillProposals();
    QString words = describeRecord(*heard, workspace_.chosen.rides(), workspace_.today());
    if (rows_.empty())
        words += heard->values.thresholdPower.empty() && !heard->values.maxHeartRate
                     ? wording(" It holds nothing to propose: no power, no hard effort with heart rate.")
                     : wording(" What is entered agrees with it.");
    words_->setText(words);
}

QString RecordPage::nameOf(const ValueProposal& p) const {
    return QString("%1 %2 %3 %4")
        .arg(subject_)
        .arg(static_cast<int>(p.kind))
        .arg(static_cast<int>(p.quantity))
        .arg(p.from.days);
}

static QString enteredText(const ValueProposal& p) {
    if (!p.entered)
        return wording("nothing");
    return p.kind == ValueProposal::Kind::Value ? decimal(*p.entered, wordsFor(p.quantity).decimals)
                                                : lengthText(*p.entered);
}

bool RecordPage::takeUpAnswers(ValueProposal& p, const QString& key) {
    const bool later = workspace_.listening.answerTo(p) == Answer::NotNow;
    if (later)
        left_.try_emplace(key, true); // unless ticked since
    if (const auto other = changed_.find(key); other != changed_.end())
        p.value = other->second;
    return later;
}

void RecordPage::fillProposals() {
    if (isBeingTyped(table_))
        return; // filled when the typing has ended
    filling_ = true;
    const auto was = static_cast<size_t>(table_->currentRow()); // none is behind every row
    const QString chosen = was < rows_.size() ? nameOf(rows_[was]) : QString();
    subject_ = workspace_.chosen.id();
    setSubject(table_, subject_);
    rows_ = workspace_.listening.proposals();
    const Date today = workspace_.today();
    table_->setRowCount(static_cast<int>(rows_.size()));
    int current = rows_.empty() ? -1 : 0;
    for (int row = 0; row < table_->rowCount(); ++row) {
        ValueProposal& p = rows_[static_cast<size_t>(row)];
        const QString key = nameOf(p);
        const bool later = takeUpAnswers(p, key);
        if (key == chosen)
            current = row;
        auto* tick = new QTableWidgetItem;
        tick->setFlags(Qt::ItemIsEnabled | Qt::ItemIsSelectable | Qt::ItemIsUserCheckable);
        tick->setCheckState(isLeft(p) ? Qt::Unchecked : Qt::Checked);
        table_->setItem(row, Take, tick);
        const auto put = [&](int column, const QString& text, bool right, bool editable = false) {
            auto* cell = tableCell(text, right);
            if (!editable)
                cell->setFlags(Qt::ItemIsEnabled | Qt::ItemIsSelectable);
            cell->setToolTip(column == Why ? text : QString());
            table_->setItem(row, column, cell);
        };
        const bool value = p.kind == ValueProposal::Kind::Value;
        put(What, whatText(p), false);
        put(From, value ? day(p.from, today) : QString(), false);
        put(Value, valueText(p, p.value), true, value);
        put(Band, bandText(p), true);
        put(Entered, enteredText(p), true);
        put(Why, (later ? wording("Not now. ") : "") + QString::fromStdString(p.why), false);
    }
    table_->resizeColumnsToContents();
    table_->horizontalHeader()->setStretchLastSection(true);
    table_->resizeRowsToContents();
    int high = table_->horizontalHeader()->sizeHint().height() + 4;
    for (int row = 0; row < table_->rowCount(); ++row)
        high += table_->rowHeight(row);
    table_->setMaximumHeight(high);
    table_->setMinimumHeight(std::min(high, qRound(150 * textScale())));
    if (current >= 0)
        table_->setCurrentCell(current, What);
    const bool any = !rows_.empty();
    table_->setVisible(any);
    take_->setVisible(any);
    takeOne_->setVisible(any);
    notNow_->setVisible(any);
    filling_ = false;
    take_->setEnabled(!ticked().empty() && !workspace_.roster.readOnly());
    takeOne_->setEnabled(!workspace_.roster.readOnly());
    notNow_->setEnabled(!workspace_.roster.readOnly());
    showRides();
}

void RecordPage::showRides() {
    const int row = table_->currentRow();
    QString html;
    if (row >= 0 && row < static_cast<int>(rows_.size())) {
        html = QString::fromStdString(rows_[static_cast<size_t>(row)].why).toHtmlEscaped();
        QStringList links;
        for (const qint64 id : rows_[static_cast<size_t>(row)].rides)
            if (const RideRecord* r = workspace_.chosen.rideById(id))
                links << QString("<a href='ride:%1' style='color:%2'>%3</a>")
                             .arg(id)
                             .arg(shore().tide.name(), day(r->day, workspace_.today()));
        if (!links.isEmpty())
            html += (links.size() == 1 ? wording(" From the ride of ") : wording(" From the rides of ")) +
                    links.join(", ") + ".";
    }
    rides_->setText(html);
    rides_->setVisible(!html.isEmpty());
}

void RecordPage::changeValue(int row, int column) {
    if (filling_ || row < 0 || row >= static_cast<int>(rows_.size()))
        return;
    ValueProposal& p = rows_[static_cast<size_t>(row)];
    const QString key = nameOf(p);
    if (column == Take) {
        if (table_->item(row, Take)->checkState() == Qt::Checked)
            left_[key] = false;
        else
            left_[key] = true;
        take_->setEnabled(!ticked().empty() && !workspace_.roster.readOnly());
    } else if (column == Value && p.kind == ValueProposal::Kind::Value) {
        static const QRegularExpression number("(\\d+([.,]\\d+)?)");
        const auto found = number.match(table_->item(row, Value)->text());
        const double v = found.captured(1).replace(',', '.').toDouble();
        const QuantityWords& w = wordsFor(p.quantity);
        if (found.hasMatch() && v >= w.least && v <= w.most)
            changed_[key] = p.value = v;
        else
            emit workspace_.notices.failed(wording("%1 is %2 to %3 %4. Nothing was changed.")
                                               .arg(w.name)
                                               .arg(w.least)
                                               .arg(w.most)
                                               .arg(w.unit));
        filling_ = true;
        table_->item(row, Value)->setText(valueText(p, p.value));
        filling_ = false;
    }
}

bool RecordPage::isLeft(const ValueProposal& p) const {
    const auto said = left_.find(nameOf(p));
    return said != left_.end() && said->second;
}

std::vector<ValueProposal> RecordPage::ticked() const {
    std::vector<ValueProposal> all;
    for (const ValueProposal& p : rows_)
        if (!isLeft(p))
            all.push_back(p);
    return all;
}

void RecordPage::takeTicked() {
    workspace_.listening.take(subject_, ticked());
}

void RecordPage::leaveRow() {
    const int row = table_->currentRow();
    if (row < 0 || row >= static_cast<int>(rows_.size()))
        return;
    left_[nameOf(rows_[static_cast<size_t>(row)])] = true;
    workspace_.listening.notNow(rows_[static_cast<size_t>(row)]);
}

void RecordPage::takeRow() {
    if (const int row = table_->currentRow(); row >= 0 && row < static_cast<int>(rows_.size()))
        workspace_.listening.take(subject_, {rows_[static_cast<size_t>(row)]});
}

} // namespace marram

#include "moc_record_page.cpp"
