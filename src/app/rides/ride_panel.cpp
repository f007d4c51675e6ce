// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/rides/ride_panel.h"
#include "app/rides/ride_words.h"
#include "app/shell/columns.h"
#include "app/shell/fields.h"
#include "app/shell/tables.h"
#include "core/session/shorthand.h"
#include "formats/files/files.h"
#include "formats/recording/recording.h"
#include "wording/wording.h"

#include <QFileDialog>
#include <QFocusEvent>
#include <QGridLayout>
#include <QScrollArea>
#include <QSettings>
#include <cmath>

namespace marram {
namespace {

QString words(const std::string& s) {
    return QString::fromUtf8(s.data(), static_cast<qsizetype>(s.size()));
}

QScrollArea* scrolling(QWidget* page) {
    auto* scroll = new QScrollArea;
    scroll->setAccessibleName(wording("Page, scrolled"));
    scroll->setWidget(page);
    scroll->setWidgetResizable(true);
    scroll->setFrameShape(QFrame::NoFrame);
    return scroll;
}

} // namespace

RidePanel::RidePanel(Workspace& workspace, QWidget* parent)
    : QWidget(parent), workspace_(workspace), title_(headingLabel({})), span_(wordsLabel({}, true)),
      trace_(new RideTrace), pages_(new Pages) {
    auto* inside = new QWidget;
    auto* outer = new QVBoxLayout(this);
    outer->setContentsMargins(0, 0, 0, 0);
    outer->addWidget(scrolling(inside));
    auto* layout = new QVBoxLayout(inside);
    layout->setContentsMargins(16, 14, 20, 8);
    layout->setSpacing(4);
    layout->addWidget(title_);
    layout->addWidget(trace_, 7);
    span_->setObjectName("spanFigures");
    span_->setToolTip(wording(
        "Of the recorded seconds of the part: mean power counts a missing reading as zero; equivalent power "
        "is the fourth root of the mean fourth power of its 30 s windows; cadence leaves out standing "
        "cranks; climbing leaves out steps of under 2 m; left/right is the mean while there is power."));
    span_->setFont(typeface(Type::Small));
    span_->setMinimumHeight(qRound(32 * textScale()));
    span_->setAlignment(Qt::AlignTop | Qt::AlignLeft);
    layout->addWidget(span_);
    pages_->addPage(wording("Figures"), makeFigures());
    pages_->addPage(wording("Efforts and laps"), makeEfforts());
    pages_->addPage(wording("The day"), makeDay());
    meant_ = new MeantPage(workspace_);
    pages_->addPage(wording("As meant"), meant_);
    connect(&workspace_.blocks, &BlockService::laidChanged, this, [this] {
        if (ride_ && shown_ != 0)
            fillMeant();
    });
    layout->addWidget(pages_, 5);
    connect(trace_, &RideTrace::selected, this, &RidePanel::fillSpan);
    connect(&workspace_.chosen, &ChosenRider::checkInsChanged, this, &RidePanel::fillDay);
    connect(&workspace_.chosen, &ChosenRider::testsChanged, this, [this] {
        if (ride_ && isVisible()) {
            recognised_ = workspace_.chosen.facts().notWrittenDown(recognised_);
            fillEfforts();
        }
    });
}

QWidget* RidePanel::makeFigures() {
    auto* page = new QWidget;
    auto* grid = new QGridLayout(page);
    grid->setContentsMargins(0, 4, 0, 0);
    grid->setHorizontalSpacing(24);
    words_ = new QTextBrowser;
    words_->setFrameShape(QFrame::NoFrame);
    words_->setOpenLinks(false);
    words_->document()->setDocumentMargin(0);
    words_->setObjectName("rideWords");
    words_->setAccessibleName(wording("Figures of the ride"));
    derivation_ = new QTextBrowser;
    derivation_->setFrameShape(QFrame::NoFrame);
    derivation_->document()->setDocumentMargin(0);
    derivation_->setObjectName("derivation");
    derivation_->setAccessibleName(wording("How the figure came about"));
    // How much room they would like says nothing; they scroll in what there is.
    words_->setSizePolicy(QSizePolicy::Expanding, QSizePolicy::Ignored);
    derivation_->setSizePolicy(QSizePolicy::Expanding, QSizePolicy::Ignored);
    zones_ = new ZoneBars;
    steady_ = wordsLabel({}, true);
    steady_->setObjectName("steadiness");
    steady_->setFont(typeface(Type::Small));
    figures_ = grid;
    arrange();
    connect(words_, &QTextBrowser::anchorClicked, this,
            [this](const QUrl& url) { derive(url.toString().mid(4)); });
    return page;
}

bool RidePanel::wantsOneColumn() const {
    constexpr int twoColumns = 600;
    return needsOneColumn(*this, twoColumns);
}

void RidePanel::resizeEvent(QResizeEvent* event) {
    QWidget::resizeEvent(event);
    if (wantsOneColumn() != arranged_)
        arrange();
}

void RidePanel::arrange() {
    // Side by side where there is room; with large text one below the other, and the panel scrolls.
    const bool large = arranged_ = wantsOneColumn();
    for (QWidget* w : {static_cast<QWidget*>(words_), static_cast<QWidget*>(zones_),
                       static_cast<QWidget*>(steady_), static_cast<QWidget*>(derivation_)})
        figures_->removeWidget(w);
    const auto high = [&](QWidget* w, double pixels) {
        w->setMinimumHeight(qRound(pixels * textScale()));
        w->setMaximumHeight(large ? qRound(pixels * textScale()) : QWIDGETSIZE_MAX);
    };
    high(words_, large ? 230 : 190);
    high(derivation_, large ? 110 : 70);
    figures_->addWidget(words_, 0, 0, large ? 1 : 3, 1);
    figures_->addWidget(derivation_, large ? 1 : 2, large ? 0 : 1);
    figures_->addWidget(zones_, large ? 2 : 0, large ? 0 : 1);
    figures_->addWidget(steady_, large ? 3 : 1, large ? 0 : 1);
    figures_->setColumnStretch(0, 13);
    figures_->setColumnStretch(1, large ? 0 : 9);
    figures_->setRowStretch(2, large ? 0 : 1);
}

QWidget* RidePanel::makeEfforts() {
    auto* page = new QWidget;
    auto* layout = new QVBoxLayout(page);
    layout->setContentsMargins(0, 4, 0, 0);
    auto* head = new QHBoxLayout;
    which_ = new QComboBox;
    which_->setObjectName("effortSource");
    which_->setAccessibleName(wording("What is listed"));
    which_->addItems({wording("Efforts found in the power"), wording("Laps of the device")});
    sets_ = wordsLabel({});
    sets_->setObjectName("setWords");
    head->addWidget(which_);
    head->addSpacing(12);
    head->addWidget(sets_, 1);
    layout->addLayout(head);
    efforts_table_ =
        quietTable({wording("From"), wording("Length"), wording("Power\nW"), wording("% of\nthreshold"),
                    wording("Zone"), wording("Heart\nbpm"), wording("Highest\nbpm"), wording("Cadence\nrpm"),
                    wording("Fade\n%"), wording("Left its zone")},
                   "efforts");
    efforts_table_->setSelectionMode(QAbstractItemView::ExtendedSelection);
    efforts_table_->horizontalHeader()->setStretchLastSection(true);
    efforts_table_->setSizePolicy(QSizePolicy::Expanding, QSizePolicy::Ignored);
    efforts_table_->setMinimumHeight(qRound(120 * textScale()));
    layout->addWidget(efforts_table_, 1);
    auto* foot = new QHBoxLayout;
    found_ = wordsLabel({});
    found_->setObjectName("recognised");
    writeTest_ = new QPushButton(wording("Write it down as a test"));
    writeTest_->setObjectName("writeTest");
    foot->addWidget(found_, 1);
    foot->addWidget(writeTest_);
    layout->addLayout(foot);
    const char* how[] = {
        marked("Where in the ride it begins, stops included."),
        marked("From its first to its last second."),
        marked("Mean of all its seconds; one without a reading counts as zero."),
        marked("Mean power over the threshold that held on the day."),
        marked("The zone its mean power lies in; an edge belongs to the zone below."),
        marked("Mean of its seconds that have a heart rate. Heart rate lags behind short efforts."),
        marked("The highest heart rate within it."),
        marked("Mean of the seconds in which the cranks turned."),
        marked("By how much the mean of its second half fell below that of its first."),
        marked("When 15-second power fell below its zone and stayed there to its end.")};
    for (int c = 0; c < efforts_table_->columnCount(); ++c)
        efforts_table_->horizontalHeaderItem(c)->setToolTip(wording(how[c]));
    connect(which_, &QComboBox::currentIndexChanged, this, &RidePanel::fillEfforts);
    connect(efforts_table_, &QTableWidget::itemSelectionChanged, this, [this] {
        if (filling_)
            return;
        Stretch all{1 << 30, 0};
        for (const QTableWidgetItem* item : efforts_table_->selectedItems()) {
            if (item->column() != 0)
                continue;
            all.begin = std::min(all.begin, item->data(Qt::UserRole).toInt());
            all.end = std::max(all.end, item->data(Qt::UserRole + 1).toInt());
        }
        if (all.end > all.begin)
            trace_->select(all);
    });
    connect(efforts_table_, &QTableWidget::cellActivated, this, [this] {
        if (trace_->selection().length() > 0)
            trace_->lookAt(trace_->selection());
    });
    connect(writeTest_, &QPushButton::clicked, this, [this] { noteTest(0); });
    return page;
}

QWidget* RidePanel::makeDay() {
    auto* page = new QWidget;
    auto* grid = new QGridLayout(page);
    grid->setContentsMargins(0, 4, 6, 0);
    grid->setHorizontalSpacing(14);
    checkIn_ = wordsLabel({});
    checkIn_->setObjectName("dayCheckIn");
    effort_ = numberField(0, 10, 0.5, 1, "", "sessionEffort", wording("Session effort, 0 to 10"));
    effort_->setSpecialValueText(wording("not given"));
    excluded_ = new QCheckBox(wording("Set aside: counts for nothing"));
    excluded_->setObjectName("excludeRide");
    note_ = new QPlainTextEdit;
    note_->setObjectName("rideNote");
    note_->setAccessibleName(wording("Notes on the ride"));
    note_->setPlaceholderText(wording("What you want to remember of this ride."));
    note_->setFrameShape(QFrame::NoFrame);
    note_->setTabChangesFocus(true);
    note_->setMinimumHeight(qRound(44 * textScale()));
    note_->setMaximumHeight(qRound(70 * textScale()));
    noteBound_ = Binding::area(note_, [this](qint64 ride, const QVariant& v) {
        change(ride, wording("Change a note"), [&](RideRecord& r) { r.note = v.toString(); });
    });
    corrections_ = wordsLabel({}, true);
    corrections_->setObjectName("corrections");
    grid->addWidget(captionLabel(wording("How the rider was")), 0, 0, Qt::AlignTop);
    grid->addWidget(checkIn_, 0, 1);
    auto* effortRow = new QHBoxLayout;
    effortRow->addWidget(effort_);
    effortRow->addWidget(
        wordsLabel(wording("0 nothing at all, 3 moderate, 5 hard, 7 very hard, 10 the hardest there is"),
                   true),
        1);
    grid->addWidget(captionLabel(wording("Session effort")), 1, 0);
    grid->addLayout(effortRow, 1, 1);
    grid->addWidget(captionLabel(wording("Notes")), 2, 0, Qt::AlignTop);
    grid->addWidget(note_, 2, 1);
    grid->addWidget(captionLabel(wording("Corrections")), 3, 0, Qt::AlignTop);
    grid->addWidget(corrections_, 3, 1);
    auto* buttons = new QGridLayout;
    int pressed = 0;
    const auto button = [&](const QString& label, const char* name, auto slot) {
        auto* b = new QPushButton(label);
        b->setObjectName(name);
        connect(b, &QPushButton::clicked, this, slot);
        buttons->addWidget(b, pressed / 2, pressed % 2, Qt::AlignLeft);
        ++pressed;
        return b;
    };
    cut_ = button(wording("Cut the power brushed"), "cutSelection", [this] { cutSelection(); });
    trim_ = button(wording("Keep only what is brushed"), "trimToSelection", [this] { trimToSelection(); });
    spikes_ = button(wording("Cut what stands out"), "cutSpikes", [this] { cutSpikes(); });
    restore_ = button(wording("As it was recorded"), "restoreRide", [this] {
        change(wording("Take corrections back"), [](RideRecord& r) { r.corrections = {}; });
    });
    buttons->setColumnStretch(2, 1);
    grid->addLayout(buttons, 4, 0, 1, 2);
    auto* last = new QHBoxLayout;
    grid->addWidget(excluded_, 6, 0, 1, 2);
    auto* save = new QPushButton(wording("Save the ride as FIT, GPX or CSV"));
    save->setObjectName("saveRideAs");
    last->addWidget(save);
    last->addStretch();
    grid->addLayout(last, 5, 0, 1, 2);
    grid->setColumnStretch(1, 1);
    grid->setRowStretch(7, 1);
    effortBound_ = Binding::number(effort_, [this](qint64 ride, const QVariant& v) {
        change(ride, wording("Change a session effort"), [&](RideRecord& r) {
            r.effort = v.toDouble() > 0 ? std::optional(v.toDouble()) : std::nullopt;
        });
    });
    excludedBound_ = Binding::check(excluded_, [this](qint64 ride, const QVariant& v) {
        change(ride, v.toBool() ? wording("Set a ride aside") : wording("Take a ride back"),
               [&](RideRecord& r) {
                   r.excluded = v.toBool();
                   if (!r.excluded)
                       r.beside.clear(); // counts for itself from now on
               });
    });
    connect(save, &QPushButton::clicked, this, &RidePanel::saveAs);
    return page;
}

double RidePanel::thresholdHere() const {
    if (record_.thresholdPower > 0)
        return record_.thresholdPower;
    return ride_ ? thresholdFromRide(*ride_).value : 0;
}

void RidePanel::show(const RideRow* row) {
    if (!row || !row->ride) {
        shown_ = 0;
        jobs_.endAll();
        ride_.reset();
        trace_->clear();
        pages_->setVisible(false);
        trace_->setVisible(false);
        span_->clear();
        title_->setText(row ? words(namedDayText(row->day)) : QString());
        if (row)
            span_->setText(
                wording("%1 points were planned and nothing was ridden. What is missed is not owed: the "
                        "plan has gone on from where the rider is.")
                    .arg(row->planned.value_or(0), 0, 'f', 0));
        return;
    }
    pages_->setVisible(true);
    trace_->setVisible(true);
    title_->setText(words(namedDayText(row->day)) + (row->ride->note.isEmpty() ? "" : wording(" · note")));
    planned_ = row->planned;
    const bool other = row->ride->id != shown_;
    const bool recorrected = !(row->ride->corrections == record_.corrections) ||
                             row->ride->thresholdPower != record_.thresholdPower;
    record_ = *row->ride;
    shown_ = record_.id;
    if (other || recorrected || !ride_)
        loadTrace();
    if (other)
        derivation_->setHtml(
            wording("<span style='color:%1'>Choose a figure to see how it came about.</span>")
                .arg(shore().muted.name()));
    fillFigures();
    fillEfforts();
    fillDay();
    fillMeant();
}

void RidePanel::loadTrace() {
    jobs_.endAll();
    ride_.reset();
    recognised_.clear();
    efforts_ = {};
    auto ride = workspace_.chosen.facts().loadRide(shown_);
    if (!ride) {
        trace_->clear();
        span_->setText(words(ride.error().sentence));
        return;
    }
    ride_ = std::move(*ride);
    findInside();
    std::vector<Stretch> marks;
    for (const Effort& e : efforts_.all)
        marks.push_back(e.span);
    trace_->show(*ride_, record_.thresholdPower, marks);
    fillSpan({});
}

void RidePanel::findInside() {
    constexpr int atOnce = 12 * 3600; // seconds of ride that take no time to notice
    const Date day = record_.day;
    const auto basis = workspace_.chosen.facts().recognitionBasis(shown_);
    const auto look = [day, basis, threshold = thresholdHere()](const Ride& ride) {
        std::pair<Efforts, std::vector<Recognised>> found;
        found.first = findEfforts(ride, {threshold});
        if (basis.threshold)
            found.second = recogniseTests(ride, day, *basis.threshold, basis.bestBefore);
        return found;
    };
    const auto take = [this](const std::pair<Efforts, std::vector<Recognised>>& found) {
        efforts_ = found.first;
        recognised_ = workspace_.chosen.facts().notWrittenDown(found.second);
    };
    if (ride_->elapsed() <= atOnce) {
        take(look(*ride_));
        return;
    }
    sets_->setText(wording("Looking for efforts…"));
    auto found = std::make_shared<std::pair<Efforts, std::vector<Recognised>>>();
    jobs_.begin(
        JobKind::Efforts, [found, look, ride = *ride_](JobLink&) { *found = look(ride); },
        [this, found, take, id = shown_] {
            if (id != shown_ || !ride_)
                return;
            take(*found);
            std::vector<Stretch> marks;
            for (const Effort& e : efforts_.all)
                marks.push_back(e.span);
            trace_->show(*ride_, record_.thresholdPower, marks);
            fillEfforts();
        });
}

void RidePanel::fillMeant() {
    meant_->show(record_);
    const MeantSession* meant = workspace_.blocks.meantOn(record_.day);
    const LaidRide* laid = workspace_.blocks.laidOn(record_.day);
    const auto session = meant ? readShorthand(meant->words) : tl::unexpected(ShorthandMistake{});
    trace_->lay(ride_ && laid && laid->ride == shown_ && session
                    ? meantOver(*ride_, *session, laid->against, record_.thresholdPower)
                    : std::vector<double>());
}

void RidePanel::finishTyping() {
    for (Binding* b : {noteBound_, effortBound_, excludedBound_})
        b->finish();
}

void RidePanel::fillSpan(Stretch span) {
    if (!ride_)
        return;
    const bool all = span.length() <= 0;
    if (all)
        span = {0, ride_->elapsed()};
    span_->setText((all ? wording("Whole ride: ") : wording("Brushed: ")) +
                   describeSpan(figuresOver(*ride_, span), span, thresholdHere()));
    cut_->setEnabled(!all && ride_->hasPower);
    trim_->setEnabled(!all);
}

void RidePanel::fillFigures() {
    arrange();
    words_->setFont(typeface(Type::Body));
    derivation_->setFont(typeface(Type::Small));
    words_->setHtml(describeRide(record_, planned_));
    zones_->show(record_.score);
    steady_->setText(ride_ && ride_->hasPower && ride_->hasHeartRate ? words(judgeSteadiness(*ride_).why)
                                                                     : QString());
}

void RidePanel::derive(const QString& name) {
    if (workspace_.chosen.rider())
        derivation_->setHtml(deriveFigure(name, record_, *workspace_.chosen.rider(), planned_));
}

static QStringList cellsOf(const Effort& e, double threshold, bool power) {
    const QString none = "–";
    const auto n = [&](const std::optional<double>& v, int decimals = 0) {
        return v ? decimal(*v, decimals).replace('-', QChar(0x2212)) : none;
    };
    return {preciseClock(e.span.begin),
            preciseClock(e.span.length()),
            n(e.figures.meanPower),
            e.figures.meanPower && threshold > 0 ? n(100 * *e.figures.meanPower / threshold) : none,
            power ? QString::number(e.zone + 1) : none,
            n(e.figures.meanHeartRate),
            n(e.figures.highestHeartRate),
            n(e.figures.cadence),
            power && e.span.length() >= 20 ? n(e.fade, 1) : none,
            e.leftZoneAt ? wording("after %1", preciseClock(*e.leftZoneAt)) : QString()};
}

void RidePanel::fillEfforts() {
    if (!ride_) {
        efforts_table_->setRowCount(0);
        return;
    }
    filling_ = true;
    const bool laps = which_->currentIndex() == 1;
    std::vector<Effort> shown = efforts_.all;
    if (laps) {
        shown.clear();
        for (const Stretch& lap : ride_->laps)
            shown.push_back(describeEffort(*ride_, lap, {thresholdHere()}));
    }
    QString said = laps ? QString() : describeSets(efforts_);
    if (shown.empty())
        said = laps              ? wording("The device marked no laps.")
               : ride_->hasPower ? wording("No hard effort in this ride.")
                                 : wording("There is no power to find efforts in; look at the laps.");
    else if (record_.thresholdPower <= 0 && ride_->hasPower)
        said += wording(" Without a threshold the ride's own best 20 minutes stand for it.");
    sets_->setText(said);
    efforts_table_->setRowCount(static_cast<int>(shown.size()));
    for (int row = 0; row < efforts_table_->rowCount(); ++row) {
        const Effort& e = shown[static_cast<size_t>(row)];
        const QStringList cells = cellsOf(e, thresholdHere(), ride_->hasPower);
        for (int column = 0; column < cells.size(); ++column)
            efforts_table_->setItem(row, column, tableCell(cells[column], column > 0));
        efforts_table_->item(row, 0)->setData(Qt::UserRole, e.span.begin);
        efforts_table_->item(row, 0)->setData(Qt::UserRole + 1, e.span.end);
    }
    found_->setVisible(!recognised_.empty());
    writeTest_->setVisible(!recognised_.empty());
    if (!recognised_.empty()) {
        const Recognised& f = recognised_.front();
        found_->setText(wording("This may be a test: %1, %2 %3. %4 Only you know whether it was one.")
                            .arg(wording(wordsFor(f.result.protocol).name))
                            .arg(f.result.value, 0, 'f', f.result.protocol == Protocol::AerobicCheck ? 2 : 0)
                            .arg(wordsFor(f.result.protocol).unit, words(f.why)));
    }
    filling_ = false;
}

void RidePanel::noteTest(int index) {
    if (index >= static_cast<int>(recognised_.size()))
        return;
    TestRecord t;
    t.result = recognised_[static_cast<size_t>(index)].result;
    t.result.verdict = thresholdFrom(t.result) ? Verdict::Open : Verdict::Accepted;
    t.rideHash = record_.contentHash;
    workspace_.chosen.edits().setTest(std::nullopt, t, wording("Write a test down"));
    emit workspace_.notices.said(
        thresholdFrom(t.result)
            ? wording("The test waits for your yes or no under Rider, Tests.")
            : wording("%1 is written down.").arg(wording(wordsFor(t.result.protocol).name)));
}

void RidePanel::fillDay() {
    if (shown_ == 0 || !workspace_.chosen.rider())
        return;
    filling_ = true;
    const auto c = workspace_.roster.checkInOn(workspace_.chosen.rider()->id, record_.day);
    checkIn_->setText(c ? describeCheckIn(*c) : wording("No check-in that day."));
    effortBound_->show(shown_, record_.effort.value_or(0));
    excludedBound_->show(shown_, record_.excluded);
    noteBound_->show(shown_, record_.note);
    QStringList done;
    const Corrections& k = record_.corrections;
    if (!k.powerCuts.empty())
        done << wording("power cut in %1 %2")
                    .arg(k.powerCuts.size())
                    .arg(countedWording(k.powerCuts.size(), "place", "places"));
    if (k.trimStart > 0)
        done << wording("%1 cut from the start").arg(preciseClock(k.trimStart));
    if (k.trimEnd > 0)
        done << wording("%1 cut from the end").arg(preciseClock(k.trimEnd));
    const size_t spikes = ride_ ? findSpikes(*ride_).size() : 0;
    corrections_->setText(
        wording("%1%2 Brush a part of the trace to correct it; the recording itself is never changed.",
                (done.isEmpty() ? wording("None.") : done.join(", ") + "."),
                (spikes > 0 ? wording(" Power stands out in %1 %2; look before cutting.")
                                  .arg(spikes)
                                  .arg(countedWording(spikes, "place", "places"))
                            : QString())));
    spikes_->setEnabled(spikes > 0);
    restore_->setEnabled(!k.empty());
    cut_->setEnabled(trace_->selection().length() > 0 && ride_ && ride_->hasPower);
    trim_->setEnabled(trace_->selection().length() > 0);
    filling_ = false;
}

} // namespace marram

#include "moc_ride_panel.cpp"
