// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "app/season/season_painter.h"
#include <QComboBox>
#include <QDateEdit>
#include <QDoubleSpinBox>
#include <QLabel>
#include <QLineEdit>
#include <QPushButton>
#include <QSpinBox>
#include <QTextBrowser>
#include <QWidget>
#include <array>

namespace marram {

/// Beside the cross-section: what is selected, why it is so, and its settings under the hand.
class SeasonInspector : public QWidget {
    Q_OBJECT
public:
    explicit SeasonInspector(QWidget* parent = nullptr);

    void show(const SeasonPicture& picture, const SeasonMarks& marks, const std::vector<Limit>& limits,
              bool limitsReady);

signals:
    void changed(const marram::Season& season, const QString& what);

private:
    QWidget* makeRaceFields();
    QWidget* makeWeekFields();
    void fillRace();
    void fillWeek();
    void takeRace(const QString& what);
    void takeWeek(const QString& what);

    SeasonPicture picture_;
    SeasonMarks marks_;
    bool filling_ = false;
    QLabel* title_;
    QWidget *raceFields_, *weekFields_;
    QLineEdit* name_;
    QDateEdit* date_;
    QComboBox *priority_, *demand_, *kind_;
    QDoubleSpinBox *stress_, *gateLow_, *gateHigh_;
    QSpinBox* days_;
    QPushButton *remove_, *unpin_;
    std::array<QDoubleSpinBox*, 7> hours_{};
    QTextBrowser* words_;
};

} // namespace marram
