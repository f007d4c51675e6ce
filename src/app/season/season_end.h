// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "app/owners/workspace.h"
#include <QDialog>

class QComboBox;
class QPushButton;
class QTextBrowser;

namespace marram {

/// How a season went, from the record: load, what was missed, how each race was met and how it went, what it
/// taught. Rich text.
QString howItWent(const Workspace& workspace, const SeasonRecord& record);

/// The season after one that is over: the same rules, beginning this week or after its end, whichever is
/// later, a year long; its A and B races 52 weeks later, without results. Where none falls into it, an A race
/// half a year ahead.
Season nextSeason(const Season& season, Date today);

/// Looks back at a season, and begins the next from it.
class SeasonEnd : public QDialog {
    Q_OBJECT
public:
    SeasonEnd(Workspace& workspace, QWidget* parent = nullptr);

private:
    void fill();

    Workspace& workspace_;
    std::vector<SeasonRecord> seasons_; ///< in force and history, newest first
    QComboBox* which_;
    QTextBrowser* words_;
    QPushButton* begin_;
};

} // namespace marram
