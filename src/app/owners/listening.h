// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "app/owners/chosen_rider.h"
#include "app/owners/worker.h"
#include "records/proposed.h"
#include <QTimer>
#include <map>
#include <memory>

namespace marram {

/// What a rider's recordings were found to say.
struct Heard {
    qint64 rider = 0;
    LearntValues values; ///< rides by their id as text
    int unread = 0;      ///< recordings that could not be read
};

/// Reads the recordings of the chosen rider for the values they hold, beside the interface: each ride once,
/// and again only when it becomes another. It begins by itself where rides carry no points, and some seconds
/// later where the record is another than the one that was heard last; what it proposes is kept in the file,
/// so that the roster can tell.
class Listening : public QObject {
    Q_OBJECT
public:
    Listening(OpenRoster& roster, ChosenRider& rider, Notices& notices, Clock& clock,
              QObject* parent = nullptr);

    /// Reads what has not been read.
    void listen();
    /// Stops reading; what was read stays.
    void cancel() { work_.cancel(); }
    /// True while the chosen rider's are read.
    bool reading() const { return work_.busy() && of_ == rider_.id(); }
    int done() const { return done_; }
    int total() const { return total_; }

    /// What the chosen rider's record says as it is now; null until all of it was read.
    std::shared_ptr<const Heard> heard() const;
    /// What of it is not entered.
    std::vector<ValueProposal> proposals() const;
    /// The threshold power it proposes for the chosen rider, to stand after unscoredSentence(): " 258 W is
    /// proposed from 14 March."; where it was not read yet, that it stands under Rider.
    QString proposedWords() const;
    /// Takes proposals, in one step to undo.
    void take(qint64 rider, const std::vector<ValueProposal>& chosen);
    /// The coach wants to hear no more of a value of the chosen rider, until the record says another.
    void notNow(const ValueProposal& proposal);
    /// What the coach said of a proposal of the chosen rider.
    Answer answerTo(const ValueProposal& proposal) const;

signals:
    void changed(); ///< what is heard, how far reading is, or that it ended

private:
    struct Read {
        QByteArray of; ///< what the ride was: its content and corrections
        std::optional<RideFacts> facts;
    };
    using Beside = std::map<QByteArray, QByteArray>; ///< second devices' content by that of their ride
    Beside secondDevices() const;
    static QByteArray madeFrom(const RideRecord& ride, const Beside& beside);
    QByteArray recordKey() const;
    void follow();
    void listenLater();
    bool complete() const;
    bool isNews() const;
    void remember();
    KeptHearing kept() const;

    OpenRoster& roster_;
    ChosenRider& rider_;
    Notices& notices_;
    Clock& clock_;
    std::map<qint64, Read> read_; ///< by ride, of every rider of this roster
    mutable std::shared_ptr<const Heard> heard_;
    qint64 of_ = 0; ///< whose are read
    int done_ = 0, total_ = 0;
    QTimer later_;
    Worker work_;
};

} // namespace marram
