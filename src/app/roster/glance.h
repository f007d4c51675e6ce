// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "app/shell/read_aloud.h"
#include "core/review/attention.h"
#include <QLabel>
#include <QWidget>

namespace marram {

/// The last weeks of one rider, a line each: ridden over meant.
class RecentWeeks : public QWidget, public ReadAloud {
    Q_OBJECT
public:
    explicit RecentWeeks(QWidget* parent = nullptr);
    void show(std::vector<WeekRidden> weeks);
    std::vector<SpokenPart> spokenParts() const override;
    QSize sizeHint() const override;
    QSize minimumSizeHint() const override;

protected:
    void paintEvent(QPaintEvent*) override;

private:
    double line() const;
    std::vector<WeekRidden> weeks_;
};

/// Who is chosen in the list: what else asks for a look, what comes, and the last weeks.
class Glance : public QWidget {
    Q_OBJECT
public:
    explicit Glance(QWidget* parent = nullptr);
    /// One rider as they stand, their threshold in W.
    void show(const QString& name, const std::vector<Reason>& reasons, const Standing& standing,
              std::optional<double> threshold);
    /// Nobody: what to do instead.
    void show(const QString& words);
    /// Where the list needs the room, only what else asks for a look.
    void setBrief(bool brief);
    /// What all of it takes. [px]
    int wholeHeight() const;

private:
    void arrange();
    QLabel *name_, *reasons_, *facts_;
    QWidget* ridden_;
    RecentWeeks* weeks_;
    QString who_; ///< empty where nobody is shown
    QStringList more_;
    bool brief_ = false, hasWeeks_ = false;
};

} // namespace marram
