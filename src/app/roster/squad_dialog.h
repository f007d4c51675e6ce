// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "app/owners/workspace.h"
#include "app/roster/trial_table.h"
#include <QComboBox>
#include <QDateEdit>
#include <QDialog>
#include <QLabel>
#include <QLineEdit>
#include <QPushButton>
#include <QSpinBox>
#include <QTimer>
#include <set>

class QGridLayout;

namespace marram {

/// Asks what is to be put on riders of a squad, and shows what it would do to each before it is done.
class SquadDialog : public QDialog {
    Q_OBJECT
public:
    SquadDialog(Workspace& workspace, QWidget* parent);
    ~SquadDialog() override;
    SquadAddition chosen() const;
    /// Shows something already known: a race that was dragged.
    void show(const SquadAddition& addition);

signals:
    /// The coach wants it, on these.
    void answered(const marram::SquadAddition& addition, const std::vector<marram::SquadTrial>& on);

private:
    using What = SquadAddition::What;
    struct Row {
        QLabel* label;
        QWidget* field;
        std::set<What> of; ///< kinds it is asked for; empty for all
    };
    What what() const { return static_cast<What>(kind_->currentData().toInt()); }
    QWidget* add(QGridLayout* grid, const QString& words, QWidget* field, const char* name,
                 std::set<What> of = {});
    void fillLists();
    void takeKnownRace(int index);
    void follow();
    bool complete(const SquadAddition& a) const;
    void reckon();
    void showTrials();

    Workspace& workspace_;
    Date today_;
    std::vector<Row> rows_;
    std::vector<Race> known_; ///< races of those shown, to be put on others with all they have
    QComboBox *kind_, *name_, *priority_, *family_, *moved_, *rule_, *like_;
    QLineEdit* words_;
    QDateEdit *from_, *to_;
    QSpinBox *days_, *stress_, *minutes_, *rung_, *times_, *every_;
    QLabel* state_;
    TrialTable* table_;
    QPushButton* put_;
    QTimer wait_;               ///< until the hand rests
    std::optional<Race> alike_; ///< the known race that was chosen
};

} // namespace marram
