// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "app/owners/worker.h"
#include "app/owners/workspace.h"
#include "app/season/season_picture.h"
#include "app/shell/binding.h"
#include <QWidget>

class QLabel;
class QPushButton;
class QTableWidget;
class QTextBrowser;

namespace marram {

class CourseProfile;

/// The races of a season in a list, and what the chosen one asks: its course with climbs, time, power and
/// stress found, whether the rider can last it, how it went a year before; results and notes afterwards.
class RacesPage : public QWidget {
    Q_OBJECT
public:
    explicit RacesPage(Workspace& workspace, QWidget* parent = nullptr);
    void show(const SeasonPicture& picture, int race);
    /// Reads a course beside the interface and gives it to the race shown.
    void bringCourse(const QString& file);

signals:
    void chosen(std::optional<Date> day, int race);
    void wantsRace();
    void changed(qint64 season, const marram::Season& before, const marram::Season& after,
                 const QString& what);

private:
    void fillList();
    qint64 chosenKey() const;
    void fillRace();
    QString words(const Race& race, const std::optional<CourseDemand>& demand) const;
    QString lastTime(const Race& race) const;
    void change(qint64 subject, const QString& what, const std::function<void(Race&)>& edit);

    Workspace& workspace_;
    SeasonPicture picture_;
    int race_ = -1;
    bool filling_ = false;
    std::optional<CourseDemand> demand_; ///< of the race shown
    QTableWidget* list_;
    QLabel* title_;
    CourseProfile* profile_;
    QTextBrowser* words_;
    QWidget* lower_;
    QPushButton *bring_, *take_, *away_;
    QLineEdit* result_;
    QPlainTextEdit* note_;
    Binding *resultBound_, *noteBound_;
    Jobs jobs_; ///< last: ends before what it delivers to
};

} // namespace marram
