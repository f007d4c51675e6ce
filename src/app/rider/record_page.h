// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "app/owners/workspace.h"
#include "app/rider/record_strip.h"
#include <QLabel>
#include <QProgressBar>
#include <QPushButton>
#include <QTableWidget>

namespace marram {

/// What a record says of its rider, in a few sentences: rides and their span, the usual week, gaps, a meter
/// that stepped. Pure.
QString describeRecord(const Heard& heard, const std::vector<RideRecord>& rides, Date today);
/// A proposal's band, as "249–267 W" or "this or more". Pure.
QString bandText(const ValueProposal& proposal);

/// What the record says: values proposed out of the rider's own rides, each with its band, its evidence and
/// the rides it rests on. Ticked ones are taken together, or one by one, or changed first; nothing by itself.
class RecordPage : public QWidget {
    Q_OBJECT
public:
    explicit RecordPage(Workspace& workspace, QWidget* parent = nullptr);
    void refresh();

signals:
    void wantsRide(qint64 ride);
    void wantsImport();

protected:
    void showEvent(QShowEvent*) override;

private:
    void fill();
    void fillProposals();
    /// What the coach changed of it and said to it; true where it was put off.
    bool takeUpAnswers(ValueProposal& p, const QString& key);
    void showRides();
    void changeValue(int row, int column);
    void takeTicked();
    void takeRow();
    void leaveRow();
    bool isLeft(const ValueProposal& proposal) const;
    QString nameOf(const ValueProposal& proposal) const;
    std::vector<ValueProposal> ticked() const;

    Workspace& workspace_;
    bool filling_ = false;
    qint64 subject_ = 0; ///< whose proposals the rows are
    std::vector<ValueProposal> rows_;
    std::map<QString, bool> left_;      ///< proposals that were unticked
    std::map<QString, double> changed_; ///< and those whose value was changed first
    QLabel *words_, *key_, *rides_, *progressWords_;
    QWidget* underWay_;
    QProgressBar* progress_;
    RecordStrip* strip_;
    QTableWidget* table_;
    QPushButton *take_, *takeOne_, *notNow_, *import_;
};

} // namespace marram
