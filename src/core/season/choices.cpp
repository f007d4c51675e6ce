// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/season/plan.h"
#include "core/words/phrase.h"

#include <algorithm>
#include <array>
#include <cmath>

namespace marram {
namespace {

/// A choice has to gain this much over the usual one, in race-day fitness, before it is made, and this much
/// over one that was promised.
constexpr double worthChoosing = 0.1, worthChoosingAnew = 0.4;
/// Ways to cut the weeks into blocks that differ by less than this, in weeks off the rhythm, are a tie.
constexpr double nearTie = 0.7;

struct Way {
    int taperDays = 14;
    TaperShape shape = TaperShape::Falling;
    bool operator==(const Way&) const = default;
};

Season with(const Season& season, const Way& way) {
    Season changed = season;
    changed.rules.taperDays = way.taperDays;
    changed.rules.taperShape = way.shape;
    changed.rules.taperBest = changed.rules.shapeBest = false;
    return changed;
}

std::string called(const Way& way) {
    if (way.shape == TaperShape::DeepThenModerate)
        return phrase("a taper of %1 days, deep and then moderate", std::to_string(way.taperDays));
    return phrase("a taper of %1 days", std::to_string(way.taperDays));
}

/// The A races with a gate and a taper of their own. One that comes days after another shares its taper, and
/// no length makes it fresh.
std::vector<const PlannedRace*> peaksOf(const Solved& solved) {
    std::vector<const PlannedRace*> all;
    for (const TaperFrame& taper : solved.frame.tapers)
        if (const PlannedRace& race = solved.plan.races[static_cast<size_t>(taper.race)]; race.gate)
            all.push_back(&race);
    return all;
}

/// The one of them whose gate is missed by most, or met with the least chance.
const PlannedRace* worstMissed(const Solved& solved) {
    const PlannedRace* worst = nullptr;
    const auto badness = [](const PlannedRace& r) { return r.gateMiss - r.chance.value_or(1); };
    for (const PlannedRace* race : peaksOf(solved))
        if (!worst || badness(*race) > badness(*worst))
            worst = race;
    return worst;
}

/// The least chance to wake inside their gates of the peaks that come soon and have their taper before them;
/// nothing without one.
std::optional<double> leastChance(const Solved& solved) {
    constexpr int soon = 56;
    const Date today = solved.plan.days.front().date + solved.frame.today;
    std::optional<double> least;
    for (const PlannedRace* race : peaksOf(solved))
        if (race->date >= today + 7 && race->date < today + soon && race->chance)
            least = std::min(least.value_or(1), *race->chance);
    return least;
}

/// Fourteen falling days stand; a shorter taper is tried only where they leave a rider over a gate, a longer
/// one only where under.
std::vector<int> lengthsToTry(const Solved& solved) {
    bool over = false, under = false;
    for (const PlannedRace* race : peaksOf(solved)) {
        // The morning that comes counts too: off the inner half of the gate another length may be better.
        const double quarter = (race->gate->high - race->gate->low) / 4;
        if (race->form > race->gate->high || race->expectedForm > race->gate->high - quarter)
            over = true;
        else if (race->form < race->gate->low || race->expectedForm < race->gate->low + quarter)
            under = true;
    }
    std::vector<int> lengths;
    if (over || under)
        lengths.push_back(14);
    if (over)
        lengths.insert(lengths.end(), {12, 10, 8, 7});
    if (under)
        lengths.insert(lengths.end(), {17, 21});
    return lengths;
}

/// Whether each peak of `other` has more fitness and clearly more chance to wake inside its gate, and nothing
/// else pays for it: the way it was solved is then better, whatever stands by custom.
bool betterThroughout(const Solved& other, const Solved& one) {
    constexpr double fitter = 0.3, likelier = 0.05,
                     hardly = 0.05; // the last: what others pay, of the objective
    const auto peaks = peaksOf(one);
    return !peaks.empty() && other.solution.comparable >= one.solution.comparable - hardly &&
           std::all_of(peaks.begin(), peaks.end(), [&](const PlannedRace* race) {
               const auto its =
                   std::find_if(other.plan.races.begin(), other.plan.races.end(), [&](const PlannedRace& r) {
                       return r.name == race->name && r.date == race->date;
                   });
               return its != other.plan.races.end() && its->fitness >= race->fitness + fitter &&
                      its->chance.value_or(0) >= race->chance.value_or(0) + likelier;
           });
}

/// A window that opens on the week's longest day takes it whole into the taper: another length is better.
bool opensOnLongDay(const Season& season, const Plan& plan, int days) {
    const auto longest = std::max_element(season.hours.begin(), season.hours.end()) - season.hours.begin();
    return std::any_of(plan.races.begin(), plan.races.end(), [&](const PlannedRace& r) {
        return r.priority == Priority::A && weekday(r.date - days) == longest && longest == 6 && days <= 10;
    });
}

/// Whether the rider comes back from days away shortly before an A race: its taper is then the shortest that
/// meets the gate.
bool returnsInto(const Season& season) {
    constexpr int shortly = 42;
    for (const Race& race : season.races)
        if (race.priority == Priority::A)
            for (const Away& a : season.away)
                if (a.why != AwayWhy::Camp && a.to < race.date && race.date - a.to <= shortly &&
                    a.to - a.from >= 4)
                    return true;
    return false;
}

class Chooser {
public:
    Chooser(const Season& season, const Solution* from, const std::string& textFile)
        : season_(season), from_(from), textFile_(textFile) {}

