// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/rider/rider_view.h"
#include "app/shell/empty_page.h"
#include "app/shell/fields.h"
#include "app/theme/theme.h"

#include <QFocusEvent>
#include <QGridLayout>
#include <QHeaderView>
#include <QScrollArea>
#include <cmath>

namespace marram {
namespace {

QLabel* caption(const QString& text) {
    auto* label = new QLabel(text);
    label->setForegroundRole(QPalette::PlaceholderText);
    return label;
}

QLabel* heading(const QString& text) {
    auto* label = new QLabel(text);
    label->setFont(typeface(Type::Title, true));
    return label;
}

QTableWidget* plainTable(const QStringList& columns) {
    auto* table = new QTableWidget(0, static_cast<int>(columns.size()));
    table->setHorizontalHeaderLabels(columns);
    table->verticalHeader()->hide();
    table->setShowGrid(false);
    table->horizontalHeader()->setSectionResizeMode(QHeaderView::Stretch);
    table->horizontalHeader()->setHighlightSections(false);
    for (int c = 1; c < table->columnCount(); ++c)
        table->horizontalHeaderItem(c)->setTextAlignment(Qt::AlignRight);
    table->horizontalHeaderItem(0)->setTextAlignment(Qt::AlignLeft);
    return table;
}

QTableWidgetItem* cell(const QString& text, bool right = true) {
    auto* item = new QTableWidgetItem(text);
    item->setTextAlignment((right ? Qt::AlignRight : Qt::AlignLeft) | Qt::AlignVCenter);
    return item;
}

} // namespace

RiderView::RiderView(Workspace& workspace, QWidget* parent)
    : QWidget(parent), workspace_(workspace), stack_(new QStackedWidget) {
    auto* outer = new QHBoxLayout(this);
    outer->setContentsMargins(0, 0, 0, 0);
    outer->addWidget(stack_);
    stack_->addWidget(
        emptyPage("No rider yet",
                  "Add the first rider under Roster; then set what they can do and the hours they have.",
                  "Add a rider", [this] { workspace_.addRider("New rider"); }));
    auto* page = new QWidget;
    auto* grid = new QGridLayout(page);
    grid->setContentsMargins(32, 18, 32, 18);
    grid->setHorizontalSpacing(48);
    grid->setVerticalSpacing(10);
    grid->addWidget(makeWho(), 0, 0);
    grid->addWidget(makeHours(), 1, 0);
    grid->addWidget(makeThresholds(), 0, 1, 2, 1);
    grid->addWidget(makeZones(), 2, 1);
    auto* noteBox = new QWidget;
    auto* noteLayout = new QVBoxLayout(noteBox);
    noteLayout->setContentsMargins(0, 0, 0, 0);
    noteLayout->addWidget(heading("Notes and cautions"));
    note_ = new QPlainTextEdit;
    note_->setFrameShape(QFrame::NoFrame);
    note_->setAccessibleName("Notes");
    note_->setPlaceholderText("What a coach should remember of this rider.");
    noteLayout->addWidget(note_);
    auto* caution = new QLabel(
        "Marram advises a coach; it does not diagnose. Minors, pregnancy, heart or metabolic disease, and "
        "return from illness or injury belong under licensed care. Maximal tests only after screening.");
    caution->setWordWrap(true);
    caution->setFont(typeface(Type::Small));
    caution->setForegroundRole(QPalette::PlaceholderText);
    noteLayout->addWidget(caution);
    grid->addWidget(noteBox, 2, 0);
    grid->setRowStretch(2, 1);
    grid->setColumnStretch(0, 5);
    grid->setColumnStretch(1, 6);
    auto* scroll = new QScrollArea;
    scroll->setWidget(page);
    scroll->setWidgetResizable(true);
    scroll->setFrameShape(QFrame::NoFrame);
    stack_->addWidget(scroll);
    note_->installEventFilter(this);
    connect(&workspace_, &Workspace::riderChanged, this, &RiderView::refresh);
    connect(&workspace_, &Workspace::rosterChanged, this, &RiderView::refresh);
    refresh();
}

QWidget* RiderView::makeWho() {
    auto* box = new QWidget;
    auto* grid = new QGridLayout(box);
    grid->setContentsMargins(0, 0, 0, 0);
    name_ = new QLineEdit;
    name_->setFont(typeface(Type::Title, true));
    name_->setObjectName("riderName");
    sex_ = new QComboBox;
    sex_->addItems({"not stated", "female", "male"});
    born_ = new QSpinBox;
    born_->setRange(1900, 2100);
    born_->setSpecialValueText("not stated");
    born_->setAlignment(Qt::AlignRight);
    born_->setButtonSymbols(QAbstractSpinBox::NoButtons);
    born_->setKeyboardTracking(false);
    rest_ = numberField(0, 120, 1, 0, " bpm", "restHeartRate");
    max_ = numberField(0, 250, 1, 0, " bpm", "maxHeartRate");
    rest_->setSpecialValueText("not measured");
    max_->setSpecialValueText("not measured");
    grid->addWidget(name_, 0, 0, 1, 4);
    int row = 1;
    const auto pair = [&](const QString& a, QWidget* left, const QString& b, QWidget* right) {
        grid->addWidget(caption(a), row, 0);
        grid->addWidget(left, row, 1);
        grid->addWidget(caption(b), row, 2);
        grid->addWidget(right, row, 3);
        ++row;
    };
    pair("Sex", sex_, "Born", born_);
    pair("Resting heart rate", rest_, "Maximal", max_);
    connect(name_, &QLineEdit::editingFinished, this, [this] { take("Rename a rider"); });
    connect(sex_, &QComboBox::activated, this, [this] { take("Change a rider's sex"); });
    connect(born_, &QSpinBox::valueChanged, this, [this] { take("Change a year of birth"); });
    for (QDoubleSpinBox* b : {rest_, max_})
        connect(b, &QDoubleSpinBox::valueChanged, this, [this] { take("Change a heart rate"); });
    return box;
}

QWidget* RiderView::makeHours() {
    auto* box = new QWidget;
    auto* grid = new QGridLayout(box);
    grid->setContentsMargins(0, 10, 0, 10);
    grid->addWidget(heading("Hours a usual week has"), 0, 0, 1, 7);
    const std::array days{"Mon", "Tue", "Wed", "Thu", "Fri", "Sat", "Sun"};
    for (int i = 0; i < 7; ++i) {
        auto* label = caption(days[static_cast<size_t>(i)]);
        label->setAlignment(Qt::AlignRight);
        grid->addWidget(label, 1, i);
        auto*& h = hours_[static_cast<size_t>(i)];
        h = numberField(0, 24, 0.25, 2, "", QString("riderHours%1").arg(i));
        grid->addWidget(h, 2, i);
        connect(h, &QDoubleSpinBox::valueChanged, this, [this] { take("Change the usual hours"); });
    }
    total_ = caption({});
    grid->addWidget(total_, 3, 0, 1, 7);
    return box;
}

QWidget* RiderView::makeThresholds() {
    auto* box = new QWidget;
    auto* layout = new QVBoxLayout(box);
    layout->setContentsMargins(0, 0, 0, 0);
    layout->addWidget(heading("Thresholds, each from its day on"));
    thresholds_ =
        plainTable({"From", "Power\nW", "Heart rate\nbpm", "Low threshold\n%", "Weight\nkg", "Power\nW/kg"});
    thresholds_->setObjectName("thresholds");
    thresholds_->setMinimumHeight(qRound(170 * textScale()));
    layout->addWidget(thresholds_);
    auto* buttons = new QHBoxLayout;
    auto* add = new QPushButton("Add from today");
    add->setObjectName("addThreshold");
    auto* remove = new QPushButton("Remove selected");
    buttons->addWidget(add);
    buttons->addWidget(remove);
    buttons->addStretch();
    layout->addLayout(buttons);
    auto* said = caption(
        "A ride is scored by what held on its day. Changing a value scores again just the rides it touches.");
    said->setWordWrap(true);
    layout->addWidget(said);
    connect(thresholds_, &QTableWidget::cellChanged, this, &RiderView::takeThreshold);
    connect(add, &QPushButton::clicked, this, [this] {
        RiderRecord r = *workspace_.rider();
        Threshold t = r.thresholds.empty() ? Threshold{workspace_.today(), Watts{220}, std::nullopt,
                                                       defaultLowThreshold, std::nullopt}
                                           : *thresholdOn(r.thresholds, workspace_.today());
        std::erase_if(r.thresholds, [&](const Threshold& o) { return o.from == workspace_.today(); });
        t.from = workspace_.today();
        r.thresholds.insert(std::upper_bound(r.thresholds.begin(), r.thresholds.end(), t.from,
                                             [](Date d, const Threshold& o) { return d < o.from; }),
                            t);
        workspace_.setRider(r, "Add a threshold");
    });
    connect(remove, &QPushButton::clicked, this, [this] {
        RiderRecord r = *workspace_.rider();
        const int row = thresholds_->currentRow();
        if (row < 0 || r.thresholds.size() < 2)
            return;
        r.thresholds.erase(r.thresholds.begin() + row);
        workspace_.setRider(r, "Remove a threshold");
    });
    return box;
}

QWidget* RiderView::makeZones() {
    auto* box = new QWidget;
    auto* layout = new QVBoxLayout(box);
    layout->setContentsMargins(0, 0, 0, 0);
    layout->addWidget(heading("Zones today"));
    zonesFrom_ = caption({});
    layout->addWidget(zonesFrom_);
    zones_ = plainTable({"Zone", "from, W", "to, W", "% of threshold"});
    zones_->setEditTriggers(QAbstractItemView::NoEditTriggers);
    zones_->setSelectionMode(QAbstractItemView::NoSelection);
    zones_->setFocusPolicy(Qt::NoFocus);
    zones_->setMinimumHeight(qRound(236 * textScale()));
    layout->addWidget(zones_);
    return box;
}

void RiderView::refresh() {
    const RiderRecord* r = workspace_.rider();
    stack_->setCurrentIndex(r ? 1 : 0);
    if (!r)
        return;
    filling_ = true;
    name_->setText(r->name);
    sex_->setCurrentIndex(static_cast<int>(r->sex));
    born_->setValue(r->born.value_or(1900));
    rest_->setValue(r->restHeartRate.value_or(0));
    max_->setValue(r->maxHeartRate.value_or(0));
    double sum = 0;
    for (size_t i = 0; i < 7; ++i) {
        hours_[i]->setValue(r->hours[i]);
        sum += r->hours[i];
    }
    total_->setText(QString("%1 hours a week. A single week is changed in the season.").arg(sum, 0, 'f', 2));
    note_->setPlainText(r->note);
    note_->document()->setModified(false);
    fillThresholds(*r);
    fillZones(*r);
    filling_ = false;
}

void RiderView::fillThresholds(const RiderRecord& r) {
    thresholds_->setRowCount(static_cast<int>(r.thresholds.size()));
    int row = 0;
    for (const Threshold& t : r.thresholds) {
        thresholds_->setItem(row, 0, cell(QString::fromStdString(isoText(t.from)), false));
        thresholds_->setItem(row, 1, cell(QString::number(t.power.value, 'f', 0)));
        thresholds_->setItem(row, 2, cell(t.heartRate ? QString::number(t.heartRate->value, 'f', 0) : ""));
        thresholds_->setItem(row, 3, cell(QString::number(100 * t.lowThreshold, 'f', 0)));
        thresholds_->setItem(row, 4, cell(t.weightKg ? QString::number(*t.weightKg, 'f', 1) : ""));
        auto* ratio = cell(t.weightKg ? QString::number(t.power.value / *t.weightKg, 'f', 2) : "");
        ratio->setFlags(Qt::ItemIsEnabled);
        thresholds_->setItem(row, 5, ratio);
        ++row;
    }
}

void RiderView::fillZones(const RiderRecord& r) {
    const Threshold* t = thresholdOn(r.thresholds, workspace_.today());
    zones_->setRowCount(t ? 7 : 0);
    zonesFrom_->setText(
        t ? QString("Of %1 W, which holds from %2. Low band to %3 W, middle to %1 W, high above.")
                .arg(t->power.value, 0, 'f', 0)
                .arg(QString::fromStdString(isoText(t->from)))
                .arg(t->lowThreshold * t->power.value, 0, 'f', 0)
          : "No threshold power yet.");
    for (int z = 0; t && z < 7; ++z) {
        const auto i = static_cast<size_t>(z);
        const double low = z == 0 ? 0 : zoneEdges[i - 1];
        const auto watts = [&](double f) { return QString::number(std::floor(f * t->power.value), 'f', 0); };
        zones_->setItem(z, 0, cell(QString("%1  %2").arg(z + 1).arg(zoneNames[i]), false));
        zones_->setItem(z, 1,
                        cell(z == 0 ? "0" : QString::number(std::floor(low * t->power.value) + 1, 'f', 0)));
        zones_->setItem(z, 2, cell(z == 6 ? "and up" : watts(zoneEdges[i])));
        zones_->setItem(z, 3,
                        cell(z == 6 ? QString("over %1").arg(100 * low, 0, 'f', 0)
                                    : QString("to %1").arg(100 * zoneEdges[i], 0, 'f', 0)));
    }
}

void RiderView::take(const QString& what) {
    const RiderRecord* now = workspace_.rider();
    if (filling_ || !now)
        return;
    RiderRecord r = *now;
    if (!name_->text().trimmed().isEmpty())
        r.name = name_->text().trimmed();
    r.sex = static_cast<Sex>(sex_->currentIndex());
    r.born = born_->value() > 1900 ? std::optional(born_->value()) : std::nullopt;
    r.restHeartRate = rest_->value() > 0 ? std::optional(rest_->value()) : std::nullopt;
    r.maxHeartRate = max_->value() > 0 ? std::optional(max_->value()) : std::nullopt;
    for (size_t i = 0; i < 7; ++i)
        r.hours[i] = hours_[i]->value();
    r.note = note_->toPlainText();
    workspace_.setRider(r, what);
}

void RiderView::takeThreshold(int row, int column) {
    const RiderRecord* now = workspace_.rider();
    if (filling_ || !now || row >= static_cast<int>(now->thresholds.size()))
        return;
    RiderRecord r = *now;
    Threshold& t = r.thresholds[static_cast<size_t>(row)];
    const QString text = thresholds_->item(row, column)->text().trimmed();
    bool ok = false;
    const double v = QString(text).replace(',', '.').toDouble(&ok);
    QString wrong;
    if (column == 0) {
        const auto date = parseDate(text.toStdString());
        if (date)
            t.from = *date;
        else
            wrong = "A date reads like 2027-01-04.";
        for (size_t i = 0; date && i < r.thresholds.size(); ++i)
            if (static_cast<int>(i) != row && r.thresholds[i].from == *date)
                wrong = "There is a threshold from that day already.";
        std::sort(r.thresholds.begin(), r.thresholds.end(),
                  [](const Threshold& a, const Threshold& b) { return a.from < b.from; });
    } else if (column == 1 && ok && v >= 30 && v <= 700) {
        t.power = {v};
    } else if (column == 2 && (text.isEmpty() || (ok && v >= 60 && v <= 240))) {
        t.heartRate = text.isEmpty() ? std::nullopt : std::optional(BeatsPerMinute{v});
    } else if (column == 3 && ok && v >= 50 && v <= 95) {
        t.lowThreshold = v / 100;
    } else if (column == 4 && (text.isEmpty() || (ok && v >= 25 && v <= 250))) {
        t.weightKg = text.isEmpty() ? std::nullopt : std::optional(v);
    } else {
        wrong = column == 1   ? "Threshold power is 30 to 700 W."
                : column == 2 ? "Threshold heart rate is 60 to 240 bpm."
                : column == 3 ? "The low threshold is 50 to 95 % of threshold power."
                              : "Weight is 25 to 250 kg.";
    }
    if (!wrong.isEmpty()) {
        emit workspace_.failed(wrong + " Nothing was changed.");
        refresh();
        return;
    }
    workspace_.setRider(r, "Change a threshold");
}

bool RiderView::eventFilter(QObject* watched, QEvent* event) {
    if (watched == note_ && event->type() == QEvent::FocusOut && note_->document()->isModified())
        take("Change the notes");
    return QWidget::eventFilter(watched, event);
}

} // namespace marram
