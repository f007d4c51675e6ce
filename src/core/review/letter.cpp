// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/review/monday.h"
#include "core/review/wording.h"
#include "core/words/phrase.h"

#include <algorithm>

namespace marram {
namespace {

/// How many characters a text has, not how many bytes.
size_t charactersOf(const std::string& text) {
    return static_cast<size_t>(
        std::count_if(text.begin(), text.end(), [](char c) { return (c & 0xC0) != 0x80; }));
}

void wrapped(std::string& out, const std::string& text, size_t width, const std::string& first,
             const std::string& rest) {
    std::string line = first, word;
    bool fresh = true;
    const auto put = [&] {
        if (word.empty())
            return;
        if (!fresh && charactersOf(line) + 1 + charactersOf(word) > width) {
            out += line + "\n";
            line = rest;
            fresh = true;
        }
        line += (fresh ? "" : " ") + word;
        fresh = false;
        word.clear();
    };
    for (const char c : text) {
        if (c == '\n') {
            put();
            out += line + "\n";
            line = rest;
            fresh = true;
        } else if (c == ' ') {
            put();
        } else {
            word += c;
        }
    }
    put();
    out += line + "\n";
}

std::string padded(const std::string& text, size_t width, bool right = false) {
    const size_t has = charactersOf(text);
    const std::string space(has < width ? width - has : 0, ' ');
    return right ? space + text : text + space;
}

/// A line for a day that was: its time, its points and how it went.
void putDay(std::string& out, const MondayDay& d, size_t width) {
    std::string line = padded(weekdayText(d.day), 10);
    line += padded(d.hours > 0 ? hoursText(d.hours) : "–", 9, true);
    line +=
        padded(d.ridden && d.hours > 0 ? phrase("%1 points", fixedText(*d.ridden, 0)) : "", 12, true) + "  ";
    std::string words = d.meant.empty() && d.planned >= 5 ? translated(nameOf(d.role)) : d.meant;
    if (!d.verdict.empty())
        words += (words.empty() ? "" : ": ") + d.verdict;
    wrapped(out, words, width, line, std::string(33, ' '));
}

/// A line for a day that comes.
void putComing(std::string& out, const MondayDay& d, size_t width) {
    std::string line = padded(weekdayText(d.day), 10);
    line += padded(d.plannedHours > 0 ? hoursText(d.plannedHours) : "–", 9, true);
    line += padded(d.planned >= 1 ? phrase("%1 points", fixedText(d.planned, 0)) : "", 12, true) + "  ";
    wrapped(out, d.meant.empty() ? translated(nameOf(d.role)) : d.meant, width, line, std::string(33, ' '));
}

} // namespace

template <typename Lines>
static std::vector<std::string> textsOf(const Lines& lines) {
    std::vector<std::string> texts;
    texts.reserve(lines.size());
    for (const auto& line : lines)
        texts.push_back(line.text);
    return texts;
}

std::string letterText(const Monday& m, const std::string& coach, int columns) {
    const auto width = static_cast<size_t>(std::max(40, columns));
    std::string out =
        phrase("%1\nWeek of %2 %3\n\n", m.rider, dayText(m.week), std::to_string(toCivil(m.week).year));
    if (coach.empty()) {
        std::string words;
        for (const std::string& s : m.say)
            words += (words.empty() ? "" : " ") + s;
        wrapped(out, words, width, "", "");
    } else {
        wrapped(out, coach, width, "", "");
    }
    const auto section = [&](const std::string& title, const std::vector<std::string>& lines) {
        if (lines.empty())
            return;
        out += std::string("\n") + title + "\n";
        for (const std::string& line : lines)
            wrapped(out, line, width, "- ", "  ");
    };
    out += phrase("\nThe week\n");
    wrapped(out, m.done, width, "", "");
    for (const MondayDay& d : m.days)
        if (d.day < m.today || d.hours > 0)
            putDay(out, d, width);
    section(phrase("What it did"), m.did);
    section(phrase("How it felt"), m.felt);
    section(phrase("What stands out"), textsOf(m.standsOut));
    section(phrase("The same again"), textsOf(m.again));
    section(phrase("What comes"), m.comes);
    bool any = false;
    for (const MondayDay& d : m.coming)
        any = any || d.kept;
    if (any)
        for (const MondayDay& d : m.coming)
            putComing(out, d, width);
    section(phrase("Cautions"), textsOf(m.cautions));
    if (!m.cautions.empty())
        wrapped(out, phrase("Marram advises a coach; it does not diagnose."), width, "", "");
    return out;
}

} // namespace marram
