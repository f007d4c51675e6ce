// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "app/owners/open_roster.h"
#include <QDialog>

class QTableWidget;

namespace marram {

/// The copies of the open roster; one of them can be restored as a new file.
class CopiesDialog : public QDialog {
    Q_OBJECT
public:
    explicit CopiesDialog(OpenRoster& roster, QWidget* parent);
    /// Restores the chosen copy as a new file; asks where none is named.
    void restore(QString to = {});

signals:
    void restored(const QString& path);

private:
    OpenRoster& roster_;
    QTableWidget* table_;
};

} // namespace marram
