// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/review/monday.h"
#include "core/load/monotony.h"
#include "core/review/wording.h"
#include "core/words/phrase.h"

#include <algorithm>
#include <cmath>
#include <gsl/gsl_cdf.h>
#include <numeric>
#include <set>

namespace marram {
namespace {

/// Within a sentence, in a language that writes its nouns small.
std::string lower(std::string words) {
    if (languageCode() == "en" && !words.empty() && words[0] >= 'A' && words[0] <= 'Z')
        words[0] = static_cast<char>(words[0] - 'A' + 'a');
    return words;
}

bool isKey(const MondayDay& d) {
    return d.role == Role::Hard || d.role == Role::Race || d.role == Role::Test;
}

std::string durationWords(int seconds) {
    return seconds < 60 ? std::to_string(seconds) + " s" : hoursText(seconds / 3600.0);
}

struct Spread {
    double mean = 0, deviation = 0;
    int count = 0;
};

Spread spreadOf(const std::vector<double>& all) {
    Spread s;
    s.count = static_cast<int>(all.size());
    if (all.empty())
        return s;
    s.mean = std::accumulate(all.begin(), all.end(), 0.0) / s.count;
    double squares = 0;
    for (const double v : all)
        squares += (v - s.mean) * (v - s.mean);
    s.deviation = s.count > 1 ? std::sqrt(squares / (s.count - 1)) : 0;
    return s;
}

/// Writes the page section by section.
class Writer {
public:
    Writer(const MondayFacts& facts, Reads reads) : f_(facts), you_(reads == Reads::Rider) {}

    Monday write() {
        m_.rider = f_.rider;
        m_.week = f_.week;
        m_.today = f_.today;
        m_.days = f_.days;
        m_.coming = f_.coming;
        count();
        done();
        did();
        felt();
        standsOut();
        again();
        comes();
        cautions();
        say();
        return std::move(m_);
    }

private:
    bool over() const { return f_.today >= f_.week + 7; }

    void count() {
        for (const MondayDay& d : f_.days) {
            if (d.day >= f_.today && d.hours <= 0)
                continue;
            hours_ += d.hours;
            points_ += d.ridden.value_or(0);
            planned_ += d.planned;
            plannedHours_ += d.plannedHours;
            kept_ = kept_ || d.kept;
            rode_ += d.hours > 0 ? 1 : 0;
            if (d.planned < 5 && d.plannedHours < 0.25)
                continue;
            ++sessions_;
            if (d.hours > 0) {
                ++ridden_;
                key_ += isKey(d) && !d.lacks ? 1 : 0;
            } else if (d.day < f_.today) {
                (isKey(d) ? missedKey_ : missedOther_).push_back(d.day);
            }
        }
    }

    void done() {
        if (rode_ == 0 && sessions_ == 0) {
            m_.done = kept_ ? phrase("Nothing was meant and nothing ridden.") : phrase("Nothing was ridden.");
            return;
        }
        std::string s = phrase("Ridden %1", hoursText(hours_));
        if (kept_)
            s += phrase(" of %1 meant", hoursText(plannedHours_));
        if (f_.unscored == 0)
            s += kept_ ? phrase(", %1 of %2 points", fixedText(points_, 0), fixedText(planned_, 0))
                       : phrase(", %1 points", fixedText(points_, 0));
        if (kept_)
            s += phrase("; %1 of %2", std::to_string(ridden_), howMany(sessions_, "session", "sessions"));
        s += over() ? "." : phrase(" so far.");
        if (!missedKey_.empty()) {
            s += counted(static_cast<long>(missedKey_.size()), " Not ridden: the key session of ",
                         " Not ridden: the key sessions of ");
            for (size_t i = 0; i < missedKey_.size(); ++i)
                s += (i == 0                       ? ""
                      : i + 1 == missedKey_.size() ? phrase(" and ")
                                                   : ", ") +
                     weekdayText(missedKey_[i]);
            s += phrase(". What is missed is not owed.");
        }
        m_.done = s;
    }

