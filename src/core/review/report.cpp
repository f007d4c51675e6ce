// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/review/report.h"
#include "core/words/phrase.h"

namespace marram {

std::string reportText(const Report& report) {
    std::string text = report.title + "\n";
    const auto line = [&](const std::string& words) { text += words + "\n"; };
    for (const ReportPart& part : report.parts) {
        line("");
        if (!part.heading.empty())
            line(part.heading);
        for (const ReportLine& words : part.words)
            line(words.text);
        for (const Figure& figure : part.figures)
            line(figure.tells);
        if (part.table) {
            const auto row = [&](const std::vector<std::string>& cells) {
                std::string all;
                for (const std::string& cell : cells)
                    all += (all.empty() ? "" : " | ") + cell;
                line(all);
            };
            row(part.table->columns);
            for (const auto& cells : part.table->rows)
                row(cells);
        }
        for (const ReportTry& t : part.tries)
            line(phrase("To try: %1. %2", t.name, t.does));
        for (const std::string& aside : part.asides)
            line(aside);
    }
    return text;
}

} // namespace marram
