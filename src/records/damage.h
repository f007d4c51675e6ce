// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include <QStringList>
#include <set>

namespace marram {

/// What of a roster can't be read, each in words a coach can find it by.
struct Damage {
    QStringList sentences;  ///< each without a full stop
    std::set<qint64> rides; ///< ids of rides that are damaged
    bool empty() const { return sentences.isEmpty(); }
    void add(const QString& sentence) {
        if (!sentences.contains(sentence))
            sentences << sentence;
    }
};

} // namespace marram
