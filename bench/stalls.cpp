// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/window/main_window.h"
#include "demo/scenario.h"
#include "formats/fit/fit.h"
#include "headunit/simulate.h"
#include "store/roster.h"

#include <QApplication>
#include <QDate>
#include <QDir>
#include <QElapsedTimer>
#include <QFile>
#include <QTemporaryDir>
#include <QTimer>
#include <cstdio>
#include <ctime>
#include <memory>
#include <thread>

#include "measuring.h"

/// How long the window stands still, at most, while something long goes on: keys and the mouse wait as long.
namespace marram::bench {
namespace {

constexpr double mostStand = 100; // ms

/// How long the event loop stood still at most, in ms, and how much of that this thread was at work: the rest
/// is waiting, for a file or for a processor that others use.
struct Stand {
    double whole = 0, atWork = 0;
};

/// Ticks at every turn of the event loop; the longest time between two ticks is how long a key would wait.
class Pulse {
public:
    Pulse() {
        timer_.setTimerType(Qt::PreciseTimer);
        timer_.setInterval(1);
        QObject::connect(&timer_, &QTimer::timeout, [this] { beat(); });
    }
    void begin() {
        longest_ = {};
        last_ = {now(CLOCK_MONOTONIC), now(CLOCK_THREAD_CPUTIME_ID)};
        timer_.start();
    }
    Stand longest() {
        beat();
        timer_.stop();
        return longest_;
    }

private:
    static double now(clockid_t clock) {
        timespec t{};
        clock_gettime(clock, &t);
        return 1e3 * static_cast<double>(t.tv_sec) + static_cast<double>(t.tv_nsec) / 1e6;
    }
    void beat() {
        const Stand at{now(CLOCK_MONOTONIC), now(CLOCK_THREAD_CPUTIME_ID)};
        if (at.whole - last_.whole > longest_.whole)
            longest_ = {at.whole - last_.whole, at.atWork - last_.atWork};
        last_ = at;
    }
    QTimer timer_;
    Stand last_, longest_;
};

/// The window on a copy of the demo, and what it said in refusal.
struct Watched {
    Workspace workspace;
    MainWindow window{workspace};
    int refused = 0;
    QString lastRefusal;
    explicit Watched(const QString& path) {
        QObject::connect(&workspace.notices, &Notices::failed, [this](const QString& what) {
            ++refused;
            lastRefusal = what;
        });
        window.resize(1280, 800);
        window.show();
        workspace.roster.open(path);
        window.go(Place::Season);
        wait(3000);
    }
    static void wait(int ms) {
        QElapsedTimer since;
        since.start();
        while (since.elapsed() < ms)
            QApplication::processEvents(QEventLoop::WaitForMoreEvents, 10);
    }
    /// The longest stand from beginning something until it is over, with an edit every 150 ms where `edit`
    /// says one.
    Stand during(const std::function<void()>& begin, const std::function<bool()>& over,
                 const std::function<void(int)>& edit = {}, int atMost = 60000) {
        Pulse pulse;
        pulse.begin();
        begin();
        QElapsedTimer since;
        since.start();
        int edits = 0;
        while (!over() && since.elapsed() < atMost) {
            QApplication::processEvents(QEventLoop::AllEvents);
            if (edit && since.elapsed() > 150 * edits)
                edit(edits++);
            std::this_thread::sleep_for(std::chrono::microseconds(200));
        }
        QApplication::processEvents();
        const Stand longest = pulse.longest();
        wait(500);
        return longest;
    }
    /// Writes a few words on the rider who is chosen, as the field does.
    void note(int n) {
        const RiderRecord* before = workspace.roster.rider(workspace.chosen.id());
        if (!before)
            return;
        RiderRecord after = *before;
        after.note = QString("note %1").arg(n);
        workspace.roster.edits().editRider(*before, after, "Change the note");
    }
};

void stand(const char* what, const Stand& longest) {
    line(what, longest.whole, "limit 100 ms", mostStand);
    if (longest.whole > mostStand)
        std::printf("| (at work for %.0f ms of it) | | | | |\n", longest.atWork);
}

/// Short recordings of many days.
QStringList manyFiles(const QString& folder, int count) {
    QStringList files;
    for (int i = 0; i < count; ++i) {
        SimulatedDay day;
        day.start = 1400000000 + 86400LL * i;
        const auto fit = writeFit(
            ride(prescribe(SessionKind::Endurance, 0.5, 100), {}, day, static_cast<std::uint64_t>(i)));
        files << QDir(folder).filePath(QString("%1.fit").arg(i, 4, 10, QChar('0')));
        QFile f(files.back());
        if (f.open(QIODevice::WriteOnly))
            f.write(reinterpret_cast<const char*>(fit.data()), static_cast<qint64>(fit.size()));
    }
    return files;
}

/// What goes on while the window is watched.
class Stalls {
public:
    Stalls(const QString& folder, Date today)
        : folder_(folder), today_(today), path_(QDir(folder).filePath("stalls.marram")) {
        if (writeDemo(path_, today_, {}))
            w_ = std::make_unique<Watched>(path_);
    }
    void all() {
        const QStringList wanted = QApplication::arguments().mid(2);
        for (const auto& [name, run] : std::initializer_list<std::pair<const char*, void (Stalls::*)()>>{
                 {"idle", &Stalls::idle},
                 {"looks", &Stalls::looks},
                 {"riders", &Stalls::riders},
                 {"exchange", &Stalls::exchange},
                 {"import", &Stalls::import},
                 {"held", &Stalls::held},
                 {"long", &Stalls::longRide}})
            if (w_ && (wanted.isEmpty() || wanted.contains(name)))
                (this->*run)();
        if (w_)
            std::printf("| (refused in all: %d%s%s) | | | | |\n", w_->refused, w_->refused ? ", last: " : "",
                        qPrintable(w_->lastRefusal));
    }

private:
    /// So many turns of the event loop.
    static std::function<bool()> turns(int count) {
        return [count, n = 0]() mutable { return ++n > count; };
    }
    OpenRoster& roster() { return w_->workspace.roster; }
    ChosenRider& chosen() { return w_->workspace.chosen; }
    /// A stand from beginning something until a signal of the roster says that it is over, with notes
    /// meanwhile.
    template <class Signal>
    Stand untilTold(Signal signal, const std::function<void()>& begin) {
        bool done = false;
        const auto told = QObject::connect(&roster().jobs(), signal, [&] { done = true; });
        const Stand longest = w_->during(
            begin, [&] { return done; }, [&](int n) { w_->note(n); }, 200000);
        QObject::disconnect(told);
        return longest;
    }

