// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "app/season/season_picture.h"
#include "app/shell/binding.h"
#include <QLabel>
#include <QPushButton>
#include <QScrollArea>
#include <array>

class QGridLayout;

namespace marram {

/// How this season is made: every rule with what is proposed for it and why, each solving live; the questions
/// that propose order and school; each phase's split.
class RulesPanel : public QScrollArea {
    Q_OBJECT
public:
    explicit RulesPanel(QWidget* parent = nullptr);
    void show(const SeasonPicture& picture);

signals:
    void changed(qint64 season, const marram::Season& before, const marram::Season& after,
                 const QString& what);

private:
    using Edit = std::function<void(Season&)>;
    struct Row {
        RuleName rule;
        QLabel *note = nullptr, *why = nullptr;
        QPushButton* take = nullptr;
        bool open = false;
    };
    void questions();
    void rows();
    void splits();
    void begin(const QString& name, RuleName rule, std::initializer_list<QWidget*> fields);
    void heading(const QString& words);
    Binding* number(QDoubleSpinBox* field, const QString& what,
                    const std::function<void(Season&, double)>& edit);
    Binding* choice(QComboBox* field, const QString& what, const std::function<void(Season&, int)>& edit);
    Binding* date(QDateEdit* field, const QString& what, const std::function<void(Season&, Date)>& edit);
    void change(qint64 season, const QString& what, const Edit& edit);
    void take(RuleName rule);
    RuleProposals proposals() const;
    void fillNotes();
    void setShare(Phase phase, int band, double percent, Season& season) const;

    SeasonPicture picture_;
    Questions asked_; ///< what the coach answered, for the rider shown
    qint64 askedFor_ = 0;
    QGridLayout* grid_;
    int line_ = 0;
    QComboBox *winter_, *lasts_, *weak_, *order_, *school_, *taperBest_, *shape_, *overreach_, *layOff_;
    QDateEdit *start_, *end_;
    QDoubleSpinBox *build_, *deload_, *ramp_, *floor_, *share_, *taper_, *hard_, *price_;
    std::array<QDoubleSpinBox*, 3> volume_{}, gym_{};
    std::array<std::array<QDoubleSpinBox*, 3>, 3> split_{};
    std::array<QLabel*, 3> splitNote_{};
    QLabel *answers_, *high_;
    std::vector<Row> row_;
    std::vector<std::pair<Binding*, std::function<QVariant(const Season&)>>> bound_;
};

} // namespace marram
