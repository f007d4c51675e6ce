// SPDX-License-Identifier: GPL-3.0-or-later
#include "support/season_window.h"
#include "support/suite.h"
#include "support/waits.h"

#include <QMenu>
#include <QScrollBar>
#include <QToolButton>

using namespace marram;
using namespace marram::test;

/// The season in a real window: tried, compared, shown, looked back on.
class SeasonTriedTest : public SeasonWindow {
    Q_OBJECT
private slots:
    void initTestCase() { openOnTheDemo(); }
    void cleanupTestCase() { closeIt(); }

    void anAlternativeIsTriedKeptDroppedAndLasts() {
        const Season before = season();
        view().openOn(std::nullopt, -1);
        view().tryOut("2:1", [&] {
            Season s = before;
            s.rules.buildWeeks = 2;
            return s;
        }());
        QVERIFY(settled());
        QVERIFY(w_->plans.alternative() != 0);
        QVERIFY(sameSeason(*w_->chosen.season(), before)); // the season in force stands
        QVERIFY(view().picture().beside.has_value());
        const QString words = find<QTextBrowser>("seasonWords")->toPlainText();
        QVERIFY2(words.contains("What this changes") && words.contains("Hard days"), qPrintable(words));
        // An edit while it is looked at goes to it.
        find<QDoubleSpinBox>("ruleHardDays")->setValue(1);
        QVERIFY(settled());
        QCOMPARE(season().rules.hardDays, 1);
        QCOMPARE(w_->chosen.season()->rules.hardDays, before.rules.hardDays);
        view().renameAlternative("short blocks");
        // It lasts: closed and opened again it is there.
        window_.reset();
        w_.reset();
        openWindow();
        auto* which = find<QComboBox>("whichSeason");
        QCOMPARE(which->count(), 2);
        QCOMPARE(which->itemText(1), QString("short blocks"));
        which->setCurrentIndex(1);
        emit which->activated(1);
        QVERIFY(settled());
        QCOMPARE(season().rules.buildWeeks, 2);
        view().keepAlternative();
        QVERIFY(settled());
        QCOMPARE(w_->plans.alternative(), 0);
        QCOMPARE(w_->chosen.season()->rules.hardDays, 1);
        QCOMPARE(w_->chosen.seasons().size(), 2U); // in force, and the one of the past
        undo(); // one step: the alternative is back beside the season as it was
        QVERIFY(sameSeason(*w_->chosen.season(), before));
        QCOMPARE(w_->chosen.seasons().size(), 3U);
        view().tryOut({}, before);
        QVERIFY(settled());
        view().dropAlternative();
        QVERIFY(settled());
        QCOMPARE(w_->chosen.seasons().size(), 3U);
        w_->plans.lookAt(w_->chosen.seasons().back().id);
        QVERIFY(settled());
        view().dropAlternative();
        QVERIFY(settled());
        QVERIFY(sameSeason(season(), before));
    }

    void anAlternativeOfOneRiderIsNotAnothers() {
        const qint64 first = w_->chosen.id();
        view().tryOut("mine", season());
        QVERIFY(settled());
        for (const RiderRecord& r : w_->roster.riders())
            if (r.id != first && w_->chosen.id() == first)
                w_->chosen.choose(r.id);
        QVERIFY(w_->chosen.id() != first);
        QVERIFY(settled());
        QCOMPARE(w_->plans.alternative(), 0);
        QVERIFY(!view().picture().beside.has_value());
        w_->chosen.choose(first);
        QVERIFY(settled());
        w_->plans.lookAt(w_->chosen.seasons().back().id);
        QVERIFY(settled());
        view().dropAlternative();
        QVERIFY(settled());
    }

