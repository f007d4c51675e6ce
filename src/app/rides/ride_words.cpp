// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/rides/ride_words.h"
#include "app/rides/ride_table.h"
#include "app/settings/settings.h"
#include "app/theme/theme.h"
#include "core/review/history.h"
#include "wording/wording.h"

#include <cmath>

namespace marram {
namespace {

class Figures {
public:
    /// A figure whose value opens its derivation.
    void add(const QString& key, const QString& name, const QString& value, const QString& unit,
             const QString& how) {
        rows_ +=
            QString(
                "<tr><td style='padding-right:10px; white-space:nowrap'>%1</td><td align=right "
                "style='white-space:nowrap'><a href='how:%6' style='color:%7; text-decoration:none; "
                "font-weight:600'>%2</a></td><td style='padding-right:12px; white-space:nowrap'>&nbsp;%3</td>"
                "<td style='color:%5'>%4</td></tr>")
                .arg(name, value, unit, how, shore().muted.name(), key, shore().tide.name());
    }
    void say(const QString& name, const QString& words) {
        said_ += QString("<p style='margin:5px 0 0 2px; color:%3'>%1: %2</p>")
                     .arg(name, words, shore().muted.name());
    }
    QString text() const { return "<table cellspacing=0 cellpadding=2>" + rows_ + "</table>" + said_; }

private:
    QString rows_, said_;
};

QString n(double v, int decimals = 0) {
    return decimal(v, decimals);
}

QString day(Date d) {
    return QString::fromStdString(dayText(d)) + " " + QString::number(toCivil(d).year);
}

/// Short intervals are only said where power or laps show them: heart rate alone also swings in hills and
/// wind.
bool mayBeHigher(const Score& s) {
    return s.shortIntervals && s.intervalsSeen;
}

QString stressWords(const RideRecord& r) {
    const Score& s = r.score;
    switch (s.method) {
    case StressMethod::Power:
        return wording("100 × %1 h × %2²; by power")
            .arg(n(s.duration / 3600.0, 2), n(s.relativeIntensity.value_or(0), 3));
    case StressMethod::HeartRate:
        return mayBeHigher(s) ? wording("by heart rate; with short intervals like these it may be higher")
                              : wording("by heart rate");
    case StressMethod::Effort:
        return wording("by session effort, %1 of 10").arg(n(s.effort.value_or(0), 1));
    case StressMethod::None:
        break;
    }
    return wording("nothing to score by");
}

/// How far off such rides are, from what was learned.
QString offBy(const ScaleError& e, const QString& kind) {
    const auto p = predictedError(e);
    return p ? wording("nine of ten %1 are within %2 %").arg(kind, n(100 * *p))
             : wording("too few %1 to say how far off (%2 of %3)").arg(kind).arg(e.rides).arg(ridesForError);
}

} // namespace

QString preciseClock(int s) {
    return s >= 3600 ? QString("%1:%2:%3")
                           .arg(s / 3600)
                           .arg(s / 60 % 60, 2, 10, QChar('0'))
                           .arg(s % 60, 2, 10, QChar('0'))
                     : QString("%1:%2").arg(s / 60).arg(s % 60, 2, 10, QChar('0'));
}

QString methodWords(const Score& s) {
    switch (s.method) {
    case StressMethod::Power:
        return wording("power");
    case StressMethod::HeartRate:
        return mayBeHigher(s) ? wording("heart, maybe higher") : wording("heart");
    case StressMethod::Effort:
        return wording("effort");
    case StressMethod::None:
        break;
    }
    return wording("nothing");
}

static QString asideWords(const RideRecord& r) {
    return r.beside.isEmpty() ? wording("This ride counts for nothing until it is taken back.")
                              : wording("A second device's recording: what it has better is used for the "
                                        "ride it belongs to. Taken back, it counts for itself.");
}

static void addBands(Figures& f, const Score& s) {
    const Bands& b = *s.bandSeconds;
    const double all = b.sum() / 100;
    f.add("bands", wording("Low, middle, high"),
          QString("%1 / %2 / %3").arg(n(b.low / all), n(b.middle / all), n(b.high / all)), "%",
          wording("of the time"));
    if (const auto& p = s.purposeSeconds)
        f.add("purpose", wording("By purpose"),
              QString("%1 / %2 / %3").arg(n(p->low / all), n(p->middle / all), n(p->high / all)), "%",
              wording("sets with their rests"));
}

static QStringList faultsOf(const RideRecord& r) {
    const Faults& found = r.score.faults;
    QStringList faults;
    for (const std::string& lack : missingParts(r.score))
        faults << QString::fromStdString(lack);
    if (found.power + found.heartRate > 0)
        faults << wording("%1 absurd readings set aside").arg(found.power + found.heartRate);
    if (found.powerMissing > 0)
        faults << wording("%1 s without power, counted as zero").arg(found.powerMissing);
    return faults << r.remarks;
}

QString describeRide(const RideRecord& r, std::optional<double> planned) {
    const Score& s = r.score;
    Figures f;
    if (r.excluded)
        f.say(wording("Set aside"), asideWords(r));
    if (s.indoors)
        f.say(wording("Indoors"),
              wording("Ridden indoors: the file says so, or it has neither altitude nor distance."));
    f.add("duration", wording("Recorded"), clockText(s.duration), "h",
          s.elapsed - s.duration > 60 ? wording("of %1 h with stops").arg(clockText(s.elapsed))
                                      : wording("without a stop"));
    if (s.stress)
        f.add("stress", wording("Stress"), n(*s.stress), wording("pts"),
              stressWords(r) + (planned ? wording("; planned %1").arg(n(*planned)) : QString()));
    else
        f.say(
            wording("Stress"),
            wording("None: there is no power, heart rate or effort to score it by. Enter the session effort "
                    "under The day, or the thresholds under Rider."));
    if (s.equivalentPower)
        f.add("equivalent", wording("Equivalent power"), n(*s.equivalentPower), "W",
              s.relativeIntensity ? wording("%1 of %2 W, the threshold that day")
                                        .arg(n(*s.relativeIntensity, 2), n(r.thresholdPower))
                                  : QString());
    if (s.meanPower)
        f.add("mean_power", wording("Mean power"), n(*s.meanPower), "W",
              wording("%1 kJ of work").arg(n(s.work.value_or(0))));
    if (s.meanHeartRate)
        f.add("heart_rate", wording("Mean heart rate"), n(*s.meanHeartRate), "bpm",
              wording("highest %1").arg(n(s.maxHeartRate.value_or(0))));
    if (s.efficiency)
        f.add("efficiency", wording("Efficiency"), n(*s.efficiency, 2), "W/bpm", wording("per beat"));
    if (s.drift)
        f.add("drift", wording("Drift"), n(*s.drift, 1), "%", wording("fall of efficiency"));
    const Units units = shownUnits();
    if (s.distance)
        f.add("distance", wording("Distance"), n(units.distance(*s.distance), 1), units.distanceUnit(),
              s.duration > 0 ? QString("%1 %2").arg(n(units.distance(3600 * *s.distance / s.duration), 1),
                                                    units.speedUnit())
                             : QString());
    if (s.bandSeconds)
        addBands(f, s);
    const QStringList faults = faultsOf(r);
    if (!faults.isEmpty())
        f.say(wording("Recording"), faults.join("; ").toHtmlEscaped());
    f.say(wording("From"),
          wording("%1, kept as it came%2; figures by version %3")
              .arg(r.fileName.toHtmlEscaped(), r.corrections.empty() ? "" : wording(" and corrected by you"))
              .arg(r.scoringVersion));
    return f.text();
}

static QString holdsFrom(const RiderRecord& rider, Quantity q, Date on) {
    const DatedValue* v = rider.values.entryOn(q, on);
    if (!v)
        return QString();
    return QString(v->atLeast ? wording(", which holds from %1 and is a lower bound: the truth may be higher")
                              : wording(", which holds from %1"))
        .arg(day(v->from));
}

static QString stressDerivation(const RideRecord& r, const RiderRecord& rider,
                                std::optional<double> planned) {
    const Score& s = r.score;
    const QString hours = n(s.duration / 3600.0, 4);
    if (s.method == StressMethod::Power)
        return QString(wording("100 × hours × relative intensity² = 100 × %1 × %2² = <b>%3</b>. Relative "
                               "intensity is "
                               "equivalent power %4 W over threshold power %5 W%6.%7"))
            .arg(hours, n(*s.relativeIntensity, 4), n(*s.stress, 1), n(*s.equivalentPower, 1),
                 n(r.thresholdPower), holdsFrom(rider, Quantity::ThresholdPower, r.day),
                 planned ? wording(" %1 points were planned: %2 % of it was ridden.")
                               .arg(n(*planned), *planned > 0 ? n(100 * *s.stress / *planned) : "–")
                         : QString());
    if (s.method == StressMethod::HeartRate) {
        const auto range = heartRateRangeOn(rider, r.day);
        const auto& scale = rider.scales.heartRate;
        return QString(wording("Training impulse %1 (minutes × x × a·e^(b·x), x the share of heart-rate "
                               "reserve between "
                               "%2 "
                               "and %3 bpm; Banister), over that of an hour at threshold heart rate %4 bpm, "
                               "× 100 = %5; "
                               "× %6%7 = <b>%8</b>.%9"))
            .arg(n(s.trainingImpulse.value_or(0), 1), range ? n(range->rest.value) : "–",
                 range ? n(range->max.value) : "–", range ? n(range->threshold.value) : "–",
                 n(s.heartRateStress.value_or(0), 1), n(s.scale, 3),
                 scale ? wording(", learned from %1 rides with both; %2")
                             .arg(scale->rides)
                             .arg(offBy(s.shortIntervals ? scale->uneven : scale->steady,
                                        s.shortIntervals ? wording("rides with short intervals")
                                                         : wording("steady rides")))
                       : wording(", not learned yet"),
                 n(*s.stress, 1))
            .arg(mayBeHigher(s) ? wording(" Power or laps show short intervals, which heart rate lags "
                                          "behind: the true stress "
                                          "may be higher than this.")
                                : "");
    }
    if (s.method == StressMethod::Effort) {
        const auto& scale = rider.scales.effort;
        return wording("Effort × minutes × points a minute = %1 × %2 × %3 = <b>%4</b> (Foster). %5")
            .arg(n(s.effort.value_or(0), 1), n(s.duration / 60.0, 1), n(s.scale, 4), n(*s.stress, 1),
                 scale
                     ? wording("The points a minute were learned from %1 rides with both; %2.")
                           .arg(scale->rides)
                           .arg(offBy(scale->all, wording("rides")))
                     : QString(wording(
                           "Not learned yet: an hour at effort 8 stands for 100 points (common practice).")));
    }
    return {};
}

static QString timesDerivation(const QString& name, const RideRecord& r, const RiderRecord& rider) {
    const Score& s = r.score;
    if (name == "bands" && s.bandSeconds) {
        const double low =
            rider.values.on(Quantity::LowThreshold, r.day).value_or(defaultLowThreshold) * r.thresholdPower;
        return wording("Every recorded second by its own power, which scatters from second to second, so the "
                       "top is "
                       "smaller than what the work was for: low to %1 W (%2 of threshold), middle to %3 "
                       "W, high "
                       "above: <b>%4, %5 and %6 s</b>.")
            .arg(n(low), n(low / std::max(1.0, r.thresholdPower), 2), n(r.thresholdPower),
                 n(s.bandSeconds->low), n(s.bandSeconds->middle), n(s.bandSeconds->high));
    }
    if (name == "purpose" && s.purposeSeconds)
        return wording("A set of efforts, the rests between them included, counts to the band its mean power "
                       "falls in; "
                       "everything else to the band it was ridden in: <b>%1, %2 and %3 s</b>. The studies "
                       "behind the "
                       "schools count so.")
            .arg(n(s.purposeSeconds->low), n(s.purposeSeconds->middle), n(s.purposeSeconds->high));
    return {};
}

static QString derivation(const QString& name, const RideRecord& r, const RiderRecord& rider,
                          std::optional<double> planned) {
    const Score& s = r.score;
    if (name == "stress")
        return stressDerivation(r, rider, planned);
    if (name == "duration")
        return wording("The samples stand on a grid of seconds; a gap of up to 10 s holds the last value, a "
                       "longer "
                       "one is a stop. %1 s were recorded between the stops, of %2 s from start to end.")
            .arg(s.duration)
            .arg(s.elapsed);
    if (name == "equivalent")
        return wording("Power over 30 s windows, each mean to the fourth power, their mean, its fourth root: "
                       "<b>%1 W</b>, the steady power that would have cost about the same.%2")
            .arg(n(s.equivalentPower.value_or(0), 1),
                 s.relativeIntensity
                     ? wording(" Over the threshold of %1 W%2: %3.")
                           .arg(n(r.thresholdPower), holdsFrom(rider, Quantity::ThresholdPower, r.day),
                                n(*s.relativeIntensity, 4))
                     : QString());
    if (name == "mean_power")
        return wording("Work %1 kJ over %2 recorded seconds = <b>%3 W</b>; seconds without a reading count "
                       "as zero.")
            .arg(n(s.work.value_or(0), 1))
            .arg(s.duration)
            .arg(n(s.meanPower.value_or(0), 1));
    if (name == "heart_rate")
        return QString(wording("The mean of all recorded seconds that have a heart rate: <b>%1 bpm</b>. "
                               "Readings outside "
                               "25–250 bpm are left out (%2 here)."))
            .arg(n(s.meanHeartRate.value_or(0), 1))
            .arg(s.faults.heartRate);
    if (name == "efficiency")
        return wording("Equivalent power %1 W over mean heart rate %2 bpm = <b>%3 W/bpm</b>.")
            .arg(n(s.equivalentPower.value_or(0), 1), n(s.meanHeartRate.value_or(0), 1),
                 n(s.efficiency.value_or(0), 3));
    if (name == "drift")
        return wording("Efficiency of the first half of the recorded time less that of the second, over the "
                       "first: "
                       "<b>%1 %</b>. Under 5 % on a steady hour is good.")
            .arg(n(s.drift.value_or(0), 2));
    if (name == "distance")
        return wording("As the device summed it up to the last second: <b>%1 m</b> in %2 recorded seconds.")
            .arg(n(s.distance.value_or(0)))
            .arg(s.duration);
    return timesDerivation(name, r, rider);
}

QString deriveFigure(const QString& name, const RideRecord& r, const RiderRecord& rider,
                     std::optional<double> planned) {
    return semiBold(derivation(name, r, rider, planned));
}

QString describeSpan(const SpanFigures& f, Stretch span, double threshold) {
    QStringList parts{
        QString("%1–%2, %3").arg(preciseClock(span.begin), preciseClock(span.end), preciseClock(f.seconds))};
    const auto add = [&](const std::optional<double>& v, const QString& pattern, int decimals = 0) {
        if (v)
            parts << pattern.arg(n(*v, decimals));
    };
    add(f.meanPower, wording("%1 W mean"));
    add(f.equivalentPower, wording("%1 W equivalent"));
    if (f.meanPower && threshold > 0)
        parts << wording("%1 % of threshold").arg(n(100 * *f.meanPower / threshold));
    add(f.meanHeartRate, "%1 bpm");
    add(f.highestHeartRate, wording("to %1"));
    add(f.cadence, "%1 rpm");
    add(f.work, "%1 kJ");
    const Units units = shownUnits();
    if (f.distance && *f.distance > 0)
        parts << QString("%1 %2").arg(n(units.distance(*f.distance), 1), units.distanceUnit());
    if (const auto speed = f.speed())
        parts << QString("%1 %2").arg(n(units.distance(1000 * *speed), 1), units.speedUnit());
    add(f.climbed, wording("%1 m up"));
    if (f.leftShare)
        parts << wording("left/right %1/%2").arg(n(100 * *f.leftShare, 1), n(100 - 100 * *f.leftShare, 1));
    add(f.temperature, "%1 °C");
    return parts.join(" · ");
}

QString describeSets(const Efforts& efforts) {
    QStringList sentences;
    for (const Repetitions& set : efforts.sets) {
        double seconds = 0;
        for (const size_t e : set.efforts)
            seconds += efforts.all[e].span.length();
        seconds /= static_cast<double>(set.efforts.size());
        const int zone = efforts.all[set.efforts.front()].zone;
        QString s = wording("%1 × %2, zone %3 %4: ")
                        .arg(set.efforts.size())
                        .arg(QString::fromStdString(
                            durationText(seconds < 120 ? static_cast<int>(std::lround(seconds / 5)) * 5
                                                       : static_cast<int>(std::lround(seconds / 30)) * 30)))
                        .arg(zone + 1)
                        .arg(wording(zoneNames[static_cast<size_t>(zone)]));
        s += std::abs(set.fade) < 1.5 ? wording("held to the last")
             : set.fade > 0           ? wording("power fell %1 % to the last").arg(n(set.fade, 1))
                                      : wording("power rose %1 % to the last").arg(n(-set.fade, 1));
        if (set.leftZone)
            s += wording("; number %1 fell out of the zone").arg(*set.leftZone + 1);
        sentences << s + ".";
    }
    return sentences.join(' ');
}

QString describeCheckIn(const CheckIn& c) {
    QStringList parts;
    for (const CheckInScale& scale : checkInScales)
        if (c.*scale.value)
            parts << QString("%1 %2").arg(withinSentence(wording(scale.name))).arg(*(c.*scale.value));
    if (!parts.isEmpty())
        parts.back() += wording(" of 5");
    if (c.restHeartRate)
        parts << wording("resting %1 bpm").arg(n(*c.restHeartRate));
    if (c.weightKg)
        parts << QString("%1 %2").arg(n(shownUnits().weight(*c.weightKg), 1), shownUnits().weightUnit());
    if (c.ill)
        parts << wording("ill");
    if (!c.note.empty())
        parts << "“" + QString::fromStdString(c.note) + "”";
    return parts.join(", ");
}

} // namespace marram
