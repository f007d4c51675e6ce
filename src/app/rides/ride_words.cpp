// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/rides/ride_words.h"
#include "app/rides/ride_table.h"
#include "app/theme/theme.h"

namespace marram {
namespace {

class Figures {
public:
    void add(const QString& name, const QString& value, const QString& unit, const QString& how) {
        rows_ += QString("<tr><td style='padding-right:10px'>%1</td><td align=right><b>%2</b></td><td "
                         "style='padding-right:18px'>&nbsp;%3</td><td style='color:%5'>%4</td></tr>")
                     .arg(name, value, unit, how, shore().muted.name());
    }
    QString text() const { return "<table cellspacing=0 cellpadding=2 width='100%'>" + rows_ + "</table>"; }

private:
    QString rows_;
};

QString n(double v, int decimals = 0) {
    return QString::number(v, 'f', decimals);
}

} // namespace

QString describeRide(const RideRecord& r, std::optional<double> planned) {
    const Score& s = r.score;
    Figures f;
    f.add("Recorded", clockText(s.duration), "h",
          s.elapsed - s.duration > 60
              ? QString("%1 h from start to end, stops left out").arg(clockText(s.elapsed))
              : QString("without a stop"));
    if (s.stress) {
        QString how;
        if (s.method == StressMethod::Power)
            how = QString("100 × %1 h × %2²; scored by power")
                      .arg(n(s.duration / 3600.0, 2), n(s.relativeIntensity.value_or(0), 3));
        else if (s.method == StressMethod::HeartRate)
            how = QString("impulse %1 over that of an hour at threshold heart rate; short intervals come out "
                          "too low")
                      .arg(n(s.trainingImpulse.value_or(0)));
        if (planned)
            how += QString("; planned %1").arg(n(*planned));
        f.add("Stress", n(*s.stress), "pts", how);
    }
    if (s.equivalentPower)
        f.add("Equivalent power", n(*s.equivalentPower), "W",
              "fourth root of the mean fourth power of 30 s windows");
    if (s.relativeIntensity)
        f.add("Relative intensity", n(*s.relativeIntensity, 2), "",
              QString("of %1 W, the threshold that day").arg(n(r.thresholdPower)));
    if (s.meanPower)
        f.add("Mean power", n(*s.meanPower), "W", QString("%1 kJ of work").arg(n(s.work.value_or(0))));
    if (s.meanHeartRate)
        f.add("Mean heart rate", n(*s.meanHeartRate), "bpm",
              QString("highest %1").arg(n(s.maxHeartRate.value_or(0))));
    if (s.efficiency)
        f.add("Efficiency", n(*s.efficiency, 2), "W/bpm", "equivalent power over mean heart rate");
    if (s.drift)
        f.add("Drift", n(*s.drift, 1), "%",
              "fall of efficiency from the first half to the second; means something on a steady ride only");
    if (s.bandSeconds) {
        const Bands& b = *s.bandSeconds;
        const double all = b.sum() / 100;
        f.add("Low, middle, high",
              QString("%1 / %2 / %3").arg(n(b.low / all), n(b.middle / all), n(b.high / all)), "%",
              "of recorded time, on one-second power");
    }
    QStringList faults;
    if (s.faults.power + s.faults.heartRate > 0)
        faults << QString("%1 absurd readings set aside").arg(s.faults.power + s.faults.heartRate);
    if (s.faults.powerMissing > 0)
        faults << QString("%1 s without power, counted as zero").arg(s.faults.powerMissing);
    faults << r.remarks;
    if (!faults.isEmpty())
        f.add("Recording", "", "", faults.join("; ").toHtmlEscaped());
    f.add("From", "", "",
          QString("%1, kept as it came; figures by version %2")
              .arg(r.fileName.toHtmlEscaped())
              .arg(r.scoringVersion));
    return f.text();
}

} // namespace marram
