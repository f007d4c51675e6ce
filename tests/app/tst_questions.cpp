// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/review/figure_painter.h"
#include "store/reporting.h"
#include "support/demo_window.h"
#include "support/suite.h"
#include "support/waits.h"

#include <QInputDialog>
#include <QPdfWriter>
#include <QTextBrowser>

using namespace marram;
using namespace marram::test;

/// The questions of Review in a real window: asked by key, answered for whoever is chosen, tried, noted.
class QuestionsTest : public DemoWindow {
    Q_OBJECT
    ReportPage& page() { return window_->reviewView().reportPage(); }
    QString shown() { return find<QTextBrowser>("report")->toPlainText(); }
    bool answered() {
        return comes([&] { return !w_->answers.reading() && w_->answers.picture(); });
    }
    void ask(Question question) {
        window_->go(Place::Review);
        window_->reviewView().ask(question);
        QVERIFY(answered());
    }
    void follow(const QString& link) { emit find<QTextBrowser>("report")->anchorClicked(QUrl(link)); }
    size_t alternatives() {
        size_t count = 0;
        for (const SeasonRecord& s : w_->chosen.seasons())
            count += s.standing == SeasonStanding::Alternative ? 1 : 0;
        return count;
    }

private slots:
    void initTestCase() { dressed(); }
    void init() { openWindow(); }
    void cleanup() { closeWindow(); }

    void everyQuestionIsAskedByKeyAndAnsweredAsTheFileHasIt() {
        choose("Nell");
        ask(Question::Changing);
        auto* list = find<QListWidget>("questions");
        for (const QuestionWords& q : questions) {
            QVERIFY(answered());
            QCOMPARE(find<QLabel>("reportTitle")->text(), QString(q.name));
            const auto report = reportOf(w_->roster.file(), *w_->chosen.rider(), q.question, 140, today_);
            QVERIFY(report);
            const QString first = QString::fromStdString(report->parts.front().words.empty()
                                                             ? report->parts.front().heading
                                                             : report->parts.front().words.front().text);
            QVERIFY2(shown().contains(first), qPrintable(first + " / " + shown().left(200)));
            QTest::keyClick(list, Qt::Key_Down);
        }
        // The span is only asked for where it matters.
        ask(Question::Changing);
        QVERIFY(find<QComboBox>("reportSpan")->isVisible());
        ask(Question::Kind);
        QVERIFY(!find<QComboBox>("reportSpan")->isVisible());
    }

    void aYearShowsWhatTwentyWeeksCannot() {
        choose("Nell");
        ask(Question::Changing);
        QVERIFY(shown().contains("Cannot tell yet"));
        auto* span = find<QComboBox>("reportSpan");
        span->setCurrentIndex(4);
        emit span->activated(4);
        QVERIFY(answered());
        QCOMPARE(w_->answers.picture()->days, 364);
        QVERIFY2(shown().contains("Five minutes is up"), qPrintable(shown().left(400)));
    }

    void anAnswerIsNeverAnotherRiders() {
        choose("Wenna");
        ask(Question::Races);
        for (const char* name : {"Nell", "Osric", "Pim", "Rook", "Tamsin", "Nell"}) {
            choose(name);
            QVERIFY(!w_->answers.picture() || w_->answers.picture()->rider == w_->chosen.id());
            QVERIFY(w_->answers.picture() || shown().isEmpty());
        }
        QVERIFY(answered());
        QVERIFY(shown().contains("Saltmere Classic") && !shown().contains("Saltmarsh 200"));
    }

