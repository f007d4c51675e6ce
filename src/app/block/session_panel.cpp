// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/block/session_panel.h"
#include "app/block/block_words.h"
#include "app/block/board_painter.h"
#include "app/shell/against_words.h"
#include "app/theme/theme.h"
#include "core/session/feel.h"
#include "core/session/shorthand.h"
#include "wording/wording.h"

#include <QEvent>
#include <QPainter>
#include <QVBoxLayout>
#include <QtMath>
#include <algorithm>
#include <array>
#include <cmath>

namespace marram {

SessionProfile::SessionProfile(QWidget* parent) : QWidget(parent) {
    setAccessibleName(wording("Profile of the session"));
    setSizePolicy(QSizePolicy::Preferred, QSizePolicy::Fixed);
    offerParts();
}

void SessionProfile::show(const Session& session, double lowThreshold) {
    session_ = session;
    low_ = lowThreshold;
    setVisible(!session.items.empty());
    partsChanged(this);
    update();
}

std::vector<SpokenPart> SessionProfile::spokenParts() const {
    std::vector<SpokenPart> all;
    const int seconds = figuresOf(session_, low_).seconds;
    int from = 0;
    for (const Item& item : session_.items) {
        Session one;
        one.items = {item};
        const int length = figuresOf(one, low_).seconds;
        const double pixels = (width() - 2.0) / std::max(1, seconds);
        all.push_back({QString::fromStdString(spokenShorthand(writeShorthand(one))),
                       QRect(1 + qFloor(from * pixels), 0, std::max(2, qFloor(length * pixels)), height())});
        from += length;
    }
    return all;
}

void SessionProfile::paintEvent(QPaintEvent*) {
    QPainter p(this);
    p.setLayoutDirection(Qt::LeftToRight); // time runs to the right in every language
    p.setRenderHint(QPainter::Antialiasing);
    const int seconds = figuresOf(session_, low_).seconds;
    if (seconds <= 0)
        return;
    const double perThreshold = (height() - 8) / 1.4;
    const QPointF foot(1, height() - 3);
    // Threshold as a hairline behind everything, an hour as a tick on the ground.
    p.setPen(QPen(shore().hairline, 1));
    p.drawLine(QPointF(0, foot.y() - perThreshold), QPointF(width(), foot.y() - perThreshold));
    paintProfile(p, session_, foot, (width() - 2.0) / seconds, perThreshold, low_, shore(), false);
    p.setPen(QPen(shore().muted, 1));
    for (int hour = 3600; hour < seconds; hour += 3600)
        p.drawLine(QPointF(1 + hour * (width() - 2.0) / seconds, height() - 3),
                   QPointF(1 + hour * (width() - 2.0) / seconds, height()));
}

SessionPanel::SessionPanel(QWidget* parent)
    : QWidget(parent), book_(std::make_shared<FamilyBook>(FamilyBook::standard())), title_(new QLabel),
      figures_(new QLabel), line_(new SessionLine), profile_(new SessionProfile), buttons_(new QWidget),
      verdict_(new QComboBox), note_(new QLineEdit), words_(new QTextBrowser) {
    auto* layout = new QVBoxLayout(this);
    layout->setContentsMargins(16, 10, 12, 6);
    title_->setWordWrap(true);
    title_->setObjectName("sessionTitle");
    figures_->setWordWrap(true);
    layout->addWidget(title_);
    layout->addWidget(line_);
    layout->addWidget(profile_);
    layout->addWidget(figures_);
    buttonGrid_ = new QGridLayout(buttons_);
    buttonGrid_->setContentsMargins(0, 2, 0, 2);
    buttonGrid_->setSpacing(4);
    const auto button = [&](const QString& text, const QString& name, const QString& tip) {
        auto* b = new QPushButton(text);
        b->setObjectName(name);
        b->setToolTip(tip);
        return b;
    };
    climb_ = button(wording("Climb"), "climbButton", wording("A rung up (+)"));
    step_ = button(wording("Step down"), "stepDownButton", wording("A rung down (−)"));
    pin_ = button(wording("Pin"), "pinButton",
                  wording("Keep the day as it is, or leave it to the block (Space)"));
    replace_ = button(wording("Replace…"), "replaceButton", wording("By a family of sessions (F)"));
    rest_ = button(wording("Rest"), "restButton", wording("Nothing on this day (Delete)"));
    ride_ = button(wording("See the ride"), "seeRideButton", wording("Its trace over what was meant"));
    arrangeButtons();
    layout->addWidget(buttons_);
    verdict_->addItems({wording("the rung as it was found"), wording("passed: the next rung"),
                        wording("repeat the rung"), wording("ease: a rung down")});
    verdict_->setObjectName("rungVerdict");
    verdict_->setAccessibleName(wording("What the rung comes to"));
    layout->addWidget(verdict_);
    note_->setPlaceholderText(wording("A word to the rider"));
    note_->setObjectName("sessionNote");
    note_->setAccessibleName(wording("A word to the rider"));
    layout->addWidget(note_);
    words_->setObjectName("blockWords");
    words_->setAccessibleName(wording("Explanation"));
    words_->setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
    words_->setOpenLinks(false);
    words_->document()->setDocumentMargin(0);
    layout->addWidget(words_, 1);

    noteBound_ = Binding::text(note_, [this](qint64 day, const QVariant& v) {
        const Date date{static_cast<int>(day)};
        edit(withSession(picture_.season, date,
                         [&](SessionPin& p) { p.note = v.toString().left(1000).toStdString(); }),
             wording("Note a word to the rider"));
    });
    verdictBound_ = Binding::choice(verdict_, [this](qint64 day, const QVariant& v) {
        const int i = v.toInt();
        edit(withSession(picture_.season, {static_cast<int>(day)},
                         [&](SessionPin& p) {
                             p.verdict =
                                 i == 0 ? std::nullopt : std::optional(static_cast<RungVerdict>(i - 1));
                         }),
             wording("Judge a rung"));
    });
    connect(climb_, &QPushButton::clicked, this,
            [this] { edit(climbed(picture_, *book_, day_.value_or(Date{}), 1), wording("Climb a rung")); });
    connect(step_, &QPushButton::clicked, this, [this] {
        edit(climbed(picture_, *book_, day_.value_or(Date{}), -1), wording("Step down a rung"));
    });
    connect(pin_, &QPushButton::clicked, this, [this] {
        if (const BoardDay* d = day_ ? picture_.day(*day_) : nullptr)
            edit(d->pin.holds() ? freed(picture_, *day_) : withContent(picture_, *day_, contentOf(*d)),
                 d->pin.holds() ? wording("Unpin a day") : wording("Pin a day"));
    });
    connect(rest_, &QPushButton::clicked, this,
            [this] { edit(withContent(picture_, day_.value_or(Date{}), {}), wording("Give a day's rest")); });
    connect(replace_, &QPushButton::clicked, this, &SessionPanel::wantsFamilies);
    connect(ride_, &QPushButton::clicked, this, [this] {
        if (const BoardDay* d = day_ ? picture_.day(*day_) : nullptr; d && d->ridden)
            emit wantsRide(d->ridden->ride);
    });
    connect(line_, &SessionLine::typing, this, [this](const Session& s) {
        profile_->show(s, picture_.lowThreshold);
        figures_->setText(figuresWords(s, picture_));
    });
    connect(line_, &SessionLine::letGo, this, [this] {
        fill();
        emit done();
    });
    connect(line_, &SessionLine::entered, this, [this](qint64 day, const QString& text) {
        const Date date{static_cast<int>(day)};
        const BoardDay* d = picture_.day(date);
        if (!d)
            return;
        if (text.isEmpty()) {
            edit(freed(picture_, date), wording("Leave a day to the block"));
        } else {
            DayContent c;
            c.words = text.toStdString();
            // Work that is a rung of a family's ladder is that rung.
            c.family.clear();
            if (const auto of = rungIn(*readShorthand(c.words), *book_)) {
                c.family = of->first;
                c.rung = of->second;
            }
            edit(withContent(picture_, date, c), wording("Write a session"));
        }
        emit done();
    });
}

void SessionPanel::arrangeButtons() {
    const std::array buttons{climb_, step_, pin_, replace_, rest_, ride_};
    int widest = 0;
    for (QPushButton* b : buttons) {
        buttonGrid_->removeWidget(b);
        widest = std::max(widest, b->sizeHint().width());
    }
    // Three beside each other where the words are short enough.
    constexpr int room = 300;
    const int columns = 3 * widest <= room ? 3 : 2;
    for (size_t i = 0; i < buttons.size(); ++i)
        buttonGrid_->addWidget(buttons[i], static_cast<int>(i) / columns, static_cast<int>(i) % columns);
}

void SessionPanel::changeEvent(QEvent* event) {
    QWidget::changeEvent(event);
    if (buttonGrid_ && (event->type() == QEvent::FontChange || event->type() == QEvent::StyleChange))
        arrangeButtons();
}

void SessionPanel::edit(const Season& after, const QString& what) {
    emit changed(picture_.subject, picture_.season, after, what);
}

void SessionPanel::typeWords() {
    if (!line_->field()->isEnabled())
        return;
    line_->field()->setFocus();
    line_->field()->selectAll();
}

void SessionPanel::finishTyping() {
    line_->finish();
    noteBound_->finish();
}

void SessionPanel::show(const BoardPicture& picture, std::shared_ptr<const FamilyBook> book,
                        std::optional<Date> day) {
    if (day != day_)
        finishTyping();
    if (book_ != book)
        line_->completeFrom(*book);
    picture_ = picture;
    book_ = std::move(book);
    day_ = day;
    fill();
}

void SessionPanel::fill() {
    const BoardDay* d = day_ ? picture_.day(*day_) : nullptr;
    const bool open = d && d->open();
    const BlockSession* s = d ? d->ride() : nullptr;
    const qint64 subject = day_ ? day_->days : 0;
    QString title = wording("Choose a day");
    Session session;
    if (d) {
        title = QString::fromStdString(namedDayText(d->date, picture_.today));
        session = d->past ? d->meantSession : s ? s->session : Session{};
    }
    title_->setText(
        semiBold(QString("<b style='font-size:%1pt'>%2</b>")
                     .arg(QString::number(typeface(Type::Title).pointSizeF()), title.toHtmlEscaped())));
    line_->show(subject, session.items.empty() ? QString() : QString::fromStdString(writeShorthand(session)),
                open);
    line_->setVisible(d && (open || !session.items.empty()));
    if (!(line_->field()->hasFocus() && line_->field()->isModified())) {
        profile_->show(session, picture_.lowThreshold);
        figures_->setText(session.items.empty() ? QString() : figuresWords(session, picture_));
    }
    figures_->setVisible(!figures_->text().isEmpty());
    const Family* family = s ? book_->named(s->family) : nullptr;
    const bool ladder = open && family && !family->work.empty();
    climb_->setEnabled(ladder && s->rung < static_cast<int>(family->work.size()));
    step_->setEnabled(ladder && s->rung > 1);
    pin_->setText(d && d->pin.holds() ? wording("Unpin") : wording("Pin"));
    buttons_->setVisible(d && (open || d->ridden));
    for (QPushButton* b : {climb_, step_, pin_, replace_, rest_})
        b->setVisible(open);
    ride_->setVisible(d && d->ridden);
    verdict_->setVisible(d && d->meant && d->ladder && (d->ridden || d->judged));
    verdictBound_->show(subject, d && d->pin.verdict ? 1 + static_cast<int>(*d->pin.verdict) : 0);
    note_->setVisible(open);
    noteBound_->show(subject, d ? QString::fromStdString(d->pin.note) : QString());
    words_->setHtml(d ? semiBold(wordsOf(*d))
                      : wording("<p>Arrow keys and the mouse choose a day of the board; what it holds, "
                                "why, and what would change it stands here.</p>"));
}

QString SessionPanel::ladder(const BlockSession& s) const {
    const Family* family = book_->named(s.family);
    if (!family || family->rungs.size() < 2 || s.rung < 1)
        return {};
    QString rows;
    const int top = static_cast<int>(family->rungs.size());
    for (int r = std::max(1, s.rung - 1); r <= std::min(top, s.rung + 1); ++r) {
        const QString words = workText(family->work[static_cast<size_t>(r - 1)], picture_.lowThreshold);
        rows += QString("<tr><td style='padding-right:8px' align='right'>%1</td><td>%2</td></tr>")
                    .arg(r)
                    .arg(r == s.rung ? "<b>" + words.toHtmlEscaped() + "</b>" : words.toHtmlEscaped());
    }
    return wording("<p><b>Ladder</b>, rung %1 of %2; grows by %3</p><table>%4</table>")
        .arg(s.rung)
        .arg(top)
        .arg(wording(QString::fromStdString(family->grows)).toHtmlEscaped(), rows);
}

QString SessionPanel::stepsTable(const Session& session) const {
    // Each kind of step once, in order: what it asks, and how it feels.
    QString rows;
    QStringList seen;
    for (const UnfoldedStep& u : figuresOf(session, picture_.lowThreshold).steps) {
        const QString words = QString::fromStdString(writeShorthand(u.step));
        if (seen.contains(words) || seen.size() >= 8)
            continue;
        seen << words;
        QString watts;
        if (picture_.thresholdPower && u.step.kind == TargetKind::Power) {
            watts = QString::number(std::lround(u.step.from * *picture_.thresholdPower));
            if (u.step.to != u.step.from)
                watts += "–" + QString::number(std::lround(u.step.to * *picture_.thresholdPower));
            watts += " W, ";
        }
        rows += QString("<tr><td style='padding-right:10px'>%1</td><td>%2%3</td></tr>")
                    .arg(words.toHtmlEscaped(), watts,
                         QString::fromStdString(
                             feelWords(feelOf(u.step, picture_.heartRate, picture_.lowThreshold))));
    }
    return rows.isEmpty() ? QString() : wording("<p><b>Each step</b></p><table>%1</table>", rows);
}

QString SessionPanel::wordsOf(const BoardDay& d) const {
    const auto p = [](const QString& text, const QColor& colour = {}) {
        return QString("<p%1>%2</p>")
            .arg(colour.isValid() ? " style='color:" + colour.name() + "'" : QString(), text.toHtmlEscaped());
    };
    QString html;
    if (!d.race.isEmpty())
        html += p(wording("The race. What its week holds is made for it."));
    if (!d.away.isEmpty())
        html += p(wording("Not at home: %1.", withinSentence(d.away)));
    if (d.past) {
        if (!d.meant)
            html += p(d.ridden ? wording("Nothing was planned here when the day came.")
                               : wording("Nothing was planned, nothing ridden."));
        else if (!d.ridden && !d.meantSession.items.empty())
            html +=
                p(wording("Not ridden. It is not made up for: the plan goes on from where the rider is."));
        if (d.meant && !d.meant->told.empty())
            for (const QString& sentence : QString::fromStdString(d.meant->told).split('\n'))
                html += p(sentence);
        if (d.judged && d.verdict)
            html += p(wording("The coach's word: %1.").arg(wording(nameOf(*d.verdict))));
        if (d.against && !d.against->repetitions.empty())
            html += repetitionsTable(*d.against);
        if (d.again)
            html +=
                p(wording("The same again. %1", QString::fromStdString(againText(*d.again, picture_.today))));
        return html;
    }
    for (const BlockSession& s : d.sessions) {
        for (const std::string& b : s.broken)
            html += p(QString::fromStdString(b), shore().rust);
        if (!s.ridden())
            html += "<p><b>" + QString::fromStdString(spokenShorthand(s.title)).toHtmlEscaped() + "</b>, " +
                    lengthText(s.seconds) + "</p>";
        html += p(QString::fromStdString(s.why));
        if (s.ridden())
            html += ladder(s);
        if (!s.note.empty())
            html += p(QString::fromStdString(s.note));
        if (s.ridden())
            html += p(QString::fromStdString(fuelWords(s.seconds)) +
                      (picture_.thresholdPower
                           ? " " + QString::fromStdString(workWords(s.figures, *picture_.thresholdPower))
                           : QString())) +
                    stepsTable(s.session) + (picture_.bound.isEmpty() ? QString() : p(picture_.bound));
    }
    if (d.sessions.empty() && d.open())
        html += p(d.availableHours > 0 ? wording("Rest. The rider has %1 on this day.")
                                             .arg(lengthText(static_cast<int>(3600 * d.availableHours)))
                                       : wording("Rest. The rider has no time on this day."));
    for (const QString& sentence : picture_.unmet)
        html += p(sentence, shore().muted);
    return html;
}

} // namespace marram

#include "moc_session_panel.cpp"
