// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "records/squad.h"
#include <QComboBox>
#include <QDateEdit>
#include <QDialog>
#include <QLabel>
#include <QLineEdit>
#include <QPushButton>
#include <QSpinBox>

namespace marram {

/// Asks what is to be put on all riders of a squad: a race, a camp, or days away.
class SquadDialog : public QDialog {
    Q_OBJECT
public:
    SquadDialog(int riders, Date today, QWidget* parent);
    SquadAddition chosen() const;

signals:
    void answered(const marram::SquadAddition& addition);

private:
    void follow();

    QComboBox *kind_, *priority_;
    QLineEdit* name_;
    QDateEdit* from_;
    QSpinBox *days_, *stress_;
    QPushButton* put_;
    std::vector<QWidget*> ofRaces_;
};

} // namespace marram