    void oneClickTriesAreInTheMenu() {
        auto* button = find<QToolButton>("tryButton");
        emit button->menu()->aboutToShow();
        QStringList all;
        for (QAction* a : button->menu()->actions()) {
            all << a->text();
            if (a->menu())
                for (QAction* b : a->menu()->actions())
                    all << b->text();
        }
        const QString words = all.join('\n');
        for (const char* part : {"An hour more on Thursdays", "Ill for a week", "A camp", "Polarised", "2:1",
                                 "A B race more", "missed"})
            QVERIFY2(words.contains(part), part);
        const auto before = w_->chosen.seasons().size();
        for (QAction* a : button->menu()->actions())
            if (a->text().startsWith("Ill for a week"))
                a->trigger();
        QVERIFY(settled());
        QCOMPARE(w_->chosen.seasons().size(), before + 1);
        QCOMPARE(season().away.back().why, AwayWhy::Illness);
        view().dropAlternative();
        QVERIFY(settled());
    }

    void theSheetComparesEverythingAtOnce() {
        view().compare();
        QPointer<CompareSheet> sheet = find<CompareSheet>("compareSheet");
        QVERIFY(sheet);
        QVERIFY(comes([&] { return sheet->complete(); }));
        auto* table = sheet->findChild<QTableWidget*>();
        QCOMPARE(table->rowCount(), static_cast<int>(1 + variantsOf(season()).size()));
        // The first row is the season as it is.
        const Summary is = summarise(w_->plans.whole(), plan());
        QCOMPARE(table->item(0, 1)->text(), QString::number(is.hours, 'f', 0));
        QCOMPARE(table->item(0, 2)->text(), QString::number(is.stress, 'f', 0));
        QVERIFY(sheet->csv().count('\n') == table->rowCount() + 1);
        // S28: between schools fitness stands at equal points too, and none of it is set bold.
        int column = 0;
        while (column < table->columnCount() &&
               !table->horizontalHeaderItem(column)->text().startsWith("at equal"))
            ++column;
        QVERIFY(column < table->columnCount());
        const auto tries = variantsOf(season());
        for (int row = 1; row < table->rowCount(); ++row) {
            const bool school = tries[static_cast<size_t>(row - 1)].group == "Schools";
            QCOMPARE(!table->item(row, column)->text().isEmpty(), school);
            if (!school)
                continue;
            QVERIFY(!table->item(row, column - 1)->font().bold());
            QVERIFY2(std::abs(table->item(row, column)->text().toDouble() -
                              table->item(0, column)->text().toDouble()) < 1,
                     qPrintable(sheet->csv()));
        }
        // What its sessions hold of what each asks for.
        const HeldWeeks held = heldWeeks(solveBlock(w_->plans.whole(), plan(), w_->plans.whole().start,
                                                    static_cast<int>(plan().weeks.size())));
        QVERIFY(held.held > held.all / 2);
        QCOMPARE(table->item(0, table->columnCount() - 1)->text(),
                 QString("%1 of %2").arg(held.held).arg(held.all));
        QVERIFY(sheet->findChild<QLabel*>("compareSchools")->text().contains("cannot rank schools"));
        // Two parts, each as wide as the sheet at most; every column is in one of them and the row stays
        // chosen.
        table->selectRow(2);
        std::vector<int> shown(static_cast<size_t>(table->columnCount()), 0);
        for (const char* part : {"page Race mornings", "page The riding"}) {
            sheet->findChild<QToolButton*>(part)->click();
            QVERIFY2(!table->horizontalScrollBar()->isVisible() && table->currentRow() == 2, part);
            for (int c = 0; c < table->columnCount(); ++c)
                shown[static_cast<size_t>(c)] += table->isColumnHidden(c) ? 0 : 1;
        }
        for (size_t c = 0; c < shown.size(); ++c)
            QCOMPARE(shown[c], c < 3 ? 2 : 1);
        // One is tried from it.
        table->selectRow(1);
        sheet->findChild<QPushButton*>("compareTry")->click();
        QVERIFY(settled());
        QVERIFY(w_->plans.alternative() != 0);
        view().dropAlternative();
        QVERIFY(settled());
        // It is of one season: another rider closes it, also while it is solving.
        view().compare();
        QPointer<CompareSheet> second = find<CompareSheet>("compareSheet");
        const qint64 rider = w_->chosen.id();
        w_->chosen.choose(w_->roster.riders().back().id);
        QVERIFY(comes([&] { return second.isNull(); }));
        w_->chosen.choose(rider);
        QVERIFY(settled());
    }

