// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "core/review/review.h"
#include "records/records.h"
#include <QAbstractTableModel>

namespace marram {

/// One day of the list: a ride, or a planned session nobody rode.
struct RideRow {
    Date day;
    std::optional<RideRecord> ride;
    std::optional<double> planned; ///< points, where a plan was kept
    DayVerdict verdict;
    std::string laid; ///< what laying it over its session said, where it has been laid
};

/// Rides and missed sessions, newest first. Pure.
std::vector<RideRow> rideRows(const std::vector<RideRecord>& rides, const std::vector<SolvedDay>& planned,
                              Date today);

class RideTable : public QAbstractTableModel {
    Q_OBJECT
public:
    using QAbstractTableModel::QAbstractTableModel;
    /// Days are written with their year where it is not that of `today`.
    void show(std::vector<RideRow> rows, Date today);
    const RideRow& row(int index) const { return rows_[static_cast<size_t>(index)]; }

    int rowCount(const QModelIndex& parent = {}) const override {
        return parent.isValid() ? 0 : static_cast<int>(rows_.size());
    }
    int columnCount(const QModelIndex& = {}) const override { return 6; }
    QVariant data(const QModelIndex& index, int role) const override;
    QVariant headerData(int section, Qt::Orientation orientation, int role) const override;

private:
    std::vector<RideRow> rows_;
    Date today_;
};

/// "1:23" or "0:45": hours and minutes.
QString clockText(int seconds);

} // namespace marram
