// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include <QByteArray>
#include <QByteArrayList>
#include <QList>

namespace marram {

/// Splits CSV text into rows of trimmed cells, one at a time.
class CsvLines {
public:
    explicit CsvLines(const QByteArray& text) : text_(text) {
        if (text_.startsWith("\xEF\xBB\xBF"))
            at_ = 3;
        const QByteArray head = text_.mid(at_, text_.indexOf('\n', at_) - at_);
        separator_ = head.contains('\t') ? '\t' : head.contains(';') ? ';' : ',';
    }

    /// The next row that is not empty; false at the end.
    bool next(QByteArrayList& cells) {
        while (at_ < text_.size()) {
            auto end = text_.indexOf('\n', at_);
            if (end < 0)
                end = text_.size();
            const QByteArray line = text_.mid(at_, end - at_).trimmed();
            at_ = end + 1;
            ++line_;
            if (line.isEmpty())
                continue;
            cells = line.split(separator_);
            for (QByteArray& cell : cells) {
                cell = cell.trimmed();
                if (cell.size() >= 2 && cell.startsWith('"') && cell.endsWith('"'))
                    cell = cell.mid(1, cell.size() - 2);
            }
            return true;
        }
        return false;
    }

    int line() const { return line_; }
    char separator() const { return separator_; }

private:
    QByteArray text_;
    qsizetype at_ = 0;
    int line_ = 0;
    char separator_ = ',';
};

} // namespace marram
