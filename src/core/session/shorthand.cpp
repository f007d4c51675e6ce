// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/session/shorthand.h"
#include "core/words/phrase.h"

#include <array>
#include <cctype>
#include <cmath>
#include <cstdio>

namespace marram {
namespace {

using Mistake = ShorthandMistake;

struct Token {
    enum class Kind { Number, Word, Comma, Open, Close, Times, Percent, Note, End, Other } kind = Kind::End;
    std::string text;  ///< a word in lower case, a note without its marks
    double value = 0;  ///< of a number
    bool whole = true; ///< a number without a point
    int place = 0;
};

bool letter(char c) {
    return (c >= 'a' && c <= 'z') || (c >= 'A' && c <= 'Z');
}
bool digit(char c) {
    return c >= '0' && c <= '9';
}

/// Takes a number at `i` of a text, whole or with decimals, as it is written; its length.
size_t numberAt(const std::string& text, size_t i, Token& t) {
    size_t length = 1;
    t.kind = Token::Kind::Number;
    while (i + length < text.size() && digit(text[i + length]))
        ++length;
    if (i + length + 1 < text.size() && text[i + length] == '.' && digit(text[i + length + 1])) {
        t.whole = false;
        ++length;
        while (i + length < text.size() && digit(text[i + length]))
            ++length;
    }
    t.text = text.substr(i, length);
    return length;
}

/// Takes a word at `i` of a text, in small letters; its length.
size_t wordAt(const std::string& text, size_t i, Token& t) {
    size_t length = 1;
    t.kind = Token::Kind::Word;
    while (i + length < text.size() && letter(text[i + length]))
        ++length;
    for (size_t k = 0; k < length; ++k) {
        const char l = text[i + k];
        t.text += l >= 'A' && l <= 'Z' ? static_cast<char>(l - 'A' + 'a') : l;
    }
    if (t.text == "x")
        t.kind = Token::Kind::Times;
    return length;
}

/// Bytes of the blank that stands there; 0 where none does.
size_t blankAt(const std::string& text, size_t i) {
    if (text.compare(i, 2, "\u00A0") == 0) // a space that does not break
        return 2;
    return std::string_view(" \t\n\r").find(text[i]) != std::string_view::npos ? 1 : 0;
}

Token::Kind signOf(char c) {
    switch (c) {
    case ',':
        return Token::Kind::Comma;
    case '(':
        return Token::Kind::Open;
    case ')':
        return Token::Kind::Close;
    case '%':
        return Token::Kind::Percent;
    default:
        return Token::Kind::Other;
    }
}

/// Cuts a text into words, numbers and signs, each with the place it stands at.
tl::expected<std::vector<Token>, Mistake> tokensOf(const std::string& text) {
    std::vector<Token> all;
    int place = 1;
    for (size_t i = 0; i < text.size();) {
        const char c = text[i];
        Token t;
        t.place = place;
        size_t length = 1;
        if (const size_t blank = blankAt(text, i); blank > 0) {
            i += blank;
            ++place;
            continue;
        }
        if (digit(c)) {
            length = numberAt(text, i, t);
            if (length > 12)
                return tl::unexpected(
                    Mistake{place, phrase("a number of that many digits; write one that can be ridden")});
            t.value = std::stod(t.text);
        } else if (letter(c)) {
            length = wordAt(text, i, t);
        } else if (c == '"') {
            const size_t end = text.find('"', i + 1);
            if (end == std::string::npos)
                return tl::unexpected(
                    Mistake{place, phrase("a note that is not closed; end it with a quotation mark")});
            t.kind = Token::Kind::Note;
            t.text = text.substr(i + 1, end - i - 1);
            length = end - i + 1;
        } else if (text.compare(i, 2, "×") == 0) {
            t.kind = Token::Kind::Times;
            length = 2;
        } else {
            t.kind = signOf(c);
            // One sign, however many bytes it takes.
            while (i + length < text.size() && (static_cast<unsigned char>(text[i + length]) & 0xC0) == 0x80)
                ++length;
            t.text = text.substr(i, length);
        }
        for (size_t k = 0; k < length; ++k)
            place += (static_cast<unsigned char>(text[i + k]) & 0xC0) != 0x80 ? 1 : 0;
        i += length;
        all.push_back(t);
    }
    Token end;
    end.place = place;
    all.push_back(end);
    return all;
}

class Reader {
public:
    explicit Reader(std::vector<Token> tokens) : tokens_(std::move(tokens)) {}

