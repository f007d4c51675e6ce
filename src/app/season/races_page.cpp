// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/season/races_page.h"
#include "app/season/course_profile.h"
#include "app/settings/settings.h"
#include "app/shell/tables.h"
#include "app/theme/theme.h"
#include "formats/files/files.h"
#include "formats/gpx/gpx.h"
#include "wording/wording.h"

#include <QFileDialog>
#include <QFileInfo>
#include <QGridLayout>
#include <QHBoxLayout>
#include <QPushButton>
#include <QSettings>
#include <QTextBrowser>
#include <QVBoxLayout>
#include <cmath>

namespace marram {
namespace {

QString peoplesTime(double seconds) {
    const int minutes = static_cast<int>(std::lround(seconds / 60));
    return minutes < 60 ? QString("%1 min").arg(minutes)
                        : QString("%1 h %2 min").arg(minutes / 60).arg(minutes % 60, 2, 10, QChar('0'));
}

QString day(Date d) {
    return QString::fromStdString(dayText(d));
}

} // namespace

RacesPage::RacesPage(Workspace& workspace, QWidget* parent)
    : QWidget(parent), workspace_(workspace),
      list_(quietTable({wording("race"), "", wording("day"), wording("weeks to go"), wording("points"),
                        wording("form"), wording("gate"), wording("fitness"), wording("course"),
                        wording("result")},
                       "racesList", 3)),
      title_(headingLabel({})), profile_(new CourseProfile), words_(new QTextBrowser), lower_(new QWidget),
      bring_(new QPushButton(wording("Bring its course"))),
      take_(new QPushButton(wording("Take stress and demand"))),
      away_(new QPushButton(wording("Take it out"))), result_(new QLineEdit), note_(new QPlainTextEdit) {
    auto* layout = new QVBoxLayout(this);
    layout->setContentsMargins(14, 6, 10, 8);
    layout->addWidget(list_, 2);
    auto* add = new QPushButton(wording("Add a race"));
    add->setObjectName("racesAdd");
    layout->addWidget(add, 0, Qt::AlignLeft);
    auto* below = new QVBoxLayout(lower_);
    below->setContentsMargins(0, 8, 0, 0);
    below->addWidget(title_);
    below->addWidget(profile_);
    auto* buttons = new QHBoxLayout;
    for (QPushButton* b : {bring_, take_, away_})
        buttons->addWidget(b);
    buttons->addStretch();
    bring_->setObjectName("bringCourse");
    take_->setObjectName("takeCourse");
    away_->setObjectName("removeCourse");
    below->addLayout(buttons);
    auto* columns = new QHBoxLayout;
    words_->setObjectName("raceAsks");
    words_->setAccessibleName(wording("What the race asks"));
    words_->document()->setDocumentMargin(0);
    words_->setFont(typeface(Type::Body));
    columns->addWidget(words_, 3);
    auto* after = new QGridLayout;
    after->addWidget(captionLabel(wording("Result")), 0, 0);
    after->addWidget(result_, 0, 1);
    after->addWidget(captionLabel(wording("Note")), 1, 0, Qt::AlignTop);
    after->addWidget(note_, 1, 1);
    result_->setObjectName("raceResult");
    result_->setAccessibleName(wording("Result"));
    result_->setPlaceholderText(wording("12th, 34 s behind"));
    note_->setObjectName("raceNote");
    note_->setAccessibleName(wording("Note on the race"));
    note_->setPlaceholderText(wording("How it went, what to do otherwise"));
    columns->addLayout(after, 2);
    below->addLayout(columns, 1);
    layout->addWidget(lower_, 3);

    connect(list_, &QTableWidget::itemSelectionChanged, this, [this] {
        if (const int row = list_->currentRow(); !filling_ && row >= 0 && list_->item(row, 0)) {
            const int race = list_->item(row, 0)->data(Qt::UserRole).toInt();
            if (race >= 0 && static_cast<size_t>(race) < picture_.season.races.size())
                emit chosen(picture_.season.races[static_cast<size_t>(race)].date, race);
        }
    });
    connect(add, &QPushButton::clicked, this, &RacesPage::wantsRace);
    connect(bring_, &QPushButton::clicked, this, [this] {
        const QString file =
            QFileDialog::getOpenFileName(this, wording("The course of the race"),
                                         QSettings().value("coursesFolder").toString(), "GPX (*.gpx)");
        if (file.isEmpty())
            return;
        QSettings().setValue("coursesFolder", QFileInfo(file).absolutePath());
        bringCourse(file);
    });
    const auto subject = [this] { return chosenKey(); };
    connect(take_, &QPushButton::clicked, this, [this, subject] {
        if (!demand_)
            return;
        const CourseDemand d = *demand_;
        change(subject(), wording("Take stress and demand from the course"), [d](Race& r) {
            r.stress = std::round(d.stress);
            r.demand = named<Demand>(d.demand, {Demand::Steady, Demand::Long, Demand::Punchy, Demand::Road,
                                                Demand::Stage})
                           .value_or(r.demand);
        });
    });
    connect(away_, &QPushButton::clicked, this, [this, subject] {
        change(subject(), wording("Take a course out"), [](Race& r) { r.course.clear(); });
    });
    resultBound_ = Binding::text(result_, [this](qint64 race, const QVariant& v) {
        change(race, wording("Write down a result"), [&](Race& r) { r.result = v.toString().toStdString(); });
    });
    noteBound_ = Binding::area(note_, [this](qint64 race, const QVariant& v) {
        change(race, wording("Write down a note on a race"),
               [&](Race& r) { r.note = v.toString().toStdString(); });
    });
}

qint64 RacesPage::chosenKey() const {
    return race_ >= 0 ? raceKey(picture_.subject, picture_.season.races[static_cast<size_t>(race_)]) : 0;
}

void RacesPage::show(const SeasonPicture& picture, int race) {
    const bool there = race >= 0 && static_cast<size_t>(race) < picture.season.races.size();
    if (chosenKey() !=
        (there ? raceKey(picture.subject, picture.season.races[static_cast<size_t>(race)]) : 0))
        Binding::finishWithin(this); // what is being typed belongs to the race shown until now
    picture_ = picture;
    race_ = race >= 0 && static_cast<size_t>(race) < picture.season.races.size() ? race : -1;
    fillList();
    lower_->setVisible(race_ >= 0);
    if (race_ >= 0)
        fillRace();
}

static QStringList cellsOf(const Race& race, const SeasonPicture& picture) {
    const PlannedRace* planned = nullptr;
    for (const PlannedRace& p : picture.plan.races)
        if (p.name == race.name && p.date == race.date)
            planned = &p;
    const int weeks = (race.date - picture.today) / 7;
    const auto gate = gateInForce(race, picture.plan);
    QString length;
    const Units units = shownUnits();
    if (!race.course.empty())
        length =
            QString("%1 %2")
                .arg(units.distance(race.course.back().distance - race.course.front().distance), 0, 'f', 0)
                .arg(units.distanceUnit());
    return {QString::fromStdString(race.name),
            wording(nameOf(race.priority)),
            QString::fromStdString(shortWeekdayText(weekday(race.date))) + " " + day(race.date),
            race.date >= picture.today ? QString::number(weeks) : QString(),
            decimal(raceStress(race), 0),
            planned ? QString::fromStdString(signedText(planned->form, 0)) : QString(),
            gate ? wording("%1 to %2")
                       .arg(QString::fromStdString(signedText(gate->low, 0)),
                            QString::fromStdString(signedText(gate->high, 0)))
                 : QString(),
            planned ? decimal(planned->fitness, 0) : QString(),
            length,
            QString::fromStdString(race.result)};
}

void RacesPage::fillList() {
    filling_ = true;
    std::vector<size_t> order(picture_.season.races.size());
    for (size_t i = 0; i < order.size(); ++i)
        order[i] = i;
    std::sort(order.begin(), order.end(), [&](size_t a, size_t b) {
        return picture_.season.races[a].date < picture_.season.races[b].date;
    });
    list_->setRowCount(static_cast<int>(order.size()));
    int chosenRow = -1;
    for (size_t row = 0; row < order.size(); ++row) {
        const Race& race = picture_.season.races[order[row]];
        const QStringList cells = cellsOf(race, picture_);
        for (int c = 0; c < cells.size(); ++c) {
            auto* cell = tableCell(cells[c], c > 2 && c < 9);
            cell->setData(Qt::UserRole, static_cast<int>(order[row]));
            if (race.priority == Priority::A)
                cell->setFont(typeface(Type::Body, true));
            list_->setItem(static_cast<int>(row), c, cell);
        }
        if (static_cast<int>(order[row]) == race_)
            chosenRow = static_cast<int>(row);
    }
    if (chosenRow >= 0 && list_->currentRow() != chosenRow)
        list_->selectRow(chosenRow);
    else if (chosenRow < 0)
        list_->clearSelection();
    filling_ = false;
}

void RacesPage::fillRace() {
    const Race& race = picture_.season.races[static_cast<size_t>(race_)];
    const qint64 subject = chosenKey();
    title_->setText(QString::fromStdString(race.name));
    demand_.reset();
    QString refusal;
    if (const RiderRecord* rider = workspace_.chosen.rider(); rider && !race.course.empty()) {
        const Date today = picture_.today;
        const auto threshold = rider->values.on(Quantity::ThresholdPower, today);
        if (!threshold)
            refusal = wording(
                "What the course asks in time and power needs the rider's threshold power: enter it with the "
                "rider.");
        else if (const auto ridden =
                     rideCourse(race.course, movingOf(*rider, today), *threshold, std::nullopt)) {
            demand_ = *ridden;
            refusal = boundSentence(*rider, today);
        } else
            refusal = QString::fromStdString(ridden.error().sentence);
    }
    profile_->show(race.course, demand_ ? demand_->climbs : std::vector<Climb>{});
    take_->setVisible(demand_.has_value());
    away_->setVisible(!race.course.empty());
    words_->setHtml((refusal.isEmpty() ? QString() : "<p>" + refusal.toHtmlEscaped() + "</p>") +
                    words(race, demand_));
    resultBound_->show(subject, QString::fromStdString(race.result));
    noteBound_->show(subject, QString::fromStdString(race.note));
}

QString RacesPage::words(const Race& race, const std::optional<CourseDemand>& demand) const {
    const auto paragraph = [](const QString& s) {
        return "<p style='margin:3px 0'>" + s.toHtmlEscaped() + "</p>";
    };
    const Units units = shownUnits();
    QString out;
    if (demand) {
        out += paragraph(
            wording("%1 %9 with %2 m of climbing: about %3 at %4 W, %5 % of threshold; %6 kJ and %7 "
                    "points. It asks like a %8 race.")
                .arg(units.distance(demand->distance), 0, 'f', 1)
                .arg(demand->climb, 0, 'f', 0)
                .arg(peoplesTime(demand->duration))
                .arg(demand->power, 0, 'f', 0)
                .arg(100 * demand->intensity, 0, 'f', 0)
                .arg(demand->work, 0, 'f', 0)
                .arg(demand->stress, 0, 'f', 0)
                .arg(wording(demand->demand), units.distanceUnit()));
        out += paragraph(wording(
            "Ridden alone at constant power with the weight in force, 8 kg of bicycle and no wind: in a "
            "bunch it is quicker and less even."));
        size_t named = 0;
        for (const Climb& climb : demand->climbs) {
            if (++named > 6) {
                out += paragraph(wording("… and %1 more.").arg(demand->climbs.size() - 6));
                break;
            }
            out += paragraph(wording("Climb at %1 %6: %2 %6, %3 m, %4 %, %5.")
                                 .arg(units.distance(climb.start), 0, 'f', 1)
                                 .arg(units.distance(climb.length), 0, 'f', 1)
                                 .arg(climb.gain, 0, 'f', 0)
                                 .arg(100 * climb.gradient, 0, 'f', 1)
                                 .arg(peoplesTime(climb.duration), units.distanceUnit()));
        }
    } else if (race.course.empty()) {
        out += paragraph(
            wording("Without a course its stress and demand are the coach's figures, or usual ones."));
    }
    out += paragraph(QString::fromStdString(workspace_.chosen.facts().lasting(race).words));
    return out + lastTime(race);
}

/// Races of the same name before: the form they were met with, the taper before them, how they went.
QString RacesPage::lastTime(const Race& race) const {
    QString out;
    for (const SeasonRecord& s : workspace_.chosen.seasons()) {
        if (s.standing == SeasonStanding::Alternative)
            continue;
        for (const Race& then : s.season.races) {
            if (then.name != race.name || then.date >= race.date || then.date >= picture_.today)
                continue;
            const LoadState state = workspace_.chosen.history().before(then.date);
            out += wording("<p style='margin:6px 0 3px 0'>%1: form %2, fitness %3, after a taper of %4 "
                           "days.%5%6</p>")
                       .arg(QString::fromStdString(dayText(then.date, picture_.today)).toHtmlEscaped(),
                            QString::fromStdString(signedText(state.form(), 0)))
                       .arg(state.fitness, 0, 'f', 0)
                       .arg(s.season.rules.taperDays)
                       .arg(then.result.empty()
                                ? QString()
                                : " " + QString::fromStdString(then.result).toHtmlEscaped() + ".",
                            then.note.empty() ? QString()
                                              : " " + QString::fromStdString(then.note).toHtmlEscaped());
        }
    }
    return out;
}

void RacesPage::bringCourse(const QString& file) {
    if (race_ < 0)
        return;
    const qint64 subject = chosenKey();
    const std::string name = picture_.season.races[static_cast<size_t>(race_)].name;
    const auto found = std::make_shared<Result<std::vector<CoursePoint>>>();
    bring_->setEnabled(false);
    jobs_.begin(
        JobKind::Efforts,
        [file, found](JobLink&) {
            const auto bytes = readWholeFile(file);
            if (!bytes) {
                *found = tl::unexpected(bytes.error());
                return;
            }
            *found = readGpxCourse(*bytes);
            if (!*found)
                *found = refuse(file.toStdString() + ": " + found->error().sentence);
            else
                *found = thinned(**found, mostCoursePoints);
        },
        [this, file, found, subject, name] {
            bring_->setEnabled(true);
            if (!*found) {
                emit workspace_.notices.failed(QString::fromStdString(found->error().sentence));
                return;
            }
            // Meanwhile another season may be shown, or the race may be gone: it goes to the one it was for.
            change(subject, wording("Bring the course of %1", QString::fromStdString(name)),
                   [&](Race& r) { r.course = **found; });
        });
}

void RacesPage::change(qint64 subject, const QString& what, const std::function<void(Race&)>& edit) {
    Season after = picture_.season;
    Race* race = raceOfKey(subject, picture_.subject, after);
    if (!race)
        return;
    edit(*race);
    emit changed(picture_.subject, picture_.season, after, what);
}

} // namespace marram

#include "moc_races_page.cpp"
