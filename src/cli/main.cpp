// SPDX-License-Identifier: GPL-3.0-or-later
#include "cli/learn.h"
#include "cli/letter.h"
#include "cli/squad.h"
#include "cli/verbs.h"
#include "formats/files/files.h"
#include "formats/files/guarded.h"
#include "version.h"

#include <CLI/CLI.hpp>
#include <functional>
#include <iostream>
#include <sys/stat.h>

using namespace marram;

namespace {

/// Standard output on success, one line on standard error and 3 otherwise.
int report(const Result<QByteArray>& result) {
    if (!result) {
        std::cerr << result.error().sentence << "\n";
        return 3;
    }
    std::cout.write(result->constData(), result->size());
    std::cout.flush();
    return std::cout ? 0 : 3;
}

/// A verb of the command line, its options, and what it does once they are read.
class Verbs {
public:
    explicit Verbs(CLI::App& app) : app_(app) {}

    CLI::App* add(const std::string& name, const std::string& what, std::function<int()> run) {
        return add(app_, name, what, std::move(run));
    }
    CLI::App* add(CLI::App& under, const std::string& name, const std::string& what,
                  std::function<int()> run) {
        CLI::App* verb = under.add_subcommand(name, what);
        all_.emplace_back(verb, std::move(run));
        return verb;
    }
    CLI::App* group(const std::string& name, const std::string& what) {
        return app_.add_subcommand(name, what);
    }

