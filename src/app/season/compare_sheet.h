// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "app/owners/worker.h"
#include "app/owners/workspace.h"
#include "app/season/season_tries.h"
#include "core/block/block.h"
#include "core/season/ahead.h"
#include <QDialog>

class QTableWidget;
class QLabel;
class QPushButton;

namespace marram {

/// Schools, rhythms, orders, tapers and the alternatives of a season, solved and side by side. Belongs to the
/// season it was opened on: it closes when another is chosen.
class CompareSheet : public QDialog {
    Q_OBJECT
public:
    CompareSheet(Workspace& workspace, QWidget* parent = nullptr);
    ~CompareSheet() override;
    /// True once every row is there.
    bool complete() const { return done_ == rows_.size(); }
    QString csv() const;

signals:
    void wantsTry(const QString& name, const marram::Season& season);

private:
    struct Row {
        QString group, name;
        Season season; ///< as the coach decides it
        std::optional<Summary> summary;
        std::optional<Summary> even;   ///< at the points of the season as it is; for it and for schools
        std::optional<HeldWeeks> held; ///< what its sessions hold of what it asks for
        bool school() const { return group == "Schools"; }
    };
    /// The rows: the season as it is, each change, and the alternatives kept.
    void collect(const Season& decided);
    void fillTable();
    void fill(size_t row);
    void solveAll();
    QStringList cells(const Row& row) const;
    QStringList heads() const;
    /// The race mornings, or what the riding is like; both would be wider than the sheet.
    void showPart(int part);

    Workspace& workspace_;
    std::vector<Row> rows_;
    std::vector<size_t> raceOrder_; ///< A and B races, by their place in the season as it is
    size_t done_ = 0;
    QTableWidget* table_;
    QLabel* progress_;
    QPushButton* try_;
    Jobs jobs_; ///< last: ends before what it delivers to
};

} // namespace marram
