// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "formats/csv/activities.h"
#include <QComboBox>
#include <QDialog>
#include <QPushButton>
#include <vector>

namespace marram {

/// Asks which column of a table holds what, over its first lines. Remembered for tables with the same header.
class ListDialog : public QDialog {
    Q_OBJECT
public:
    ListDialog(const QString& file, const ActivityHead& head, QWidget* parent);

    /// What was chosen for a header before; nothing where it never was.
    static std::optional<ActivityColumns> rememberedFor(const ActivityHead& head);

signals:
    void answered(const std::optional<marram::ActivityColumns>& columns); ///< nothing where it is no list

private:
    ActivityColumns chosen() const;
    void follow();

    ActivityHead head_;
    std::vector<QComboBox*> kinds_; ///< one a column
    QPushButton* take_;
};

} // namespace marram
