// SPDX-License-Identifier: GPL-3.0-or-later
#include "cli/learn.h"
#include "cli/letter.h"
#include "cli/squad.h"
#include "cli/verbs.h"
#include "formats/files/files.h"
#include "formats/files/guarded.h"
#include "version.h"

#include <CLI/CLI.hpp>
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

int run(int argc, char** argv) {
    umask(077); // everything Marram writes is for its owner only
    CLI::App app{"marram-cli: the core of Marram for scripts and for checking a number."};
    app.require_subcommand(1);
    app.set_version_flag("--version", std::string("marram-cli ") + version);
    cli::ScoreRequest score;
    std::string file, out, lp, rider, sex;
    cli::ModelRequest model;
    std::vector<std::string> files;
    std::string overlap = "skip";

    auto* scoreVerb = app.add_subcommand("score", "score a recording (.fit, .gpx or .csv)");
    scoreVerb->add_option("file", file, "recording")->required();
    scoreVerb->add_option("--threshold-power", score.thresholdPower, "W")->required();
    scoreVerb->add_option("--threshold-hr", score.thresholdHeartRate, "bpm");
    scoreVerb->add_option("--rest-hr", score.restHeartRate, "bpm");
    scoreVerb->add_option("--max-hr", score.maxHeartRate, "bpm");
    scoreVerb->add_option("--sex", sex, "female or male")->check(CLI::IsMember({"female", "male"}));
    scoreVerb->add_option("--low-threshold", score.lowThreshold, "fraction of threshold power");

    auto* curveVerb = app.add_subcommand("curve", "mean-max power of a recording as CSV");
    curveVerb->add_option("file", file, "recording")->required();

    auto* modelVerb = app.add_subcommand("model", "fitness, fatigue and form from daily stress");
    modelVerb->add_option("daily", file, "CSV of date,stress")->required();
    modelVerb->add_option("--tau-fitness", model.tau.fitness, "days");
    modelVerb->add_option("--tau-fatigue", model.tau.fatigue, "days");
    modelVerb->add_option("--fitness", model.before.fitness,
                          "fitness at the end of the day before the first");
    modelVerb->add_option("--fatigue", model.before.fatigue,
                          "fatigue at the end of the day before the first");

    auto* planVerb = app.add_subcommand("plan", "solve a season");
    planVerb->add_option("season", file, "SEASON.json")->required();
    planVerb->add_option("--out", out, "folder that receives plan.json, weeks.csv and days.csv");
    planVerb->add_option("--lp", lp, "file that receives the last programme solved, as LP text");

    auto* compareVerb = app.add_subcommand("compare", "the season beside itself under other rules, as CSV");
    compareVerb->add_option("season", file, "SEASON.json")->required();
    bool equalStress = false;
    compareVerb->add_flag("--equal-stress", equalStress,
                          "also at the stress of the first variant, for schools");
    compareVerb->add_option("rules", files, "RULES.json: any of the season's rules, weeks, away and races")
        ->required();

    Misses misses;
    auto* chanceVerb = app.add_subcommand("chance", "race-day form and fitness when planned days are missed");
    chanceVerb->add_option("season", file, "SEASON.json")->required();
    chanceVerb->add_option("--miss", misses.miss, "probability that a training day is missed");
    chanceVerb->add_option("--run", misses.run,
                           "mean length of a run of missed days; each day by itself without it");
    chanceVerb->add_option("--ill-per-year", misses.illPerYear, "spells of illness a year");
    chanceVerb->add_option("--ill-days", misses.illDays, "days a spell lasts");
    chanceVerb->add_option("--seasons", misses.seasons, "seasons simulated");
    chanceVerb->add_option("--seed", misses.seed, "the same seed, the same answer");

    cli::CourseRequest course;
    auto* courseVerb = app.add_subcommand("course", "what a course asks of a rider");
    courseVerb->add_option("file", file, "course (.gpx)")->required();
    courseVerb->add_option("--threshold-power", course.thresholdPower, "W")->required();
    courseVerb->add_option("--mass", course.rider.mass, "kg, rider and bicycle")->required();
    courseVerb->add_option("--cda", course.rider.dragArea, "m²");
    courseVerb->add_option("--crr", course.rider.rolling, "rolling resistance");
    courseVerb->add_option("--density", course.rider.density, "of the air, kg/m³");
    courseVerb->add_option("--efficiency", course.rider.efficiency, "of the drive");
    courseVerb->add_option("--intensity", course.intensity,
                           "of threshold power; what can be held without it");

    cli::SessionRequest session;
    auto* sessionVerb = app.add_subcommand("session", "a session from its shorthand");
    sessionVerb
        ->add_option("shorthand", session.shorthand,
                     "as \"15 min 50 to 90, 3 × 8 min 110 with 5 min 50 between\"")
        ->required();
    sessionVerb->add_option("--threshold-power", session.thresholdPower, "W");
    sessionVerb->add_option("--low-threshold", session.lowThreshold, "fraction of threshold power");
    sessionVerb->add_option("--fit", session.fit, "FIT workout file to write");

    std::string from, done, meant, fitFolder, calendar;
    int weeks = 4;
    auto* blockVerb = app.add_subcommand("block", "the sessions of some weeks of a season");
    blockVerb->add_option("season", file, "SEASON.json")->required();
    blockVerb->add_option("--from", from, "the Monday it begins on")->required();
    blockVerb->add_option("--weeks", weeks, "how many");
    blockVerb->add_option("--done", done, "SESSIONS.json: rungs reached before");
    blockVerb->add_option("--meant", meant, "BLOCK.json: what an earlier block printed and was promised");
    blockVerb->add_option("--fit", fitFolder, "folder that receives a FIT workout a session");
    blockVerb->add_option("--ics", calendar, "calendar to write");

    auto* demoVerb = app.add_subcommand("demo", "write the demo roster");
    demoVerb->add_option("--out", out, "roster file, not there yet")->required();

    auto* importVerb = app.add_subcommand("import", "bring recordings into a roster");
    importVerb->add_option("roster", file, "roster file")->required();
    importVerb->add_option("rider", rider, "name of the rider")->required();
    importVerb->add_option("files", files, "recordings")->required();
    importVerb->add_option("--overlap", overlap, "what to do with a ride that shares time with another")
        ->check(CLI::IsMember({"skip", "keep", "replace", "one"}));
    std::string strangers = "take";
    importVerb
        ->add_option("--other-rider", strangers,
                     "what to do with recordings that look like another rider's: take them and say so (as it "
                     "is), or leave "
                     "them out")
        ->check(CLI::IsMember({"leave", "take"}));

    std::string week, pdf, folder;
    auto* letterVerb = app.add_subcommand("letter", "the letter of a week to a rider, or to all of them");
    letterVerb->add_option("roster", file, "roster file")->required();
    auto* letterRider = letterVerb->add_option("rider", rider, "name of the rider");
    letterVerb->add_option("--week", week, "the Monday the week began on")->required();
    letterVerb->add_option("--pdf", pdf, "page to write beside the text")->needs(letterRider);
    letterVerb->add_option("--all", folder, "folder that receives a text of every rider")
        ->excludes(letterRider);

    std::string group;
    int squadWeeks = 1;
    bool asCsv = false;
    auto* squadVerb = app.add_subcommand("squad", "a group's weeks, riders by days, or its races to come");
    squadVerb->add_option("roster", file, "roster file")->required();
    squadVerb->add_option("--group", group, "name of the group")->required();
    auto* squadFrom = squadVerb->add_option("--from", from, "the Monday it begins on; without it, the races");
    squadVerb->add_option("--weeks", squadWeeks, "how many")->needs(squadFrom);
    auto* squadCsv = squadVerb->add_flag("--csv", asCsv, "as CSV, which it is anyway");
    squadVerb->add_option("--pdf", pdf, "page to write beside it")->excludes(squadCsv);

    std::string json, csv, ics;
    auto* exportVerb =
        app.add_subcommand("export", "write a whole roster as JSON, as CSV tables or as calendars");
    exportVerb->add_option("roster", file, "roster file")->required();
    auto* ways = exportVerb->add_option_group("into");
    ways->add_option("--json", json, "folder that receives roster.json, riders/ and originals/");
    ways->add_option("--csv", csv, "folder that receives riders.csv, rides.csv and the other tables");
    ways->add_option("--ics", ics, "folder that receives a calendar for every rider with a season");
    ways->require_option(1, 3);

    auto* bringVerb = app.add_subcommand("bring", "bring exported riders into a roster, as new riders");
    bringVerb->add_option("roster", file, "roster file; made where it is not there")->required();
    bringVerb->add_option("from", out, "roster.json of an export, or one of its riders' files")->required();

    auto* checkVerb = app.add_subcommand("check", "read every row, recording and figure of a roster");
    checkVerb->add_option("roster", file, "roster file")->required();

    bool list = false;
    std::string restore;
    auto* backupVerb =
        app.add_subcommand("backup", "make the copy of the day of a roster, or see and restore copies");
    backupVerb->add_option("roster", file, "roster file")->required();
    auto* listed = backupVerb->add_flag("--list", list, "the copies there are");
    auto* restored =
        backupVerb->add_option("--restore", restore, "the copy of this day, or the newest before it");
    auto* restoredTo = backupVerb->add_option("--to", out, "file it is restored as, not there yet");
    restored->needs(restoredTo)->excludes(listed);
    restoredTo->needs(restored);

    auto* learnVerb = app.add_subcommand("learn", "what a record says, and what it cannot");
    learnVerb->require_subcommand(1);
    std::string second, split;
    std::vector<std::string> at;
    std::uint64_t seed = 1;
    auto* valuesVerb =
        learnVerb->add_subcommand("values", "thresholds, heart rates and hours out of recordings");
    valuesVerb->add_option("files", files, "recordings of one rider")->required();
    auto* responseVerb = learnVerb->add_subcommand("response", "what load has been worth, and forecasts");
    responseVerb->add_option("daily", file, "CSV of date,stress")->required();
    responseVerb->add_option("results", second, "CSV of date,value of one test")->required();
    responseVerb->add_option("--at", at, "a day to forecast");
    auto* gateVerb = learnVerb->add_subcommand("gate", "the form a rider is best at");
    gateVerb->add_option("results", file, "CSV of form,result_percent[,fitness]")->required();
    auto* beforeVerb = learnVerb->add_subcommand("before", "what preceded the best days");
    beforeVerb->add_option("days", file, "CSV of date,maximal,best and features")->required();
    auto* changeVerb =
        learnVerb->add_subcommand("change", "best efforts before and from a day on, of equal counts");
    changeVerb->add_option("efforts", file, "CSV of date,duration_s,power_w")->required();
    changeVerb->add_option("--split", split, "the first day of the later part")->required();
    auto* habitsVerb = learnVerb->add_subcommand("habits", "how often days are missed");
    habitsVerb->add_option("days", file, "CSV of date,planned,done[,kind]")->required();
    for (auto* verb : {valuesVerb, responseVerb, gateVerb, beforeVerb, changeVerb, habitsVerb})
        verb->add_option("--seed", seed, "the same seed, the same answer");

    if (argc > 1 && argv[1][0] != '-') {
        std::string verbs;
        bool known = false;
        for (const CLI::App* verb : app.get_subcommands([](const CLI::App*) { return true; })) {
            known = known || verb->get_name() == argv[1];
            verbs += (verbs.empty() ? "" : ", ") + verb->get_name();
        }
        if (!known) {
            std::cerr << cli::oneLine('"' + std::string(argv[1]).substr(0, 40) +
                                      "\" is not a verb; it should be one of " + verbs)
                      << " See marram-cli --help.\n";
            return 2;
        }
    }
    try {
        app.parse(argc, argv);
    } catch (const CLI::ParseError& e) {
        if (e.get_exit_code() == 0)
            return app.exit(e); // help was asked for
        std::cerr << cli::oneLine(e.what()) << " See marram-cli --help.\n";
        return 2;
    }
    QString path, into;
    for (const auto& [bytes, name] : {std::pair{&file, &path}, {&out, &into}}) {
        const auto named = fileNameFrom(*bytes);
        if (!named)
            return report(tl::unexpected(named.error()));
        *name = *named;
    }
    if (*scoreVerb) {
        score.sex = sex == "female" ? Sex::Female : sex == "male" ? Sex::Male : Sex::Unstated;
        return report(cli::score(path, score));
    }
    if (*curveVerb)
        return report(cli::curve(path));
    if (*modelVerb)
        return report(cli::model(path, model));
    if (*planVerb)
        return report(cli::plan(path, into, lp));
    if (*compareVerb)
        return report(cli::compare(path, files, equalStress));
    if (*chanceVerb)
        return report(cli::chance(path, misses));
    if (*courseVerb)
        return report(cli::course(path, course));
    if (*demoVerb)
        return report(cli::demo(into));
    if (*blockVerb)
        return report(cli::block({path, QString::fromStdString(from), QString::fromStdString(done),
                                  QString::fromStdString(meant), QString::fromStdString(fitFolder),
                                  QString::fromStdString(calendar), weeks}));
    if (*sessionVerb)
        return report(cli::session(session));
    if (*exportVerb)
        return report(cli::exportRoster(path, QString::fromStdString(json), QString::fromStdString(csv),
                                        QString::fromStdString(ics)));
    if (*letterVerb) {
        if (rider.empty() && folder.empty()) {
            std::cerr << "letter: name a rider, or a folder with --all\n";
            return 2;
        }
        return report(cli::letter({path, QString::fromStdString(rider), week, QString::fromStdString(pdf),
                                   QString::fromStdString(folder)}));
    }
    if (*squadVerb)
        return report(
            cli::squad({path, QString::fromStdString(group), from, squadWeeks, QString::fromStdString(pdf)}));
    if (*bringVerb)
        return report(cli::bring(path, into));
    const QString results = QString::fromStdString(second);
    if (*valuesVerb)
        return report(cli::learnFromRides(files));
    if (*responseVerb)
        return report(cli::learnFromResults(path, results, at, seed));
    if (*gateVerb)
        return report(cli::learnFromForm(path));
    if (*beforeVerb)
        return report(cli::learnFromBestDays(path));
    if (*changeVerb)
        return report(cli::learnFromEfforts(path, split, seed));
    if (*habitsVerb)
        return report(cli::learnFromHabits(path, seed));
    if (*checkVerb) {
        bool whole = false;
        const auto said = cli::check(path, whole);
        const int code = report(said);
        return code == 0 && !whole ? 3 : code;
    }
    if (*backupVerb)
        return report(cli::backup(path, list, QString::fromStdString(restore), into));
    return report(cli::import(path, QString::fromStdString(rider), files, overlap, strangers == "take"));
}

} // namespace

int main(int argc, char** argv) {
    return guarded(run, argc, argv);
}
