// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "records/records.h"
#include "wording/wording.h"
#include <QComboBox>

namespace marram {

/// Fills a list with the groups riders are in, "All groups" first; what was chosen stays. Hidden where there
/// are none.
inline void fillGroups(QComboBox* list, const std::vector<RiderRecord>& riders, bool archivedToo) {
    QStringList groups;
    for (const RiderRecord& r : riders)
        if (archivedToo || !r.archived)
            groups += r.groups;
    groups.removeDuplicates();
    groups.sort(Qt::CaseInsensitive);
    const QString kept = list->currentData().toString();
    list->clear();
    list->addItem(wording("All groups"), QString());
    for (const QString& g : groups)
        list->addItem(g, g);
    list->setCurrentIndex(std::max(0, list->findData(kept)));
    list->setVisible(!groups.isEmpty());
}

} // namespace marram