    void did() {
        if (f_.unscored > 0)
            return;
        const double rise = f_.after.fitness - f_.before.fitness;
        m_.did.push_back(phrase(
            "Fitness %1 (%2 on the week, limit %3), fatigue %4, form %5 (%6 a week before).",
            fixedText(f_.after.fitness, 1), signedText(rise, 1), fixedText(f_.rampLimit, 1),
            fixedText(f_.after.fatigue, 1), signedText(f_.after.form(), 1), signedText(f_.before.form(), 1)));
        if (!f_.race)
            return;
        const auto& r = *f_.race;
        std::string s = phrase("%1 on %2: form %3 with nothing missed", r.name, dayText(r.date, f_.today),
                               signedText(r.form, 0));
        if (r.formBefore && std::abs(*r.formBefore - r.form) >= 0.5)
            s += phrase(", %1 as it looked a week ago", signedText(*r.formBefore, 0));
        if (r.expectedForm)
            s += "; " + signedText(*r.expectedForm, 0) +
                 (you_ ? phrase(" as you miss days") : phrase(" as this rider misses days"));
        if (r.gate)
            s += phrase("; its gate is %1 to %2", figure(r.gate->low, 0), fixedText(r.gate->high, 0));
        if (r.chance)
            s += phrase(", met in %1 of 100 such seasons", fixedText(100 * *r.chance, 0));
        m_.did.push_back(phrase("%1. Fitness %2 that morning.", s, fixedText(r.fitness, 0)));
    }

    /// The mean of the week's answers in the rider's own standard deviations; nothing under four answers, or
    /// fourteen of the sixty days before.
    std::optional<double> feel(int& answers) const {
        std::vector<double> week, before;
        for (const CheckIn& c : f_.checkIns)
            if (const auto w = wellness(c)) {
                if (c.day >= f_.week && c.day < f_.week + 7)
                    week.push_back(*w);
                else if (c.day >= f_.week - 60 && c.day < f_.week)
                    before.push_back(*w);
            }
        answers = static_cast<int>(week.size());
        constexpr size_t enough = 4, usual = 14;
        const Spread own = spreadOf(before);
        if (week.size() < enough || before.size() < usual || own.deviation <= 0)
            return std::nullopt;
        return (spreadOf(week).mean - own.mean) / own.deviation;
    }

    void felt() {
        int answers = 0;
        const auto z = feel(answers);
        feel_ = z;
        if (z && *z < -lowFeel) {
            m_.felt.push_back(
                phrase("Low: the week's answers lie %1 of %2 own standard deviations under those of sixty "
                       "days. A healthy year has two such weeks; how a rider feels outranks the figures.",
                       fixedText(-*z, 1), their()));
            if (const MondayDay* hard = nextKey())
                m_.felt.push_back(phrase("Proposed: an easy day before %1's %2.", weekdayText(hard->day),
                                         lower(what(*hard))));
        } else if (z) {
            m_.felt.push_back(phrase("As usual for %1 (%2 of %3 own standard deviations, %4).",
                                     (you_ ? marked("you") : marked("them")), signedText(*z, 1), their(),
                                     howMany(answers, "answer", "answers")));
        } else if (answers > 0) {
            m_.felt.push_back(phrase("%1 this week: too few, or too short a past, to tell from usual.",
                                     howMany(answers, "answer", "answers")));
        } else {
            m_.felt.push_back(you_ ? phrase("No check-in this week: a line would help.")
                                   : phrase("No check-in this week: ask."));
        }
        for (const CheckIn& c : f_.checkIns)
            if (c.day >= f_.week && c.day < f_.week + 7 && !c.note.empty())
                m_.felt.push_back(weekdayText(c.day) + ": “" + c.note + "”");
    }

    void standsOut() {
        const auto out = [&](std::string text, long long ride = 0) {
            m_.standsOut.push_back({std::move(text), ride});
        };
        for (const auto& [what, beside] : f_.tests)
            out(joined(what, beside));
        loadAgainstPlan(out);
        wattsPerBeat(out);
        constexpr double newBest = 1.02;
        constexpr int enough = 20;
        for (const WeekBest& b : f_.bests)
            if (b.efforts >= enough && b.before > 0 && b.power > newBest * b.before)
                out(phrase("Best %1 in a year: %2 W on %3, %4 before. One best says little of the next.",
                           durationWords(b.seconds), fixedText(b.power, 0), weekdayText(b.day),
                           fixedText(b.before, 0)),
                    b.ride);
        if (f_.longestBefore > 0 && f_.longest > 1.1 * f_.longestBefore && f_.longest >= 2)
            out(phrase("The longest ride in a year: %1, %2 before.", hoursText(f_.longest),
                       hoursText(f_.longestBefore)));
        for (const std::string& s : f_.proposed)
            if (!you_) // the coach's to decide first
                out(phrase("From the record: %1", s));
        if (!f_.bound.empty() && !you_)
            out(f_.bound);
    }

