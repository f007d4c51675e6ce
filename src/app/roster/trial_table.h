// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "records/addition.h"
#include <QTableWidget>
#include <map>

namespace marram {

/// What an addition would do to each rider, and who of them is to get it: a tick a rider, and for what is
/// ridden together how they take part.
class TrialTable : public QTableWidget {
    Q_OBJECT
public:
    explicit TrialTable(QWidget* parent = nullptr);
    /// The riders as they are reckoned so far; who was unticked stays so.
    void show(const SquadAddition& addition, const std::vector<SquadTrial>& trials, Date today);
    /// Those who are to get it, with what the coach set for how they take part.
    std::vector<SquadTrial> chosen() const;
    /// What a trial found, in words.
    static QString words(const SquadAddition& addition, const SquadTrial& trial, Date today);

signals:
    void changed(); ///< who gets it

private:
    enum class Part { AsAdvised, AsAsked, Easier };
    void fill();
    SquadTrial with(const SquadTrial& trial, Part part) const;

    SquadAddition addition_;
    std::vector<SquadTrial> trials_;
    Date today_;
    std::map<qint64, Part> parts_; ///< by rider, where the coach said otherwise
    std::map<qint64, bool> left_;  ///< by rider: unticked by the coach
    bool filling_ = false;
};

} // namespace marram
