// SPDX-License-Identifier: GPL-3.0-or-later
#include "cli/verbs.h"
#include "formats/files/files.h"

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

} // namespace

int main(int argc, char** argv) {
    umask(077); // everything Marram writes is for its owner only
    CLI::App app{"marram-cli: the core of Marram for scripts and for checking a number."};
    app.require_subcommand(1);
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

    auto* demoVerb = app.add_subcommand("demo", "write the demo roster");
    demoVerb->add_option("--out", out, "roster file, not there yet")->required();

    auto* importVerb = app.add_subcommand("import", "bring recordings into a roster");
    importVerb->add_option("roster", file, "roster file")->required();
    importVerb->add_option("rider", rider, "name of the rider")->required();
    importVerb->add_option("files", files, "recordings")->required();
    importVerb->add_option("--overlap", overlap, "what to do with a ride that shares time with another")
        ->check(CLI::IsMember({"skip", "keep", "replace"}));

    std::string json, csv;
    auto* exportVerb = app.add_subcommand("export", "write a whole roster as JSON or as CSV tables");
    exportVerb->add_option("roster", file, "roster file")->required();
    auto* ways = exportVerb->add_option_group("into");
    ways->add_option("--json", json, "folder that receives roster.json, riders/ and originals/");
    ways->add_option("--csv", csv, "folder that receives riders.csv, rides.csv and the other tables");
    ways->require_option(1, 2);

    auto* bringVerb = app.add_subcommand("bring", "bring exported riders into a roster, as new riders");
    bringVerb->add_option("roster", file, "roster file; made where it is not there")->required();
    bringVerb->add_option("from", out, "roster.json of an export, or one of its riders' files")->required();

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
    if (*demoVerb)
        return report(cli::demo(into));
    if (*exportVerb)
        return report(cli::exportRoster(path, QString::fromStdString(json), QString::fromStdString(csv)));
    if (*bringVerb)
        return report(cli::bring(path, into));
    return report(cli::import(path, QString::fromStdString(rider), files, overlap));
}
