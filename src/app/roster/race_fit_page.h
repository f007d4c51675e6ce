// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "records/squad.h"
#include <QComboBox>
#include <QLabel>
#include <QTableWidget>
#include <QWidget>

namespace marram {

/// Who for which race: riders beside a race's course, each with what it asks and what they bring. By name,
/// without an order of merit.
class RaceFitPage : public QWidget {
    Q_OBJECT
public:
    explicit RaceFitPage(QWidget* parent = nullptr);
    void show(const std::vector<SquadRow>& rows, const std::vector<RiderRecord>& riders, Date today);

signals:
    void opened(qint64 rider);

private:
    void fill();

    std::vector<SquadRow> rows_;
    std::vector<RiderRecord> riders_;
    std::vector<SquadRace> races_; ///< to come, with a course, each once
    Date today_;
    QComboBox* which_;
    QLabel* words_;
    QTableWidget* table_;
};

} // namespace marram