    /// Runs the verb that was given.
    int run() const {
        for (const auto& [verb, what] : all_)
            if (*verb)
                return what();
        return 2;
    }

private:
    CLI::App& app_;
    std::vector<std::pair<CLI::App*, std::function<int()>>> all_;
};

QString text(const std::string& bytes) {
    return QString::fromStdString(bytes);
}

/// `what` with the name of a file as it was given, or with two of them.
template <class What>
int with(const std::string& file, const What& what) {
    const auto name = fileNameFrom(file);
    return name ? report(what(*name)) : report(tl::unexpected(name.error()));
}
template <class What>
int with(const std::string& file, const std::string& other, const What& what) {
    const auto name = fileNameFrom(file), second = fileNameFrom(other);
    if (!name || !second)
        return report(tl::unexpected(name ? second.error() : name.error()));
    return report(what(*name, *second));
}

/// What the verbs read, kept while they run.
struct Given {
    std::string file, out, lp, rider, sex, overlap = "skip", strangers = "take";
    std::vector<std::string> files;
    cli::ScoreRequest score;
    cli::ModelRequest model;
    cli::CourseRequest course;
    cli::SessionRequest session;
    Misses misses;
    bool equalStress = false;
    std::string from, done, meant, fitFolder, calendar;
    int weeks = 4;
    std::string week, pdf, folder, group;
    int squadWeeks = 1;
    bool asCsv = false;
    std::string json, csv, ics;
    bool list = false;
    std::string restore;
    std::string second, split;
    std::vector<std::string> at;
    std::uint64_t seed = 1;
};

void addRideVerbs(Verbs& verbs, Given& g) {
    auto* score = verbs.add("score", "score a recording (.fit, .gpx or .csv)", [&g] {
        g.score.sex = g.sex == "female" ? Sex::Female : g.sex == "male" ? Sex::Male : Sex::Unstated;
        return with(g.file, [&](const QString& path) { return cli::score(path, g.score); });
    });
    score->add_option("file", g.file, "recording")->required();
    score->add_option("--threshold-power", g.score.thresholdPower, "W")->required();
    score->add_option("--threshold-hr", g.score.thresholdHeartRate, "bpm");
    score->add_option("--rest-hr", g.score.restHeartRate, "bpm");
    score->add_option("--max-hr", g.score.maxHeartRate, "bpm");
    score->add_option("--sex", g.sex, "female or male")->check(CLI::IsMember({"female", "male"}));
    score->add_option("--low-threshold", g.score.lowThreshold, "fraction of threshold power");

    auto* curve = verbs.add("curve", "mean-max power of a recording as CSV", [&g] {
        return with(g.file, [](const QString& path) { return cli::curve(path); });
    });
    curve->add_option("file", g.file, "recording")->required();

    auto* model = verbs.add("model", "fitness, fatigue and form from daily stress", [&g] {
        return with(g.file, [&](const QString& path) { return cli::model(path, g.model); });
    });
    model->add_option("daily", g.file, "CSV of date,stress")->required();
    model->add_option("--tau-fitness", g.model.tau.fitness, "days");
    model->add_option("--tau-fatigue", g.model.tau.fatigue, "days");
    model->add_option("--fitness", g.model.before.fitness, "fitness at the end of the day before the first");
    model->add_option("--fatigue", g.model.before.fatigue, "fatigue at the end of the day before the first");
}

void addSeasonVerbs(Verbs& verbs, Given& g) {
    auto* plan = verbs.add("plan", "solve a season", [&g] {
        return with(g.file, g.out,
                    [&](const QString& path, const QString& into) { return cli::plan(path, into, g.lp); });
    });
    plan->add_option("season", g.file, "SEASON.json")->required();
    plan->add_option("--out", g.out, "folder that receives plan.json, weeks.csv and days.csv");
    plan->add_option("--lp", g.lp, "file that receives the last programme solved, as LP text");

    auto* compare = verbs.add("compare", "the season beside itself under other rules, as CSV", [&g] {
        return with(g.file, [&](const QString& path) { return cli::compare(path, g.files, g.equalStress); });
    });
    compare->add_option("season", g.file, "SEASON.json")->required();
    compare->add_flag("--equal-stress", g.equalStress,
                      "also at the stress of the first variant, for schools");
    compare->add_option("rules", g.files, "RULES.json: any of the season's rules, weeks, away and races")
        ->required();

    auto* chance = verbs.add("chance", "race-day form and fitness when planned days are missed", [&g] {
        return with(g.file, [&](const QString& path) { return cli::chance(path, g.misses); });
    });
    chance->add_option("season", g.file, "SEASON.json")->required();
    chance->add_option("--miss", g.misses.miss, "probability that a training day is missed");
    chance->add_option("--run", g.misses.run,
                       "mean length of a run of missed days; each day by itself without it");
    chance->add_option("--ill-per-year", g.misses.illPerYear, "spells of illness a year");
    chance->add_option("--ill-days", g.misses.illDays, "days a spell lasts");
    chance->add_option("--seasons", g.misses.seasons, "seasons simulated");
    chance->add_option("--seed", g.misses.seed, "the same seed, the same answer");
}

void addCourseVerb(Verbs& verbs, Given& g) {
    auto* course = verbs.add("course", "what a course asks of a rider", [&g] {
        return with(g.file, [&](const QString& path) { return cli::course(path, g.course); });
    });
    course->add_option("file", g.file, "course (.gpx)")->required();
    course->add_option("--threshold-power", g.course.thresholdPower, "W")->required();
    course->add_option("--mass", g.course.rider.mass, "kg, rider and bicycle")->required();
    course->add_option("--cda", g.course.rider.dragArea, "m²");
    course->add_option("--crr", g.course.rider.rolling, "rolling resistance");
    course->add_option("--density", g.course.rider.density, "of the air, kg/m³");
    course->add_option("--efficiency", g.course.rider.efficiency, "of the drive");
    course->add_option("--intensity", g.course.intensity, "of threshold power; what can be held without it");
}

void addSessionVerbs(Verbs& verbs, Given& g) {
    auto* session = verbs.add("session", "a session from its shorthand",
                              [&g] { return report(cli::session(g.session)); });
    session
        ->add_option("shorthand", g.session.shorthand,
                     "as \"15 min 50 to 90, 3 × 8 min 110 with 5 min 50 between\"")
        ->required();
    session->add_option("--threshold-power", g.session.thresholdPower, "W");
    session->add_option("--low-threshold", g.session.lowThreshold, "fraction of threshold power");
    session->add_option("--fit", g.session.fit, "FIT workout file to write");

    auto* block = verbs.add("block", "the sessions of some weeks of a season", [&g] {
        return with(g.file, [&](const QString& path) {
            return cli::block({path, text(g.from), text(g.done), text(g.meant), text(g.fitFolder),
                               text(g.calendar), g.weeks});
        });
    });
    block->add_option("season", g.file, "SEASON.json")->required();
    block->add_option("--from", g.from, "the Monday it begins on")->required();
    block->add_option("--weeks", g.weeks, "how many");
    block->add_option("--done", g.done, "SESSIONS.json: rungs reached before");
    block->add_option("--meant", g.meant, "BLOCK.json: what an earlier block printed and was promised");
    block->add_option("--fit", g.fitFolder, "folder that receives a FIT workout a session");
    block->add_option("--ics", g.calendar, "calendar to write");
}

void addImportVerbs(Verbs& verbs, Given& g) {
    auto* demo = verbs.add("demo", "write the demo roster",
                           [&g] { return with(g.out, [](const QString& into) { return cli::demo(into); }); });
    demo->add_option("--out", g.out, "roster file, not there yet")->required();

    auto* import = verbs.add("import", "bring recordings into a roster", [&g] {
        return with(g.file, [&](const QString& path) {
            return cli::import(path, text(g.rider), g.files, g.overlap, g.strangers == "take");
        });
    });
    import->add_option("roster", g.file, "roster file")->required();
    import->add_option("rider", g.rider, "name of the rider")->required();
    import->add_option("files", g.files, "recordings")->required();
    import->add_option("--overlap", g.overlap, "what to do with a ride that shares time with another")
        ->check(CLI::IsMember({"skip", "keep", "replace", "one"}));
    import
        ->add_option("--other-rider", g.strangers,
                     "what to do with recordings that look like another rider's: take them and say so (as it "
                     "is), or leave "
                     "them out")
        ->check(CLI::IsMember({"leave", "take"}));
}

void addPaperVerbs(Verbs& verbs, Given& g) {
    auto* letter = verbs.add("letter", "the letter of a week to a rider, or to all of them", [&g] {
        if (g.rider.empty() && g.folder.empty()) {
            std::cerr << "letter: name a rider, or a folder with --all\n";
            return 2;
        }
        return with(g.file, [&](const QString& path) {
            return cli::letter({path, text(g.rider), g.week, text(g.pdf), text(g.folder)});
        });
    });
    letter->add_option("roster", g.file, "roster file")->required();
    auto* rider = letter->add_option("rider", g.rider, "name of the rider");
    letter->add_option("--week", g.week, "the Monday the week began on")->required();
    letter->add_option("--pdf", g.pdf, "page to write beside the text")->needs(rider);
    letter->add_option("--all", g.folder, "folder that receives a text of every rider")->excludes(rider);

    auto* squad = verbs.add("squad", "a group's weeks, riders by days, or its races to come", [&g] {
        return with(g.file, [&](const QString& path) {
            return cli::squad({path, text(g.group), g.from, g.squadWeeks, text(g.pdf)});
        });
    });
    squad->add_option("roster", g.file, "roster file")->required();
    squad->add_option("--group", g.group, "name of the group")->required();
    auto* from = squad->add_option("--from", g.from, "the Monday it begins on; without it, the races");
    squad->add_option("--weeks", g.squadWeeks, "how many")->needs(from);
    auto* csv = squad->add_flag("--csv", g.asCsv, "as CSV, which it is anyway");
    squad->add_option("--pdf", g.pdf, "page to write beside it")->excludes(csv);
}

void addRosterVerbs(Verbs& verbs, Given& g) {
    auto* write = verbs.add("export", "write a whole roster as JSON, as CSV tables or as calendars", [&g] {
        return with(g.file, [&](const QString& path) {
            return cli::exportRoster(path, text(g.json), text(g.csv), text(g.ics));
        });
    });
    write->add_option("roster", g.file, "roster file")->required();
    auto* ways = write->add_option_group("into");
    ways->add_option("--json", g.json, "folder that receives roster.json, riders/ and originals/");
    ways->add_option("--csv", g.csv, "folder that receives riders.csv, rides.csv and the other tables");
    ways->add_option("--ics", g.ics, "folder that receives a calendar for every rider with a season");
    ways->require_option(1, 3);

    auto* bring = verbs.add("bring", "bring exported riders into a roster, as new riders", [&g] {
        return with(g.file, g.out,
                    [](const QString& path, const QString& from) { return cli::bring(path, from); });
    });
    bring->add_option("roster", g.file, "roster file; made where it is not there")->required();
    bring->add_option("from", g.out, "roster.json of an export, or one of its riders' files")->required();

    auto* check = verbs.add("check", "read every row, recording and figure of a roster", [&g] {
        bool whole = false;
        const int code = with(g.file, [&](const QString& path) { return cli::check(path, whole); });
        return code == 0 && !whole ? 3 : code;
    });
    check->add_option("roster", g.file, "roster file")->required();

    auto* backup =
        verbs.add("backup", "make the copy of the day of a roster, or see and restore copies", [&g] {
            return with(g.file, g.out, [&](const QString& path, const QString& into) {
                return cli::backup(path, g.list, text(g.restore), into);
            });
        });
    backup->add_option("roster", g.file, "roster file")->required();
    auto* listed = backup->add_flag("--list", g.list, "the copies there are");
    auto* restored =
        backup->add_option("--restore", g.restore, "the copy of this day, or the newest before it");
    auto* restoredTo = backup->add_option("--to", g.out, "file it is restored as, not there yet");
    restored->needs(restoredTo)->excludes(listed);
    restoredTo->needs(restored);
}

void addLearnVerbs(Verbs& verbs, Given& g) {
    auto* learn = verbs.group("learn", "what a record says, and what it cannot");
    learn->require_subcommand(1);
    std::vector<CLI::App*> all;
    const auto add = [&](const char* name, const char* what, std::function<int()> run) {
        return all.emplace_back(verbs.add(*learn, name, what, std::move(run)));
    };
    add("values", "thresholds, heart rates and hours out of recordings",
        [&g] { return report(cli::learnFromRides(g.files)); })
        ->add_option("files", g.files, "recordings of one rider")
        ->required();
    auto* response = add("response", "what load has been worth, and forecasts", [&g] {
        return with(g.file, [&](const QString& path) {
            return cli::learnFromResults(path, text(g.second), g.at, g.seed);
        });
    });
    response->add_option("daily", g.file, "CSV of date,stress")->required();
    response->add_option("results", g.second, "CSV of date,value of one test")->required();
    response->add_option("--at", g.at, "a day to forecast");
    add("gate", "the form a rider is best at",
        [&g] { return with(g.file, [](const QString& path) { return cli::learnFromForm(path); }); })
        ->add_option("results", g.file, "CSV of form,result_percent[,fitness]")
        ->required();
    add("before", "what preceded the best days",
        [&g] { return with(g.file, [](const QString& path) { return cli::learnFromBestDays(path); }); })
        ->add_option("days", g.file, "CSV of date,maximal,best and features")
        ->required();
    auto* change = add("change", "best efforts before and from a day on, of equal counts", [&g] {
        return with(g.file,
                    [&](const QString& path) { return cli::learnFromEfforts(path, g.split, g.seed); });
    });
    change->add_option("efforts", g.file, "CSV of date,duration_s,power_w")->required();
    change->add_option("--split", g.split, "the first day of the later part")->required();
    add("habits", "how often days are missed",
        [&g] {
            return with(g.file, [&](const QString& path) { return cli::learnFromHabits(path, g.seed); });
        })
        ->add_option("days", g.file, "CSV of date,planned,done[,kind]")
        ->required();
    for (CLI::App* verb : all)
        verb->add_option("--seed", g.seed, "the same seed, the same answer");
}

/// Whether the first word is a verb or an option; says so where it is neither.
bool knows(const CLI::App& app, const std::string& word) {
    std::string verbs;
    for (const CLI::App* verb : app.get_subcommands([](const CLI::App*) { return true; })) {
        if (verb->get_name() == word)
            return true;
        verbs += (verbs.empty() ? "" : ", ") + verb->get_name();
    }
    std::cerr << cli::oneLine('"' + word.substr(0, 40) + "\" is not a verb; it should be one of " + verbs)
              << " See marram-cli --help.\n";
    return false;
}

int run(int argc, char** argv) {
    umask(077); // everything Marram writes is for its owner only
    CLI::App app{"marram-cli: the core of Marram for scripts and for checking a number."};
    app.require_subcommand(1);
    app.set_version_flag("--version", std::string("marram-cli ") + version);
    Given given;
    Verbs verbs(app);
    for (const auto add : {addRideVerbs, addSeasonVerbs, addCourseVerb, addSessionVerbs, addImportVerbs,
                           addPaperVerbs, addRosterVerbs, addLearnVerbs})
        add(verbs, given);
    if (argc > 1 && argv[1][0] != '-' && !knows(app, argv[1]))
        return 2;
    try {
        app.parse(argc, argv);
    } catch (const CLI::ParseError& e) {
        if (e.get_exit_code() == 0)
            return app.exit(e); // help was asked for
        std::cerr << cli::oneLine(e.what()) << " See marram-cli --help.\n";
        return 2;
    }
    return verbs.run();
}

} // namespace

int main(int argc, char** argv) {
    return guarded(run, argc, argv);
}
