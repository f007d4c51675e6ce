// SPDX-License-Identifier: GPL-3.0-or-later
#include "formats/json/fields_json.h"
#include "records/fields.h"
#include "records/merge.h"
#include "store/fields_sql.h"
#include "support/suite.h"

#include <QSqlDatabase>
#include <QTest>
#include <random>

using namespace marram;

/// Fills the fields of a record with values that may stand there and are hardly ever the record's own
/// defaults.
struct FieldFiller {
    std::mt19937 dice;

    double between(double least, double most) {
        return least + (most - least) * static_cast<double>(dice()) / 4294967296.0;
    }
    void fill(double& v, Span s) { v = s.limited() ? between(s.least, s.most) : between(-100, 100); }
    void fill(int& v, Span s) {
        v = static_cast<int>(s.limited() ? between(s.least, s.most + 0.99) : between(1, 40));
    }
    void fill(bool& v, Span) { v = dice() % 2 == 0; }
    void fill(QString& v, Span) { v = QString("dune %1 \"&\" ä").arg(dice()); }
    void fill(std::string& v, Span) { v = "marsh " + std::to_string(dice()); }
    void fill(QByteArray& v, Span) { v = QByteArray(32, static_cast<char>(dice())); }
    void fill(QStringList& v, Span) { v = {"north", QString::number(dice())}; }
    void fill(Date& v, Span) { v = fromCivil(2027, 1, 1) + static_cast<int>(dice() % 4000); }
    void fill(WeekHours& v, Span) {
        for (double& h : v)
            h = between(0, 24);
    }
    void fill(Gate& v, Span) { v = {between(-100, 0), between(0, 100)}; }
    void fill(Protocol& v, Span) { v = Protocol::Climb; }
    template <class E>
    requires std::is_enum_v<E>
    void fill(E& v, Span s) { v = static_cast<E>(static_cast<int>(between(s.least, s.most + 0.99))); }
    template <class T>
    void fill(std::optional<T>& v, Span s) {
        if (dice() % 4 > 0)
            fill(v.emplace(), s);
        else
            v.reset();
    }
    template <Described R>
    void fill(R& record, Span) {
        fill(record);
    }
    template <class T>
    void fill(T&, Span) {} // what has a way of its own is tested where it is read

    template <Described R>
    void fill(R& record) {
        eachField<R>([&](const auto& f) { fill(record.*f.at, f.span); });
    }
};

namespace {

/// A record read from what was written of it, as JSON.
template <class R>
void throughJson(const R& record) {
    JsonReader in(fieldsObject(record), "there");
    R back;
    readFields(in, back);
    const auto ok = in.finish();
    QVERIFY2(ok, ok ? "" : ok.error().sentence.c_str());
    eachField<R>([&](const auto& f) {
        if (f.stands != Stands::ByHand)
            QVERIFY2(back.*f.at == record.*f.at, f.key);
    });
}

/// The same through a row.
template <class R>
void throughRow(const QSqlDatabase& db, const R& record) {
    QVERIFY(sql::run(db, "DROP TABLE IF EXISTS it"));
    QVERIFY(sql::run(db, QString("CREATE TABLE it(n, %1)").arg(sql::columnsOf<R>())));
    const auto put = sql::putRecord(db, "it", "n", {1}, record);
    QVERIFY2(put, put ? "" : put.error().sentence.c_str());
    const auto back = sql::records<R>(db, "it", "n=1", {}, "It", nullptr);
    QVERIFY2(back, back ? "" : back.error().sentence.c_str());
    QCOMPARE(back->size(), size_t{1});
    eachField<R>([&](const auto& f) {
        if (sql::inRow(f))
            QVERIFY2(back->front().*f.at == record.*f.at, f.columnName());
    });
}

} // namespace

/// Records by their lists of fields: what goes out comes back, and an edit takes what it changed and nothing
/// else.
class FieldsTest : public QObject {
    Q_OBJECT
    FieldFiller filler_{std::mt19937(20261201)};

