// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/block/block_words.h"
#include "formats/fit/workout.h"
#include "headunit/device.h"
#include "support/season_window.h"
#include "support/suite.h"
#include "support/waits.h"

#include <QApplication>
#include <QCheckBox>
#include <QClipboard>
#include <QGuiApplication>
#include <QListWidget>
#include <QMenu>
#include <QMessageBox>
#include <QPlainTextEdit>

using namespace marram;
using namespace marram::test;

/// The board, driven as a coach does: by hand, by keys and by words.
class BoardTest : public SeasonWindow {
    Q_OBJECT
    BlockView& block() { return window_->blockView(); }
    BoardCanvas& board() { return block().canvas(); }
    BlockService& service() { return w_->blocks; }
    const Date next_ = monday(today_) + 7;

    /// Waits until the newest edit has its sessions and they are on the screen.
    bool quiet() {
        return comes([&] {
            return !service().solving() && service().block() &&
                   block().picture().version == w_->chosen.seasonVersion();
        });
    }
    const BoardDay& day(Date d) { return *block().picture().day(d); }
    std::string familyOn(Date d) {
        const BlockSession* s = day(d).ride();
        return s ? s->family : day(d).sessions.empty() ? "rest" : day(d).sessions.front().family;
    }
    QPointF centre(Date d) {
        const int week = (monday(d) - block().picture().weeks.front().start) / 7;
        return board().scene().cell(week, d - monday(d)).center();
    }
    void dragDay(Date from, Date to, Qt::KeyboardModifiers keys = {}) {
        QTest::mousePress(&board(), Qt::LeftButton, keys, centre(from).toPoint());
        for (int i = 1; i <= 5; ++i) {
            const QPointF at = centre(from) + (centre(to) - centre(from)) * i / 5;
            QMouseEvent event(QEvent::MouseMove, at, board().mapToGlobal(at), Qt::NoButton, Qt::LeftButton,
                              keys);
            QApplication::sendEvent(&board(), &event);
        }
        QTest::mouseRelease(&board(), Qt::LeftButton, keys, centre(to).toPoint());
    }
    void key(int k, Qt::KeyboardModifiers m = {}) { QTest::keyClick(&board(), static_cast<Qt::Key>(k), m); }
    /// The first hard day with a ladder from a day on.
    Date hardDay(Date from) {
        for (Date d = from; d < from + 28; d = d + 1)
            if (const BoardDay* b = block().picture().day(d);
                b && b->ride() && b->ride()->role == Role::Hard && b->ride()->rung > 0)
                return d;
        return from;
    }
    /// A day of endurance alone in the week of another.
    Date easyDay(Date week) {
        for (Date d = monday(week); d < monday(week) + 7; d = d + 1)
            if (const BlockSession* s = day(d).ride();
                s && s->family == "endurance" && day(d).sessions.size() == 1)
                return d;
        return week;
    }

private slots:
    void initTestCase() {
        openOnTheDemo();
        QVERIFY(comes([&] { return !w_->roster.jobs().running(JobKind::Scoring); }));
        window_->go(Place::Block);
        service().look(monday(today_), 4);
        QVERIFY(quiet());
    }
    void cleanupTestCase() { closeIt(); }
    void cleanup() {
        while (w_->roster.steps().stack().canUndo())
            w_->roster.steps().stack().undo();
        block().showFamilies(false);
        service().look(monday(today_), 4);
        window_->activateWindow();
        QVERIFY(QTest::qWaitForWindowActive(window_.get(), Patience) && quiet());
    }

