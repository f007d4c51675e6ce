// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/roster/squad_dialog.h"
#include "app/shell/dates.h"
#include "app/shell/tables.h"

#include <QGridLayout>

namespace marram {

SquadDialog::SquadDialog(int riders, Date today, QWidget* parent)
    : QDialog(parent), kind_(new QComboBox), priority_(new QComboBox), name_(new QLineEdit),
      from_(new QDateEdit), days_(new QSpinBox), stress_(new QSpinBox),
      put_(new QPushButton(riders == 1 ? QString("Put on one rider")
                                       : QString("Put on %1 riders").arg(riders))) {
    setObjectName("squadDialog");
    setWindowTitle("Put on all");
    auto* grid = new QGridLayout(this);
    grid->setHorizontalSpacing(16);
    int row = 0;
    const auto add = [&](const QString& words, QWidget* field, const char* name, bool ofRace = false) {
        auto* label = captionLabel(words);
        label->setBuddy(field);
        field->setObjectName(name);
        field->setAccessibleName(QString(words).remove('&'));
        grid->addWidget(label, row, 0);
        grid->addWidget(field, row++, 1);
        if (ofRace)
            ofRaces_.insert(ofRaces_.end(), {label, field});
    };
    kind_->addItems({"a race", "a camp", "days away"});
    priority_->addItems({"A: peak for it", "B: freshen for it", "C: train through"});
    priority_->setCurrentIndex(2);
    from_->setDisplayFormat("ddd d MMM yyyy");
    from_->setCalendarPopup(true);
    from_->setDate(toQt(monday(today) + 27));
    days_->setRange(1, 30);
    days_->setSuffix(" d");
    stress_->setRange(0, 5000);
    stress_->setSingleStep(10);
    stress_->setSuffix(" pts");
    stress_->setSpecialValueText("as is usual");
    name_->setMinimumWidth(qRound(280 * textScale()));
    add("&What", kind_, "squadKind");
    add("&Name", name_, "squadName", true);
    add("&First day", from_, "squadFrom");
    add("Fo&r", days_, "squadDays");
    add("&Priority", priority_, "squadPriority", true);
    add("&Stress", stress_, "squadStress");
    auto* hint =
        wordsLabel("Each rider's season is solved anew with it. Who has no season on that day, or has a "
                   "race of that name on it, is left as they are. One step to undo.",
                   true);
    hint->setMinimumWidth(qRound(380 * textScale()));
    grid->addWidget(hint, row++, 0, 1, 2);
    auto* cancel = new QPushButton("Cancel");
    put_->setObjectName("squadPut");
    put_->setDefault(true);
    auto* buttons = new QHBoxLayout;
    buttons->addStretch();
    buttons->addWidget(cancel);
    buttons->addWidget(put_);
    grid->addLayout(buttons, row, 0, 1, 2);
    connect(kind_, &QComboBox::currentIndexChanged, this, &SquadDialog::follow);
    connect(name_, &QLineEdit::textChanged, this, &SquadDialog::follow);
    connect(cancel, &QPushButton::clicked, this, &QDialog::reject);
    connect(put_, &QPushButton::clicked, this, [this] {
        emit answered(chosen());
        accept();
    });
    follow();
    name_->setFocus();
}

SquadAddition SquadDialog::chosen() const {
    SquadAddition a;
    a.what = static_cast<SquadAddition::What>(kind_->currentIndex());
    a.name = name_->text().trimmed().toStdString();
    a.from = fromQt(from_->date());
    a.days = days_->value();
    a.priority = static_cast<Priority>(priority_->currentIndex());
    if (stress_->value() > 0)
        a.stress = stress_->value();
    return a;
}

void SquadDialog::follow() {
    const auto what = static_cast<SquadAddition::What>(kind_->currentIndex());
    for (QWidget* w : ofRaces_)
        w->setEnabled(what == SquadAddition::What::Race);
    stress_->setEnabled(what != SquadAddition::What::Away);
    put_->setEnabled(what != SquadAddition::What::Race || !name_->text().trimmed().isEmpty());
}

} // namespace marram

#include "moc_squad_dialog.cpp"
