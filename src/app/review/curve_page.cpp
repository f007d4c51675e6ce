// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/review/curve_page.h"
#include "app/review/plots.h"
#include "app/shell/dates.h"
#include "app/shell/fields.h"
#include "app/shell/tables.h"
#include "wording/wording.h"

#include <QGridLayout>
#include <QKeyEvent>
#include <cmath>
#include <functional>

namespace marram {
namespace {

struct Preset {
    const char* name;
    int from, to; ///< days ago
};
constexpr std::array<Preset, 6> presets{{{marked("The last six weeks"), 41, 0},
                                         {marked("The last three months"), 90, 0},
                                         {marked("The last six months"), 181, 0},
                                         {marked("The last year"), 364, 0},
                                         {marked("The year before that"), 546, 182},
                                         {marked("Those months a year ago"), 546, 365}}};

const CurvePoint* nearest(const std::vector<CurvePoint>& curve, int seconds) {
    const CurvePoint* best = nullptr;
    for (const CurvePoint& p : curve)
        if (!best || std::abs(std::log(double(p.seconds) / seconds)) <
                         std::abs(std::log(double(best->seconds) / seconds)))
            best = &p;
    return best;
}

const CurvePoint* exactly(const std::vector<CurvePoint>& curve, int seconds) {
    for (const CurvePoint& p : curve)
        if (p.seconds == seconds)
            return &p;
    return nullptr;
}

QString when(Date d) {
    return QString::fromStdString(dayText(d)) + " " + QString::number(toCivil(d).year);
}

} // namespace

/// The plot, with the parts its page tells.
class CurvePlot : public QCustomPlot, public ReadAloud {
public:
    explicit CurvePlot(std::function<std::vector<SpokenPart>()> parts) : parts_(std::move(parts)) {}
    std::vector<SpokenPart> spokenParts() const override { return parts_(); }

private:
    std::function<std::vector<SpokenPart>()> parts_;
};

CurvePage::CurvePage(Workspace& workspace, QWidget* parent)
    : QWidget(parent), workspace_(workspace), plot_(new CurvePlot([this] { return spokenParts(); })) {
    offerParts();
    setFocusPolicy(Qt::StrongFocus);
    setAccessibleName(wording("Best efforts of two spans"));
    auto* grid = new QGridLayout(this);
    grid->setContentsMargins(0, 6, 0, 0);
    grid->setHorizontalSpacing(32);
    plot_->setObjectName("curvePlot");
    plot_->setAccessibleName(wording("Best mean power by length"));
    plot_->setMinimumHeight(qRound(260 * textScale()));
    for (auto& g : graphs_)
        g = plot_->addGraph();
    line_ = new QCPItemStraightLine(plot_);
    useDurations(*plot_->xAxis);
    plot_->yAxis->setLabel(wording("best mean power, W"));
    grid->addWidget(makeSpan(0), 0, 0);
    grid->addWidget(makeSpan(1), 1, 0);
    grid->addWidget(plot_, 2, 0);
    empty_ = wordsLabel(wording(
        "No ride with power in these spans. Best efforts need a power meter; what was ridden without one "
        "is under Weeks and check-ins."));
    empty_->setAlignment(Qt::AlignTop | Qt::AlignLeft);
    grid->addWidget(empty_, 2, 0);
    auto* side = new QWidget;
    auto* column = new QVBoxLayout(side);
    column->setContentsMargins(0, 0, 0, 0);
    column->addWidget(headingLabel(wording("Improving?")));
    column->addWidget(wordsLabel(
        wording("The three best of the last six months against the same months a year ago."), true));
    table_ = quietTable({wording("Over"), wording("Three best\nlately, W"), wording("A year\nago, W"), ""},
                        "improvements");
    table_->horizontalHeader()->setSectionResizeMode(QHeaderView::ResizeToContents);
    table_->horizontalHeader()->setStretchLastSection(true);
    table_->setMinimumHeight(qRound(190 * textScale()));
    column->addWidget(table_);
    column->addSpacing(10);
    column->addWidget(headingLabel(wording("At the line")));
    words_ = new QTextBrowser;
    words_->setFrameShape(QFrame::NoFrame);
    words_->setOpenLinks(false);
    words_->document()->setDocumentMargin(0);
    words_->setObjectName("curveWords");
    words_->setAccessibleName(wording("What the curve says"));
    column->addWidget(words_, 1);
    perKilo_ = new QCheckBox(wording("In watts per kilogram"));
    perKilo_->setObjectName("perKilo");
    column->addWidget(perKilo_);
    grid->addWidget(side, 0, 1, 3, 1);
    grid->setColumnStretch(0, 8);
    grid->setColumnStretch(1, 4);
    grid->setRowStretch(2, 1);
    connect(plot_, &QCustomPlot::mouseMove, this, [this](QMouseEvent* e) {
        read(qRound(std::exp(std::log(plot_->xAxis->pixelToCoord(e->position().x())))));
    });
    connect(plot_, &QCustomPlot::mousePress, this, [this] { setFocus(); });
    connect(words_, &QTextBrowser::anchorClicked, this,
            [this](const QUrl& url) { emit wantsRide(url.toString().mid(5).toLongLong()); });
    connect(perKilo_, &QCheckBox::toggled, this, &CurvePage::recompute);
    connect(table_, &QTableWidget::currentCellChanged, this, [this](int row) {
        if (!filling_ && row >= 0)
            read(table_->item(row, 0)->data(Qt::UserRole).toInt());
    });
    paintTheme();
}

QWidget* CurvePage::makeSpan(int which) {
    auto* box = new QWidget;
    auto* row = new QHBoxLayout(box);
    row->setContentsMargins(0, 0, 0, 0);
    Span& s = spans_[static_cast<size_t>(which)];
    s.preset = new QComboBox;
    s.preset->setObjectName(which == 0 ? "spanNow" : "spanBefore");
    s.preset->setAccessibleName(which == 0 ? wording("First span") : wording("Second span"));
    s.preset->setSizeAdjustPolicy(QComboBox::AdjustToMinimumContentsLengthWithIcon);
    s.preset->setMinimumContentsLength(16);
    s.preset->setSizePolicy(QSizePolicy::Expanding, QSizePolicy::Fixed);
    s.preset->setMaximumWidth(qRound(285 * textScale()));
    for (const Preset& p : presets)
        s.preset->addItem(wording(p.name));
    s.preset->addItem(wording("From and to, as below"));
    s.preset->setItemText(static_cast<int>(presets.size()), wording("These days"));
    const auto edit = [&] {
        auto* e = new QDateEdit;
        showAsDate(e, false);
        openCalendar(e);
        connect(e, &QDateEdit::dateChanged, this, [this, which] {
            if (filling_)
                return;
            spans_[static_cast<size_t>(which)].preset->setCurrentIndex(static_cast<int>(presets.size()));
            recompute();
        });
        return e;
    };
    s.from = edit();
    s.to = edit();
    s.from->setAccessibleName(which == 0 ? wording("First span, from") : wording("Second span, from"));
    s.to->setAccessibleName(which == 0 ? wording("First span, to") : wording("Second span, to"));
    auto* mark = new QLabel(which == 0 ? wording("Full line") : wording("Broken line"));
    mark->setMinimumWidth(qRound(84 * textScale()));
    row->addWidget(mark);
    row->addWidget(s.preset);
    row->addSpacing(12);
    row->addWidget(s.from);
    row->addWidget(captionLabel(wording("to")));
    row->addWidget(s.to);
    row->addStretch();
    connect(s.preset, &QComboBox::activated, this, [this, which] { choosePreset(which); });
    return box;
}

void CurvePage::choosePreset(int which) {
    const Span& s = spans_[static_cast<size_t>(which)];
    const auto at = static_cast<size_t>(s.preset->currentIndex());
    if (at >= presets.size())
        return;
    filling_ = true;
    s.from->setDate(toQt(workspace_.today() - presets[at].from));
    s.to->setDate(toQt(workspace_.today() - presets[at].to));
    filling_ = false;
    recompute();
}

void CurvePage::refresh() {
    if (spans_[0].from->date() == spans_[0].from->minimumDate() ||
        spans_[0].preset->property("set").isNull()) {
        spans_[0].preset->setProperty("set", true);
        spans_[0].preset->setCurrentIndex(2);
        spans_[1].preset->setCurrentIndex(4);
    }
    choosePreset(0);
    choosePreset(1);
    recompute();
}

void CurvePage::recompute() {
    std::vector<RideBests> bests;
    for (const RideRecord& r : workspace_.chosen.rides())
        if (!r.excluded)
            bests.push_back({r.id, r.day, r.best});
    const RiderRecord* who = workspace_.chosen.rider();
    double most = 100;
    int longest = 60;
    for (size_t i = 0; i < 2; ++i) {
        curves_[i] = spanCurve(bests, fromQt(spans_[i].from->date()), fromQt(spans_[i].to->date()));
        if (perKilo_->isChecked())
            // A weight nobody measured makes no watts per kilogram.
            std::erase_if(curves_[i], [&](CurvePoint& p) {
                const auto kg = who ? who->values.on(Quantity::Weight, p.day) : std::nullopt;
                p.power /= kg.value_or(1);
                return !kg;
            });
        QVector<double> x, y;
        for (const CurvePoint& p : curves_[i]) {
            x << p.seconds;
            y << p.power;
            longest = std::max(longest, p.seconds);
        }
        graphs_[i]->setData(x, y, true);
        if (!y.isEmpty())
            most = std::max(i == 0 ? 0 : most, *std::max_element(y.begin(), y.end()));
    }
    const bool none = curves_[0].empty() && curves_[1].empty();
    plot_->setVisible(!none);
    empty_->setVisible(none);
    plot_->xAxis->setRange(1, longest);
    plot_->yAxis->setRange(0, most * 1.06);
    plot_->yAxis->setLabel(perKilo_->isChecked() ? wording("best mean power, W/kg")
                                                 : wording("best mean power, W"));
    filling_ = true;
    const auto all = improvements(bests, workspace_.today());
    table_->setRowCount(static_cast<int>(all.size()));
    for (int row = 0; row < table_->rowCount(); ++row) {
        const Improvement& i = all[static_cast<size_t>(row)];
        const auto watts = [](const std::optional<double>& v) { return v ? decimal(*v, 0) : QString("–"); };
        auto* over = tableCell(QString::fromStdString(durationText(i.seconds)), false);
        over->setData(Qt::UserRole, i.seconds);
        table_->setItem(row, 0, over);
        table_->setItem(row, 1, tableCell(watts(i.now)));
        table_->setItem(row, 2, tableCell(watts(i.before)));
        table_->setItem(row, 3, tableCell(QString::fromStdString(i.words), false));
    }
    filling_ = false;
    partsChanged(plot_);
    read(reading_);
}

void CurvePage::read(int seconds) {
    const CurvePoint* p = nearest(curves_[0].empty() ? curves_[1] : curves_[0], std::max(1, seconds));
    reading_ = p ? p->seconds : seconds;
    line_->point1->setCoords(reading_, 0);
    line_->point2->setCoords(reading_, 1);
    line_->setVisible(p != nullptr);
    QString html;
    const int decimals = perKilo_->isChecked() ? 2 : 0;
    const CurvePoint* ends[2] = {exactly(curves_[0], reading_), exactly(curves_[1], reading_)};
    for (size_t i = 0; i < 2; ++i)
        if (ends[i])
            html +=
                wording("<p>%1: <b>%2 %3</b> over %4, <a href='ride:%5' style='color:%6'>%7</a></p>")
                    .arg(i == 0 ? wording("Full line") : wording("Broken line"))
                    .arg(ends[i]->power, 0, 'f', decimals)
                    .arg(perKilo_->isChecked() ? "W/kg" : "W", QString::fromStdString(durationText(reading_)))
                    .arg(ends[i]->ride)
                    .arg(shore().tide.name(), when(ends[i]->day));
    if (ends[0] && ends[1] && ends[1]->power > 0) {
        const double change = 100 * (ends[0]->power / ends[1]->power - 1);
        html += wording("<p>%1%2 % between them.</p>")
                    .arg(change >= 0 ? "+" : "−")
                    .arg(std::abs(change), 0, 'f', 1);
    }
    if (html.isEmpty())
        html = wording("<p>No ride with power in these spans.</p>");
    words_->setHtml(semiBold(html));
    plot_->replot(QCustomPlot::rpQueuedReplot);
}

std::vector<SpokenPart> CurvePage::spokenParts() const {
    std::vector<SpokenPart> all;
    const QString unit = perKilo_->isChecked() ? "W/kg" : "W";
    const auto best = [&](const CurvePoint* p) {
        return p ? decimal(p->power, perKilo_->isChecked() ? 2 : 0) + " " + unit + ", " + when(p->day)
                 : wording("nothing");
    };
    for (const int seconds : {5, 60, 300, 1200, 3600}) {
        const CurvePoint *now = exactly(curves_[0], seconds), *before = exactly(curves_[1], seconds);
        if (!now && !before)
            continue;
        const int x = qRound(plot_->xAxis->coordToPixel(seconds));
        all.push_back({wording("Best over %1: full line %2; broken line %3")
                           .arg(QString::fromStdString(durationText(seconds)), best(now), best(before)),
                       QRect(x - 2, 0, 5, plot_->height())});
    }
    return all;
}

QString CurvePage::reading() const {
    return words_->toPlainText();
}

void CurvePage::keyPressEvent(QKeyEvent* event) {
    const auto& curve = curves_[0].empty() ? curves_[1] : curves_[0];
    const int direction = event->key() == Qt::Key_Left ? -1 : event->key() == Qt::Key_Right ? 1 : 0;
    if (direction != 0 && !curve.empty()) {
        for (size_t i = 0; i < curve.size(); ++i)
            if (curve[i].seconds == reading_) {
                const auto to = static_cast<std::ptrdiff_t>(i) + direction;
                if (to >= 0 && to < static_cast<std::ptrdiff_t>(curve.size()))
                    read(curve[static_cast<size_t>(to)].seconds);
                return;
            }
    } else if (event->key() == Qt::Key_Return || event->key() == Qt::Key_Enter) {
        if (const CurvePoint* p = exactly(curve, reading_))
            emit wantsRide(p->ride);
    } else {
        QWidget::keyPressEvent(event);
    }
}

void CurvePage::paintTheme() {
    dressPlot(*plot_);
    const Shore& c = shore();
    QColor fill = c.grass;
    fill.setAlphaF(0.15F);
    graphs_[0]->setPen(QPen(c.deepGrass, 2));
    graphs_[0]->setBrush(fill);
    graphs_[1]->setPen(QPen(c.driftwood, 1.6, Qt::DashLine));
    line_->setPen(QPen(c.tide, 1));
    plot_->replot(QCustomPlot::rpQueuedReplot);
}

void CurvePage::changeEvent(QEvent* event) {
    if (event->type() == QEvent::PaletteChange)
        paintTheme();
    QWidget::changeEvent(event);
}

} // namespace marram

#include "moc_curve_page.cpp"