    template <class R>
    void edits() {
        for (int i = 0; i < 20; ++i) {
            R before, other;
            filler_.fill(before);
            filler_.fill(other);
            const R now = other;
            eachField<R>([&](const auto& f) {
                if constexpr (Described<typename std::decay_t<decltype(f)>::Value>)
                    return; // merged by its own fields
                R after = before;
                filler_.fill(after.*f.at, f.span);
                const bool changed = !(after.*f.at == before.*f.at);
                const bool edited = std::decay_t<decltype(f)>::edited;
                QCOMPARE(sameEdited(before, after), !(changed && edited));
                const R next = merged(now, before, after);
                eachField<R>([&](const auto& g) {
                    if constexpr (std::is_same_v<typename std::decay_t<decltype(f)>::Value,
                                                 typename std::decay_t<decltype(g)>::Value>)
                        if (f.at == g.at && changed && edited) {
                            QVERIFY2(next.*g.at == after.*g.at, g.key);
                            return;
                        }
                    // What rests on another: a check-in stays one of its day, a ride is stale.
                    if (QByteArray(g.key) != "date" && QByteArray(g.key) != "stale")
                        QVERIFY2(next.*g.at == now.*g.at, g.key);
                });
            });
        }
    }

private slots:
    void whatIsWrittenIsRead() {
        QSqlDatabase db = QSqlDatabase::addDatabase("QSQLITE", "fields");
        db.setDatabaseName(":memory:");
        QVERIFY(db.open());
        for (int i = 0; i < 60; ++i) {
            CheckIn checkIn;
            filler_.fill(checkIn);
            throughJson(checkIn);
            throughRow(db, checkIn);
            TestResult result;
            filler_.fill(result);
            SolvedDay day;
            filler_.fill(day);
            throughJson(day);
            throughRow(db, day);
            MeantSession meant;
            filler_.fill(meant);
            throughJson(meant);
            throughRow(db, meant);
            Outlook outlook;
            filler_.fill(outlook);
            throughRow(db, outlook);
            WeekPin week;
            filler_.fill(week);
            throughJson(week);
            throughRow(db, week);
            SessionPin pin;
            filler_.fill(pin);
            throughJson(pin);
            throughRow(db, pin);
            Away away;
            filler_.fill(away);
            throughJson(away);
            throughRow(db, away);
            Injury injury;
            filler_.fill(injury);
            throughJson(injury);
            NotedCaution noted;
            filler_.fill(noted);
            throughJson(noted);
        }
        db.close();
    }
    void anEditTakesWhatItChangedAndNothingElse() {
        edits<CheckIn>();
        edits<TestRecord>();
        edits<Family>();
    }
    void whatMayNotStandThereIsNamed_data() {
        QTest::addColumn<QByteArray>("json");
        QTest::addColumn<QString>("sentence");
        QTest::newRow("out of range")
            << QByteArray(R"({"date":"2027-01-04","role":"easy","stress":-1,"hours":1,
            "fitness":1,"fatigue":1,"form":0})")
            << "day: stress: must be 0 to 100000";
        QTest::newRow("no such name")
            << QByteArray(R"({"date":"2027-01-04","role":"sprint","stress":1,"hours":1,
            "fitness":1,"fatigue":1,"form":0})")
            << "day.role: \"sprint\" must be one of rest, easy, long, hard, gym, test, "
               "openers, race";
        QTest::newRow("left out")
            << QByteArray(R"({"date":"2027-01-04","stress":1,"hours":1,"fitness":1,
            "fatigue":1,"form":0})")
            << "day.role: is missing; it must be one of rest, easy, long, hard, gym, test, "
               "openers, race";
        QTest::newRow("nobody asked")
            << QByteArray(R"({"date":"2027-01-04","role":"easy","stress":1,"hours":1,
            "fitness":1,"fatigue":1,"form":0,"colour":"red"})")
            << "day.colour";
    }
    void whatMayNotStandThereIsNamed() {
        QFETCH(QByteArray, json);
        QFETCH(QString, sentence);
        const auto object = parseJsonObject(json);
        QVERIFY(object);
        JsonReader in(*object, "day");
        SolvedDay day;
        readFields(in, day);
        const auto ok = in.finish();
        QVERIFY(!ok);
        const QString said = QString::fromStdString(ok.error().sentence);
        QVERIFY2(said.startsWith(QString(sentence).replace("day: ", "day.")), qPrintable(said));
    }
};

MARRAM_SUITE(FieldsTest)
#include "tst_fields.moc"
