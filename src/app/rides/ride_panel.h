// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "app/owners/workspace.h"
#include "app/rides/meant_page.h"
#include "app/rides/ride_table.h"
#include "app/rides/ride_trace.h"
#include "app/rides/zone_bars.h"
#include "app/shell/binding.h"
#include "app/shell/pages.h"
#include <QCheckBox>
#include <QComboBox>
#include <QDoubleSpinBox>
#include <QGridLayout>
#include <QLabel>
#include <QPlainTextEdit>
#include <QPushButton>
#include <QTableWidget>
#include <QTextBrowser>

namespace marram {

/// The whole of one ride: its trace, what a brushed part came to, its figures with their derivations, its
/// efforts and laps, and the day it was ridden on with everything the coach adds.
class RidePanel : public QWidget {
    Q_OBJECT
public:
    explicit RidePanel(Workspace& workspace, QWidget* parent = nullptr);
    /// Shows a day of the list; null for nothing.
    void show(const RideRow* row);
    qint64 rideShown() const { return shown_; }
    RideTrace& trace() { return *trace_; }
    void openPage(int page) { pages_->open(page); }
    /// Opens the derivation of a figure by its name.
    void derive(const QString& name);
    /// Writes the shown ride in another format; asks for the file.
    void saveAs();
    /// Writes it to a file by its ending: .fit, .gpx or .csv.
    Result<void> saveTo(const QString& path) const;
    /// Takes what is being typed, before another ride is shown.
    void finishTyping();

protected:
    void resizeEvent(QResizeEvent* event) override;

private:
    QWidget* makeFigures();
    QWidget* makeEfforts();
    QWidget* makeDay();
    void arrange();
    bool wantsOneColumn() const;
    bool arranged_ = false; ///< in one column
    void loadTrace();
    void fillFigures();
    void fillEfforts();
    void fillDay();
    void fillSpan(Stretch span);
    void fillMeant();
    void findInside();
    void change(qint64 ride, const QString& what, const std::function<void(RideRecord&)>& edit);
    void change(const QString& what, const std::function<void(RideRecord&)>& edit);
    void cutSelection();
    void trimToSelection();
    void cutSpikes();
    void noteTest(int index);
    double thresholdHere() const;

    Workspace& workspace_;
    qint64 shown_ = 0;
    RideRecord record_;
    std::optional<double> planned_;
    std::optional<Ride> ride_;
    Efforts efforts_;
    std::vector<Recognised> recognised_;
    bool filling_ = false;
    QLabel *title_, *span_;
    RideTrace* trace_;
    Pages* pages_;
    MeantPage* meant_;
    QGridLayout* figures_;
    QTextBrowser *words_, *derivation_;
    ZoneBars* zones_;
    QLabel *steady_, *sets_, *found_, *checkIn_, *corrections_;
    QComboBox* which_;
    QTableWidget* efforts_table_;
    QPushButton *writeTest_, *cut_, *trim_, *spikes_, *restore_;
    QDoubleSpinBox* effort_;
    QCheckBox* excluded_;
    QPlainTextEdit* note_;
    Binding *effortBound_, *excludedBound_, *noteBound_;
    Jobs jobs_; ///< looking for efforts in rides too long to do it while somebody waits
};

} // namespace marram
