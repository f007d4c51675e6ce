// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "app/owners/workspace.h"
#include <QCheckBox>
#include <QComboBox>
#include <QDateEdit>
#include <QDoubleSpinBox>
#include <QLabel>
#include <QLineEdit>
#include <QPushButton>
#include <QTableWidget>

namespace marram {

/// Tests: what is due, how each is ridden, results and what they change, and the power model of the rider's
/// hard efforts.
class TestsPage : public QWidget {
    Q_OBJECT
public:
    explicit TestsPage(Workspace& workspace, QWidget* parent = nullptr);
    void refresh();

private:
    QWidget* makeResults();
    QWidget* makeEntry();
    void showProtocol();
    void showResult();
    void enter();
    void judge(Verdict verdict);
    void removeResult();
    const TestRecord* chosen() const;

    Workspace& workspace_;
    QTableWidget* results_;
    QLabel *words_, *due_, *instructions_, *caution_, *measures_, *model_;
    QPushButton *yes_, *no_, *remove_;
    QComboBox* protocol_;
    QDateEdit* day_;
    QDoubleSpinBox *value_, *second_, *work_, *altitude_;
    QComboBox* acclimatised_;
    QDoubleSpinBox* length_;
    QLabel* lengthName_;
    QLineEdit* place_;
    QLabel *secondName_, *workName_, *altitudeName_, *placeName_;
    qint64 shown_ = 0;
};

/// Critical power, W′ and what follows from them, or why there are none; oxygen uptake from five-minute
/// power. Rich text. Pure.
QString describeModel(const Result<CriticalPower>& model, std::optional<double> testedThreshold,
                      std::optional<double> weightKg, std::optional<double> fiveMinutes);

} // namespace marram
