// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "core/season/season.h"
#include <optional>
#include <string>
#include <vector>

/// A page of review as data: what it says, what it draws, what it proposes. Whoever shows, prints or reads it
/// aloud has the same.
namespace marram {

/// A line with the ride it opens.
struct ReportLine {
    std::string text;
    long long ride = 0; ///< 0 none
};

/// A picture with one axis across (days, counted from the epoch, or numbers) and one upwards.
struct Figure {
    struct Point {
        double x = 0, y = 0;
        std::optional<double> low, high; ///< of a band
    };
    struct Line {
        enum class Look {
            Dots,   ///< what was measured
            Line,   ///< what it comes to
            Dashes, ///< what it is held against
            Band,   ///< where it lies, 80 %
            Bars,   ///< the same, of each point by itself
            Area    ///< filled down to nothing
        } look = Look::Dots;
        std::string name;
        std::vector<Point> points;
    };
    bool days = true;         ///< across are days
    std::string unit, across; ///< of both axes; `across` where they are no days
    std::string title;        ///< what it is of
    std::vector<Line> lines;
    std::string tells; ///< the same in a sentence, for who cannot see it
};

struct ReportTable {
    std::vector<std::string> columns;
    int left = 1; ///< so many columns are words, to the left
    std::vector<std::vector<std::string>> rows;
};

/// A change worth trying beside the season, with what it does.
struct ReportTry {
    std::string name; ///< of the alternative
    std::string does; ///< what it does to the next race
    Season season;    ///< as the coach would have set it
};

struct ReportPart {
    std::string heading; ///< may be empty
    std::vector<ReportLine> words;
    std::vector<Figure> figures;
    std::optional<ReportTable> table;
    std::vector<std::string> asides; ///< how it is reckoned, and what would tell
    std::vector<ReportTry> tries;
};

struct Report {
    std::string title;
    std::vector<ReportPart> parts;
    bool cannotTell = false; ///< which is a finding too
};

/// All of its words, tables with their columns apart.
std::string reportText(const Report& report);

} // namespace marram
