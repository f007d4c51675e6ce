// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/words/phrase.h"
#include "core/words/plural.h"

#include <algorithm>
#include <atomic>
#include <cmath>
#include <cstdint>
#include <cstdio>
#include <deque>
#include <mutex>
#include <unordered_map>

namespace marram {
namespace {

struct Spoken {
    Language language;
    std::unordered_map<std::string, std::string>
        texts; ///< forms of a plural divided by a zero byte, as in MO
    PluralRule plural;
};

/// The language spoken now. Whoever reads one that is no longer spoken may go on: none is ever let go of.
std::atomic<const Spoken*>& current() {
    static const Spoken english;
    static std::atomic<const Spoken*> now{&english};
    return now;
}
const Spoken& spoken() {
    return *current().load(std::memory_order_acquire);
}

/// Source: the GNU gettext manual, "The Format of GNU MO Files" (value from memory, checked by what msgfmt
/// writes).
bool read(const std::string& file, Spoken& into) {
    bool swapped = false;
    const auto number = [&](size_t at) -> uint64_t {
        if (at + 4 > file.size())
            return UINT64_MAX;
        const auto byte = [&](size_t i) {
            return static_cast<uint64_t>(static_cast<unsigned char>(file[at + i]));
        };
        return swapped ? byte(0) << 24U | byte(1) << 16U | byte(2) << 8U | byte(3)
                       : byte(3) << 24U | byte(2) << 16U | byte(1) << 8U | byte(0);
    };
    constexpr uint64_t magic = 0x950412de;
    if (number(0) != magic) {
        swapped = true;
        if (number(0) != magic)
            return false;
    }
    const uint64_t count = number(8), keys = number(12), values = number(16);
    if (count > file.size() / 16)
        return false;
    const auto text = [&](uint64_t table, uint64_t i, std::string& out) {
        const uint64_t entry = table + 8 * i;
        const uint64_t length = number(entry), at = number(entry + 4);
        if (length >= file.size() || at >= file.size() || at + length > file.size())
            return false;
        out = file.substr(at, length);
        return true;
    };
    for (uint64_t i = 0; i < count; ++i) {
        std::string key, value;
        if (!text(keys, i, key) || !text(values, i, value))
            return false;
        key = key.substr(0, key.find('\0')); // the many-form is no part of the key
        if (key.empty())
            into.plural = PluralRule(value);
        else
            into.texts.emplace(std::move(key), std::move(value));
    }
    return true;
}

/// By two fifths of its letters, at the end, before what closes it, so that parts of sentences still fit
/// together; as words of German length where there are several, so that lines break as they would.
void lengthen(std::string& text, size_t letters, bool severalWords) {
    const size_t more = (letters * 2 + 4) / 5;
    size_t end = text.find_last_not_of(" .,:;>\n");
    end = end == std::string::npos || text.back() == '>' ? text.size() : end + 1;
    std::string longer(more, '~');
    for (size_t i = 0; i < more && severalWords; i += 9)
        longer[i] = ' ';
    text.insert(end, longer);
}

/// Longer, and with a mark on every vowel; places and what stands between < and > stay as they are.
std::string stretched(std::string_view english) {
    static const std::unordered_map<char, const char*> accents{{'a', "à"}, {'e', "é"}, {'i', "î"}, {'o', "ô"},
                                                               {'u', "ü"}, {'A', "Å"}, {'E', "É"}, {'I', "Î"},
                                                               {'O', "Ø"}, {'U', "Û"}};
    std::string out;
    size_t letters = 0, tag = 0;
    for (size_t i = 0; i < english.size(); ++i) {
        const char c = english[i];
        tag = c == '<' ? tag + 1 : tag;
        const auto accent = accents.find(c);
        const bool entity =
            c == '&' && english.find(';', i) != std::string_view::npos && english.find(';', i) - i < 7;
        if (entity) {
            const size_t end = english.find(';', i);
            out += english.substr(i, end - i + 1);
            i = end;
            continue;
        }
        if (tag > 0 || accent == accents.end() || (i > 0 && english[i - 1] == '%'))
            out += c;
        else
            out += accent->second;
        letters += tag == 0 ? 1 : 0;
        tag = c == '>' && tag > 0 ? tag - 1 : tag;
    }
    if (letters > 0 && english.find_first_not_of(" .,;:%0123456789") != std::string_view::npos)
        lengthen(out, letters, english.find(' ', 1) < english.size() - 1);
    return out;
}

} // namespace

bool speak(const Language& language) {
    Spoken next{language, {}, {}};
    if (!language.catalogue.empty() && !read(language.catalogue, next))
        return false;
    next.language.catalogue.clear();
    static std::mutex mutex;
    static std::deque<Spoken> all;
    const std::lock_guard lock(mutex);
    current().store(&all.emplace_back(std::move(next)), std::memory_order_release);
    return true;
}

const std::string& languageCode() {
    return spoken().language.code;
}

char decimalMark() {
    return spoken().language.decimal;
}

std::string fixedText(double value, int decimals) {
    char buffer[64];
    std::snprintf(buffer, sizeof buffer, "%.*f", decimals, value);
    std::string text = buffer;
    std::replace(text.begin(), text.end(), '.', decimalMark());
    return text;
}

std::string signedText(double value, int decimals) {
    const std::string digits = fixedText(std::abs(value), decimals);
    const bool zero = digits.find_first_not_of("0.,") == std::string::npos;
    return (zero ? "" : value < 0 ? "\u2212" : "+") + digits;
}

std::string translated(std::string_view english) {
    const Spoken& s = spoken();
    if (s.language.pseudo)
        return stretched(english);
    if (s.texts.empty())
        return std::string(english);
    const auto found = s.texts.find(std::string(english));
    return found == s.texts.end() ? std::string(english) : found->second.substr(0, found->second.find('\0'));
}

std::string countedForm(long n, const char* one, const char* many) {
    const Spoken& s = spoken();
    if (s.language.pseudo)
        return stretched(n == 1 ? one : many);
    const auto found = s.texts.find(one);
    if (found == s.texts.end())
        return n == 1 ? one : many;
    // Forms that are missing are the last there is.
    size_t from = 0;
    for (int form = s.plural.formOf(n); form > 0; --form)
        if (const size_t next = found->second.find('\0', from); next != std::string::npos)
            from = next + 1;
    return found->second.substr(from, found->second.find('\0', from) - from);
}

std::string filled(std::string text, const std::vector<std::string>& arguments) {
    if (arguments.empty())
        return text;
    std::string out;
    for (size_t i = 0; i < text.size(); ++i) {
        const size_t place = text[i] == '%' && i + 1 < text.size() && text[i + 1] >= '1' && text[i + 1] <= '9'
                                 ? static_cast<size_t>(text[i + 1] - '1')
                                 : arguments.size();
        if (place >= arguments.size()) {
            out += text[i];
            continue;
        }
        out += arguments[place];
        ++i;
    }
    return out;
}

} // namespace marram