    Solved run(Choices choices) {
        const Rules& rules = season_.rules;
        const Way usual{rules.taperBest ? 14 : rules.taperDays,
                        rules.shapeBest ? TaperShape::Falling : rules.taperShape};
        way_ = usual;
        const bool open = rules.taperBest || rules.shapeBest || !rules.taperSet;
        if (choices == Choices::Keep && from_)
            return asChosen(open);
        best_ = solveAs(with(season_, way_), CutWay{}, from_);
        if (open)
            taper();
        blocks();
        if (open && best_.solution.cut != CutWay{})
            taperAnew(usual);
        best_.plan.choices = std::move(taperSaid_);
        best_.plan.choices.insert(best_.plan.choices.end(), cutSaid_.begin(), cutSaid_.end());
        if (!textFile_.empty()) {
            auto choicesMade = std::move(best_.plan.choices);
            best_ = solveAs(with(season_, way_), best_.solution.cut, nullptr, textFile_);
            best_.plan.choices = std::move(choicesMade);
        }
        best_.solution.taperDays = open ? way_.taperDays : 0;
        best_.solution.taperShape = way_.shape;
        for (const Choice& choice : best_.plan.choices)
            best_.plan.warnings.push_back(choice.text);
        return std::move(best_);
    }

    /// What was promised, solved again after a week that was ridden otherwise. Its taper stands; where a
    /// reason has come to choose anew, another is taken that brings clearly more.
    Solved again(const Solved& promised, bool anew) {
        promised_ = &promised.solution;
        const bool open = promised.solution.taperDays > 0;
        way_ = open ? Way{promised.solution.taperDays, promised.solution.taperShape}
                    : Way{season_.rules.taperDays, season_.rules.taperShape};
        best_ = solved(way_, promised_);
        auto choices = promised.plan.choices;
        const Way before = way_;
        // What was missed may have taken a peak out of its gate: then a taper that clearly brings it back.
        if (open && (anew || leastChance(best_).value_or(1) < 0.5))
            taper(anew ? 0 : 0.25);
        best_.plan.choices = std::move(way_ == before ? choices : taperSaid_);
        best_.solution.taperDays = open ? way_.taperDays : 0;
        best_.solution.taperShape = way_.shape;
        return std::move(best_);
    }

private:
    /// With other blocks before it another length of the taper may be the better one, and what was taken with
    /// the ones of before may no longer be worth more than the usual one.
    void taperAnew(const Way& usual) {
        const Way before = way_;
        auto said = std::move(taperSaid_);
        if (way_ != usual)
            if (Solved other = solved(usual, &best_.solution);
                other.solution.comparable >= best_.solution.comparable - worthChoosing) {
                best_ = std::move(other);
                way_ = usual;
            }
        taper();
        if (way_ == before && taperSaid_.empty())
            taperSaid_ = std::move(said);
    }

