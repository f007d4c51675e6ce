// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/rider/values_page.h"
#include "app/settings/settings.h"
#include "app/shell/columns.h"
#include "app/shell/tables.h"
#include "core/rider/physiology.h"
#include "wording/wording.h"

#include <QGridLayout>
#include <QPushButton>
#include <QVBoxLayout>
#include <cmath>
#include <set>
#include <utility>

namespace marram {
namespace {

/// Columns of the table: the day, every quantity, and power per mass.
constexpr int ratioColumn = 1 + static_cast<int>(quantityCount);

Quantity quantityOf(int column) {
    return static_cast<Quantity>(column - 1);
}

/// The low threshold is shown in percent, weight as it is set.
double shownAs(Quantity q) {
    return q == Quantity::LowThreshold ? 100 : q == Quantity::Weight ? shownUnits().weight(1) : 1;
}

QString valueText(Quantity q, double v) {
    return decimal(v * shownAs(q), q == Quantity::LowThreshold ? 0 : wordsFor(q).decimals);
}

QString whole(double v) {
    return decimal(v, 0);
}

} // namespace

QString describeScales(const RiderRecord& r, Date today) {
    QStringList words;
    const auto error = [](const LearnedScale& s) {
        QStringList kinds;
        for (const auto& [name, e] : {std::pair{wording("steady rides"), s.steady},
                                      {wording("rides with short intervals"), s.uneven}})
            if (const auto p = predictedError(e))
                kinds << wording("nine of ten %1 within %2 %").arg(name).arg(100 * *p, 0, 'f', 0);
            else if (e.rides > 0)
                kinds << wording("too few %1 (%2) to say how far they are off").arg(name).arg(e.rides);
        return kinds.join("; ");
    };
    if (const auto& s = r.scales.heartRate)
        words << QString(wording("Rides by heart rate count %1 of their plain points, learned from %2 rides "
                                 "with both; %3."))
                     .arg(s->factor, 0, 'f', 2)
                     .arg(s->rides)
                     .arg(error(*s));
    else
        words
            << QString(
                   wording(
                       "Rides by heart rate are scaled so that an hour at threshold heart rate is 100; from "
                       "%1 rides with power and heart rate on, the rider's own scale is learned."))
                   .arg(ridesForScale);
    if (const auto& s = r.scales.effort)
        words << wording("A minute at effort 1 counts %1 points, learned from %2 rides; %3.")
                     .arg(s->factor, 0, 'f', 3)
                     .arg(s->rides)
                     .arg(error(*s));
    if (const auto age = ageOn(r, today); age && !r.values.on(Quantity::MaximalHeartRate, today))
        words << wording("Maximal heart rate was never measured; %1 bpm is expected at %2 (208 − 0.7 × age, "
                         "Tanaka 2001) and used until it is.")
                     .arg(expectedMaxHeartRate(*age), 0, 'f', 0)
                     .arg(*age);
    return words.join(' ');
}

ValuesPage::ValuesPage(Workspace& workspace, QWidget* parent) : QWidget(parent), workspace_(workspace) {
    auto* grid = new QGridLayout(this);
    grid->setContentsMargins(0, 6, 8, 0);
    grid->setHorizontalSpacing(44);
    grid->setVerticalSpacing(10);
    grid->addWidget(makeWho(), 0, 0, 1, 2);
    known_ = makeValues();
    beside_ = makeZones();
    grid_ = grid;
    arrange();
    grid->setColumnStretch(0, 7);
    grid->setColumnStretch(1, 5);
    grid->setRowStretch(1, 1);
}

bool ValuesPage::wantsOneColumn() const {
    constexpr int twoColumns = 1060;
    return needsOneColumn(*this, twoColumns);
}

void ValuesPage::resizeEvent(QResizeEvent* event) {
    QWidget::resizeEvent(event);
    if (wantsOneColumn() != arranged_)
        arrange();
}

void ValuesPage::arrange() {
    // Side by side where there is room, else one above the other.
    const bool large = arranged_ = wantsOneColumn();
    for (QWidget* w : {known_, beside_})
        grid_->removeWidget(w);
    grid_->addWidget(known_, 1, 0, 1, large ? 2 : 1);
    grid_->addWidget(beside_, large ? 2 : 1, large ? 0 : 1, 1, large ? 2 : 1);
}

QWidget* ValuesPage::makeWho() {
    auto* box = new QWidget;
    auto* row = new QHBoxLayout(box);
    row->setContentsMargins(0, 0, 0, 0);
    name_ = new QLineEdit;
    name_->setFont(typeface(Type::Title, true));
    name_->setObjectName("riderName");
    name_->setAccessibleName(wording("Name"));
    sex_ = new QComboBox;
    sex_->addItems({wording("not stated"), wording("female"), wording("male")});
    sex_->setAccessibleName(wording("Sex"));
    born_ = new QSpinBox;
    born_->setObjectName("riderBorn");
    born_->setAccessibleName(wording("Year of birth"));
    born_->setRange(1900, 2100);
    born_->setSpecialValueText(wording("not stated"));
    born_->setAlignment(Qt::AlignRight);
    born_->setButtonSymbols(QAbstractSpinBox::NoButtons);
    born_->setKeyboardTracking(false);
    row->addWidget(name_, 3);
    row->addSpacing(30);
    row->addWidget(captionLabel(wording("Sex")));
    row->addWidget(sex_);
    row->addSpacing(20);
    row->addWidget(captionLabel(wording("Born")));
    row->addWidget(born_);
    row->addStretch(2);
    nameBound_ = Binding::text(name_, [this](qint64 rider, const QVariant& v) {
        if (!v.toString().isEmpty())
            change(rider, wording("Rename a rider"), [&](RiderRecord& r) { r.name = v.toString(); });
        else
            refresh();
    });
    sexBound_ = Binding::choice(sex_, [this](qint64 rider, const QVariant& v) {
        change(rider, wording("Change a rider's sex"),
               [&](RiderRecord& r) { r.sex = static_cast<Sex>(v.toInt()); });
    });
    bornBound_ = Binding::whole(born_, [this](qint64 rider, const QVariant& v) {
        change(rider, wording("Change a year of birth"),
               [&](RiderRecord& r) { r.born = v.toInt() > 1900 ? std::optional(v.toInt()) : std::nullopt; });
    });
    return box;
}

QWidget* ValuesPage::makeValues() {
    auto* box = new QWidget;
    auto* layout = new QVBoxLayout(box);
    layout->setContentsMargins(0, 0, 0, 0);
    layout->addWidget(headingLabel(wording("Known, each from its day on")));
    values_ = quietTable({wording("From"), wording("Threshold\nW"), wording("Threshold\nbpm"),
                          wording("Low thr.\n%"), wording("Weight\nkg"), wording("Resting\nbpm"),
                          wording("Maximal\nbpm"), wording("Power\nW/kg")},
                         "values");
    values_->setSelectionBehavior(QAbstractItemView::SelectItems);
    values_->setEditTriggers(QAbstractItemView::DoubleClicked | QAbstractItemView::EditKeyPressed |
                             QAbstractItemView::AnyKeyPressed);
    values_->horizontalHeader()->setStretchLastSection(true);
    values_->setMinimumHeight(qRound(200 * textScale()));
    layout->addWidget(values_, 1);
    auto* buttons = new QHBoxLayout;
    auto* add = new QPushButton(wording("Add from today"));
    add->setObjectName("addValues");
    auto* remove = new QPushButton(wording("Remove the row"));
    remove->setObjectName("removeValues");
    buttons->addWidget(add);
    buttons->addWidget(remove);
    buttons->addStretch();
    layout->addLayout(buttons);
    layout->addWidget(
        wordsLabel(wording("An empty cell means no change on that day. A ride is scored by what held on "
                           "its day; changing a value scores again just the rides it touches."),
                   true));
    scales_ = wordsLabel({}, true);
    scales_->setObjectName("scales");
    layout->addWidget(scales_);
    connect(values_, &QTableWidget::cellChanged, this, &ValuesPage::takeValue);
    whenTyped(values_, this, [this] { refresh(); });
    connect(add, &QPushButton::clicked, this, &ValuesPage::addToday);
    connect(remove, &QPushButton::clicked, this, &ValuesPage::removeRow);
    return box;
}

QWidget* ValuesPage::makeZones() {
    auto* box = new QWidget;
    auto* layout = new QVBoxLayout(box);
    layout->setContentsMargins(0, 0, 0, 0);
    layout->addWidget(headingLabel(wording("Zones today")));
    zonesFrom_ = wordsLabel({}, true);
    layout->addWidget(zonesFrom_);
    zones_ = quietTable(
        {wording("Zone"), wording("% of\nthreshold"), wording("Power\nW"), wording("Heart rate\nbpm")},
        "zones");
    zones_->setSelectionMode(QAbstractItemView::NoSelection);
    zones_->setFocusPolicy(Qt::NoFocus);
    zones_->horizontalHeader()->setStretchLastSection(true);
    zones_->setMinimumHeight(qRound(252 * textScale()));
    layout->addWidget(zones_);
    layout->addWidget(wordsLabel(
        wording(
            "Heart rate lags: it tells zones 1 to 5 apart once settled. Efforts in zones 6 "
            "and 7 end before it arrives, so it has no numbers for them. Where on the line between rest and "
            "threshold they lie is a constant of ours."),
        true));
    layout->addStretch();
    return box;
}

void ValuesPage::refresh() {
    const RiderRecord* r = workspace_.chosen.rider();
    if (!r)
        return;
    filling_ = true;
    arrange();
    nameBound_->show(r->id, r->name);
    sexBound_->show(r->id, static_cast<int>(r->sex));
    bornBound_->show(r->id, r->born.value_or(1900));
    scales_->setText(describeScales(*r, workspace_.today()));
    fillValues(*r);
    fillZones(*r);
    filling_ = false;
}

void ValuesPage::fillValues(const RiderRecord& r) {
    if (isBeingTyped(values_))
        return; // filled when the typing has ended
    if (std::exchange(rowsOf_, r.id) != r.id)
        pending_.reset();
    setSubject(values_, r.id);
    values_->horizontalHeaderItem(1 + static_cast<int>(Quantity::Weight))
        ->setText(QString(wording("Weight\n%1")).arg(shownUnits().weightUnit()));
    std::set<Date> days;
    for (size_t q = 0; q < quantityCount; ++q)
        for (const DatedValue& v : r.values.of(static_cast<Quantity>(q)))
            days.insert(v.from);
    if (pending_ && days.contains(*pending_))
        pending_.reset();
    if (pending_)
        days.insert(*pending_);
    values_->setRowCount(static_cast<int>(days.size()));
    int row = 0;
    for (const Date day : days) {
        auto* date = tableCell(QString::fromStdString(shortDayText(day, workspace_.today())), false);
        date->setData(Qt::UserRole, day.days);
        values_->setItem(row, 0, date);
        for (size_t i = 0; i < quantityCount; ++i) {
            const auto q = static_cast<Quantity>(i);
            const DatedValue* entry = r.values.entryOn(q, day);
            values_->setItem(row, 1 + static_cast<int>(i),
                             tableCell(entry && entry->from == day
                                           ? (entry->atLeast ? "≥ " : "") + valueText(q, entry->value)
                                           : QString()));
        }
        const auto power = r.values.on(Quantity::ThresholdPower, day),
                   kg = r.values.on(Quantity::Weight, day);
        auto* ratio = tableCell(power && kg ? decimal(*power / *kg, 2) : "");
        ratio->setFlags(Qt::ItemIsEnabled);
        values_->setItem(row, ratioColumn, ratio);
        ++row;
    }
}

void ValuesPage::fillZones(const RiderRecord& r) {
    const Date today = workspace_.today();
    const DatedValue* power = r.values.entryOn(Quantity::ThresholdPower, today);
    const auto beats = heartRateRangeOn(r, today);
    const double low = r.values.on(Quantity::LowThreshold, today).value_or(defaultLowThreshold);
    QStringList from;
    if (power)
        from << wording("Of %1 W, which holds from %2. Low band to %3 W, middle to %1 W, high above.")
                    .arg(whole(power->value), QString::fromStdString(dayText(power->from)),
                         whole(low * power->value))
             << boundSentence(r, today);
    from.removeAll(QString());
    if (beats)
        from << wording("Heart rate of %1 to %2 bpm, threshold %3.")
                    .arg(whole(beats->rest.value), whole(beats->max.value), whole(beats->threshold.value));
    zonesFrom_->setText(
        from.isEmpty() ? wording("Enter a threshold power, or resting, threshold and maximal heart rate; "
                                 "the zones follow.")
                       : from.join(' '));
    zones_->setRowCount(7);
    std::array<double, 5> edges{};
    if (beats)
        edges = heartRateZoneEdges(*beats);
    for (int z = 0; z < 7; ++z) {
        const auto i = static_cast<size_t>(z);
        const double lower = z == 0 ? 0 : zoneEdges[i - 1];
        const auto span = [](double a, double b) { return QString("%1–%2").arg(whole(a), whole(b)); };
        zones_->setItem(z, 0, tableCell(QString("%1  %2").arg(z + 1).arg(wording(zoneNames[i])), false));
        zones_->setItem(z, 1,
                        tableCell(z == 6 ? wording("over %1").arg(whole(100 * lower))
                                         : wording("to %1").arg(whole(100 * zoneEdges[i]))));
        QString watts = "–", rate = "–";
        if (power)
            watts = z == 6 ? wording("%1 up").arg(whole(std::floor(lower * power->value) + 1))
                           : span(z == 0 ? 0 : std::floor(lower * power->value) + 1,
                                  std::floor(zoneEdges[i] * power->value));
        if (beats && z < 5)
            rate = span(z == 0 ? beats->rest.value : std::floor(edges[i - 1]) + 1, std::floor(edges[i]));
        else if (beats)
            rate = wording("too late");
        zones_->setItem(z, 2, tableCell(watts));
        zones_->setItem(z, 3, tableCell(rate));
    }
}

void ValuesPage::change(qint64 rider, const QString& what, const std::function<void(RiderRecord&)>& edit) {
    const RiderRecord* now = workspace_.roster.rider(rider);
    if (!now)
        return;
    const RiderRecord before = *now;
    RiderRecord after = before;
    edit(after);
    workspace_.roster.edits().editRider(before, after, what);
}

void ValuesPage::nameFirst() {
    name_->setFocus();
    name_->selectAll();
}

/// What is wrong with it, or nothing.
static QString putValue(Quantity q, Date day, const QString& text, RiderRecord& r) {
    const QuantityWords& w = wordsFor(q);
    bool ok = false;
    // Left as it was, a bound stays one; typed anew, the value is the coach's.
    const double v = QString(text).remove("≥").replace(',', '.').toDouble(&ok) / shownAs(q);
    if (text.isEmpty())
        r.values.remove(q, day);
    else if (ok && v >= w.least && v <= w.most)
        r.values.set(q, {day, v, text.startsWith("≥")});
    else
        return wording("%1 is %2 to %3 %4.")
            .arg(w.name)
            .arg(w.least * shownAs(q), 0, 'g', 4)
            .arg(w.most * shownAs(q), 0, 'g', 4)
            .arg(q == Quantity::LowThreshold ? wording("% of threshold power")
                 : q == Quantity::Weight     ? shownUnits().weightUnit()
                                             : w.unit);
    return {};
}

QString ValuesPage::moveRow(int row, Date day, const QString& text, RiderRecord& r) {
    const auto to = parseDayText(text.toStdString(), workspace_.today());
    if (!to)
        return wording("A day reads like 4 January, or 4 January 2027.");
    for (int other = 0; other < values_->rowCount(); ++other)
        if (other != row && values_->item(other, 0)->data(Qt::UserRole).toInt() == to->days)
            return wording("There is a row from that day already.");
    for (size_t i = 0; i < quantityCount; ++i) {
        const auto q = static_cast<Quantity>(i);
        if (const DatedValue* entry = r.values.entryOn(q, day); entry && entry->from == day) {
            DatedValue moved = *entry;
            moved.from = *to;
            r.values.remove(q, day);
            r.values.set(q, moved);
        }
    }
    if (pending_ == day)
        pending_ = *to;
    return {};
}

void ValuesPage::takeValue(int row, int column) {
    const RiderRecord* now = workspace_.roster.rider(subjectOf(values_));
    if (filling_ || !now || column == ratioColumn)
        return;
    const RiderRecord before = *now;
    RiderRecord r = before;
    const Date day{values_->item(row, 0)->data(Qt::UserRole).toInt()};
    const QString text = values_->item(row, column)->text().trimmed();
    const QString wrong =
        column == 0 ? moveRow(row, day, text, r) : putValue(quantityOf(column), day, text, r);
    if (!wrong.isEmpty()) {
        emit workspace_.notices.failed(wording("%1 Nothing was changed.", wrong));
        refresh();
        return;
    }
    if (r.values == before.values)
        refresh();
    else
        workspace_.roster.edits().editRider(
            before, r, column == 0 ? wording("Move values to another day") : wording("Change a value"));
}

void ValuesPage::addToday() {
    pending_ = workspace_.today();
    refresh();
    for (int row = 0; row < values_->rowCount(); ++row)
        if (values_->item(row, 0)->data(Qt::UserRole).toInt() == workspace_.today().days) {
            values_->setFocus();
            values_->setCurrentCell(row, 1);
        }
}

void ValuesPage::removeRow() {
    const int row = values_->currentRow();
    const RiderRecord* now = workspace_.roster.rider(subjectOf(values_));
    if (row < 0 || !now)
        return;
    const Date day{values_->item(row, 0)->data(Qt::UserRole).toInt()};
    pending_.reset();
    const RiderRecord before = *now;
    RiderRecord r = before;
    for (size_t i = 0; i < quantityCount; ++i)
        r.values.remove(static_cast<Quantity>(i), day);
    workspace_.roster.edits().editRider(before, r, wording("Remove values"));
    refresh();
}

} // namespace marram

#include "moc_values_page.cpp"