    template <class Out>
    void loadAgainstPlan(Out out) const {
        constexpr size_t enough = 8;
        constexpr double least = 0.08, share = 0.975; // 19 of 20
        std::vector<double> logs;
        for (const auto& [planned, ridden] : f_.weeksBefore)
            if (planned > 50 && ridden > 0)
                logs.push_back(std::log(ridden / planned));
        if (!over() || logs.size() < enough || planned_ <= 50 || points_ <= 0)
            return;
        const Spread s = spreadOf(logs);
        const double width = gsl_cdf_tdist_Pinv(share, static_cast<double>(logs.size()) - 1) *
                             std::max(least, s.deviation) *
                             std::sqrt(1 + 1 / static_cast<double>(logs.size()));
        const double now = std::log(points_ / planned_);
        if (std::abs(now - s.mean) <= width)
            return;
        out(phrase("The week's load is %1 % of its plan, further off than 19 of 20 of %2 weeks (%3 to %4 %).",
                   fixedText(100 * points_ / planned_, 0), their(),
                   fixedText(100 * std::exp(s.mean - width), 0),
                   fixedText(100 * std::exp(s.mean + width), 0)));
    }

    template <class Out>
    void wattsPerBeat(Out out) const {
        // Rides indoors are another matter: the side that has more of the week counts.
        for (const bool indoors : {false, true}) {
            std::vector<double> week, before;
            for (const SteadyRide& r : f_.steady)
                if (r.indoors == indoors && r.wattsPerBeat > 0)
                    (r.day >= f_.week ? week : before).push_back(std::log(r.wattsPerBeat));
            if (week.size() < 2 || before.size() < 6)
                continue;
            const Spread a = spreadOf(before), b = spreadOf(week);
            // Two or three rides have no spread of their own: the rider's is taken for both, 1.5 % at least.
            const double deviation = std::max(0.015, a.deviation);
            const double half = gsl_cdf_tdist_Pinv(0.995, a.count - 1.0) * deviation *
                                std::sqrt(1.0 / a.count + 1.0 / b.count);
            const double change = b.mean - a.mean;
            if (std::abs(change) <= half)
                continue;
            const auto percent = [](double v) { return signedText(100 * (std::exp(v) - 1), 1); };
            out(phrase("Power per beat on steady rides%1 %2 % against the eight weeks before (99 %: %3 to "
                       "%4, %5 rides against %6). Heat, fluid and sleep move it as well as fitness.",
                       (indoors ? phrase(" indoors") : ""), percent(change), percent(change - half),
                       percent(change + half), std::to_string(b.count), std::to_string(a.count)));
        }
    }

    void again() {
        for (const Again& a : f_.again)
            m_.again.push_back({againText(a, f_.today), a.now.ride});
    }

    static std::string what(const MondayDay& d) {
        return d.meant.empty() ? phrase("%1 day", translated(nameOf(d.role))) : d.meant;
    }

    /// The next day to get right, and of a week that has gone by since, its first.
    const MondayDay* nextKey() const {
        const MondayDay* first = nullptr;
        for (const MondayDay& d : f_.coming) {
            if (isKey(d) && d.day >= f_.today && d.hours <= 0)
                return &d;
            first = first ? first : isKey(d) ? &d : nullptr;
        }
        return f_.today >= f_.week + 14 || f_.today < f_.week + 8 ? first : nullptr;
    }