    /// As it was chosen the last time.
    Solved asChosen(bool open) {
        if (open && from_->taperDays > 0)
            way_ = {from_->taperDays, from_->taperShape};
        const bool behind = season_.past && season_.past->today > season_.start;
        Solved kept = solveAs(with(season_, way_), from_->cut, from_, textFile_,
                              behind && from_->start == season_.start ? from_ : nullptr);
        kept.solution.taperDays = open ? way_.taperDays : 0;
        kept.solution.taperShape = way_.shape;
        return kept;
    }

    Solved solved(const Way& way, const Solution* from) const {
        return promised_ ? solveAs(with(season_, way), promised_->cut, from, {}, promised_)
                         : solveAs(with(season_, way), best_.solution.cut, from);
    }

    struct Tried {
        Way way;
        double objective = 0, form = 0, fitness = 0;
    };

    std::vector<Way> offered(const std::vector<int>& lengths) const {
        std::vector<Way> ways;
        const bool open = season_.rules.taperBest || !season_.rules.taperSet;
        for (const int days : lengths)
            if (open && !opensOnLongDay(season_, best_.plan, days))
                ways.push_back({days, way_.shape});
        return ways;
    }

    bool worthTaking(const Solved& other, double chance) const {
        const bool likelier =
            chance <= 0 || leastChance(other).value_or(0) >= leastChance(best_).value_or(0) + chance;
        return likelier && other.solution.comparable >
                               best_.solution.comparable + (promised_ ? worthChoosingAnew : worthChoosing);
    }

    /// Another taper is taken where it brings more, and at least so much chance to wake inside the gates.
    void taper(double chance = 0) {
        taperSaid_.clear();
        const PlannedRace* race = worstMissed(best_);
        if (!race || race->date < season_.start + best_.frame.today)
            return;
        const std::string name = race->name;
        std::vector<Tried> all{tried(way_, best_, name)};
        std::vector<Way> ways = offered(lengthsToTry(best_));
        if (ways.empty() && returnsInto(season_))
            ways = offered({10, 8, 7});
        if (season_.rules.shapeBest)
            ways.push_back({way_.taperDays, TaperShape::DeepThenModerate});
        for (const Way& way : ways) {
            if (way == way_)
                continue;
            Solved other = solved(way, &best_.solution);
            all.push_back(tried(way, other, name));
            if (worthTaking(other, chance)) {
                best_ = std::move(other);
                way_ = way;
            }
        }
        // Custom gives way to what is better in everything.
        if (promised_ || best_.solution.cut != CutWay{})
            ways.clear();
        else
            ways = offered({12, 10, 8, 7});
        for (const Way& way : ways) {
            if (std::any_of(all.begin(), all.end(), [&](const Tried& t) { return t.way == way; }))
                continue;
            Solved other = solved(way, &best_.solution);
            if (!betterThroughout(other, best_))
                continue;
            all.push_back(tried(way, other, name));
            best_ = std::move(other);
            way_ = way;
        }
        sayChosen(all, name);
    }

    /// What was chosen among ways that were tried, and what the next best would have brought.
    void sayChosen(const std::vector<Tried>& all, const std::string& name) {
        if (all.size() < 2)
            return;
        const auto same = [&](const Tried& t) { return t.way == way_; };
        const Tried& chosen = *std::find_if(all.begin(), all.end(), same);
        // What comes to the same is nothing to choose between.
        const auto alike = [&](const Tried& t) {
            return signedText(chosen.form, 0) == signedText(t.form, 0) &&
                   fixedText(chosen.fitness) == fixedText(t.fitness);
        };
        const Tried* second = nullptr;
        for (const Tried& t : all)
            if (!alike(t) && (!second || t.objective > second->objective))
                second = &t;
        if (!second)
            return;
        taperSaid_.push_back(
            {phrase("Chosen by solving: %1 before %2, form %3 and fitness %4, instead of %5, form %6 and "
                    "fitness %7.",
                    called(way_), name, signedText(chosen.form, 0), fixedText(chosen.fitness),
                    called(second->way), signedText(second->form, 0), fixedText(second->fitness)),
             chosen.objective - second->objective});
    }

