// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/rides/ride_panel.h"
#include "formats/files/files.h"
#include "formats/recording/recording.h"
#include "wording/wording.h"

#include <QFileDialog>
#include <QSettings>
#include <cmath>

namespace marram {

void RidePanel::change(qint64 ride, const QString& what, const std::function<void(RideRecord&)>& edit) {
    const RideRecord* now = workspace_.chosen.rideById(ride);
    RideRecord before;
    if (now)
        before = *now;
    else if (ride == record_.id)
        before = record_; // typed on a ride of the rider shown before
    else
        return;
    RideRecord after = before;
    edit(after);
    workspace_.roster.edits().editRide(before, after, what);
}

void RidePanel::change(const QString& what, const std::function<void(RideRecord&)>& edit) {
    change(shown_, what, edit);
}

void RidePanel::cutSelection() {
    const Stretch s = trace_->selection();
    if (s.length() > 0)
        change(wording("Cut power"), [&](RideRecord& r) {
            // The brush counts from where the trimmed ride begins.
            r.corrections.powerCuts.push_back(
                {s.begin + r.corrections.trimStart, s.end + r.corrections.trimStart});
        });
}

void RidePanel::trimToSelection() {
    const Stretch s = trace_->selection();
    if (s.length() > 0 && ride_)
        change(wording("Trim a ride"), [&](RideRecord& r) {
            r.corrections.trimEnd += ride_->elapsed() - s.end;
            r.corrections.trimStart += s.begin;
        });
}

void RidePanel::cutSpikes() {
    if (ride_)
        change(wording("Cut spikes"), [&](RideRecord& r) {
            for (const Stretch& s : findSpikes(*ride_))
                r.corrections.powerCuts.push_back(
                    {s.begin + r.corrections.trimStart, s.end + r.corrections.trimStart});
        });
}

Result<void> RidePanel::saveTo(const QString& path) const {
    const auto recording = workspace_.chosen.facts().loadRecording(shown_);
    if (!recording)
        return tl::unexpected(recording.error());
    const auto bytes = writeRecording(*recording, QFileInfo(path).suffix(), record_.fileName.toUtf8());
    if (!bytes)
        return refuse(path.toStdString() + ": " + bytes.error().sentence);
    return writeWholeFile(path, *bytes);
}

void RidePanel::saveAs() {
    if (shown_ == 0)
        return;
    QSettings settings;
    const QString suggested = settings.value("rideFolder").toString() + "/" +
                              QFileInfo(record_.fileName).completeBaseName() + ".fit";
    const QString path = QFileDialog::getSaveFileName(this, wording("Save the ride as it was recorded"),
                                                      suggested, wording("Recordings (*.fit *.gpx *.csv)"));
    if (path.isEmpty())
        return;
    settings.setValue("rideFolder", QFileInfo(path).absolutePath());
    const auto ok = saveTo(path);
    if (ok)
        emit workspace_.notices.said(wording("The ride is in %1.", path));
    else
        emit workspace_.notices.failed(QString::fromStdString(ok.error().sentence));
}

} // namespace marram