    tl::expected<Session, Mistake> run() {
        Session session;
        if (now().kind == Kind::End)
            return tl::unexpected(
                Mistake{1, phrase("nothing to ride; begin with a length and a target, as 20 min 65")});
        list(session.items, 0);
        if (!wrong_ && now().kind == Kind::Close)
            fail(phrase("a bracket that was never opened; take it out"));
        if (!wrong_ && now().kind != Kind::End)
            fail(unexpectedHere());
        if (!wrong_) {
            long long seconds = 0, steps = 0;
            size(session.items, seconds, steps);
            if (seconds > longestSession)
                return tl::unexpected(Mistake{1, phrase("a session of more than 24 h; make it shorter")});
            if (steps > mostSteps)
                return tl::unexpected(
                    Mistake{1, phrase("a session of more than 2000 steps; make it shorter")});
        }
        if (wrong_)
            return tl::unexpected(*wrong_);
        return session;
    }

private:
    using Kind = Token::Kind;
    const Token& now() const { return tokens_[at_]; }
    const Token& next(size_t n = 1) const { return tokens_[std::min(at_ + n, tokens_.size() - 1)]; }
    bool word(const char* text) const { return now().kind == Kind::Word && now().text == text; }
    void fail(const std::string& sentence) { failAt(now().place, sentence); }
    void failAt(int place, const std::string& sentence) {
        if (!wrong_)
            wrong_ = Mistake{place, sentence};
    }
    std::string shown() const {
        return now().kind == Kind::End ? phrase("the end") : "\"" + now().text.substr(0, 20) + "\"";
    }
    std::string unexpectedHere() const {
        if (now().kind == Kind::Word && now().text == "with")
            return phrase("\"with\" after a step; it belongs to a repetition, as 3 × 8 min 110 with 5 min 50 "
                          "between");
        if (now().kind == Kind::Open)
            return phrase("a bracket without a count; write how often, as 3 × (2 min 90, 1 min 105)");
        return phrase("%1 where a comma or the end should be", shown());
    }

    static void size(const std::vector<Item>& items, long long& seconds, long long& steps) {
        for (const Item& item : items) {
            if (item.count == 0) {
                seconds += item.step.seconds;
                ++steps;
                continue;
            }
            long long inner = 0, innerSteps = 0;
            size(item.part, inner, innerSteps);
            long long rest = 0;
            for (const Step& r : item.rest)
                rest += r.seconds;
            seconds += item.count * inner + (item.count - 1) * rest;
            steps += item.count * innerSteps + (item.count - 1) * static_cast<long long>(item.rest.size());
        }
    }

    void list(std::vector<Item>& items, int depth) {
        for (;;) {
            item(items.emplace_back(), depth);
            if (wrong_ || now().kind != Kind::Comma)
                return;
            ++at_;
            if (now().kind == Kind::End || now().kind == Kind::Close)
                return fail(phrase("nothing after the comma; write another step or take the comma out"));
        }
    }

    /// The bracket that was opened there.
    void close(int place) {
        if (wrong_)
            return;
        if (now().kind == Kind::Close)
            ++at_;
        else if (now().kind == Kind::End)
            failAt(place, phrase("a bracket that is not closed; close it with )"));
        else
            fail(unexpectedHere());
    }