    static Tried tried(const Way& way, const Solved& solved, const std::string& race) {
        Tried t{way, solved.solution.comparable, 0, 0};
        for (const PlannedRace& r : solved.plan.races)
            if (r.name == race) {
                t.form = r.form;
                t.fitness = r.fitness;
            }
        return t;
    }

    /// Another cut of the weeks into blocks, where the rhythm leaves it near a tie: longer blocks early, or
    /// all a week shorter or longer.
    void blocks() {
        const Season season = with(season_, way_);
        const double least = best_.skeletonCost, first = best_.solution.comparable;
        std::vector<std::vector<WeekKind>> known{kindsOf(best_.frame)};
        for (const CutWay& cut : {CutWay{true, 0}, CutWay{false, -1}, CutWay{false, 1}}) {
            SeasonFrame frame = layOut(season_);
            const double cost = decideSkeleton(season, frame, cut);
            const std::vector<WeekKind> kinds = kindsOf(frame);
            if (cost > least + nearTie || std::find(known.begin(), known.end(), kinds) != known.end())
                continue;
            known.push_back(kinds);
            Solved other = solveAs(season, cut, &best_.solution);
            if (other.solution.comparable > best_.solution.comparable + worthChoosing)
                best_ = std::move(other);
        }
        if (const CutWay& cut = best_.solution.cut; cut != CutWay{}) {
            const double gain = best_.solution.comparable - first;
            cutSaid_.push_back(
                {phrase("Chosen by solving: the blocks are cut %1 would bring %2 less, in race-day fitness.",
                        (cut.early ? phrase("with the longer ones early; late they")
                         : cut.lean < 0
                             ? phrase("a week shorter where the rhythm leaves it open; longer they")
                             : phrase("a week longer where the rhythm leaves it open; shorter they")),
                        fixedText(gain)),
                 gain});
        }
    }

    static std::vector<WeekKind> kindsOf(const SeasonFrame& frame) {
        std::vector<WeekKind> kinds;
        for (const WeekFrame& week : frame.weeks)
            kinds.push_back(week.kind);
        return kinds;
    }

