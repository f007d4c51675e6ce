// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/owners/answers.h"
#include "app/owners/read_rider.h"
#include "app/settings/settings.h"
#include "store/reporting.h"

namespace marram {

Answers::Answers(OpenRoster& roster, ChosenRider& rider, Notices& notices, Clock& clock, QObject* parent)
    : QObject(parent), roster_(roster), rider_(rider), notices_(notices), clock_(clock),
      watch_(roster, rider, clock),
      work_([&notices](const QString& sentence) { emit notices.failed(sentence); }) {
    connect(&watch_, &RecordWatch::closing, this, [this] {
        work_.end();
        picture_.reset();
        stale_ = true;
    });
    connect(&watch_, &RecordWatch::changed, this, &Answers::forget);
}

void Answers::ask(Question question, int days) {
    if (question == question_ && days == days_ && !stale_)
        return;
    question_ = question;
    days_ = days;
    forget();
}

void Answers::watch(bool on) {
    watched_ = on;
    if (on && stale_)
        read();
}

void Answers::forget() {
    stale_ = true;
    if (watched_)
        read();
}

std::shared_ptr<const AnswerPicture> Answers::picture() const {
    return picture_ && picture_->rider == rider_.id() && picture_->question == question_ &&
                   picture_->days == days_
               ? picture_
               : nullptr;
}

void Answers::read() {
    if (!roster_.isOpen() || rider_.id() == 0 || rider_.choosing())
        return;
    stale_ = false;
    const auto answer = std::make_shared<Result<AnswerPicture>>();
    const auto work = [answer, rider = rider_.id(), question = question_, days = days_, units = shownUnits(),
                       today = clock_.today(), path = roster_.path(),
                       writer = roster_.file().writer()](Worker::Link& link) {
        *answer = ofRider<AnswerPicture>(
            path, writer, rider, [&](const Roster& file, const RiderRecord& who) -> Result<AnswerPicture> {
                auto report = reportOf(
                    file, who, question, days, today, [&link] { return !link.cancelled(); }, units);
                if (!report)
                    return tl::unexpected(report.error());
                return AnswerPicture{rider, question, days, std::move(*report)};
            });
    };
    work_.ask(work, [this, answer] {
        if (!*answer)
            emit notices_.failed(QString::fromStdString(answer->error().sentence));
        else
            picture_ = std::make_shared<const AnswerPicture>(std::move(**answer));
        emit changed();
    });
    emit changed();
}

} // namespace marram

#include "moc_answers.cpp"
