// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "core/calendar/date.h"
#include "core/calendar/problem.h"
#include "wording/wording.h"
#include <QObject>
#include <QTimer>

namespace marram {

/// What there is to say to the coach in a line. Anybody may say it; the window shows it.
class Notices : public QObject {
    Q_OBJECT
public:
    /// Says why something failed; true where it did not.
    bool passed(const Result<void>& result) {
        if (!result)
            emit failed(QString::fromStdString(result.error().sentence));
        return result.has_value();
    }
    /// The same for an edit, which is all or nothing.
    bool edited(const Result<void>& result) {
        if (!result)
            emit failed(wording("%1 Nothing was changed.", QString::fromStdString(result.error().sentence)));
        return result.has_value();
    }

signals:
    void said(const QString& sentence);   ///< something worth a line
    void failed(const QString& sentence); ///< something that could not be done
};

/// The day it is. It goes on at midnight, also when the machine slept over it, unless a day was set, as tests
/// and pictures do.
class Clock : public QObject {
    Q_OBJECT
public:
    explicit Clock(QObject* parent = nullptr);
    Date today() const { return today_; }
    void setToday(Date today);
    /// Looks at the calendar again; what the timer does every minute. `now` stands in for it in tests.
    void look(std::optional<Date> now = std::nullopt);

signals:
    void dayChanged();

private:
    Date today_;
    bool set_ = false;
    QTimer timer_;
};

} // namespace marram
