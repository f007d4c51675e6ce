// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "app/review/curve_page.h"
#include "app/review/monday_page.h"
#include "app/review/report_page.h"
#include "app/review/trend_page.h"
#include "app/review/week_page.h"
#include "app/shell/pages.h"

namespace marram {

/// Is it working: Monday's page, what is asked of the record, best efforts of two spans, what the checks say,
/// and the weeks with how the rider was.
class ReviewView : public QWidget {
    Q_OBJECT
public:
    explicit ReviewView(Workspace& workspace, QWidget* parent = nullptr);
    void openPage(int page) { pages_->open(page); }
    CurvePage& curves() { return *curves_; }
    MondayPage& mondayPage() { return *monday_; }
    ReportPage& reportPage() { return *report_; }
    /// The page of questions, open on one.
    void ask(Question question);
    /// Whether an answer is looked at, which can be printed.
    bool showsAnswer() const { return pages_->page() == 1; }

signals:
    void wantsRide(qint64 ride);
    void wantsImport();
    void wantsNext();
    void wantsTry(const QString& name, const Season& season);

protected:
    void showEvent(QShowEvent*) override;

private:
    void refresh();
    void refreshWhenSeen();

    Workspace& workspace_;
    QStackedWidget* stack_;
    Pages* pages_;
    MondayPage* monday_;
    ReportPage* report_;
    CurvePage* curves_;
    TrendPage* trends_;
    WeekPage* weeks_;
    bool stale_ = true; ///< something changed while nobody looked
};

} // namespace marram
