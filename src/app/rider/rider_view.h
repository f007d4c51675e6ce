// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "app/rider/life_page.h"
#include "app/rider/tests_page.h"
#include "app/rider/values_page.h"
#include "app/shell/pages.h"

namespace marram {

/// One rider: what they can do, the life around it, and their tests.
class RiderView : public QWidget {
    Q_OBJECT
public:
    explicit RiderView(Workspace& workspace, QWidget* parent = nullptr);
    void openTests() { pages_->open(2); }
    void openPage(int page) { pages_->open(page); }

protected:
    void showEvent(QShowEvent*) override;

private:
    void refresh();
    void refreshWhenSeen();

    Workspace& workspace_;
    QStackedWidget* stack_;
    Pages* pages_;
    ValuesPage* values_;
    LifePage* life_;
    TestsPage* tests_;
    bool stale_ = false; ///< something changed while nobody looked
};

} // namespace marram