    void aRaceGetsItsCourseItsResultAndItsNote() {
        QFile gpx(folder_.filePath("course.gpx"));
        QVERIFY(gpx.open(QIODevice::WriteOnly));
        gpx.write("<gpx version=\"1.1\" xmlns=\"http://www.topografix.com/GPX/1/1\"><trk><trkseg>");
        // 20 km along a meridian, up 500 m and down again.
        for (int i = 0; i <= 200; ++i)
            gpx.write(QString("<trkpt lat=\"%1\" lon=\"8\"><ele>%2</ele></trkpt>")
                          .arg(54 + i * 0.1 / 111.195, 0, 'f', 7)
                          .arg(i < 100 ? 5.0 * i : 5.0 * (200 - i))
                          .toUtf8());
        gpx.write("</trkseg></trk></gpx>");
        gpx.close();
        view().showRaces(true);
        int race = -1;
        for (size_t i = 0; i < season().races.size(); ++i)
            if (season().races[i].course.empty())
                race = static_cast<int>(i);
        QVERIFY(race >= 0);
        view().openOn(season().races[static_cast<size_t>(race)].date, race);
        view().races().bringCourse(gpx.fileName());
        QVERIFY(settled());
        const auto shown = [&]() -> const Race& { return season().races[static_cast<size_t>(race)]; };
        QVERIFY(std::abs(shown().course.back().distance - 20000) < 100);
        const QString asks = find<QTextBrowser>("raceAsks")->toPlainText();
        QVERIFY2(asks.contains("climbing") && asks.contains("Climb at") && asks.contains("longest ride"),
                 qPrintable(asks));
        find<QPushButton>("takeCourse")->click();
        QVERIFY(settled());
        QVERIFY(shown().stress && *shown().stress > 20 && *shown().stress < 200);
        auto* result = find<QLineEdit>("raceResult");
        result->setFocus();
        QTest::keyClicks(result, "3rd");
        QTest::keyClick(result, Qt::Key_Return);
        QVERIFY(settled());
        QCOMPARE(shown().result, std::string("3rd"));
        // Kept in the file, taken out by undo.
        const auto kept = seasonOf(w_->roster.file(), w_->chosen.id());
        QVERIFY(sameSeason(*kept, season()));
        undo();
        undo();
        undo();
        QVERIFY(shown().course.empty() && shown().result.empty());
        // A file that is no course says so, and nothing changes.
        QSignalSpy failed(&w_->notices, &Notices::failed);
        view().races().bringCourse(path_);
        QVERIFY(failed.wait(Patience));
        QVERIFY(failed[0][0].toString().contains("club.marram"));
        QVERIFY(shown().course.empty());
        view().showRaces(false);
    }

    void lastingCountsPartsOfHours() {
        const qint64 first = w_->chosen.id();
        bool told = false;
        for (const RiderRecord& rider : w_->roster.riders()) {
            w_->chosen.choose(rider.id);
            double longest = 0;
            for (const RideRecord& r : w_->chosen.rides())
                if (!r.excluded && r.day > today_ - 112 && r.day <= today_)
                    longest = std::max(longest, r.score.duration / 3600.0);
            if (!w_->chosen.season() || longest <= 0)
                continue;
            told = told || longest - std::floor(longest) > 0.01; // whole hours say nothing
            QVERIFY(std::abs(w_->chosen.facts().lasting(w_->chosen.season()->races[0]).longest - longest) <
                    1e-9);
        }
        QVERIFY(told);
        w_->chosen.choose(first);
        QVERIFY(settled());
    }

    void chancesAndTheWeekAreSaidInWords() {
        view().openOn(season().races[0].date, 0);
        QVERIFY(comes([&] { return !w_->plans.chances().empty(); }));
        QVERIFY(comes(
            [&] { return find<QTextBrowser>("seasonWords")->toPlainText().contains("If days are missed"); }));
        const QString words = find<QTextBrowser>("seasonWords")->toPlainText();
        QVERIFY2(words.contains("form is inside the gate") && words.contains("lower than planned"),
                 qPrintable(words));
        view().openOn(std::nullopt, -1);
        const QString season = find<QTextBrowser>("seasonWords")->toPlainText();
        QVERIFY2(season.contains("Last week") && season.contains("planned days were ridden"),
                 qPrintable(season));
    }