    void fourWeeksStandSideBySide() {
        QCOMPARE(block().picture().weeks.size(), 4U);
        for (const BoardWeek& w : block().picture().weeks) {
            QVERIFY(w.planned && w.summed);
            QVERIFY(w.target.stress <= 0 || std::abs(w.sum.stress / w.target.stress - 1) < 0.06);
        }
        QVERIFY(hardDay(next_) > next_);
        QCOMPARE(board().scene().cell(2, 3).top(), board().scene().cell(0, 3).top());
    }
    void aSessionIsDraggedToAnotherDayAndBack() {
        const Date from = hardDay(next_), to = easyDay(from);
        QVERIFY(from != to);
        const std::string family = familyOn(from);
        const int rung = day(from).ride()->rung;
        dragDay(from, to);
        QVERIFY(quiet());
        QCOMPARE(familyOn(to), family);
        QCOMPARE(day(to).ride()->rung, rung);
        QCOMPARE(familyOn(from), std::string("endurance"));
        QVERIFY(day(to).pin.holds() && day(from).pin.holds());
        QCOMPARE(steps(), 1);
        // The week still comes to what the season wants of it.
        for (const BoardWeek& w : block().picture().weeks)
            if (w.start == monday(to))
                QVERIFY(std::abs(w.sum.stress / w.target.stress - 1) < 0.05);
        w_->roster.steps().stack().undo();
        QVERIFY(quiet());
        QCOMPARE(familyOn(from), family);
    }
    void weeksBeforeAnEditStayAsTheyWere() {
        const Date from = hardDay(next_ + 7), to = easyDay(from);
        std::map<Date, std::string> before;
        for (Date d = next_; d < next_ + 7; d = d + 1)
            before[d] = day(d).ride() ? writeShorthand(day(d).ride()->session) : "";
        dragDay(from, to);
        QVERIFY(quiet());
        for (const auto& [d, words] : before)
            QCOMPARE(day(d).ride() ? writeShorthand(day(d).ride()->session) : "", words);
    }
    void withControlItIsCopied() {
        const Date from = hardDay(next_), to = easyDay(from);
        const std::string family = familyOn(from);
        dragDay(from, to, Qt::ControlModifier);
        QVERIFY(quiet());
        QCOMPARE(familyOn(to), family);
        QCOMPARE(familyOn(from), family);
    }
    void escapeLetsGoOfWhatIsDragged() {
        const Date from = hardDay(next_), to = easyDay(from);
        QTest::mousePress(&board(), Qt::LeftButton, {}, centre(from).toPoint());
        QMouseEvent event(QEvent::MouseMove, centre(to), board().mapToGlobal(centre(to)), Qt::NoButton,
                          Qt::LeftButton, {});
        QApplication::sendEvent(&board(), &event);
        key(Qt::Key_Escape);
        QTest::mouseRelease(&board(), Qt::LeftButton, {}, centre(to).toPoint());
        QCOMPARE(steps(), 0);
    }
    void everythingIsOnTheKeyboard() {
        const Date hard = hardDay(next_);
        board().choose(hard);
        board().setFocus();
        const int rung = day(hard).ride()->rung;
        key(Qt::Key_Plus);
        QVERIFY(quiet());
        QCOMPARE(day(hard).ride()->rung, rung + 1);
        key(Qt::Key_Minus);
        QVERIFY(quiet());
        QCOMPARE(day(hard).ride()->rung, rung);
        const int seconds = day(hard).ride()->seconds;
        key(Qt::Key_BracketRight);
        QVERIFY(quiet());
        QCOMPARE(day(hard).ride()->seconds, seconds + 300);
        key(Qt::Key_BracketLeft);
        QVERIFY(quiet());
        QCOMPARE(day(hard).ride()->seconds, seconds);
        key(Qt::Key_Backspace); // left to the block again
        QVERIFY(quiet());
        QVERIFY(!day(hard).pin.holds());
        key(Qt::Key_Space);
        QVERIFY(quiet());
        QVERIFY(day(hard).pin.holds());
        key(Qt::Key_C, Qt::ControlModifier);
        const Date easy = easyDay(hard);
        board().choose(easy);
        key(Qt::Key_V, Qt::ControlModifier);
        QVERIFY(quiet());
        QCOMPARE(familyOn(easy), familyOn(hard));
        key(Qt::Key_Delete);
        QVERIFY(quiet());
        QCOMPARE(familyOn(easy), std::string("rest"));
        key(Qt::Key_P); // the whole week stays as it stands
        QVERIFY(quiet());
        for (int i = 0; i < 7; ++i)
            QVERIFY(!day(monday(hard) + i).open() || day(monday(hard) + i).pin.holds());
        key(Qt::Key_Down);
        QCOMPARE(board().chosen(), std::optional(easy + 1));
        key(Qt::Key_Home);
        QCOMPARE(board().chosen(), std::optional(today_));
        key(Qt::Key_PageDown);
        QCOMPARE(service().from(), monday(today_) + 7);
        QTest::keyClick(window_.get(), Qt::Key_F1);
        auto* keys = window_->findChild<QDialog*>("keys");
        QVERIFY(keys && keys->findChild<QTextBrowser*>("keysList")->toPlainText().contains("climbs a rung"));
        keys->close();
    }
    void shiftWithArrowsMovesASession() {
        const Date hard = hardDay(next_);
        const std::string family = familyOn(hard);
        board().choose(hard);
        board().setFocus();
        key(Qt::Key_Right, Qt::ShiftModifier);
        QVERIFY(quiet());
        QCOMPARE(board().chosen(), std::optional(hard + 7));
        QCOMPARE(familyOn(hard + 7), family);
    }
    void aSessionIsWrittenInWords() {
        const Date easy = easyDay(next_);
        board().choose(easy);
        board().setFocus();
        key(Qt::Key_Return);
        QLineEdit* field = block().panel().line().field();
        QVERIFY(field->hasFocus());
        // A mistake is said at its place, and nothing is taken.
        QTest::keyClicks(field, "15 min 50 to 90, 3 x 8 m 106");
        QVERIFY(block().panel().line().mistake().contains("Character"));
        QTest::keyClick(field, Qt::Key_Return);
        QCOMPARE(steps(), 0);
        field->selectAll();
        QTest::keyClicks(field, "15 min 50 to 90, 3 x 8 min 106 with 5 min 50 between, 10 min 50");
        QVERIFY(find<QLabel>("sessionMistake")->isHidden());
        QTest::keyClick(field, Qt::Key_Return);
        QVERIFY(quiet());
        QCOMPARE(QString::fromStdString(writeShorthand(day(easy).ride()->session)),
                 QString("15 min 50 to 90, 3 × 8 min 106 with 5 min 50 between, 10 min 50"));
        // It is a rung of a ladder, and known as such.
        QCOMPARE(familyOn(easy), std::string("just above threshold"));
        QCOMPARE(day(easy).ride()->rung, 4);
        QVERIFY(board().hasFocus());
        // Emptied, the day is the block's again.
        key(Qt::Key_Return);
        field->selectAll();
        QTest::keyClick(field, Qt::Key_Delete);
        QTest::keyClick(field, Qt::Key_Return);
        QVERIFY(quiet());
        QVERIFY(!day(easy).pin.holds());
    }
    void typingCompletesToWhatFamiliesHold() {
        board().choose(easyDay(next_));
        board().setFocus();
        key(Qt::Key_Return);
        QLineEdit* field = block().panel().line().field();
        QTest::keyClick(field, Qt::Key_Delete);
        QTest::keyClicks(field, "15 min 50 to 90, low cad");
        auto* popup = window_->findChild<QAbstractItemView*>("sessionCompletions");
        if (!popup)
            for (QWidget* w : QApplication::topLevelWidgets())
                if (w->objectName() == "sessionCompletions")
                    popup = qobject_cast<QAbstractItemView*>(w);
        QVERIFY(popup && popup->isVisible());
        QCOMPARE(popup->model()->rowCount(), 5);
        QTest::keyClick(popup, Qt::Key_Down);
        QTest::keyClick(popup, Qt::Key_Return);
        QVERIFY(field->text().startsWith("15 min 50 to 90, 4 × 5 min 82 at 50 to 60 rpm"));
        QTest::keyClick(field, Qt::Key_Escape);
        QCOMPARE(steps(), 0);
    }
    void aFamilyTakesTheDayAndCanBeChanged() {
        const Date hard = hardDay(next_);
        board().choose(hard);
        board().setFocus();
        key(Qt::Key_F);
        QVERIFY(block().showsFamilies());
        auto* search = find<QLineEdit>("familySearch");
        QVERIFY(search->hasFocus());
        QTest::keyClicks(search, "low cadence");
        QTest::keyClick(search, Qt::Key_Return);
        QVERIFY(!block().showsFamilies() && board().hasFocus());
        QVERIFY(quiet());
        QCOMPARE(familyOn(hard), std::string("low cadence"));
        // A family of the coach's own, with a mistake on the way.
        block().showFamilies(true);
        QTest::mouseClick(find<QPushButton>("copyFamily"), Qt::LeftButton);
        auto* editor = window_->findChild<FamilyEditor*>("familyEditor");
        QVERIFY(editor);
        auto* rungs = editor->findChild<QPlainTextEdit*>("familyRungs");
        rungs->setPlainText("4 × 4 min 80 with 3 min 50 between\n4 × 5 m 80");
        QVERIFY(editor->findChild<QLabel*>("familyWrong")->text().contains("Line 2"));
        rungs->setPlainText("4 × 4 min 80 with 3 min 50 between\n5 × 4 min 80 with 3 min 50 between");
        editor->findChild<QLineEdit*>("familyName")->setText("sand climbs");
        editor->findChild<QCheckBox*>()->setChecked(true);
        editor->accept();
        QVERIFY(comes([&] { return service().book().named("sand climbs") != nullptr; }));
        QCOMPARE(service().book().named("sand climbs")->work.size(), 2U);
        QVERIFY(quiet());
        block().showFamilies(true);
        block().families().choose("sand climbs");
        QTest::mouseClick(find<QPushButton>("pickFamily"), Qt::LeftButton);
        QVERIFY(quiet());
        QCOMPARE(QString::fromStdString(familyOn(hard)), QString("sand climbs"));
        QCOMPARE(w_->roster.file().ownFamilies()->size(), 1U);
        w_->roster.steps().stack().undo();
        w_->roster.steps().stack().undo();
        QVERIFY(w_->roster.file().ownFamilies()->empty());
    }
    void aNoteAndAVerdictAreKept() {
        const Date hard = hardDay(next_);
        board().choose(hard);
        board().setFocus();
        key(Qt::Key_N);
        auto* note = find<QLineEdit>("sessionNote");
        QVERIFY(note->hasFocus());
        QTest::keyClicks(note, "Into the wind.");
        QTest::keyClick(note, Qt::Key_Return);
        QVERIFY(quiet());
        QVERIFY2(QString::fromStdString(day(hard).ride()->note).startsWith("Into the wind."),
                 day(hard).ride()->note.c_str());
        // A day that was ridden: its rung is judged, and the coach says otherwise.
        service().look(monday(today_) - 14, 4);
        QVERIFY(comes([&] {
            for (const BoardWeek& w : block().picture().weeks)
                for (const BoardDay& d : w.days)
                    if (d.against && d.ladder)
                        return true;
            return false;
        }));
        Date judged = today_;
        for (const BoardWeek& w : block().picture().weeks)
            for (const BoardDay& d : w.days)
                if (d.against && d.ladder)
                    judged = d.date;
        board().choose(judged);
        QVERIFY(find<QTextBrowser>("blockWords")->toPlainText().contains("Volume"));
        auto* verdict = find<QComboBox>("rungVerdict");
        QVERIFY(verdict->isVisible());
        verdict->setCurrentIndex(3);
        emit verdict->activated(3);
        QVERIFY(comes([&] { return service().verdictOn(judged) == RungVerdict::Ease; }));
        QVERIFY(quiet());
        QVERIFY(find<QTextBrowser>("blockWords")->toPlainText().contains("The coach's word: ease"));
    }
    void theRideStandsOverItsPrescription() {
        Date ridden = today_;
        service().look(monday(today_) - 14, 4);
        QVERIFY(comes([&] {
            for (const BoardWeek& w : block().picture().weeks)
                for (const BoardDay& d : w.days)
                    if (d.against && d.meant && d.meant->rung > 0)
                        ridden = d.date;
            return ridden != today_;
        }));
        board().choose(ridden);
        QTest::mouseClick(find<QPushButton>("seeRideButton"), Qt::LeftButton);
        QCOMPARE(window_->place(), Place::Rides);
        window_->ridesView().panel().openPage(3);
        QVERIFY(find<QTextBrowser>("meantWords")->toPlainText().contains("Volume"));
        window_->go(Place::Block);
    }
    void illRidersRideOnlyEasily() {
        CheckIn c;
        c.day = today_;
        c.ill = true;
        checkIn(*w_, w_->chosen.id(), c);
        QVERIFY(quiet());
        QVERIFY(comes([&] { return service().basis().easyUntil.has_value() && !service().solving(); }));
        for (const BlockWeek& w : service().block()->weeks)
            for (const BlockSession& s : w.sessions)
                if (s.date < *service().basis().easyUntil)
                    QVERIFY2(s.role != Role::Hard && s.role != Role::Test, s.title.c_str());
    }
    void aWeekGoesOutAsTextPagesWorkoutsAndCalendar() {
        const Date hard = hardDay(next_);
        board().choose(hard);
        board().setFocus();
        key(Qt::Key_T);
        const QString text = QGuiApplication::clipboard()->text();
        QVERIFY(text.contains("Tuesday") && text.contains("see a doctor") && text.contains(" W, effort "));
        block().savePages(folder_.filePath("pages.pdf"));
        QFile pdf(folder_.filePath("pages.pdf"));
        QVERIFY(pdf.open(QIODevice::ReadOnly));
        const QByteArray bytes = pdf.readAll();
        QVERIFY(bytes.startsWith("%PDF") && bytes.count("/Type /Page\n") >= 3);
        QVERIFY(!(QFile::permissions(pdf.fileName()) & (QFile::ReadGroup | QFile::ReadOther)));
        block().saveWorkouts(folder_.filePath("workouts"));
        const QStringList fit = QDir(folder_.filePath("workouts")).entryList({"*.fit"});
        QVERIFY(fit.size() >= 12);
        // The bike computer reads and rides them.
        QVERIFY(workoutFrom(folder_.filePath("workouts"), 244).has_value());
        block().saveCalendar(folder_.filePath("weeks.ics"));
        QFile ics(folder_.filePath("weeks.ics"));
        QVERIFY(ics.open(QIODevice::ReadOnly) && ics.readAll().startsWith("BEGIN:VCALENDAR"));
        block().savePages("/proc/no/such.pdf");
        QVERIFY(!window_->lastSaid().isEmpty());
    }
    void templatesOfTheTradeAreLaidOut() {
        Date race = today_;
        for (const Race& r : season().races)
            if (r.date > today_ + 7 && (race == today_ || r.date < race))
                race = r.date;
        service().look(monday(race) - 7, 4);
        QVERIFY(quiet());
        board().choose(monday(race));
        block().layRaceWeek(true);
        QVERIFY(quiet());
        QCOMPARE(familyOn(monday(race)), std::string("rest"));
        QCOMPARE(familyOn(race - 1), std::string("openers"));
        w_->roster.steps().stack().undo();
        QVERIFY(quiet());
        board().choose(next_);
        service().look(next_, 4);
        QVERIFY(quiet());
        block().layOffWeeks();
        QVERIFY(quiet());
        int hard = 0;
        for (Date d = next_; d < next_ + 14; d = d + 1)
            hard += day(d).ride() && day(d).ride()->role == Role::Hard ? 1 : 0;
        QCOMPARE(hard, 0);
    }
    void anotherRiderHasTheirOwnBoard() {
        const qint64 nell = w_->chosen.id();
        const Date hard = hardDay(next_);
        dragDay(hard, easyDay(hard));
        // While her sessions are being worked out another rider is chosen.
        const qint64 other = w_->roster.riders()[3].id;
        w_->chosen.choose(other);
        // Hers are not his, not even until his are there.
        QVERIFY(!service().block() && !service().weekOf(next_));
        QVERIFY(comes([&] {
            return !service().solving() && service().block() && w_->plans.solved() &&
                   block().picture().subject == w_->plans.seasonId();
        }));
        QCOMPARE(w_->plans.seasonId(), block().picture().subject);
        // Without power he is told effort and heart rate all the same.
        w_->chosen.choose(nell);
        QVERIFY(quiet());
    }
    void whatIsKeptIsThereWhenItIsOpenedAgain() {
        const Date hard = hardDay(next_), easy = easyDay(hard);
        const std::string family = familyOn(hard);
        dragDay(hard, easy);
        QVERIFY(quiet());
        closeIt();
        openWindow();
        window_->go(Place::Block);
        service().look(monday(today_), 4);
        QVERIFY(quiet());
        QCOMPARE(familyOn(easy), family);
        QVERIFY(!w_->roster.file().meant(w_->chosen.id())->empty());
        Season s = *w_->chosen.season();
        s.sessions.clear();
        w_->chosen.edits().setSeason(s, "Clear");
    }
    void firstSessionsKnowWhatWasRidden() {
        // As after a file was brought: nobody has laid the rides over their sessions, none are promised.
        const qint64 nell = w_->chosen.id(), season = w_->chosen.seasonId();
        closeIt();
        {
            const auto file = Roster::open(path_);
            QVERIFY(file.has_value());
            auto meant = (*file)->meant(nell).value();
            std::erase_if(meant, [&](const MeantSession& m) { return m.date >= today_; });
            for (MeantSession& m : meant) {
                m.outcome.reset();
                m.outcomeOf.clear();
            }
            QVERIFY((*file)->saveOutcomes(nell, meant).has_value());
            QVERIFY((*file)->saveMeant(season, today_, {}).has_value());
        }
        w_ = std::make_unique<Workspace>();
        w_->clock.setToday(today_);
        std::vector<size_t> known; // rungs known to be done when each answer came
        const QObject here;
        connect(&service(), &BlockService::blockChanged, &here, [&] {
            if (service().block())
                known.push_back(service().basis().done.size());
        });
        QVERIFY(w_->roster.open(path_));
        QVERIFY(comes([&] { return !known.empty() && !service().solving(); }));
        const size_t after = service().basis().done.size();
        closeIt();
        openWindow();
        window_->go(Place::Block);
        QVERIFY(known.front() > 0);
        QCOMPARE(known.front(), after);
    }
};

MARRAM_WINDOW_SUITE(BoardTest)
#include "tst_board.moc"