    /// What the machine itself makes of it.
    void idle() {
        stand("nothing at all, for 3 s", w_->during([] {}, turns(3000)));
    }
    void looks() {
        for (const bool dark : {true, false})
            stand(dark ? "light to dark" : "dark to light",
                  w_->during([&] { w_->window.useDark(dark); }, turns(50)));
        for (const double scale : {1.25, 1.5, 1.0})
            stand("another size of text", w_->during([&] { w_->window.useTextScale(scale); }, turns(50)));
    }
    void riders() {
        for (size_t i = 0; i < placeWords.size(); ++i) {
            w_->window.go(static_cast<Place>(i));
            Watched::wait(500);
            const QByteArray what = QByteArray("another rider, in ") + placeWords[i].name;
            stand(what.constData(),
                  w_->during([&] { chosen().choose(roster().riders()[i].id); }, turns(300)));
        }
        w_->window.go(Place::Season);
    }
    /// Everything of the demo goes out, and comes in again, while notes are written.
    void exchange() {
        const QString out = QDir(folder_).filePath("out");
        QDir().mkpath(out);
        stand("notes while riders are exported",
              untilTold(&RosterJobs::exportFinished, [&] { roster().jobs().exportRiders(out, {}); }));
        const QStringList made = QDir(out).entryList({"*.json"}, QDir::Files);
        if (!made.isEmpty())
            stand("notes while they are brought in", untilTold(&RosterJobs::bringFinished, [&] {
                      roster().jobs().bringRiders(ridersIn(QDir(out).filePath(made.front())));
                  }));
    }
    /// Into the record of a rider whose threshold they fit; then it changes, and they are scored again.
    void import() {
        roster().edits().addRider("Bench");
        while (roster().steps().waiting())
            Watched::wait(20);
        for (const RiderRecord& r : roster().riders())
            if (r.name == "Bench") {
                RiderRecord with = r;
                with.values.set(Quantity::ThresholdPower, Date{0}, 250);
                chosen().choose(r.id);
                roster().edits().editRider(r, with, "Change the threshold");
                break;
            }
        const QStringList files = manyFiles(folder_, 3000);
        stand("notes during an import of 3000 files", untilTold(&RosterJobs::importFinished, [&] {
                  roster().jobs().importFiles(chosen().id(), files);
              }));
        std::printf("| (%zu rides came in) | | | | |\n", chosen().rides().size());
        const auto threshold = [&](int watts) {
            const RiderRecord* before = roster().rider(chosen().id());
            RiderRecord after = *before;
            after.values.set(Quantity::ThresholdPower, Date{0}, watts);
            roster().edits().editRider(*before, after, "Change the threshold");
        };
        const auto scored = [this, n = 0]() mutable { return ++n > 300 && !roster().jobs().scoring(); };
        stand("a threshold changed, and again while rides are scored by it",
              w_->during([&] { threshold(230); }, scored,
                         [&](int n) {
                             if (n == 2)
                                 threshold(260);
                         },
                         200000));
        for (const char* what : {"the second threshold undone", "the first undone", "the import undone"})
            stand(what, w_->during([&] { roster().steps().undo(); }, turns(300)));
    }
    /// Another programme holds the file.
    void held() {
        const int before = w_->refused;
        {
            const auto theirs = Roster::open(path_);
            if (!theirs || !(*theirs)->claim())
                return;
            QElapsedTimer since;
            since.start();
            stand(
                "notes while another programme writes for 3 s",
                w_->during([] {}, [&] { return since.elapsed() > 3000; }, [&](int n) { w_->note(100 + n); }));
        }
        Watched::wait(1000);
        const RiderRecord* after = roster().rider(chosen().id());
        std::printf("| (refused meanwhile: %d; what is kept afterwards: %s) | | | | |\n",
                    w_->refused - before, after ? qPrintable(after->note) : "nobody");
    }
    void longRide() {
        SimulatedDay day;
        day.start = 1500000000 + 43200;
        const auto fit = writeFit(ride(prescribe(SessionKind::Endurance, 12, 500), {}, day, 7));
        const QString name = QDir(folder_).filePath("long.fit");
        {
            QFile f(name);
            if (!f.open(QIODevice::WriteOnly))
                return;
            f.write(reinterpret_cast<const char*>(fit.data()), static_cast<qint64>(fit.size()));
        }
        w_->window.go(Place::Rides);
        (void)untilTold(&RosterJobs::importFinished,
                        [&] { roster().jobs().importFiles(chosen().id(), {name}); });
        for (const RideRecord& r : chosen().rides())
            if (r.fileName == "long.fit")
                return stand("a ride of twelve hours looked at",
                             w_->during([&] { w_->window.ridesView().showRide(r.id); }, turns(1000)));
    }

    QString folder_;
    Date today_;
    QString path_;
    std::unique_ptr<Watched> w_;
};

} // namespace

void stalls() {
    const QTemporaryDir folder;
    const QDate now = QDate::currentDate();
    Stalls(folder.path(), fromCivil(now.year(), now.month(), now.day())).all();
}

} // namespace marram::bench
