// SPDX-License-Identifier: GPL-3.0-or-later
#include "records/again.h"
#include "core/review/wording.h"
#include "core/session/shorthand.h"
#include "core/words/phrase.h"

#include <QRegularExpression>
#include <cstdlib>

namespace marram {
namespace {

constexpr size_t mostEarlier = 3;
constexpr int daysBack = 26 * 7;

/// "3 × 12 min 88 with 4 min 50 between" as it is spoken of: "3 × 12 min at 88 %".
std::string shortWork(const std::string& shorthand) {
    static const QRegularExpression work(
        QString::fromUtf8("^((?:\\d+ × )?\\d+(?: h| min| s)?(?: \\d+ (?:min|s))?) (\\d+)( to \\d+)?"
                          "( at \\d+ to \\d+ rpm)?"));
    const auto m = work.match(QString::fromStdString(shorthand));
    if (!m.hasMatch())
        return withoutRests(shorthand);
    const std::string target = (m.captured(2) + m.captured(3)).toStdString();
    return spokenShorthand((m.captured(1) + m.captured(4)).toStdString()) +
           (m.captured(4).isEmpty() ? phrase(" at %1 %", spokenShorthand(target)) : "");
}

} // namespace

std::string withoutRests(const std::string& shorthand) {
    static const QRegularExpression rests(" with [^()]*? between");
    return spokenShorthand(QString::fromStdString(shorthand).remove(rests).toStdString());
}

std::string sessionName(const MeantSession& m, const FamilyBook& book) {
    const Family* family = book.named(m.family);
    std::string words = translated(family ? family->name : m.family);
    if (family && m.rung >= 1 && static_cast<size_t>(m.rung) <= family->rungs.size() &&
        family->rungs.size() > 1)
        words += ", " + shortWork(family->rungs[static_cast<size_t>(m.rung) - 1]);
    return words;
}

std::pair<std::string, std::string> testAgain(const TestResult& test, const std::vector<TestResult>& all,
                                              const std::function<LoadState(Date)>& morning, Date today) {
    const ProtocolWords& w = wordsFor(test.protocol);
    const auto value = [&](const TestResult& r) {
        std::string text = fixedText(r.value, r.value < 10 ? 2 : 0) + " " + w.unit;
        if (test.protocol == Protocol::AerobicCheck)
            text += phrase(", drift %1 %", figure(r.second, 1));
        if (test.protocol == Protocol::DurabilityCheck)
            text += phrase(", %1 % lost", figure(durabilityLoss(r), 1));
        return text;
    };
    const auto state = [&](Date day) {
        const LoadState s = morning(day);
        return phrase("fitness %1, form %2", fixedText(s.fitness, 0), figure(s.form(), 0));
    };
    // Newest first.
    const auto alike = trendOf(all, test.protocol, test.place);
    std::string beside;
    size_t said = 0;
    for (auto other = alike.rbegin(); other != alike.rend() && said < mostEarlier; ++other)
        if (other->day < test.day)
            beside += (said++ == 0 ? phrase("Before: ") : "; ") + dayText(other->day, today) + " " +
                      value(*other) + " (" + state(other->day) + ")";
    if (!beside.empty())
        beside += phrase(". This time: %1. One test varies by 2 to 3 %.", state(test.day));
    return {phrase("%1%2 on %3: %4.", translated(w.name), (test.place.empty() ? "" : ", " + test.place),
                   weekdayText(test.day), value(test)),
            beside};
}

std::optional<Again> sameAgain(Date day, const std::map<Date, MeantSession>& meant, const FamilyBook& book,
                               const std::function<std::optional<AgainRide>(Date)>& riddenOn) {
    const auto m = meant.find(day);
    const Family* family = m == meant.end() ? nullptr : book.named(m->second.family);
    if (!family || m->second.rung < 1 || family->rungs.size() < 2)
        return std::nullopt;
    const auto now = riddenOn(day);
    if (!now)
        return std::nullopt;
    Again again{sessionName(m->second, book), *now, {}};
    for (auto it = std::make_reverse_iterator(m);
         it != meant.rend() && it->first >= day - daysBack && again.earlier.size() < mostEarlier; ++it)
        if (it->second.family == m->second.family && std::abs(it->second.rung - m->second.rung) <= 1)
            if (const auto then = riddenOn(it->first))
                again.earlier.push_back(*then);
    return again.earlier.empty() ? std::nullopt : std::optional(std::move(again));
}

} // namespace marram
