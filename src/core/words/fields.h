// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include <cstddef>
#include <optional>
#include <type_traits>
#include <utility>

/// Records described once: a list of fields a record, from which it is read and written, merged and compared.
/// A member without its line in the list does not compile.
namespace marram {

/// What a number may be; of an enumeration, the first and the last value that may stand there.
struct Span {
    double least = 0, most = 0;
    const char* words = nullptr; ///< the sentence where a number lies outside, %1 the one it is of
    constexpr bool limited() const { return least < most; }
    constexpr bool holds(double v) const { return v >= least && v <= most; } ///< never what is no number
};

/// How a field stands in a file of keys and values.
enum class Stands {
    Always,   ///< it must be there
    Written,  ///< always written; where it is not there the record's own default holds
    OrNull,   ///< it must be there, null for nothing
    WhereSet, ///< only where it is not the record's own default
    ByHand    ///< the reader and the writer do this one themselves, or it is in no such file
};

/// One field of a record. Where it is not `Edited` it is worked out, or of somebody else: an edit neither
/// merges nor compares it.
template <class Record, class T, bool Edited = true>
struct Field {
    using Value = T;
    static constexpr bool edited = Edited;
    const char* key; ///< in files, and of a row where no other column is said
    T Record::*at;
    Stands stands = Stands::Always;
    Span span = {};
    const char* column = nullptr; ///< of a row; "" where rows do not hold it or whoever reads them does it
                                  ///< by hand; "*" for a record within the record, by its own columns
    bool emptyIsNull = false;     ///< a row holds nothing where it is empty

    constexpr Field as(Stands how) const {
        Field f = *this;
        f.stands = how;
        return f;
    }
    constexpr Field within(double least, double most, const char* words = nullptr) const {
        Field f = *this;
        f.span = {least, most, words};
        return f;
    }
    /// Of an enumeration: the last value that may stand there.
    template <class Enum>
    constexpr Field upTo(Enum last) const {
        return within(0, static_cast<double>(last));
    }
    constexpr Field nullWhereEmpty() const {
        Field f = *this;
        f.emptyIsNull = true;
        return f;
    }
    constexpr Field in(const char* name) const {
        Field f = *this;
        f.column = name;
        return f;
    }
    constexpr Field<Record, T, false> notEdited() const {
        return {key, at, stands, span, column, emptyIsNull};
    }
    constexpr const char* columnName() const { return column ? column : key; }
};

template <class Record, class T>
constexpr Field<Record, T> field(const char* key, T Record::*at) {
    return {key, at};
}
/// A field that no file and no row holds under a key of its own.
template <class Record, class T>
constexpr Field<Record, T> field(T Record::*at) {
    return {"", at, Stands::ByHand, {}, ""};
}

namespace described_by {

struct Anything {
    template <class T>
    operator T() const; // never defined: it only stands for a member's value
};
template <class Record, std::size_t... I>
constexpr bool takes(std::index_sequence<I...>) {
    return requires {
        Record{(static_cast<void>(I), Anything{})...};
    };
}
/// Whether an aggregate has as many members: it takes so many values, and not one more. (Counting them from
/// above instead compiles for seconds.)
template <class Record, std::size_t N>
constexpr bool hasMembers() {
    return takes<Record>(std::make_index_sequence<N>{}) && !takes<Record>(std::make_index_sequence<N + 1>{});
}

template <class A, class B>
constexpr bool sameMember(const A& a, const B& b) {
    if constexpr (std::is_same_v<typename A::Value, typename B::Value>)
        return a.at == b.at;
    else
        return false;
}

} // namespace described_by

/// The list of a record's fields: each of its members, once. Called with a function it calls that with all of
/// them (a std::tuple of as many takes seconds to compile).
template <class Record, class... T, bool... Edited>
consteval auto described(Field<Record, T, Edited>... fields) {
    static_assert(described_by::hasMembers<Record, sizeof...(T)>(),
                  "a member of this record has no line in its list, or a line too many");
    const auto times = [&](const auto& one) { return (0 + ... + described_by::sameMember(one, fields)); };
    if (!((times(fields) == 1) && ...))
        throw "a member is listed twice"; // at compile time: it does not compile
    return [fields...](auto&& take) { return take(fields...); };
}

/// The list of a record; a specialisation for each.
template <class Record>
struct FieldsOf {};
template <class Record>
concept Described = requires {
    FieldsOf<Record>::list;
};

/// Calls `visit` with each field of a record, in the order of its list.
template <Described Record, class Visit>
constexpr void eachField(Visit visit) {
    FieldsOf<Record>::list([&](const auto&... fields) { (visit(fields), ...); });
}

/// The span of the first number of a record that lies outside it, of those that have words for that; null
/// where none does.
template <Described Record>
const Span* outsideItsSpan(const Record& record) {
    const Span* outside = nullptr;
    const auto look = [&](const auto& value, const Span& span) {
        if (!outside && span.words && !span.holds(value))
            outside = &span;
    };
    eachField<Record>([&](const auto& f) {
        using T = typename std::decay_t<decltype(f)>::Value;
        if constexpr (std::is_same_v<T, double> || std::is_same_v<T, int>)
            look(record.*f.at, f.span);
        else if constexpr (std::is_same_v<T, std::optional<double>> || std::is_same_v<T, std::optional<int>>)
            if (record.*f.at)
                look(*(record.*f.at), f.span);
    });
    return outside;
}

/// Whether two records are the same in what an edit may change.
template <Described Record>
bool sameEdited(const Record& a, const Record& b) {
    bool same = true;
    eachField<Record>([&](const auto& f) {
        using One = std::decay_t<decltype(f)>;
        if constexpr (One::edited) {
            if constexpr (Described<typename One::Value>)
                same = same && sameEdited(a.*f.at, b.*f.at);
            else
                same = same && a.*f.at == b.*f.at;
        }
    });
    return same;
}

} // namespace marram