    void comes() {
        double hours = 0, points = 0;
        bool any = false;
        for (const MondayDay& d : f_.coming) {
            hours += d.plannedHours;
            points += d.planned;
            any = any || d.kept;
        }
        if (!any) {
            m_.comes.push_back(phrase("No season covers the week of %1.", dayText(f_.week + 7, f_.today)));
            return;
        }
        const std::string kind = upper(translated(f_.comingKind)), time = hoursText(hours),
                          worth = fixedText(points, 0);
        const std::string before =
            points_ > 0 ? phrase(" (%1 were ridden in the week before)", fixedText(points_, 0)) : "";
        m_.comes.push_back(f_.comingPhase.empty() || f_.comingPhase == f_.comingKind
                               ? phrase("%1 week: %2, %3 points%4.", kind, time, worth, before)
                               : phrase("%1 week of %2: %3, %4 points%5.", kind, translated(f_.comingPhase),
                                        time, worth, before));
        for (const MondayDay& d : f_.coming)
            if (isKey(d))
                m_.comes.push_back(phrase("%1: %2, %3%4 points.", weekdayText(d.day), lower(what(d)),
                                          (d.plannedHours > 0 ? hoursText(d.plannedHours) + ", " : ""),
                                          fixedText(d.planned, 0)));
        if (over() && planned_ > 50 && points_ < 0.7 * planned_)
            m_.comes.push_back(phrase("So much was missed that the week counts as unloaded: the plan goes on "
                                      "from where %1, and a deload may have become a build week.",
                                      here()));
        else if (!missedKey_.empty() || !missedOther_.empty())
            m_.comes.push_back(phrase("The plan goes on from where %1; nothing is made up for.", here()));
    }

    /// Hard work before as many easy days as ill ones had passed.
    template <class Add>
    void returned(const Add& add) {
        std::set<Date> ill;
        for (const CheckIn& c : f_.checkIns)
            if (c.ill)
                ill.insert(c.day);
        for (const MondayDay& d : f_.days)
            if (d.ill)
                ill.insert(d.day);
        for (const MondayDay& d : f_.days) {
            const auto after = ill.lower_bound(d.day);
            if (!isKey(d) || d.hours <= 0 || after == ill.begin())
                continue;
            const Date last = *std::prev(after);
            int days = 0;
            while (ill.contains(last - days))
                ++days;
            if (d.day - last > days)
                continue;
            add("return", days - (d.day - last) + 1,
                phrase("Hard work on %1, %2 after %3 of illness: as many easy days as ill ones come first. "
                       "Palpitations, chest pain or unusual breathlessness then: stop, and see a doctor.",
                       weekdayText(d.day), howMany(d.day - last, "day", "days"),
                       howMany(days, "day", "days")));
            return;
        }
    }

    void cautions() {
        const auto add = [&](const char* code, double measure, std::string s) {
            Caution c{code, measure, std::move(s)};
            const auto noted = std::find_if(f_.noted.begin(), f_.noted.end(), [&](const NotedCaution& n) {
                return stillNoted(n, c, f_.today);
            });
            if (noted != f_.noted.end() && !you_)
                m_.noted.emplace_back(std::move(c), *noted);
            else
                m_.cautions.push_back(std::move(c));
        };
        const auto ill = std::count_if(f_.days.begin(), f_.days.end(), [](const auto& d) { return d.ill; });
        for (const Concern& c : checkInConcerns(f_.checkIns, std::min(f_.today, f_.week + 7)))
            add(c.code, c.measure, c.sentence);
        if (ill > 0)
            add("ill", static_cast<double>(ill),
                phrase(
                    "Ill this week: two days without fever before riding, then as many easy days as ill "
                    "ones. "
                    "Fever, "
                    "chest pain, palpitations, fainting or unusual breathlessness: stop, and see a doctor."));
        returned(add);
        constexpr int deep = 14;
        if (f_.unscored == 0 && f_.deepDays >= deep)
            add("form", f_.deepDays,
                phrase("Form has been under −30 for %1 days: unload. Fatigue that does not lift in two weeks "
                       "belongs to a doctor.",
                       std::to_string(f_.deepDays)));
        if (f_.monotony.size() >= 3 && std::all_of(f_.monotony.begin(), f_.monotony.begin() + 3,
                                                   [](double v) { return v > highMonotony; }))
            add("monotony", f_.monotony[0],
                phrase("Monotony over 2 for three weeks (%1, %2, %3): days too much alike; illness has been "
                       "seen to follow (Foster 1998).",
                       fixedText(f_.monotony[0], 1), fixedText(f_.monotony[1], 1),
                       fixedText(f_.monotony[2], 1)));
        constexpr int many = 3;
        if (f_.illSpells >= many)
            add("illnesses", f_.illSpells,
                phrase("%1 illnesses in twelve weeks: a doctor should look, at energy and iron among other "
                       "things, before the load rises.",
                       std::to_string(f_.illSpells)));
        if (f_.needsCare && !f_.cleared)
            add("care", 1, phrase("Nothing hard until a licensed practitioner has cleared it."));
        constexpr int grownUp = 18;
        if (f_.age && *f_.age < grownUp)
            add("age", 1,
                phrase("Under eighteen: no maximal test by the calendar, growth and school first."));
    }