    void whatIsProposedIsTriedAsAnAlternativeAndUndone() {
        std::shared_ptr<const AnswerPicture> picture;
        size_t part = 0;
        for (const RiderRecord& r : w_->roster.riders())
            for (const Question q : {Question::Form, Question::Changing}) {
                if (picture && part < picture->report.parts.size())
                    continue;
                w_->chosen.choose(r.id);
                ask(q);
                picture = w_->answers.picture();
                part = 0;
                while (part < picture->report.parts.size() && picture->report.parts[part].tries.empty())
                    ++part;
            }
        QVERIFY2(part < picture->report.parts.size(), "nobody of the demo has anything to try");
        const ReportTry proposed = picture->report.parts[part].tries[0];
        QVERIFY(shown().contains(QString::fromStdString("Try " + proposed.name)));
        QCOMPARE(alternatives(), size_t(0));
        follow(QString("try:%1:0").arg(part));
        QCOMPARE(window_->place(), Place::Season);
        QCOMPARE(alternatives(), size_t(1));
        QVERIFY(w_->plans.alternative() != 0);
        QVERIFY(w_->plans.decided().has_value());
        QCOMPARE(static_cast<int>(w_->plans.decided()->rules.order),
                 static_cast<int>(proposed.season.rules.order));
        QCOMPARE(w_->plans.decided()->weeks.size(), proposed.season.weeks.size());
        QVERIFY(w_->plans.decided()->races[0].gate == proposed.season.races[0].gate);
        w_->roster.steps().stack().undo();
        QCOMPARE(alternatives(), size_t(0));
        QCOMPARE(w_->plans.alternative(), qint64(0));
        // Links into pages that are gone do nothing.
        window_->go(Place::Review);
        QVERIFY(answered());
        for (const char* link : {"try:99:0", "try:0:99", "try:x", "ride:", "else"})
            follow(link);
        QCOMPARE(alternatives(), size_t(0));
    }

    void anEasyDayThatWasNotOpensItsRide() {
        choose("Nell");
        ask(Question::Split);
        qint64 ride = 0;
        for (const ReportPart& p : w_->answers.picture()->report.parts)
            for (const ReportLine& l : p.words)
                ride = l.ride != 0 ? l.ride : ride;
        QVERIFY(ride != 0);
        follow(QString("ride:%1").arg(ride));
        QCOMPARE(window_->place(), Place::Rides);
    }

    void aTestRiddenAgainStandsBesideThoseBefore() {
        choose("Nell");
        const TestRecord* last = nullptr;
        for (const TestRecord& t : w_->chosen.tests())
            if (t.result.protocol == Protocol::AerobicCheck)
                last = &t;
        QVERIFY(last);
        qint64 ride = 0;
        for (const RideRecord& r : w_->chosen.rides())
            if (r.contentHash == last->rideHash)
                ride = r.id;
        QVERIFY(ride != 0);
        window_->go(Place::Rides);
        window_->ridesView().showRide(ride);
        RidePanel& panel = window_->ridesView().panel();
        panel.openPage(3);
        QVERIFY(comes([&] {
            for (const auto* page : panel.findChildren<QTextBrowser*>())
                if (page->toPlainText().contains("Aerobic check on ") &&
                    page->toPlainText().contains("Before: ") &&
                    page->toPlainText().contains("This time: fitness"))
                    return true;
            return false;
        }));
    }

    void whatChangesIsAnsweredAnew() {
        choose("Wenna");
        ask(Question::Body);
        const QString before = shown();
        CheckIn c;
        c.day = today_ - 1;
        c.weightKg = 65.1;
        CheckIn had = w_->roster.checkInOn(w_->chosen.id(), c.day).value_or(CheckIn{});
        had.day = c.day;
        w_->roster.edits().editCheckIns({{w_->chosen.id(), had, c}}, "Check in");
        QVERIFY(comes([&] { return answered() && shown() != before; }));
        w_->roster.steps().stack().undo();
        QVERIFY(comes([&] { return answered() && shown() == before; }));
    }

