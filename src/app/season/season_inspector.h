// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "app/season/rules_panel.h"
#include "app/season/season_painter.h"
#include "app/shell/binding.h"
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
#include <functional>

namespace marram {

/// Beside the cross-section: what is selected, why it is so, and its settings under the hand.
class SeasonInspector : public QWidget {
    Q_OBJECT
public:
    explicit SeasonInspector(QWidget* parent = nullptr);

    void show(const SeasonPicture& picture, const SeasonMarks& marks, const std::vector<Limit>& limits,
              bool limitsReady);

signals:
    void changed(qint64 season, const marram::Season& before, const marram::Season& after,
                 const QString& what);

private:
    QWidget* makeRaceFields();
    QWidget* makeWeekFields();
    void fillRace();
    void fillWeek();
    void changeRace(qint64 subject, const QString& what, const std::function<void(Race&)>& edit);
    void changeWeek(qint64 subject, const QString& what, const std::function<void(WeekPin&)>& edit);
    void change(const Season& after, const QString& what);

    SeasonPicture picture_;
    SeasonMarks marks_;
    QLabel* title_;
    QWidget *raceFields_, *weekFields_;
    QLineEdit* name_;
    QDateEdit* date_;
    QComboBox *priority_, *demand_, *kind_, *phase_;
    QDoubleSpinBox *stress_, *gateLow_, *gateHigh_;
    QSpinBox* days_;
    QPushButton *remove_, *unpin_;
    std::array<QDoubleSpinBox*, 7> hours_{};
    std::array<Binding*, 7> hoursBound_{};
    Binding *nameBound_, *dateBound_, *priorityBound_, *demandBound_, *stressBound_, *daysBound_, *lowBound_,
        *highBound_, *kindBound_, *phaseBound_;
    RulesPanel* rules_;
    QTextBrowser* words_;
    QString html_; ///< what it shows
};

} // namespace marram
