// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "app/owners/workspace.h"
#include <QTextBrowser>

namespace marram {

/// What was meant on the day of a ride, and how it was ridden, in words and by repetition.
class MeantPage : public QTextBrowser {
public:
    explicit MeantPage(Workspace& workspace, QWidget* parent = nullptr);
    void show(const RideRecord& ride);

private:
    Workspace& workspace_;
};

/// Targets in watts for every second of a ride, as its session had them: laid by the time ridden, stops left
/// out, and moved with each repetition that was found. Not a number where nothing was asked, and in stops.
/// Empty without a threshold.
std::vector<double> meantOver(const Ride& ride, const Session& session, const Against& against,
                              double threshold);

} // namespace marram