    void aCautionIsNotedWithItsReasonAndTakenBack() {
        choose("Osric"); // whose check-ins fall this week
        QTest::keyClick(window_.get(), Qt::Key_M, Qt::ControlModifier | Qt::ShiftModifier);
        const auto read = [&] {
            return comes([&] { return !w_->mondays.reading() && w_->mondays.picture(); });
        };
        w_->mondays.look(-1); // the week that runs
        QVERIFY(read());
        QVERIFY2(!w_->mondays.picture()->monday.cautions.empty(), "no caution to note");
        const Caution caution = w_->mondays.picture()->monday.cautions.front();
        auto* ahead = find<QTextBrowser>("mondayAhead");
        emit ahead->anchorClicked(QUrl(QString::fromStdString("note:" + caution.code)));
        auto* dialog = window_->findChild<QInputDialog*>("noteCaution");
        QVERIFY(dialog);
        dialog->setTextValue("A <b>camp</b> & a cold house");
        dialog->accept();
        QVERIFY(read());
        const Monday& noted = w_->mondays.picture()->monday;
        QCOMPARE(noted.noted.size(), size_t(1));
        QVERIFY(ahead->toPlainText().contains("A <b>camp</b> & a cold house"));
        // On paper to the rider it stands as before.
        const auto letter = w_->mondays.letter();
        QVERIFY(letter && std::any_of(letter->monday.cautions.begin(), letter->monday.cautions.end(),
                                      [&](const Caution& c) { return c.code == caution.code; }));
        w_->roster.steps().stack().undo();
        QVERIFY(read());
        QVERIFY(w_->mondays.picture()->monday.noted.empty());
        w_->roster.steps().stack().redo();
        QVERIFY(read());
        emit ahead->anchorClicked(QUrl(QString::fromStdString("note:" + caution.code)));
        QVERIFY(read());
        QVERIFY(w_->mondays.picture()->monday.noted.empty());
        // Without a reason nothing is noted.
        emit ahead->anchorClicked(QUrl(QString::fromStdString("note:" + caution.code)));
        window_->findChild<QInputDialog*>("noteCaution")->accept();
        QVERIFY(read());
        QVERIFY(w_->mondays.picture()->monday.noted.empty());
    }

    void aFigureFillsItsPlaceAndDrawsNothingForNothing() {
        Figure f;
        f.title = "A & B <b>";
        f.unit = "W";
        f.lines = {{Figure::Line::Look::Dots, "results", {{20000, 250, {}, {}}, {20060, 260, {}, {}}}},
                   {Figure::Line::Look::Band, "band", {{20000, 250, 240, 260}, {20060, 260, 250, 270}}},
                   {Figure::Line::Look::Bars, "bars", {{20030, 255, 245, 265}}},
                   {Figure::Line::Look::Area, "area", {{20000, 1, {}, {}}, {20060, 2, {}, {}}}}};
        const auto ink = [](const Figure& figure) {
            QImage image(400, 160, QImage::Format_RGB32);
            image.fill(Qt::white);
            QPainter painter(&image);
            paintFigure(painter, QRectF(0, 0, 400, 160), figure, shore());
            painter.end();
            int dark = 0;
            for (int y = 0; y < 160; ++y)
                for (int x = 0; x < 400; ++x)
                    dark += image.pixelColor(x, y) == QColor(Qt::white) ? 0 : 1;
            return dark;
        };
        const int all = ink(f);
        Figure empty = f;
        empty.lines.clear();
        QVERIFY(all > 2 * ink(empty) && ink(empty) > 20);
        Figure one = f;
        one.lines = {{Figure::Line::Look::Dots, "one", {{20000, 250, {}, {}}}}};
        QVERIFY(ink(one) > ink(empty));
    }

    void theAnswerIsPrinted() {
        choose("Nell");
        ask(Question::Changing);
        QVERIFY(window_->reviewView().showsAnswer());
        QPrinter printer;
        const QString file = folder_.filePath("answer.pdf");
        printer.setOutputFormat(QPrinter::PdfFormat);
        printer.setOutputFileName(file);
        page().print(printer);
        QFile made(file);
        QVERIFY(made.open(QIODevice::ReadOnly) && made.readAll().startsWith("%PDF") && made.size() > 10000);
    }
};

MARRAM_WINDOW_SUITE(QuestionsTest)
#include "tst_questions.moc"