    /// One step, or several in a bracket.
    void rest(Item& item) {
        if (now().kind != Kind::Open)
            return step(item.rest.emplace_back());
        const int place = now().place;
        do {
            ++at_;
            step(item.rest.emplace_back());
        } while (!wrong_ && now().kind == Kind::Comma);
        close(place);
    }

    void item(Item& item, int depth) {
        if (now().kind == Kind::Open)
            return fail(phrase("a bracket without a count; write how often, as 3 × (2 min 90, 1 min 105)"));
        if (now().kind != Kind::Number || next().kind != Kind::Times)
            return step(item.step);
        if (!now().whole || now().value < 1 || now().value > 99)
            return fail(phrase("a count must be a whole number from 1 to 99"));
        if (depth >= 2)
            return fail(phrase("repetitions inside repetitions inside repetitions; two deep is the most"));
        item.count = static_cast<int>(now().value);
        at_ += 2;
        if (now().kind == Kind::Open) {
            const int place = now().place;
            item.bracket = true;
            ++at_;
            list(item.part, depth + 1);
            close(place);
        } else {
            step(item.part.emplace_back().step);
        }
        if (wrong_ || !word("with"))
            return;
        ++at_;
        rest(item);
        if (wrong_)
            return;
        if (!word("between"))
            return fail(phrase("\"between\" is missing after the rest, as with 5 min 50 between"));
        ++at_;
    }

    /// Where the number here is half of one written with a decimal comma: digits, comma, digits without a
    /// space.
    std::optional<int> decimalComma() const {
        const auto joins = [&](size_t comma) {
            if (comma == 0 || comma + 1 >= tokens_.size() || tokens_[comma].kind != Kind::Comma)
                return false;
            const Token &left = tokens_[comma - 1], &right = tokens_[comma + 1];
            return left.kind == Kind::Number && right.kind == Kind::Number &&
                   left.place + static_cast<int>(left.text.size()) == tokens_[comma].place &&
                   tokens_[comma].place + 1 == right.place;
        };
        if (at_ > 0 && joins(at_ - 1))
            return tokens_[at_ - 1].place;
        return joins(at_ + 1) ? std::optional(tokens_[at_ + 1].place) : std::nullopt;
    }

    static bool isUnit(const Token& t) {
        return t.kind == Kind::Word && (t.text == "h" || t.text == "min" || t.text == "s");
    }

    void step(Step& step) {
        length(step);
        if (!wrong_)
            target(step);
        if (!wrong_)
            cadence(step);
        if (!wrong_ && now().kind == Kind::Note) {
            step.note = now().text;
            ++at_;
        }
    }

    void length(Step& step) {
        if (now().kind != Kind::Number) {
            if (word("all") || word("effort"))
                return fail(phrase("a target before its length; write the length first, as 8 s all out"));
            return fail(now().kind == Kind::End
                            ? phrase("a step is missing; write a length and a target, as 5 min 50")
                            : phrase("%1 where a length should be, as 5 min or 1 h 30 min", shown()));
        }
        static const std::array<std::pair<const char*, double>, 3> units{
            {{"h", 3600}, {"min", 60}, {"s", 1}}};
        double seconds = 0;
        const int place = now().place;
        size_t last = 0;
        bool any = false;
        while (now().kind == Kind::Number && (isUnit(next()) || !any)) {
            if (!isUnit(next())) {
                if (const auto comma = decimalComma())
                    return failAt(*comma, phrase("a decimal comma; write a point, as 92.5"));
                const Token& unit = next();
                if (unit.kind == Kind::Word && unit.text == "m")
                    return failAt(unit.place, phrase("\"m\" could be metres or minutes; write min"));
                if (unit.kind == Kind::Word && !isUnit(unit) && unit.text != "at" && unit.text != "to" &&
                    unit.text != "all" && unit.text != "effort" && unit.text != "rpm" && unit.text != "with")
                    return failAt(unit.place,
                                  phrase("\"%1\" is no unit; write h, min or s", unit.text.substr(0, 20)));
                // A number that another length follows was meant as its target.
                const bool swapped = unit.kind == Kind::Percent ||
                                     (unit.kind == Kind::Number && isUnit(next(2))) ||
                                     unit.kind == Kind::Word;
                return fail(swapped
                                ? phrase("a target before its length; write the length first, as 8 min 110")
                                : phrase("a length without its unit; write h, min or s, as 8 min"));
            }
            size_t which = 0;
            while (next().text != units[which].first)
                ++which;
            if (any && which <= last)
                return fail(
                    phrase("a length that begins again; write hours, then minutes, then seconds, and a "
                           "target after it"));
            seconds += now().value * units[which].second;
            last = which;
            any = true;
            at_ += 2;
        }
        if (std::abs(seconds - std::round(seconds)) > 1e-6)
            return failAt(place, phrase("a length must be whole seconds"));
        if (seconds < 1)
            return failAt(place, phrase("a step must last at least a second"));
        if (seconds > longestSession)
            return failAt(place, phrase("a step of more than 24 h; make it shorter"));
        step.seconds = static_cast<int>(std::lround(seconds));
    }