    void thePageIsSavedInEveryForm() {
        view().showPage();
        auto* page = find<WallPage>("wallPage");
        QVERIFY(page);
        const auto saved = [&](const QString& name) {
            const QString path = folder_.filePath(name);
            const QString wrong = page->save(path);
            if (!wrong.isEmpty())
                qWarning("%s", qPrintable(wrong));
            QFile file(path);
            (void)file.open(QIODevice::ReadOnly);
            return file.readAll();
        };
        QVERIFY(saved("s.pdf").startsWith("%PDF"));
        QSvgRenderer svg(saved("s.svg"));
        QVERIFY(svg.isValid() && svg.defaultSize().width() > svg.defaultSize().height());
        const QImage png = QImage::fromData(saved("s.png"));
        QVERIFY(png.width() > 2000 && png.width() > png.height());
        // On paper it is dark on white whatever the theme.
        QCOMPARE(png.pixelColor(3, 3), QColor(Qt::white));
        QVERIFY(saved("s.ics").contains("Marrow Point Stage Race"));
        QVERIFY(saved("s.csv").startsWith("date,weekday"));
        QVERIFY(!page->save(folder_.filePath("nowhere/s.pdf")).isEmpty()); // says what is wrong
        for (const char* name : {"s.pdf", "s.svg", "s.png", "s.ics", "s.csv"})
            QCOMPARE(QFile::permissions(folder_.filePath(name)) &
                         (QFile::ReadGroup | QFile::ReadOther | QFile::WriteOther),
                     QFile::Permissions());
        page->close();
    }

    void aSeasonMadeHereGivesTheSamePlanOnTheCommandLine() {
        view().showPage();
        const QString file = folder_.filePath("season.json");
        QCOMPARE(find<WallPage>("wallPage")->save(file), QString());
        find<WallPage>("wallPage")->close();
        QProcess cli;
        cli.start(BIN_DIR "/marram-cli", {"plan", file});
        QVERIFY(cli.waitForFinished(Patience));
        QCOMPARE(cli.exitCode(), 0);
        const QJsonArray days =
            QJsonDocument::fromJson(cli.readAllStandardOutput()).object()["days"].toArray();
        const Plan here = solveSeason(w_->plans.whole()).plan;
        QCOMPARE(static_cast<size_t>(days.size()), here.days.size());
        for (size_t i = 0; i < here.days.size(); ++i) {
            const QJsonObject day = days[static_cast<qsizetype>(i)].toObject();
            QVERIFY(std::abs(here.days[i].stress - day["stress"].toDouble()) < 1e-9);
            QVERIFY(std::abs(here.days[i].form - day["form"].toDouble()) < 1e-9);
            // And it is what the window shows.
            QVERIFY(std::abs(here.days[i].stress - plan().days[i].stress) < 0.5);
        }
    }

    void aSeasonThatIsOverIsLookedBackOnAndTheNextBegun() {
        const Date end = w_->chosen.season()->end;
        w_->clock.setToday(end + 3);
        QVERIFY(comes([&] { return find<QToolButton>("overButton")->isVisible(); }));
        find<QToolButton>("overButton")->click();
        auto* dialog = find<SeasonEnd>("seasonEnd");
        QVERIFY(dialog);
        const QString words = dialog->findChild<QTextBrowser*>("seasonSummary")->toPlainText();
        QVERIFY2(words.contains("Fitness went from") && words.contains("Marrow Point"), qPrintable(words));
        const auto seasons = w_->chosen.seasons().size();
        dialog->findChild<QPushButton*>("beginNext")->click();
        QVERIFY(settled());
        QCOMPARE(w_->chosen.seasons().size(), seasons + 1);
        QVERIFY(w_->chosen.season()->start > end - 7);
        undo();
        QCOMPARE(w_->chosen.season()->end, end);
        w_->clock.setToday(today_);
        QCoreApplication::processEvents();
    }
};

MARRAM_WINDOW_SUITE(SeasonTriedTest)
#include "tst_season_tried.moc"
