// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/review/monday_page.h"
#include "app/review/rich.h"
#include "app/shell/dates.h"
#include "app/shell/tables.h"
#include "core/review/wording.h"
#include "formats/files/files.h"
#include "formats/paper/letter.h"
#include "wording/wording.h"

#include <QFileDialog>
#include <QFileInfo>
#include <QHBoxLayout>
#include <QInputDialog>
#include <QProgressDialog>
#include <QScrollBar>
#include <QSettings>
#include <QVBoxLayout>

namespace marram {
namespace {

QString lines(const std::vector<std::string>& all, const QColor& colour = {}) {
    QString out;
    for (const std::string& line : all)
        out += paragraph(html(line), colour);
    return out;
}

QString lines(const std::vector<ReportLine>& all) {
    QString out;
    for (const ReportLine& line : all)
        out += paragraph(html(line.text) + (line.ride == 0
                                                ? QString()
                                                : wording(" <a href='ride:%1' style='color:%2'>the ride</a>")
                                                      .arg(line.ride)
                                                      .arg(shore().tide.name())));
    return out;
}

/// What is proposed to say, as the field shows it until the coach has words.
QString proposed(const Monday& monday) {
    QStringList all;
    for (const std::string& s : monday.say)
        all << QString::fromStdString(s);
    return all.join(' ');
}

/// The post is always in one folder: nobody is asked for it again while it is there (the settings have it).
void takePostFolder(QString& folder) {
    const QString kept = QSettings().value("postFolder").toString();
    if (folder.isEmpty() && !kept.isEmpty() && QFileInfo(kept).isDir())
        folder = kept;
}

/// Asks for a folder where none is named, beginning with the one chosen last; false where nobody chose.
bool chooseFolder(QWidget* parent, const QString& title, const char* key, QString& folder) {
    if (folder.isEmpty())
        folder = QFileDialog::getExistingDirectory(parent, title, QSettings().value(key).toString());
    if (folder.isEmpty())
        return false;
    QSettings().setValue(key, folder);
    return true;
}

} // namespace

QString behindHtml(const Monday& m) {
    QString out =
        heading(wording("What it did")) +
        (m.did.empty() ? paragraph(wording("Not known: its rides carry no points.")) : lines(m.did));
    out += heading(wording("How they felt")) + lines(m.felt);
    out += heading(wording("What stands out"));
    out += m.standsOut.empty()
               ? paragraph(wording("Nothing: the week lies within what is usual for them."), shore().muted)
               : lines(m.standsOut);
    if (!m.again.empty())
        out += heading(wording("The same again")) + lines(m.again);
    return semiBold(out);
}

QString aheadHtml(const Monday& m) {
    QString out = heading(wording("What comes")) + lines(m.comes);
    if (!m.cautions.empty() || !m.noted.empty())
        out += heading(wording("Cautions"));
    const auto link = [](const std::string& code, const QString& words) {
        return QString(" <a href='note:%1' style='color:%2'>%3</a>")
            .arg(html(code), shore().tide.name(), words);
    };
    for (const Caution& c : m.cautions)
        out += QString("<p style='margin:2px 0'><span style='color:%1'>%2</span>%3</p>")
                   .arg(shore().rust.name(), html(c.text), link(c.code, wording("note it…")));
    for (const auto& [c, noted] : m.noted)
        out += paragraph(html(c.text) + "<br>" +
                             html(phrase("Noted %1: %2", dayText(noted.day, m.today), noted.reason)) +
                             link(c.code, wording("take the note back")),
                         shore().muted);
    if (!m.cautions.empty())
        out += paragraph(wording("Marram advises a coach; it does not diagnose."), shore().muted);
    return semiBold(out);
}

MondayPage::MondayPage(Workspace& workspace, QWidget* parent)
    : QWidget(parent), workspace_(workspace), title_(headingLabel({})), done_(wordsLabel({})),
      state_(wordsLabel({}, true)), before_(new QPushButton(wording("‹ &Before"))),
      after_(new QPushButton(wording("A&fter ›"))), next_(new QPushButton(wording("&Next rider to look at"))),
      days_(new DayLine), behind_(new QTextBrowser), ahead_(new QTextBrowser), words_(new QPlainTextEdit) {
    auto* layout = new QVBoxLayout(this);
    layout->setContentsMargins(0, 6, 8, 0);
    layout->addWidget(makeHead());
    done_->setObjectName("mondayDone");
    layout->addWidget(done_);
    layout->addWidget(days_);
    auto* columns = new QHBoxLayout;
    columns->setSpacing(28);
    for (QTextBrowser* b : {behind_, ahead_}) {
        b->setFrameShape(QFrame::NoFrame);
        b->setOpenLinks(false);
        b->document()->setDocumentMargin(0);
        b->viewport()->setAutoFillBackground(false);
        connect(b, &QTextBrowser::anchorClicked, this, [this](const QUrl& link) {
            const QString to = link.toString(), code = to.mid(5);
            if (to.startsWith("ride:"))
                emit wantsRide(code.toLongLong());
            else if (to.startsWith("note:"))
                note(code.toStdString());
        });
    }
    behind_->setObjectName("mondayBehind");
    behind_->setAccessibleName(wording("What lies behind"));
    ahead_->setObjectName("mondayAhead");
    ahead_->setAccessibleName(wording("What comes, and cautions"));
    columns->addWidget(behind_, 7);
    auto* right = new QVBoxLayout;
    right->addWidget(ahead_, 3);
    right->addWidget(makeWords(), 2);
    columns->addLayout(right, 5);
    layout->addLayout(columns, 1);
    connect(days_, &DayLine::wantsRide, this, &MondayPage::wantsRide);
    connect(&workspace_.inbox, &Inbox::taken, this, &MondayPage::showPost);
    connect(&workspace_.mondays, &Mondays::changed, this, [this] {
        if (isVisible())
            refresh();
    });
}

QWidget* MondayPage::makeHead() {
    auto* head = new QWidget;
    auto* row = new QHBoxLayout(head);
    row->setContentsMargins(0, 0, 0, 0);
    title_->setObjectName("mondayTitle");
    row->addWidget(title_);
    row->addSpacing(12);
    before_->setObjectName("mondayBefore");
    before_->setToolTip(wording("The week before"));
    after_->setObjectName("mondayAfter");
    after_->setToolTip(wording("The week after"));
    row->addWidget(before_);
    row->addWidget(after_);
    row->addWidget(state_, 1);
    auto* letter = new QPushButton(wording("&Letter"));
    letter->setObjectName("saveLetter");
    letter->setToolTip(wording("The letter of this week to the rider, as a page or a text"));
    auto* all = new QPushButton(wording("Letters to &all"));
    all->setObjectName("saveAllLetters");
    next_->setObjectName("nextRider");
    row->addWidget(letter);
    row->addWidget(all);
    row->addWidget(next_);
    connect(before_, &QPushButton::clicked, this,
            [this] { workspace_.mondays.look(workspace_.mondays.back() + 1); });
    connect(after_, &QPushButton::clicked, this,
            [this] { workspace_.mondays.look(workspace_.mondays.back() - 1); });
    connect(next_, &QPushButton::clicked, this, &MondayPage::wantsNext);
    connect(letter, &QPushButton::clicked, this, [this] { saveLetter(); });
    connect(all, &QPushButton::clicked, this, [this] { saveAllLetters(); });
    return head;
}

QWidget* MondayPage::makeWords() {
    auto* box = new QWidget;
    auto* layout = new QVBoxLayout(box);
    layout->setContentsMargins(0, 0, 0, 0);
    sayHead_ = new QLabel(wording("To sa&y"));
    sayHead_->setBuddy(words_);
    layout->addWidget(sayHead_);
    words_->setObjectName("mondayWords");
    words_->setAccessibleName(wording("What to say to the rider"));
    words_->setTabChangesFocus(true);
    layout->addWidget(words_, 1);
    sayHint_ =
        wordsLabel(wording("These words open the letter. What stands here is proposed until you change it; "
                           "emptied, it is proposed again."),
                   true);
    layout->addWidget(sayHint_);
    wordsBound_ =
        Binding::area(words_, [this](qint64 rider, const QVariant& v) { say(rider, v.toString()); });
    return box;
}

void MondayPage::showEvent(QShowEvent*) {
    workspace_.mondays.watch(true);
    refresh();
}

void MondayPage::hideEvent(QHideEvent*) {
    Binding::finishWithin(this);
    workspace_.mondays.watch(false);
}

void MondayPage::refresh() {
    const Mondays& mondays = workspace_.mondays;
    const auto now = mondays.picture();
    title_->setText(
        wording("Week of %1", QString::fromStdString(dayText(mondays.week(), workspace_.today()))));
    after_->setEnabled(mondays.back() > -1);
    title_->setFont(typeface(Type::Title, true));
    sayHead_->setFont(typeface(Type::Body, true));
    const bool large = textScale() > 1.2;
    sayHint_->setVisible(!large); // where there is no room for it, it is said over the field
    words_->setToolTip(large ? sayHint_->text() : QString());
    // Three sentences; what comes and its cautions have the rest.
    const int line = QFontMetrics(words_->font()).lineSpacing();
    words_->setMinimumHeight(3 * line + 12);
    words_->setMaximumHeight(7 * line + 12);
    state_->setText(mondays.reading() ? wording("Looking back…") : QString());
    // What is being typed goes to whom it was begun for before another page comes.
    if (now != shown_)
        wordsBound_->finish();
    for (QWidget* w : std::initializer_list<QWidget*>{done_, days_, behind_, ahead_, words_})
        w->setVisible(now != nullptr || (shown_ && shown_->rider == workspace_.chosen.id()));
    if (!now)
        return;
    const bool other = !shown_ || shown_->rider != now->rider || shown_->week != now->week;
    shown_ = now;
    done_->setText(html(now->monday.done));
    days_->show(now->monday);
    const int at = other ? 0 : behind_->verticalScrollBar()->value();
    behind_->setHtml(behindHtml(now->monday));
    behind_->verticalScrollBar()->setValue(at);
    ahead_->setHtml(aheadHtml(now->monday));
    wordsBound_->show(now->rider, now->coach.isEmpty() ? proposed(now->monday) : now->coach);
    words_->setReadOnly(workspace_.roster.readOnly());
}

void MondayPage::say(qint64 rider, const QString& words) {
    if (!shown_ || shown_->rider != rider)
        return;
    // What is only proposed is nobody's yet.
    const QString own = words.trimmed() == proposed(shown_->monday) ? QString() : words.trimmed();
    workspace_.roster.edits().editLetter(rider, shown_->week, shown_->coach, own);
}

void MondayPage::note(const std::string& code) {
    if (!shown_)
        return;
    const auto page = shown_;
    for (const auto& [caution, noted] : page->monday.noted)
        if (caution.code == code) {
            workspace_.roster.edits().editNoted(page->rider, code, noted, std::nullopt);
            return;
        }
    for (const Caution& c : page->monday.cautions) {
        if (c.code != code)
            continue;
        auto* dialog = new QInputDialog(this);
        dialog->setObjectName("noteCaution");
        dialog->setAttribute(Qt::WA_DeleteOnClose);
        dialog->setWindowTitle(wording("Note a caution"));
        dialog->setLabelText(
            wording("What you know of it. It comes back when it is worse, or after four weeks;\n"
                    "the rider's letter keeps it."));
        dialog->setMinimumWidth(420);
        connect(&workspace_.roster, &OpenRoster::closing, dialog, &QDialog::reject);
        connect(dialog, &QInputDialog::textValueSelected, this, [this, page, c](const QString& reason) {
            const NotedCaution now{c.code, page->monday.today, c.measure, reason.trimmed().toStdString()};
            if (!reason.trimmed().isEmpty())
                workspace_.roster.edits().editNoted(page->rider, c.code, std::nullopt, now);
            else
                emit workspace_.notices.said(wording("Nothing was noted: a note needs its reason."));
        });
        dialog->open();
        return;
    }
}

void MondayPage::saveLetter(QString path) {
    wordsBound_->finish();
    const auto now = workspace_.mondays.picture();
    if (!now)
        return;
    const auto letter = workspace_.mondays.letter();
    if (!letter) {
        emit workspace_.notices.failed(QString::fromStdString(letter.error().sentence));
        return;
    }
    if (path.isEmpty()) {
        const QString folder = QSettings().value("letterFolder").toString();
        path = QFileDialog::getSaveFileName(this, wording("The letter of this week"),
                                            QDir(folder).filePath(letter->fileName + ".pdf"),
                                            wording("A page (*.pdf);;A text (*.txt)"));
    }
    if (path.isEmpty())
        return;
    QSettings().setValue("letterFolder", QFileInfo(path).absolutePath());
    const QByteArray bytes =
        path.endsWith(".pdf", Qt::CaseInsensitive)
            ? letterPdf(letter->monday, letter->coach)
            : QByteArray::fromStdString(letterText(letter->monday, letter->coach.toStdString()));
    if (workspace_.notices.passed(writeWholeFile(path, bytes)))
        emit workspace_.notices.said(wording("The letter is in %1.", path));
}

/// A dialog that follows the letters as they are written, and stops them.
QProgressDialog* MondayPage::progressOf(const QString& what) {
    auto* dialog = new QProgressDialog(what, wording("Cancel"), 0, 0, this);
    dialog->setObjectName("lettersProgress");
    dialog->setAttribute(Qt::WA_DeleteOnClose);
    dialog->setMinimumDuration(400);
    dialog->setWindowModality(Qt::WindowModal);
    dialog->setAutoReset(false);
    connect(dialog, &QProgressDialog::canceled, &workspace_.roster,
            [this] { workspace_.roster.jobs().cancel(JobKind::Letters); });
    connect(&workspace_.roster.jobs(), &RosterJobs::jobProgress, dialog,
            [dialog](JobKind kind, int done, int total) {
                if (kind != JobKind::Letters)
                    return;
                dialog->setMaximum(std::max(1, total));
                dialog->setValue(std::min(done, total));
            });
    connect(&workspace_.roster, &OpenRoster::closing, dialog, &QWidget::close);
    return dialog;
}

void MondayPage::sendWeek(QString folder, const std::vector<qint64>& riders, std::optional<Date> week) {
    wordsBound_->finish();
    takePostFolder(folder);
    if (!chooseFolder(this, wording("Folder of the post"), "postFolder", folder))
        return;
    auto* dialog = progressOf(wording("Sending the week"));
    connect(&workspace_.roster.jobs(), &RosterJobs::weekSent, dialog,
            [this, dialog](const QString& to, int sent, int fresh, int changed, int same,
                           const QStringList& differs) {
                dialog->close();
                if (to.isEmpty())
                    return;
                emit workspace_.notices.said(
                    wording("The week is in %1 for %2: %3 new, %4 changed, %5 as they were.")
                        .arg(to, sent == 1 ? wording("one rider") : wording("%1 riders").arg(sent))
                        .arg(fresh)
                        .arg(changed)
                        .arg(same));
                QString lines;
                for (const QString& line : differs)
                    lines += paragraph(line.toHtmlEscaped());
                if (!lines.isEmpty())
                    showWords("postSent", wording("What differs from last time"),
                              paragraph(wording(
                                  "They had this week already. These files are new, read otherwise, or "
                                  "are gone:")) +
                                  lines);
            });
    workspace_.roster.jobs().sendWeek(folder, riders, week ? *week - 7 : workspace_.mondays.week());
}

void MondayPage::takeInPost(QString folder) {
    wordsBound_->finish();
    takePostFolder(folder);
    if (!chooseFolder(this, wording("Folder of the post"), "postFolder", folder))
        return;
    workspace_.inbox.takeIn(folder);
    workspace_.inbox.watch(folder);
}

void MondayPage::showWords(const char* name, const QString& title, const QString& html) {
    auto* dialog = new QDialog(this);
    dialog->setObjectName(name);
    dialog->setWindowTitle(title);
    dialog->setAttribute(Qt::WA_DeleteOnClose);
    auto* layout = new QVBoxLayout(dialog);
    auto* words = new QTextBrowser;
    words->setObjectName("postWords");
    words->setFrameShape(QFrame::NoFrame);
    words->setHtml(semiBold(html));
    words->setMinimumSize(qRound(460 * textScale()), qRound(260 * textScale()));
    layout->addWidget(words);
    auto* close = new QPushButton(wording("Close"));
    close->setDefault(true);
    connect(close, &QPushButton::clicked, dialog, &QDialog::accept);
    layout->addWidget(close, 0, Qt::AlignRight);
    connect(&workspace_.roster, &OpenRoster::closing, dialog, &QDialog::reject);
    dialog->open();
}

static QStringList takenFrom(const FromRider& f) {
    QStringList parts;
    if (f.rides > 0)
        parts << QString::fromStdString(howMany(f.rides, "ride", "rides"));
    if (f.checkIns > 0)
        parts << QString::fromStdString(howMany(f.checkIns, "check-in", "check-ins"));
    return parts;
}

/// What came, a rider a paragraph; their words as they wrote them.
void MondayPage::showPost(const std::vector<FromRider>& all, bool asked) {
    if (!asked) { // it came by itself: a line, and nothing in front of the work
        QStringList lines;
        for (const FromRider& f : all) {
            QStringList parts = takenFrom(f);
            if (!f.note.isEmpty())
                parts << wording("a note");
            if (!f.refused.isEmpty())
                parts << wording("%1 refused: %2").arg(f.refused.size()).arg(f.refused.front());
            if (!parts.isEmpty())
                lines << f.name + ": " + parts.join(", ");
        }
        if (!lines.isEmpty())
            emit workspace_.notices.said(wording("From the post. %1.", lines.join("; ")));
        return;
    }
    QString out;
    for (const FromRider& f : all) {
        if (!f.anything())
            continue;
        const QStringList parts = takenFrom(f);
        out += heading(f.name.toHtmlEscaped());
        if (!parts.isEmpty())
            out += paragraph(wording("%1 taken in.", parts.join(", ")));
        if (!f.note.isEmpty())
            out += paragraph(wording("They write: %1", f.note.toHtmlEscaped().replace('\n', "<br>")));
        for (const QString& refused : f.refused)
            out += paragraph(refused.toHtmlEscaped(), shore().rust);
    }
    if (out.isEmpty()) {
        emit workspace_.notices.said(
            all.empty() ? wording("No folder there is one of this roster's riders; send the week "
                                  "first, and their folders are made.")
                        : wording("Nothing new lies in the riders' folders."));
        return;
    }
    showWords("postTaken", wording("What came from the riders"), out);
}

void MondayPage::saveAllLetters(QString folder) {
    wordsBound_->finish();
    if (!chooseFolder(this, wording("Folder for the letters"), "letterFolder", folder))
        return;
    auto* dialog = progressOf(wording("Writing the letters"));
    connect(&workspace_.roster.jobs(), &RosterJobs::lettersWritten, dialog,
            [this, dialog](const QString& to, int count) {
                dialog->close();
                if (!to.isEmpty())
                    emit workspace_.notices.said(count == 1
                                                     ? wording("One letter is in %1.", to)
                                                     : wording("%1 letters are in %2.").arg(count).arg(to));
            });
    workspace_.roster.jobs().writeLetters(folder, workspace_.mondays.week());
}

} // namespace marram

#include "moc_monday_page.cpp"
