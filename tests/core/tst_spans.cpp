// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/season/fields.h"
#include "support/seasons.h"
#include "support/suite.h"

#include <QTest>
#include <cmath>
#include <functional>
#include <limits>

using namespace marram;
using namespace marram::test;

/// What a number of a season may be is said once, in the list of its record's fields: each of them is set to
/// its least and its most, just outside, and to what is no number, and the whole season is asked whether it
/// is possible.
class SpansTest : public QObject {
    Q_OBJECT

    int looked_ = 0;

    /// A season whose every list holds something, so that there is one of each record to set.
    static Season whole() {
        Season s = any(7);
        s.races.resize(1);
        s.weeks.clear();
        s.sessions = {{}};
        s.sessions[0].date = s.start;
        s.sessions[0].family = "endurance";
        s.away = {{s.start + 3, s.start + 9, AwayWhy::Camp, 600.0}};
        return s;
    }

    static std::string whyNot(const Season& s) {
        const auto ok = possible(s);
        return ok ? std::string() : ok.error().sentence;
    }

    void ask(const Season& s, const Span& span, bool holds, const std::string& what) {
        ++looked_;
        const std::string sentence = whyNot(s);
        // What stands before the first place a name is put into is of that sentence and no other.
        const std::string said = translated(span.words);
        const size_t from = said.find("%1") == 0 ? 2 : 0;
        const std::string sure = said.substr(from, said.find("%1", from) - from);
        QVERIFY2(holds ? sentence.find(sure) == std::string::npos : sentence.find(sure) != std::string::npos,
                 (what + ": " + (sentence.empty() ? "nothing is said" : sentence)).c_str());
    }

    /// Every number of a record that has words for what lies outside.
    template <class Record>
    void askAll(const char* name, const std::function<Record&(Season&)>& of) {
        eachField<Record>([&](const auto& f) {
            using T = typename std::decay_t<decltype(f)>::Value;
            constexpr bool real = std::is_same_v<T, double> || std::is_same_v<T, std::optional<double>>;
            constexpr bool count = std::is_same_v<T, int> || std::is_same_v<T, std::optional<int>>;
            if constexpr (real || count) {
                if (!f.span.words)
                    return;
                using Number = std::conditional_t<real, double, int>;
                const auto with = [&](double v) {
                    Season s = whole();
                    of(s).*f.at = static_cast<Number>(v);
                    return s;
                };
                const double beyond = real ? 0.001 * std::max(1.0, std::abs(f.span.most)) : 1;
                const std::string what = std::string(name) + "." + f.key;
                ask(with(f.span.least), f.span, true, what + " at its least");
                ask(with(f.span.most), f.span, true, what + " at its most");
                ask(with(f.span.least - beyond), f.span, false, what + " under its least");
                ask(with(f.span.most + beyond), f.span, false, what + " over its most");
                if constexpr (real) {
                    ask(with(std::numeric_limits<double>::quiet_NaN()), f.span, false, what + " no number");
                    ask(with(std::numeric_limits<double>::infinity()), f.span, false, what + " without end");
                }
            }
        });
    }

private slots:
    void init() { looked_ = 0; }

    void theSeasonItselfIsPossible() { QCOMPARE(whyNot(whole()), std::string()); }

    void eachNumberOfTheRulesKeepsToItsSpan() {
        askAll<Rules>("rules", [](Season& s) -> Rules& { return s.rules; });
        QVERIFY(looked_ >= 50);
    }

    void eachNumberOfTheRiderKeepsToItsSpan() {
        askAll<Season>("season", [](Season& s) -> Season& { return s; });
        askAll<LoadState>("before", [](Season& s) -> LoadState& { return s.before; });
        QVERIFY(looked_ >= 25);
    }

    void theTimeConstantsKeepToTheirSpansAndOrder() {
        const auto said = [](double fitness, double fatigue) {
            Season s = whole();
            s.tau = {fitness, fatigue};
            return !whyNot(s).empty();
        };
        QVERIFY(!said(42, 7));
        QVERIFY(!said(200, 100));
        QVERIFY(said(201, 7));
        QVERIFY(said(42, 0.4));
        QVERIFY(said(7, 7)); // fatigue is shorter than fitness
        QVERIFY(said(7, 42));
        QVERIFY(said(std::nan(""), 7));
    }

    void eachNumberOfRacesSessionsAndCampsKeepsToItsSpan() {
        askAll<Race>("race", [](Season& s) -> Race& { return s.races[0]; });
        askAll<SessionPin>("session", [](Season& s) -> SessionPin& { return s.sessions[0]; });
        askAll<Away>("away", [](Season& s) -> Away& { return s.away[0]; });
        QVERIFY(looked_ >= 18);
    }

    void theSentenceNamesWhichOfThem() {
        Season s = whole();
        s.races[0].name = "Groyne Road Race";
        s.races[0].stress = 5001;
        QVERIFY2(whyNot(s).find("Groyne Road Race") != std::string::npos, whyNot(s).c_str());
        s = whole();
        s.sessions[0].minutes = 1441;
        QVERIFY2(whyNot(s).find(isoText(s.start)) != std::string::npos, whyNot(s).c_str());
        s = whole();
        s.away[0].stress = -1.0;
        QVERIFY2(whyNot(s).find(isoText(s.start + 3)) != std::string::npos, whyNot(s).c_str());
    }
};

MARRAM_SUITE(SpansTest)
#include "tst_spans.moc"