    const Season& season_;
    const Solution* from_;
    const std::string& textFile_;
    const Solution* promised_ = nullptr;
    Way way_;
    Solved best_;
    std::vector<Choice> taperSaid_, cutSaid_;
};

/// The season as care lets it be ridden, whatever the rules say.
Season underCare(const Season& season) {
    const CareRules care = careOf(season);
    Season held = season;
    if (care.ramp)
        held.rules.ramp = std::min(held.rules.ramp, *care.ramp);
    if (care.noMaximal)
        held.rules.overreach = false;
    return held;
}

} // namespace

Season asChosen(const Season& season, const Solution& chosen) {
    return chosen.taperDays > 0 ? with(season, {chosen.taperDays, chosen.taperShape}) : season;
}

Solved solveSeason(const Season& asked, const Solution* from, const std::string& textFile, Choices choices) {
    const Season season = underCare(asked);
    // While something moves under a hand the last choices stand, and so does the last cut.
    if (!season.past || season.past->today <= season.start || choices == Choices::Keep)
        return Chooser(season, from, textFile).run(choices);
    Solved plan = planOn(
        season, [](const Season& then) { return Chooser(then, nullptr, {}).run(Choices::Make); },
        [](const Season& then, const Solved& promised, bool anew) {
            return Chooser(then, nullptr, {}).again(promised, anew);
        });
    if (!textFile.empty())
        plan.plan.objective = solveAs(asChosen(season, plan.solution), plan.solution.cut, &plan.solution,
                                      textFile, &plan.solution)
                                  .plan.objective;
    return plan;
}

namespace {

/// The season with the gates its plan was made for set down as numbers.
Season withGates(const Season& season, const Plan& plan) {
    Season fixed = season;
    for (size_t r = 0; r < fixed.races.size(); ++r)
        if (!fixed.races[r].gate)
            fixed.races[r].gate = plan.races[r].gate;
    return fixed;
}

/// One other way to lay out the season, solved once for all its races.
struct Try {
    int taperDays = 0;
    Plan plan;
};

/// The race of the week before that takes most form from a race's morning, and how much.
std::pair<const Race*, double> takesForm(const Season& season, const Race& from) {
    std::pair<const Race*, double> most{nullptr, 0};
    const double fitness = decay(season.tau.fitness), fatigue = decay(season.tau.fatigue);
    for (const Race& race : season.races) {
        double takes = 0;
        for (int i = 0; i < race.days; ++i)
            if (const int before = from.date - (race.date + i); before >= 1 && before <= 7)
                takes += raceStress(race) / race.days *
                         ((1 - fatigue) * std::pow(fatigue, before - 1) -
                          (1 - fitness) * std::pow(fitness, before - 1));
        if (takes > most.second)
            most = {&race, takes};
    }
    return most;
}

std::string advice(const Season& season, size_t r, const PlannedRace& race, const std::vector<Try>& tapers,
                   const Plan& dear) {
    const bool over = race.form > race.gate->high;
    for (const Try& other : tapers) {
        const PlannedRace& then = other.plan.races[r];
        if ((other.taperDays < season.rules.taperDays) != over || then.gateMiss > 0.1)
            continue;
        return phrase("a taper of %1 days would meet it, with form %2 and fitness %3 instead of %4",
                      std::to_string(other.taperDays), signedText(then.form, 0), fixedText(then.fitness),
                      fixedText(race.fitness));
    }
    if (const auto [before, takes] = takesForm(season, season.races[r]); !over && takes > race.gateMiss)
        return counted(
            season.races[r].date - before->date,
            "\"%2\" on the day before takes some %3 points of form; without it the gate could be met",
            "\"%2\" %1 days before takes some %3 points of form; without it the gate could be met",
            season.races[r].date - before->date, before->name, fixedText(takes, 0));
    // Too fresh is not cured by training less.
    if (!over && dear.races[r].gateMiss <= 0.1)
        return phrase(
            "with this taper it could be met for %1 points of fitness; the price of a point of gate is %2",
            fixedText(std::max(0.0, race.fitness - dear.races[r].fitness)),
            fixedText(season.rules.gatePrice, 2));
    return phrase("no taper of 7 to 21 days meets it; a gate of %1 to %2 would",
                  signedText(std::floor(race.form), 0),
                  signedText(std::floor(race.form) + (race.gate->high - race.gate->low), 0));
}

} // namespace

static bool missed(const PlannedRace& race) {
    return race.priority == Priority::A && race.gate && race.gateMiss > 0.1;
}

std::vector<std::string> adviseGates(const Season& season, const Solved& solved) {
    constexpr int mostAdvised = 6;
    bool over = false, under = false;
    for (const PlannedRace& race : solved.plan.races)
        if (missed(race))
            (race.form > race.gate->high ? over : under) = true;
    if (!over && !under)
        return {};
    const Season fixed = withGates(season, solved.plan);
    std::vector<Try> tapers;
    // Nearest to the present taper first.
    for (const int days : {12, 10, 8, 7, 14, 17, 21}) {
        const bool shorter = days < season.rules.taperDays;
        if (days == season.rules.taperDays || (shorter ? !over : !under) ||
            opensOnLongDay(season, solved.plan, days))
            continue;
        tapers.push_back({days, solveAs(with(fixed, {days, season.rules.taperShape}), solved.solution.cut,
                                        &solved.solution)
                                    .plan});
    }
    Season dearer = fixed;
    dearer.rules.gatePrice = 4;
    const Plan dear = under ? solveAs(dearer, solved.solution.cut, &solved.solution).plan : solved.plan;
    std::vector<std::string> all;
    for (size_t r = 0; r < solved.plan.races.size() && all.size() < mostAdvised; ++r)
        if (const PlannedRace& race = solved.plan.races[r]; missed(race))
            all.push_back(phrase("The gate of \"%1\" is missed by %2: %3.", race.name,
                                 fixedText(race.gateMiss), advice(season, r, race, tapers, dear)));
    return all;
}

} // namespace marram