    std::optional<double> percent() {
        if (now().kind != Kind::Number) {
            fail(phrase("%1 where a target should be: percent of threshold power, all out, or effort 1 to 10",
                        shown()));
            return std::nullopt;
        }
        if (isUnit(next())) {
            fail(phrase(
                "a length where a target should be; write percent of threshold power, all out, or effort 1 "
                "to 10"));
            return std::nullopt;
        }
        if (now().value < 20 || now().value > 300) {
            fail(phrase("a target must be 20 to 300 % of threshold power"));
            return std::nullopt;
        }
        const double value = now().value / 100;
        ++at_;
        if (now().kind == Kind::Percent)
            ++at_;
        return value;
    }

    void target(Step& step) {
        if (word("all")) {
            ++at_;
            if (!word("out"))
                return fail(phrase("\"out\" is missing after \"all\""));
            ++at_;
            step.kind = TargetKind::AllOut;
            return;
        }
        if (word("effort")) {
            ++at_;
            if (now().kind != Kind::Number || !now().whole || now().value < 1 || now().value > 10)
                return fail(phrase("an effort must be a whole number from 1 to 10"));
            step.kind = TargetKind::Effort;
            step.effort = static_cast<int>(now().value);
            ++at_;
            return;
        }
        const auto from = percent();
        if (!from)
            return;
        step.from = step.to = *from;
        if (word("to")) {
            ++at_;
            if (const auto to = percent())
                step.to = *to;
        }
    }

    std::optional<int> rpm() {
        if (now().kind != Kind::Number || !now().whole || now().value < 20 || now().value > 200) {
            fail(phrase("a cadence must be a whole number from 20 to 200"));
            return std::nullopt;
        }
        const int value = static_cast<int>(now().value);
        ++at_;
        return value;
    }

    void cadence(Step& step) {
        if (!word("at"))
            return;
        ++at_;
        step.cadenceFrom = step.cadenceTo = rpm();
        if (!wrong_ && word("to")) {
            ++at_;
            step.cadenceTo = rpm();
        }
        if (wrong_)
            return;
        if (!word("rpm"))
            return fail(phrase("\"rpm\" is missing after the cadence"));
        ++at_;
        if (*step.cadenceTo < *step.cadenceFrom)
            return fail(phrase("a cadence span must rise, as 85 to 95 rpm"));
    }

