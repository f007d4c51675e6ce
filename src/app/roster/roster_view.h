// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "app/workspace/workspace.h"
#include <QStackedWidget>
#include <QTableWidget>

namespace marram {

/// Every rider with where they stand today, and a sentence on why to look.
class RosterView : public QWidget {
    Q_OBJECT
public:
    explicit RosterView(Workspace& workspace, QWidget* parent = nullptr);

signals:
    void wantsSeason(); ///< the coach opened a rider

protected:
    void showEvent(QShowEvent*) override;

private:
    void refresh();
    void refreshWhenSeen();

    Workspace& workspace_;
    QStackedWidget* stack_;
    QTableWidget* table_;
    bool filling_ = false;
    bool stale_ = false; ///< something changed while nobody looked
};

/// Why to look at a rider today: the most pressing thing first. Pure.
QString whyLook(const Glance& glance, Date today);

} // namespace marram
