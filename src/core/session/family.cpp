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
    return std::to_string(count) + " × " + what + " with " + rest + " between";
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
        {marked("endurance"), marked("base, and recovery between hard days"), marked("length"), "", "", {}},
        {marked("endurance with drills"),
         marked("cadence and skill while riding easily"),
         marked("number"),
         "",
         "",
         {"6 × 1 min 65 at 110 to 120 rpm with 2 min 60 between",
          "8 × 1 min 65 at 110 to 120 rpm with 2 min 60 between",
          "10 × 1 min 65 at 110 to 120 rpm with 2 min 60 between"}},
        {marked("long ride"),
         marked("durability"),
         marked("length, then tempo late, then the race's pace"),
         "",
         hot,
         {"20 min 80", "30 min 80", "40 min 80", "50 min 80", "60 min 80", "75 min 80", "90 min 80",
          "90 min 83"}},
        {marked("late efforts"), marked("holding power after hours of work"),
         marked("work before, then number"), marked("it fades by 8 %"), hot,
         steady({{2, 10, 90, 5}, {3, 10, 90, 5}, {3, 10, 95, 5}, {4, 10, 95, 5}, {4, 10, 98, 5}})},
        {marked("tempo"), marked("a first intensity"), marked("length, then number, then power"), "", "",
         steady({{2, 10, 80, 3},
                 {2, 12, 80, 3},
                 {2, 15, 80, 3},
                 {3, 12, 80, 3},
                 {3, 15, 80, 3},
                 {3, 18, 80, 3},
                 {3, 20, 80, 3},
                 {3, 20, 83, 3},
                 {3, 20, 86, 3}})},
        {marked("just under threshold"), marked("sustained work close under threshold"),
         marked("length, then power"), marked("the heart rate is over threshold for two minutes"), hot,
         steady({{2, 10, 88, 4},
                 {2, 12, 88, 4},
                 {2, 15, 88, 4},
                 {3, 12, 88, 4},
                 {3, 15, 88, 4},
                 {3, 18, 88, 4},
                 {3, 20, 88, 4},
                 {3, 20, 91, 4},
                 {3, 20, 93, 4}})},
        {marked("threshold"), marked("lifting threshold"), marked("power, length, then shorter rest"),
         marked("a repetition falls 5 % under its target"), hot,
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
        {marked("over-unders"), marked("changes of pace, and clearing what they leave"),
         marked("the under, the share over, length, sets"), marked("an under cannot be held"), hot,
         overUnders()},
        {marked("just above threshold"), marked("power a little over threshold"),
         marked("number, then power"), marked("it fades by 6 %"), hot,
         steady({{3, 5, 106, 5},
                 {3, 6, 106, 5},
                 {3, 7, 106, 5},
                 {3, 8, 106, 5},
                 {4, 7, 106, 5},
                 {4, 8, 106, 5},
                 {4, 8, 108, 5}})},
        {marked("aerobic ceiling long"), marked("maximal uptake"),
         marked("number, length, then shorter rest"), marked("power falls into threshold twice"), maximal,
         steady({{4, 3, 110, 3},
                 {5, 3, 110, 3},
                 {6, 3, 110, 3},
                 {5, 4, 110, 4},
                 {6, 4, 110, 4},
                 {5, 5, 110, 5},
                 {5, 5, 110, 4},
                 {5, 5, 112, 4}})},
        {marked("aerobic ceiling short"), marked("maximal uptake, more of it"),
         marked("number, then more work to rest"), marked("half of a set is under target"), maximal,
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
        {marked("aerobic ceiling short, 15/15"),
         marked("the same, for those whom thirty seconds are too long"), marked("number, then sets"),
         marked("half of a set is under target"), maximal,
         shorts({{2, 16, 15, 15, 120, 5},
                 {2, 20, 15, 15, 120, 5},
                 {3, 18, 15, 15, 120, 5},
                 {3, 20, 15, 15, 120, 5}})},
        {marked("hard starts"),
         marked("time near maximal uptake, early"),
         marked("the start, then length"),
         marked("power falls into threshold"),
         maximal,
         {"4 × (20 s 140, 3 min 106) with 4 min 50 between",
          "4 × (30 s 140, 3 min 106) with 4 min 50 between",
          "4 × (40 s 140, 3 min 106) with 4 min 50 between",
          "4 × (40 s 140, 4 min 106) with 4 min 50 between"}},
        {marked("above maximal aerobic"), marked("punch"), marked("number, sets, then power"),
         marked("it is 10 % under the first"), maximal,
         shorts({{2, 4, 40, 80, 130, 8},
                 {2, 5, 40, 80, 130, 8},
                 {2, 6, 40, 80, 130, 8},
                 {3, 5, 40, 80, 130, 8},
                 {3, 5, 45, 75, 130, 8},
                 {3, 5, 45, 75, 135, 8},
                 {3, 5, 45, 75, 140, 8}})},
        {marked("race starts"),
         marked("starts, and settling after them"),
         marked("length, then number"),
         marked("power falls under threshold"),
         maximal,
         {"3 × (15 s all out, 3 min 45 s 106) with 6 min 50 between",
          "4 × (15 s all out, 3 min 45 s 106) with 6 min 50 between",
          "4 × (20 s all out, 4 min 40 s 106) with 8 min 50 between",
          "4 × (20 s all out, 5 min 40 s 106) with 8 min 50 between",
          "4 × (25 s all out, 6 min 35 s 106) with 10 min 50 between",
          "4 × (25 s all out, 7 min 35 s 106) with 10 min 50 between"}},
        {marked("race pace"), marked("the race's own effort"), marked("length"), marked("it fades by 5 %"),
         hot, steady({{2, 15, 88, 5}, {2, 20, 88, 5}, {2, 25, 88, 5}, {2, 30, 88, 5}})},
        {marked("surges"), marked("riding in a pack"), marked("length, then power"),
         marked("the steady part falls 5 %"), hot, surges()},
        {marked("sprints"),
         marked("peak power"),
         marked("number, then length"),
         marked("the peak is 8 % under the best of the day"),
         maximal,
         {"4 × 8 s all out with 2 min 50 between",
          "2 × (4 × 8 s all out with 2 min 50 between) with 10 min 60 between",
          "3 × (4 × 8 s all out with 2 min 50 between) with 10 min 60 between",
          "3 × (4 × 10 s all out with 150 s 50 between) with 10 min 60 between",
          "3 × (4 × 12 s all out with 3 min 50 between) with 10 min 60 between"}},
        {marked("jumps and sprints"),
         marked("peak power"),
         marked("rounds"),
         marked("landings get loud, or the peak is 8 % under"),
         knees,
         {"2 × 9 s all out with 2 min 50 between", "3 × 9 s all out with 2 min 50 between",
          "4 × 9 s all out with 2 min 50 between"}},
        {marked("lead-outs"),
         marked("finishing together"),
         marked("pace"),
         "",
         maximal,
         {"3 × (3 min 95, 40 s 120, 15 s all out) with 10 min 50 between",
          "4 × (3 min 95, 40 s 120, 15 s all out) with 10 min 50 between"}},
        {marked("strength"),
         marked("force and resilience"),
         marked("the exercise, then weight"),
         marked("the lift slows"),
         knees,
         {}},
        {marked("low cadence"),
         marked("force on the bicycle"),
         marked("length"),
         marked("the knees hurt"),
         knees,
         {"4 × 5 min 82 at 50 to 60 rpm with 3 min 50 between",
          "4 × 6 min 82 at 50 to 60 rpm with 3 min 50 between",
          "4 × 8 min 82 at 50 to 60 rpm with 3 min 50 between",
          "4 × 10 min 82 at 50 to 60 rpm with 3 min 50 between",
          "4 × 10 min 85 at 50 to 60 rpm with 3 min 50 between"}},
        {marked("short on time"),
         marked("four or five a week still make a rider fit"),
         marked("power"),
         "",
         "",
         {"2 × 8 min 95 with 3 min 50 between", "2 × 9 min 95 with 3 min 50 between",
          "2 × 10 min 97 with 3 min 50 between", "2 × 10 min 100 with 3 min 50 between"}},
        {marked("short on time, surges"),
         marked("the same, one steady stretch with surges"),
         marked("surges"),
         marked("the steady part falls 5 %"),
         "",
         {"8 × (110 s 90, 10 s 140)", "9 × (110 s 90, 10 s 140)", "10 × (110 s 90, 10 s 140)"}},
        {marked("short on time, pyramid"),
         marked("the same, short hard stretches up and down"),
         marked("power"),
         marked("power falls into threshold"),
         maximal,
         {"1 min 112, 2 min 50, 2 min 108, 2 min 50, 3 min 106, 2 min 50, 2 min 108, 2 min 50, 1 min 112",
          "1 min 115, 2 min 50, 2 min 111, 2 min 50, 3 min 108, 2 min 50, 2 min 111, 2 min 50, 1 min 115"}},
        {marked("short on time, sprints"),
         marked("the same, short sprints"),
         marked("number, then length"),
         marked("the peak is 8 % under the best of the day"),
         maximal,
         {"6 × 10 s all out with 110 s 50 between", "8 × 10 s all out with 110 s 50 between",
          "8 × 15 s all out with 105 s 50 between"}},
        {marked("openers"),
         marked("the day before a race"),
         "",
         "",
         "",
         {"4 × 30 s 120 with 2 min 50 between"}},
        {marked("aerobic check"), marked("to know"), "", "", "", {"40 min 70"}},
        {marked("threshold test"), marked("to know"), "", "", maximal, {"20 min effort 8"}},
        {marked("benchmark climb"),
         marked("to know, on a road that stays the same"),
         "",
         "",
         maximal,
         {"14 min effort 8"}},
        {marked("sprint test"),
         marked("to know"),
         "",
         "",
         maximal,
         {"3 × 8 s all out with 5 min 50 between"}},
        {marked("durability check"),
         marked("to know what hours of work cost"),
         "",
         "",
         maximal,
         {"10 min effort 8, 2 h 30 min 65, 10 min effort 8"}},
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