    std::vector<Token> tokens_;
    size_t at_ = 0;
    std::optional<Mistake> wrong_;
};

std::string lengthText(int seconds) {
    if (seconds == 60)
        return "1 min";
    if (seconds < 120)
        return std::to_string(seconds) + " s";
    std::string out;
    const auto add = [&](int n, const char* unit) {
        if (n > 0)
            out += (out.empty() ? "" : " ") + std::to_string(n) + " " + unit;
    };
    add(seconds / 3600, "h");
    add(seconds % 3600 / 60, "min");
    add(seconds % 60, "s");
    return out;
}

/// A percentage in as few digits as give it back.
std::string percentText(double fraction) {
    for (int digits = 0; digits < 12; ++digits) {
        std::array<char, 40> text{};
        std::snprintf(text.data(), text.size(), "%.*f", digits, 100 * fraction);
        if (std::abs(std::stod(text.data()) / 100 - fraction) < 1e-12)
            return text.data();
    }
    std::array<char, 40> text{};
    std::snprintf(text.data(), text.size(), "%.12f", 100 * fraction);
    return text.data();
}

std::string itemsText(const std::vector<Item>& items) {
    std::string out;
    for (const Item& item : items) {
        out += out.empty() ? "" : ", ";
        if (item.count == 0) {
            out += writeShorthand(item.step);
            continue;
        }
        const bool single = item.part.size() == 1 && item.part[0].count == 0 && !item.bracket;
        out += std::to_string(item.count) + " × " +
               (single ? writeShorthand(item.part[0].step) : "(" + itemsText(item.part) + ")");
        if (item.rest.empty())
            continue;
        std::string rest;
        for (const Step& r : item.rest)
            rest += (rest.empty() ? "" : ", ") + writeShorthand(r);
        out += " with " + (item.rest.size() == 1 ? rest : "(" + rest + ")") + " between";
    }
    return out;
}

} // namespace

tl::expected<Session, ShorthandMistake> readShorthand(const std::string& text) {
    auto tokens = tokensOf(text);
    if (!tokens)
        return tl::unexpected(tokens.error());
    return Reader(std::move(*tokens)).run();
}

std::string writeShorthand(const Step& step) {
    std::string out = lengthText(step.seconds);
    if (step.kind == TargetKind::AllOut)
        out += " all out";
    else if (step.kind == TargetKind::Effort)
        out += " effort " + std::to_string(step.effort);
    else
        out += " " + percentText(step.from) + (step.to != step.from ? " to " + percentText(step.to) : "");
    if (step.cadenceFrom)
        out += " at " + std::to_string(*step.cadenceFrom) +
               (*step.cadenceTo != *step.cadenceFrom ? " to " + std::to_string(*step.cadenceTo) : "") +
               " rpm";
    if (!step.note.empty())
        out += " \"" + step.note + "\"";
    return out;
}

std::string writeShorthand(const Session& session) {
    return itemsText(session.items);
}

namespace {

/// The words of the notation, those of two first.
constexpr std::array notation{marked("all out"), marked("with"), marked("between"), marked("to"),
                              marked("at"),      marked("rpm"),  marked("effort")};

bool isLetter(char c) {
    return std::isalpha(static_cast<unsigned char>(c)) || static_cast<unsigned char>(c) >= 0x80;
}

/// Every whole word `from` of the text outside quotation marks becomes `to`.
std::string exchanged(const std::string& text, const std::string& from, const std::string& to) {
    std::string out;
    bool quoted = false;
    for (size_t i = 0; i < text.size();) {
        quoted = text[i] == '"' ? !quoted : quoted;
        const bool whole = !quoted && text.compare(i, from.size(), from) == 0 &&
                           (i == 0 || !isLetter(text[i - 1])) &&
                           (i + from.size() == text.size() || !isLetter(text[i + from.size()]));
        out += whole ? to : std::string(1, text[i]);
        i += whole ? from.size() : 1;
    }
    return out;
}

} // namespace

std::string spokenShorthand(const std::string& shorthand) {
    std::string out = shorthand;
    for (const char* word : notation)
        out = exchanged(out, word, translated(word));
    return out;
}

std::string writtenShorthand(const std::string& spoken) {
    std::string out = spoken;
    for (const char* word : notation)
        out = exchanged(out, translated(word), word);
    return out;
}

} // namespace marram
