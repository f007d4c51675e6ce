// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include <string>
#include <string_view>
#include <vector>

/// The one door every word passes that somebody reads. Texts stand in the sources in English and are their
/// own keys; a language is a catalogue of them, taken in force once, before any thread starts, and never
/// changed while the programme runs. Without one everything is said in English.
namespace marram {

/// How a language is spoken: its texts, its plural and its decimal mark.
struct Language {
    std::string code = "en";
    char decimal = '.';
    /// The content of a compiled catalogue (GNU gettext's MO, either byte order); empty for English.
    std::string catalogue;
    /// Every text 40 % longer and full of accents, to see what clips and what passes by the door.
    bool pseudo = false;
};

/// Takes a language in force. False, and nothing is changed, where its catalogue can't be read.
bool speak(const Language& language);
/// "en", "de": the language in force.
const std::string& languageCode();
/// '.' or ',': what stands before the decimals of a figure that somebody reads.
char decimalMark();

/// A figure with so many decimals, with the mark of the language; the same with its sign, a minus that is one
/// and none on what rounds to nothing.
std::string fixedText(double value, int decimals = 1);
std::string signedText(double value, int decimals = 1);

/// Marks a text of a table for the catalogue; translated() says it where it is shown.
constexpr const char* marked(const char* english) {
    return english;
}
/// A text of a table, or any text the catalogue knows, in the language in force; itself otherwise.
std::string translated(std::string_view english);
/// The form of the language for so many: "1 week", "2 weeks" without the number.
std::string countedForm(long n, const char* one, const char* many);
/// The text with %1 … %9 replaced, all at once: what an argument says is never read as a place.
std::string filled(std::string text, const std::vector<std::string>& arguments);

inline std::string argumentText(std::string text) {
    return text;
}
/// A text of ours, the name of a phase say: it is said in the language too.
inline std::string argumentText(const char* text) {
    return translated(text);
}
inline std::string argumentText(char letter) {
    return {letter};
}
inline std::string argumentText(int number) {
    return std::to_string(number);
}

/// A sentence or a part of one: phrase("%1 of %2 races", "3", "5").
template <class... Arguments>
std::string phrase(const char* english, const Arguments&... arguments) {
    return filled(translated(english), {argumentText(arguments)...});
}

/// The same with a plural: counted(n, "%1 week holds", "%1 weeks hold", n). The first number chooses the
/// form.
template <class... Arguments>
std::string counted(long n, const char* one, const char* many, const Arguments&... arguments) {
    return filled(countedForm(n, one, many), {argumentText(arguments)...});
}

} // namespace marram
