// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/session/family.h"
#include "core/session/shorthand.h"
#include "core/words/phrase.h"

#include <algorithm>
#include <cctype>
#include <stdexcept>

namespace marram {
namespace {

using Rungs = std::vector<std::string>;

std::string times(int count, const std::string& what, const std::string& rest) {
    return phrase("%1 × %2 with %3 between", std::to_string(count), what, rest);
}

/// Repetitions of minutes at one power: each entry is count, minutes, percent, minutes of rest.
Rungs steady(std::initializer_list<std::array<int, 4>> all) {
    Rungs rungs;
    for (const auto& [count, minutes, power, rest] : all)
        rungs.push_back(times(count, std::to_string(minutes) + " min " + std::to_string(power),
                              std::to_string(rest) + " min 50"));
    return rungs;
}

/// Sets of short repetitions: sets, repetitions, seconds on, off, percent, minutes between sets.
Rungs shorts(std::initializer_list<std::array<int, 6>> all) {
    Rungs rungs;
    for (const auto& [sets, count, on, off, power, rest] : all)
        rungs.push_back(times(sets,
                              "(" +
                                  times(count, std::to_string(on) + " s " + std::to_string(power),
                                        std::to_string(off) + " s 50") +
                                  ")",
                              std::to_string(rest) + " min 50"));
    return rungs;
}

Rungs overUnders() {
    Rungs rungs;
    for (const int under : {90, 92, 95})
        rungs.push_back(times(3, "(2 × (2 min " + std::to_string(under) + ", 1 min 105))", "5 min 50"));
    rungs.emplace_back("3 × (3 × (1 min 95, 1 min 104)) with 5 min 50 between");
    for (const auto& [sets, parts, over] :
         {std::array{3, 2, 105}, {3, 2, 107}, {4, 2, 107}, {3, 3, 107}, {4, 3, 107}})
        rungs.push_back(
            times(sets, "(" + std::to_string(parts) + " × (1 min 95, 2 min " + std::to_string(over) + "))",
                  "5 min 50"));
    return rungs;
}

Rungs surges() {
    Rungs rungs;
    for (const auto& [count, power] : {std::pair{10, 88}, {12, 88}, {15, 88}, {15, 90}, {15, 92}})
        rungs.push_back(std::to_string(count) + " × (110 s " + std::to_string(power) + ", 10 s 140)");
    return rungs;
}

constexpr const char* heatCaution =
    marked("In heat, less: drink, and stop when the heart rate climbs at the same power.");

std::vector<Family> tradeFamilies() {
    const char* const hot = heatCaution;
    const char* const maximal =
        marked("Maximal: only rested, healthy and cleared for it. Chest pain, fainting or "
               "palpitations: stop, and see a doctor.");
    const char* const knees = marked("Not with trouble in knee, hip or Achilles tendon; pain ends it.");
    return {
        {"endurance", phrase("base, and recovery between hard days"), "length", "", "", {}},
        {"endurance with drills",
         phrase("cadence and skill while riding easily"),
         "number",
         "",
         "",
         {phrase("6 × 1 min 65 at 110 to 120 rpm with 2 min 60 between"),
          phrase("8 × 1 min 65 at 110 to 120 rpm with 2 min 60 between"),
          phrase("10 × 1 min 65 at 110 to 120 rpm with 2 min 60 between")}},
        {"long ride",
         "durability",
         phrase("length, then tempo late, then the race's pace"),
         "",
         hot,
         {"20 min 80", "30 min 80", "40 min 80", "50 min 80", "60 min 80", "75 min 80", "90 min 80",
          "90 min 83"}},
        {"late efforts", phrase("holding power after hours of work"), phrase("work before, then number"),
         phrase("it fades by 8 %"), hot,
         steady({{2, 10, 90, 5}, {3, 10, 90, 5}, {3, 10, 95, 5}, {4, 10, 95, 5}, {4, 10, 98, 5}})},
        {"tempo", phrase("a first intensity"), phrase("length, then number, then power"), "", "",
         steady({{2, 10, 80, 3},
                 {2, 12, 80, 3},
                 {2, 15, 80, 3},
                 {3, 12, 80, 3},
                 {3, 15, 80, 3},
                 {3, 18, 80, 3},
                 {3, 20, 80, 3},
                 {3, 20, 83, 3},
                 {3, 20, 86, 3}})},
        {"just under threshold", phrase("sustained work close under threshold"), phrase("length, then power"),
         phrase("the heart rate is over threshold for two minutes"), hot,
         steady({{2, 10, 88, 4},
                 {2, 12, 88, 4},
                 {2, 15, 88, 4},
                 {3, 12, 88, 4},
                 {3, 15, 88, 4},
                 {3, 18, 88, 4},
                 {3, 20, 88, 4},
                 {3, 20, 91, 4},
                 {3, 20, 93, 4}})},
        {"threshold", phrase("lifting threshold"), phrase("power, length, then shorter rest"),
         phrase("a repetition falls 5 % under its target"), hot,
         steady({{3, 5, 92, 5},
                 {3, 5, 95, 5},
                 {3, 6, 95, 5},
                 {3, 7, 95, 5},
                 {3, 8, 95, 5},
                 {3, 10, 95, 5},
                 {3, 10, 97, 5},
                 {3, 12, 97, 5},
                 {3, 12, 99, 5},
                 {3, 15, 99, 5},
                 {3, 15, 99, 4},
                 {3, 15, 100, 4}})},
        {"over-unders", phrase("changes of pace, and clearing what they leave"),
         phrase("the under, the share over, length, sets"), phrase("an under cannot be held"), hot,
         overUnders()},
        {"just above threshold", phrase("power a little over threshold"), phrase("number, then power"),
         phrase("it fades by 6 %"), hot,
         steady({{3, 5, 106, 5},
                 {3, 6, 106, 5},
                 {3, 7, 106, 5},
                 {3, 8, 106, 5},
                 {4, 7, 106, 5},
                 {4, 8, 106, 5},
                 {4, 8, 108, 5}})},
        {"aerobic ceiling long", phrase("maximal uptake"), phrase("number, length, then shorter rest"),
         phrase("power falls into threshold twice"), maximal,
         steady({{4, 3, 110, 3},
                 {5, 3, 110, 3},
                 {6, 3, 110, 3},
                 {5, 4, 110, 4},
                 {6, 4, 110, 4},
                 {5, 5, 110, 5},
                 {5, 5, 110, 4},
                 {5, 5, 112, 4}})},
        {"aerobic ceiling short", phrase("maximal uptake, more of it"),
         phrase("number, then more work to rest"), phrase("half of a set is under target"), maximal,
         shorts({{2, 8, 30, 30, 120, 5},
                 {2, 10, 30, 30, 120, 5},
                 {2, 12, 30, 30, 120, 5},
                 {3, 9, 30, 30, 120, 5},
                 {3, 10, 30, 30, 120, 5},
                 {3, 12, 30, 30, 120, 5},
                 {3, 13, 30, 30, 120, 5},
                 {3, 13, 30, 30, 123, 5},
                 {3, 10, 40, 20, 120, 5},
                 {3, 12, 40, 20, 120, 5}})},
        {phrase("aerobic ceiling short, 15/15"),
         phrase("the same, for those whom thirty seconds are too long"), phrase("number, then sets"),
         phrase("half of a set is under target"), maximal,
         shorts({{2, 16, 15, 15, 120, 5},
                 {2, 20, 15, 15, 120, 5},
                 {3, 18, 15, 15, 120, 5},
                 {3, 20, 15, 15, 120, 5}})},
        {"hard starts",
         phrase("time near maximal uptake, early"),
         phrase("the start, then length"),
         phrase("power falls into threshold"),
         maximal,
         {phrase("4 × (20 s 140, 3 min 106) with 4 min 50 between"),
          phrase("4 × (30 s 140, 3 min 106) with 4 min 50 between"),
          phrase("4 × (40 s 140, 3 min 106) with 4 min 50 between"),
          phrase("4 × (40 s 140, 4 min 106) with 4 min 50 between")}},
        {"above maximal aerobic", "punch", phrase("number, sets, then power"),
         phrase("it is 10 % under the first"), maximal,
         shorts({{2, 4, 40, 80, 130, 8},
                 {2, 5, 40, 80, 130, 8},
                 {2, 6, 40, 80, 130, 8},
                 {3, 5, 40, 80, 130, 8},
                 {3, 5, 45, 75, 130, 8},
                 {3, 5, 45, 75, 135, 8},
                 {3, 5, 45, 75, 140, 8}})},
        {"race starts",
         phrase("starts, and settling after them"),
         phrase("length, then number"),
         phrase("power falls under threshold"),
         maximal,
         {phrase("3 × (15 s all out, 3 min 45 s 106) with 6 min 50 between"),
          phrase("4 × (15 s all out, 3 min 45 s 106) with 6 min 50 between"),
          phrase("4 × (20 s all out, 4 min 40 s 106) with 8 min 50 between"),
          phrase("4 × (20 s all out, 5 min 40 s 106) with 8 min 50 between"),
          phrase("4 × (25 s all out, 6 min 35 s 106) with 10 min 50 between"),
          phrase("4 × (25 s all out, 7 min 35 s 106) with 10 min 50 between")}},
        {"race pace", phrase("the race's own effort"), "length", phrase("it fades by 5 %"), hot,
         steady({{2, 15, 88, 5}, {2, 20, 88, 5}, {2, 25, 88, 5}, {2, 30, 88, 5}})},
        {"surges", phrase("riding in a pack"), phrase("length, then power"),
         phrase("the steady part falls 5 %"), hot, surges()},
        {"sprints",
         phrase("peak power"),
         phrase("number, then length"),
         phrase("the peak is 8 % under the best of the day"),
         maximal,
         {phrase("4 × 8 s all out with 2 min 50 between"),
          phrase("2 × (4 × 8 s all out with 2 min 50 between) with 10 min 60 between"),
          phrase("3 × (4 × 8 s all out with 2 min 50 between) with 10 min 60 between"),
          phrase("3 × (4 × 10 s all out with 150 s 50 between) with 10 min 60 between"),
          phrase("3 × (4 × 12 s all out with 3 min 50 between) with 10 min 60 between")}},
        {"jumps and sprints",
         phrase("peak power"),
         "rounds",
         phrase("landings get loud, or the peak is 8 % under"),
         knees,
         {phrase("2 × 9 s all out with 2 min 50 between"), phrase("3 × 9 s all out with 2 min 50 between"),
          phrase("4 × 9 s all out with 2 min 50 between")}},
        {"lead-outs",
         phrase("finishing together"),
         "pace",
         "",
         maximal,
         {phrase("3 × (3 min 95, 40 s 120, 15 s all out) with 10 min 50 between"),
          phrase("4 × (3 min 95, 40 s 120, 15 s all out) with 10 min 50 between")}},
        {"strength",
         phrase("force and resilience"),
         phrase("the exercise, then weight"),
         phrase("the lift slows"),
         knees,
         {}},
        {"low cadence",
         phrase("force on the bicycle"),
         "length",
         phrase("the knees hurt"),
         knees,
         {phrase("4 × 5 min 82 at 50 to 60 rpm with 3 min 50 between"),
          phrase("4 × 6 min 82 at 50 to 60 rpm with 3 min 50 between"),
          phrase("4 × 8 min 82 at 50 to 60 rpm with 3 min 50 between"),
          phrase("4 × 10 min 82 at 50 to 60 rpm with 3 min 50 between"),
          phrase("4 × 10 min 85 at 50 to 60 rpm with 3 min 50 between")}},
        {"short on time",
         phrase("four or five a week still make a rider fit"),
         "power",
         "",
         "",
         {phrase("2 × 8 min 95 with 3 min 50 between"), phrase("2 × 9 min 95 with 3 min 50 between"),
          phrase("2 × 10 min 97 with 3 min 50 between"), phrase("2 × 10 min 100 with 3 min 50 between")}},
        {phrase("short on time, surges"),
         phrase("the same, one steady stretch with surges"),
         "surges",
         phrase("the steady part falls 5 %"),
         "",
         {"8 × (110 s 90, 10 s 140)", "9 × (110 s 90, 10 s 140)", "10 × (110 s 90, 10 s 140)"}},
        {phrase("short on time, pyramid"),
         phrase("the same, short hard stretches up and down"),
         "power",
         phrase("power falls into threshold"),
         maximal,
         {"1 min 112, 2 min 50, 2 min 108, 2 min 50, 3 min 106, 2 min 50, 2 min 108, 2 min 50, 1 min 112",
          "1 min 115, 2 min 50, 2 min 111, 2 min 50, 3 min 108, 2 min 50, 2 min 111, 2 min 50, 1 min 115"}},
        {phrase("short on time, sprints"),
         phrase("the same, short sprints"),
         phrase("number, then length"),
         phrase("the peak is 8 % under the best of the day"),
         maximal,
         {phrase("6 × 10 s all out with 110 s 50 between"), phrase("8 × 10 s all out with 110 s 50 between"),
          phrase("8 × 15 s all out with 105 s 50 between")}},
        {"openers",
         phrase("the day before a race"),
         "",
         "",
         "",
         {phrase("4 × 30 s 120 with 2 min 50 between")}},
        {"aerobic check", "to know", "", "", "", {"40 min 70"}},
        {"threshold test", "to know", "", "", maximal, {phrase("20 min effort 8")}},
        {phrase("benchmark climb"),
         phrase("to know, on a road that stays the same"),
         "",
         "",
         maximal,
         {phrase("14 min effort 8")}},
        {phrase("sprint test"),
         "to know",
         "",
         "",
         maximal,
         {phrase("3 × 8 s all out with 5 min 50 between")}},
        {phrase("durability check"),
         phrase("to know what hours of work cost"),
         "",
         "",
         maximal,
         {phrase("10 min effort 8, 2 h 30 min 65, 10 min effort 8")}},
    };
}

} // namespace

std::string cautionOn(const Family& family, Date day) {
    const int month = toCivil(day).month;
    return family.caution == heatCaution && (month < 5 || month > 9) ? std::string() : family.caution;
}

Result<void> readRungs(Family& family) {
    if (family.name.empty() || family.name.size() > 60)
        return refuse(phrase("name must be 1 to 60 characters"));
    if (family.rungs.empty() && needsRungs(family.name))
        return refuse(phrase("\"%1\" is one of Marram's families and is placed by its rungs; give it at "
                             "least one, or another name",
                             family.name));
    if (family.rungs.size() > 40)
        return refuse(phrase("rungs: %1 are too many; at most 40", std::to_string(family.rungs.size())));
    family.work.clear();
    for (size_t r = 0; r < family.rungs.size(); ++r) {
        auto session = readShorthand(family.rungs[r]);
        if (!session)
            return refuse(phrase("rungs[%1], character %2: %3", std::to_string(r),
                                 std::to_string(session.error().place), session.error().sentence));
        family.work.push_back(std::move(*session));
    }
    return {};
}

const FamilyBook& FamilyBook::standard() {
    static const FamilyBook book = [] {
        std::vector<Family> table = tradeFamilies();
        for (Family& f : table) {
            if (auto ok = readRungs(f); !ok)
                throw std::logic_error(f.name + ": " + ok.error().sentence);
            if (f.name == "jumps and sprints" || f.name == "strength")
                f.notWith = {"knee", "hip", "achilles"};
            else if (f.name == "low cadence")
                f.notWith = {"knee"};
            f.together = f.name == "lead-outs";
            f.test = f.purpose.starts_with("to know");
        }
        return FamilyBook(std::move(table));
    }();
    return book;
}

bool needsRungs(std::string_view name) {
    // While the book itself is being made nothing is asked of it.
    static const std::vector<std::string> names = [] {
        std::vector<std::string> all;
        for (const Family& f : tradeFamilies())
            if (!f.rungs.empty())
                all.push_back(f.name);
        return all;
    }();
    return std::find(names.begin(), names.end(), name) != names.end();
}

FamilyBook FamilyBook::with(const std::vector<Family>& own) const {
    FamilyBook book = *this;
    for (const Family& f : own) {
        if (f.work.empty() && needsRungs(f.name))
            continue; // what is placed by its rungs keeps the trade's
        const auto same = std::find_if(book.all_.begin(), book.all_.end(),
                                       [&](const Family& other) { return other.name == f.name; });
        if (same == book.all_.end()) {
            book.all_.emplace_back(f).own = true;
            continue;
        }
        const bool test = same->test, together = same->together;
        *same = f;
        same->own = true;
        same->test = test;
        same->together = together;
    }
    return book;
}

const Family* FamilyBook::named(std::string_view name) const {
    const auto found =
        std::find_if(all_.begin(), all_.end(), [&](const Family& f) { return name == f.name; });
    return found == all_.end() ? nullptr : &*found;
}

const std::vector<Family>& families() {
    return FamilyBook::standard().all();
}

const Family* familyNamed(std::string_view name) {
    return FamilyBook::standard().named(name);
}

bool excludedBy(const Family& family, std::string_view injury) {
    std::string words(injury);
    std::transform(words.begin(), words.end(), words.begin(),
                   [](unsigned char c) { return static_cast<char>(std::tolower(c)); });
    return std::any_of(family.notWith.begin(), family.notWith.end(),
                       [&](const std::string& word) { return words.find(word) != std::string::npos; });
}

const Session& rungOf(const Family& family, size_t rung) {
    static const Session nothing;
    return family.work.empty() ? nothing : family.work[std::min(rung, family.work.size() - 1)];
}

Session lighter(const Session& work, Lighter how) {
    Session out;
    for (Item item : work.items) {
        if (item.count > 1)
            item.count = how == Lighter::OneFewer ? item.count - 1 : (item.count + 1) / 2;
        else if (item.count == 0)
            item.step.seconds =
                std::max(60, how == Lighter::OneFewer ? item.step.seconds * 2 / 3 : item.step.seconds / 2);
        // One repetition is none: what is left is ridden as it stands.
        if (item.count == 1)
            out.items.insert(out.items.end(), item.part.begin(), item.part.end());
        else
            out.items.push_back(std::move(item));
    }
    return out;
}

} // namespace marram
