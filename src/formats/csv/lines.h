// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include <QByteArray>
#include <QByteArrayList>
#include <QList>
#include <QLocale>
#include <algorithm>
#include <optional>

namespace marram {

/// Whether a spreadsheet takes text that begins with this for a formula.
inline bool startsFormula(char c) {
    return c == '=' || c == '+' || c == '-' || c == '@' || c == '\t' || c == '\r';
}

/// Splits CSV text into rows of trimmed cells, one at a time. Of a row with more cells than `mostCells` one
/// more than that is given.
class CsvLines {
public:
    static constexpr qsizetype mostCells = 256;

    explicit CsvLines(const QByteArray& text) : text_(text) {
        if (text_.startsWith("\xEF\xBB\xBF"))
            at_ = 3;
        const QByteArray head = text_.mid(at_, text_.indexOf('\n', at_) - at_);
        separator_ = head.contains('\t') ? '\t' : head.contains(';') ? ';' : ',';
    }

    /// The next row that is not empty; false at the end. A cell in double quotes may hold separators, doubled
    /// quotes and line breaks (RFC 4180).
    bool next(QByteArrayList& cells) {
        while (at_ < text_.size()) {
            cells.clear();
            const auto begin = at_;
            ++line_;
            bool more = true, any = false;
            while (more) {
                QByteArray cell;
                more = readCell(cell);
                any = any || !cell.isEmpty() || more;
                if (cells.size() <= mostCells)
                    cells << harmful(cell);
            }
            if (any || text_.mid(begin, at_ - begin).trimmed().size() > 0)
                return true;
        }
        return false;
    }

    int line() const { return line_; }
    char separator() const { return separator_; }

private:
    /// Text that csvText made harmless, as it was.
    static QByteArray harmful(const QByteArray& cell) {
        const auto quotes = std::find_if(cell.begin(), cell.end(), [](char c) { return c != '\''; });
        const bool made = quotes != cell.begin() && quotes != cell.end() && startsFormula(*quotes);
        return made ? cell.mid(1) : cell;
    }

    qsizetype endOfCell() const {
        auto end = at_;
        while (end < text_.size() && text_[end] != separator_ && text_[end] != '\n')
            ++end;
        return end;
    }

    /// Up to behind its last quote; a quote twice is one.
    void readQuoted(QByteArray& cell, qsizetype from) {
        auto end = from;
        for (; end < text_.size(); ++end) {
            if (text_[end] == '"' && end + 1 < text_.size() && text_[end + 1] == '"')
                cell += text_[end++];
            else if (text_[end] == '"')
                break;
            else
                cell += text_[end];
        }
        line_ += static_cast<int>(cell.count('\n'));
        at_ = std::min(end + 1, text_.size());
    }

    /// Reads one cell; true where another one follows on the same row.
    bool readCell(QByteArray& cell) {
        auto end = at_;
        while (end < text_.size() && text_[end] == ' ')
            ++end;
        if (end < text_.size() && text_[end] == '"') {
            readQuoted(cell, end + 1);
            end = endOfCell();
        } else {
            end = endOfCell();
            cell = text_.mid(at_, end - at_).trimmed();
        }
        const bool more = end < text_.size() && text_[end] == separator_;
        at_ = std::min(end + 1, text_.size());
        return more;
    }

    QByteArray text_;
    qsizetype at_ = 0;
    int line_ = 0;
    char separator_ = ',';
};

/// A cell as CSV text: in quotes where it has to be, and with an apostrophe before what a spreadsheet would
/// take for a formula; numbers stay numbers.
inline QByteArray csvCell(QByteArray cell) {
    bool number = false;
    cell.toDouble(&number);
    const auto first = std::find_if(cell.begin(), cell.end(), [](char c) { return c != '\''; });
    if (!number && first != cell.end() && startsFormula(*first))
        cell.prepend('\'');
    if (!cell.contains(',') && !cell.contains('"') && !cell.contains('\n') && !cell.contains('\r') &&
        cell.trimmed() == cell)
        return cell;
    return '"' + cell.replace('"', "\"\"") + '"';
}

/// A row of cells with its line end.
inline QByteArray csvRow(const QByteArrayList& cells) {
    QByteArray out;
    for (const QByteArray& cell : cells)
        out += (out.isEmpty() && &cell == &cells.first() ? "" : ",") + csvCell(cell);
    return out + '\n';
}

/// A number in full precision, an empty cell for none.
inline QByteArray csvNumber(const std::optional<double>& v) {
    return v ? QByteArray::number(*v, 'g', QLocale::FloatingPointShortest) : QByteArray();
}

} // namespace marram
