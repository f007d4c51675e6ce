// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "app/rider/life_page.h"
#include "app/rider/record_page.h"
#include "app/rider/tests_page.h"
#include "app/rider/values_page.h"
#include "app/shell/pages.h"

namespace marram {

/// Something a season can't do without and that is not known of a rider yet.
struct RiderNeed {
    QString key;  ///< "hours", "threshold", "lately"
    QString what; ///< and what is lost without it, a sentence
};
/// What a new rider is asked for, most needed first. Pure.
/// Where rides carry no points, the record may say what is missing.
std::vector<RiderNeed> riderNeeds(const RiderRecord& rider, bool loadKnown, const Counted& counted = {});

/// One rider: what they can do, the life around it, and their tests.
class RiderView : public QWidget {
    Q_OBJECT
public:
    explicit RiderView(Workspace& workspace, QWidget* parent = nullptr);
    void openTests() { pages_->open(2); }
    void openRecord() { pages_->open(3); }
    void openPage(int page) { pages_->open(page); }
    /// For a rider just added: their page, with the name chosen for typing.
    void nameFirst();

signals:
    void wantsRider(); ///< a new one
    void wantsRide(qint64 ride);
    void wantsImport();

protected:
    void showEvent(QShowEvent*) override;

private:
    void refresh();
    void refreshWhenSeen();
    void fillNeeds();
    void followNeed(const QString& link);

    Workspace& workspace_;
    QStackedWidget* stack_;
    Pages* pages_;
    ValuesPage* values_;
    LifePage* life_;
    TestsPage* tests_;
    RecordPage* record_;
    QLabel* needs_;
    bool stale_ = false; ///< something changed while nobody looked
};

} // namespace marram