    void say() {
        const auto add = [&](std::string s) { m_.say.push_back(std::move(s)); };
        const bool ill = std::any_of(f_.days.begin(), f_.days.end(), [](const auto& d) { return d.ill; });
        // What was.
        if (ill)
            add(phrase("Get well first; nothing you did not ride while you were ill is owed."));
        else if (rode_ == 0 && sessions_ > 0)
            add(phrase("Nothing was ridden this week: tell me what was in the way, and we go on from here."));
        else if (rode_ == 0)
            add(phrase("A week off the bicycle, as it was meant."));
        else if (!missedKey_.empty())
            add(phrase("You rode %1; leave %2's session where it is, it is not owed.", hoursText(hours_),
                       weekdayText(missedKey_.front())));
        else if (kept_ && over() && planned_ > 50 && points_ < 0.7 * planned_)
            add(phrase("You rode %1 of the %2 we had meant; what is missing is not owed.", hoursText(hours_),
                       hoursText(plannedHours_)));
        else if (kept_)
            add(phrase("You rode %1 of the %2 we had meant%3.", hoursText(hours_), hoursText(plannedHours_),
                       (key_ > 0 ? phrase(", the hard %1 with it", std::string(counted(key_, "day", "days")))
                                 : "")));
        else
            add(phrase("You rode %1.", hoursText(hours_)));
        // What comes.
        double coming = 0;
        for (const MondayDay& d : f_.coming)
            coming += d.plannedHours;
        const MondayDay* key = nextKey();
        const std::string kind = f_.comingKind;
        if (coming > 0 && (kind == "deload" || kind == "recovery" || kind == "taper"))
            add(phrase("This week is %1%2 and no more, so that what you did can take.",
                       std::string(kind == "taper"      ? phrase("a taper week: ")
                                   : kind == "recovery" ? phrase("for recovery: ")
                                                        : phrase("a deload week: ")),
                       hoursText(coming)));
        else if (key)
            add(phrase("This week has %1; the day to get right is %2: %3.", hoursText(coming),
                       weekdayText(key->day), lower(what(*key))));
        else if (coming > 0 && std::none_of(f_.coming.begin(), f_.coming.end(), isKey))
            add(phrase("This week has %1, all of it easy.", hoursText(coming)));
        else if (coming > 0)
            add(phrase("This week has %1, and its hard days are behind you.", hoursText(coming)));
        else
            add(phrase("Nothing is planned for the coming week yet."));
        // What to watch.
        if (feel_ && *feel_ < -lowFeel)
            add(phrase(
                "You have felt worse than usual: take an easy day before anything hard, and tell me how it "
                "goes."));
        else if (f_.race && f_.race->date - f_.today <= 14 && f_.race->date >= f_.today)
            add(phrase("%1 is %2: nothing new from here, sleep and eat well.", f_.race->name,
                       (f_.race->date == f_.today
                            ? phrase("today")
                            : phrase("%1 away", howMany(f_.race->date - f_.today, "day", "days")))));
        else if (key)
            add(phrase("Before %1, tell me how the legs are; if they are heavy, ride easy instead.",
                       weekdayText(key->day)));
        else
            add(phrase("Tell me how you sleep and how the legs are."));
    }

    std::string here() const { return you_ ? phrase("you are") : phrase("they are"); }
    std::string their() const { return you_ ? phrase("your") : phrase("their"); }

    static constexpr double lowFeel = 1.25;
    const MondayFacts& f_;
    const bool you_; ///< the rider reads
    Monday m_;
    double hours_ = 0, points_ = 0, planned_ = 0, plannedHours_ = 0;
    int sessions_ = 0, ridden_ = 0, rode_ = 0, key_ = 0;
    bool kept_ = false;
    std::vector<Date> missedKey_, missedOther_;
    std::optional<double> feel_;
};

} // namespace

bool stillNoted(const NotedCaution& noted, const Caution& now, Date today) {
    constexpr int weeks = 28;
    constexpr double worse = 1.1;
    return noted.code == now.code && noted.day <= today && today - noted.day < weeks &&
           now.measure <= worse * noted.measure;
}

Monday mondayOf(const MondayFacts& facts, Reads reads) {
    return Writer(facts, reads).write();
}

} // namespace marram
