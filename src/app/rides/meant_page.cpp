// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/rides/meant_page.h"
#include "app/shell/against_words.h"
#include "app/theme/theme.h"
#include "core/review/wording.h"
#include "core/session/shorthand.h"
#include "records/again.h"
#include "wording/wording.h"

#include <cmath>

namespace marram {

MeantPage::MeantPage(Workspace& workspace, QWidget* parent) : QTextBrowser(parent), workspace_(workspace) {
    setObjectName("meantWords");
    setAccessibleName(wording("What was meant"));
    setFrameShape(QFrame::NoFrame);
    setOpenLinks(false);
    document()->setDocumentMargin(0);
}

/// A test or a climb ridden again stands beside the times before, meant or not.
static QString testsOf(const Workspace& workspace, const RideRecord& ride) {
    QString tests;
    for (const TestRecord& t : workspace.chosen.tests())
        if (t.result.day == ride.day && (t.rideHash.isEmpty() || t.rideHash == ride.contentHash)) {
            const auto [now, before] = testAgain(
                t.result, workspace.chosen.facts().testResults(),
                [&](Date day) { return workspace.chosen.history().before(day); }, workspace.today());
            tests += "<p><b>" + QString(before.empty() ? wording("A test") : wording("The same again")) +
                     "</b></p><p>" + QString::fromStdString(joined(now, before)).toHtmlEscaped() + "</p>";
        }
    return tests;
}

void MeantPage::show(const RideRecord& ride) {
    const MeantSession* meant = workspace_.blocks.meantOn(ride.day);
    const LaidRide* laid = workspace_.blocks.laidOn(ride.day);
    const QString tests = testsOf(workspace_, ride);
    if (!meant || meant->words.empty()) {
        setHtml(semiBold(wording("<p>No session was meant for this day when it came. Sessions of the days "
                                 "ahead are on the board (Block).</p>%1",
                                 tests)));
        return;
    }
    const auto p = [](const std::string& text) {
        return "<p>" + QString::fromStdString(text).toHtmlEscaped() + "</p>";
    };
    QString html = "<p><b>" + QString::fromStdString(meant->family.empty() ? phrase("Session")
                                                                           : translated(meant->family))
                                  .toHtmlEscaped();
    if (meant->rung > 0)
        html += wording(", rung %1").arg(meant->rung);
    html += "</b>: " + QString::fromStdString(spokenShorthand(meant->words)).toHtmlEscaped() + "</p>";
    if (laid && laid->ride != ride.id) {
        html += p(phrase("A longer ride of the day is laid over it, not this one."));
    } else if (laid && laid->unread) {
        html += p(phrase("It can't be laid over the ride: %1", *laid->unread));
    } else if (laid) {
        for (const QString& sentence : QString::fromStdString(meant->told).split('\n', Qt::SkipEmptyParts))
            html += "<p>" + sentence.toHtmlEscaped() + "</p>";
        if (const auto verdict = workspace_.blocks.verdictOn(ride.day); verdict && verdict != meant->outcome)
            html += p(phrase("The coach's word: %1.", translated(nameOf(*verdict))));
        if (!laid->against.repetitions.empty())
            html += repetitionsTable(laid->against);
        if (const auto again = workspace_.blocks.againOn(ride.day))
            html += wording("<p><b>The same again</b></p>%1", p(againText(*again, workspace_.today())));
    } else {
        html += p(phrase("It is being laid over the ride."));
    }
    setHtml(semiBold(html + tests));
}

/// W, of each second of the session.
static std::vector<double> targetsOf(const Session& session, double threshold) {
    std::vector<double> targets;
    for (const UnfoldedStep& s : figuresOf(session).steps)
        for (int i = 0; i < s.step.seconds; ++i)
            targets.push_back(threshold * targetAt(s.step, (i + 0.5) / s.step.seconds));
    return targets;
}

std::vector<double> meantOver(const Ride& ride, const Session& session, const Against& against,
                              double threshold) {
    if (threshold <= 0)
        return {};
    const std::vector<double> targets = targetsOf(session, threshold);
    std::vector<double> out(static_cast<size_t>(ride.elapsed()), std::nan(""));
    std::vector<int> ridden(out.size(), -1);
    int count = 0;
    for (const Stretch& s : ride.stretches)
        for (int t = s.begin; t < s.end; ++t)
            ridden[static_cast<size_t>(t)] = count++;
    // Each repetition found says how far behind its time the rider was, from then on; the first from the
    // start.
    std::vector<std::pair<int, int>> moves;
    for (const Repetition& r : against.repetitions)
        if (r.found && r.found->begin < ride.elapsed())
            moves.emplace_back(r.found->begin, ridden[static_cast<size_t>(r.found->begin)] - r.begins);
    size_t move = 0;
    for (size_t t = 0; t < out.size(); ++t) {
        while (move + 1 < moves.size() && moves[move + 1].first <= static_cast<int>(t))
            ++move;
        const int behind = moves.empty() ? 0 : moves[move].second;
        if (ridden[t] < 0)
            continue;
        const int at = ridden[t] - behind;
        if (at >= 0 && at < static_cast<int>(targets.size()))
            out[t] = targets[static_cast<size_t>(at)];
    }
    return out;
}

} // namespace marram
