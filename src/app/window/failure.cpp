// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/window/failure.h"
#include "app/owners/workspace.h"
#include "app/shell/tables.h"
#include "app/theme/theme.h"
#include "app/window/roster_dialogs.h"
#include "formats/files/files.h"
#include "store/backup.h"
#include "wording/wording.h"

#include <QDir>
#include <QFile>
#include <QFileDialog>
#include <QFileInfo>
#include <QPlainTextEdit>
#include <QPushButton>
#include <QStandardPaths>
#include <QVBoxLayout>

#include <array>
#include <csignal>
#include <cstdlib>
#include <cstring>
#include <cxxabi.h>
#include <dlfcn.h>
#include <exception>
#include <execinfo.h>
#include <fcntl.h>
#include <unistd.h>

namespace marram {
namespace failure {
namespace {

constexpr size_t pathLength = 4096, actionCount = 12, actionLength = 96, frames = 40;

/// The words of a report.
struct Said {
    QByteArray ended, exception, before, where, reached, wentAway, noAnswer, noInstruction, itself;
};

/// All that the handler reads: laid down before, since when it runs nothing may be asked for any more.
struct Kept {
    std::array<char, pathLength> path{};
    std::array<std::array<char, actionLength>, actionCount> actions{};
    size_t next = 0;
    const char* version = "";
    Said said; ///< by watch(), in the language spoken then
    std::array<char, 128> exception{};
    std::array<char, 1 << 16> stack{}; ///< to run on where the usual one is what was used up
};
Kept& kept() {
    static Kept all;
    return all;
}

template <size_t n>
void copyInto(std::array<char, n>& to, const QByteArray& text) {
    const size_t length = std::min(n - 1, static_cast<size_t>(text.size()));
    std::memcpy(to.data(), text.constData(), length);
    to[length] = 0;
}

void put(int file, const char* text) {
    if (text)
        (void)!::write(file, text, std::strlen(text));
}

void putHex(int file, size_t number) {
    std::array<char, 20> text{};
    size_t at = text.size() - 1;
    do {
        text[--at] = "0123456789abcdef"[number % 16];
        number /= 16;
    } while (number > 0 && at > 2);
    put(file, text.data() + at);
}

const char* words(const Said& said, int signal) {
    switch (signal) {
    case SIGSEGV:
        return said.reached.constData();
    case SIGBUS:
        return said.wentAway.constData();
    case SIGFPE:
        return said.noAnswer.constData();
    case SIGILL:
        return said.noInstruction.constData();
    default:
        return said.itself.constData();
    }
}

Said wordsOfReport() {
    return {wording("Marram %1 ended unexpectedly: ").arg(kept().version).toUtf8(),
            wording("An exception nobody took: ").toUtf8(),
            wording("What was done before, the last first:").toUtf8(),
            wording("Where it was in the code:").toUtf8(),
            wording("it reached for memory that is not its own (SIGSEGV)").toUtf8(),
            wording("a file or memory went away under it (SIGBUS)").toUtf8(),
            wording("a sum that has no answer (SIGFPE)").toUtf8(),
            wording("an instruction that this machine does not have (SIGILL)").toUtf8(),
            wording("it ended itself, something was not as it must be (SIGABRT)").toUtf8()};
}

/// Only what may be called in a signal handler (dladdr and backtrace are warmed up before).
void report(int signal) {
    Kept& k = kept();
    const int file = ::open(k.path.data(), O_WRONLY | O_CREAT | O_TRUNC | O_NOFOLLOW, 0600);
    if (file < 0)
        return;
    put(file, k.said.ended.constData());
    put(file, words(k.said, signal));
    put(file, "\n");
    if (k.exception[0]) {
        put(file, k.said.exception.constData());
        put(file, k.exception.data());
        put(file, "\n");
    }
    put(file, "\n");
    put(file, k.said.before.constData());
    put(file, "\n");
    for (size_t i = 0; i < actionCount; ++i) {
        const auto& action = k.actions[(k.next + 2 * actionCount - 1 - i) % actionCount];
        if (action[0]) {
            put(file, "  ");
            put(file, action.data());
            put(file, "\n");
        }
    }
    put(file, "\n");
    put(file, k.said.where.constData());
    put(file, "\n");
    std::array<void*, frames> at{};
    const int count = ::backtrace(at.data(), static_cast<int>(frames));
    for (int i = 0; i < count; ++i) {
        Dl_info info{};
        put(file, "  ");
        if (::dladdr(at[static_cast<size_t>(i)], &info) && info.dli_fname) {
            // The file's name alone: folders may have people's names.
            const char* slash = std::strrchr(info.dli_fname, '/');
            put(file, slash ? slash + 1 : info.dli_fname);
            put(file, " +0x");
            putHex(file, reinterpret_cast<size_t>(at[static_cast<size_t>(i)]) -
                             reinterpret_cast<size_t>(info.dli_fbase));
            if (info.dli_sname) {
                put(file, " ");
                put(file, info.dli_sname);
            }
        } else {
            put(file, "0x");
            putHex(file, reinterpret_cast<size_t>(at[static_cast<size_t>(i)]));
        }
        put(file, "\n");
    }
    ::close(file);
}

void ended(int signal) {
    report(signal);
    // As it would have gone without us: the handler was taken off when it was called.
    ::raise(signal);
}

/// The kind of an exception nobody took; not what it says, which may have names in it.
void unTaken() {
    if (const std::type_info* type = abi::__cxa_current_exception_type())
        copyInto(kept().exception, type->name());
    std::abort();
}

} // namespace

QString reportOf(const QString& roster) {
    if (!roster.isEmpty())
        return roster + " failure.txt";
    return QStandardPaths::writableLocation(QStandardPaths::AppDataLocation) + "/failure.txt";
}

void reportBeside(const QString& roster) {
    const QString file = reportOf(roster);
    QDir().mkpath(QFileInfo(file).absolutePath());
    const QByteArray path = QFile::encodeName(file);
    if (static_cast<size_t>(path.size()) < pathLength)
        copyInto(kept().path, path);
}

void note(const QString& action) {
    Kept& k = kept();
    copyInto(k.actions[k.next], action.toUtf8());
    k.next = (k.next + 1) % actionCount;
}

void watch(const char* version) {
    Kept& k = kept();
    k.version = version;
    k.said = wordsOfReport();
    reportBeside({});
    std::array<void*, 2> warm{};
    (void)::backtrace(warm.data(), 2); // loads what it needs now
    stack_t stack{};
    stack.ss_sp = k.stack.data();
    stack.ss_size = k.stack.size();
    ::sigaltstack(&stack, nullptr);
    std::set_terminate(unTaken);
    struct sigaction action {};
    action.sa_handler = ended;
    action.sa_flags = static_cast<int>(SA_RESETHAND | SA_ONSTACK | SA_NODEFER);
    for (const int signal : {SIGSEGV, SIGBUS, SIGFPE, SIGILL, SIGABRT})
        ::sigaction(signal, &action, nullptr);
}

QString read(const QString& file) {
    QFile f(file);
    constexpr qint64 most = 1 << 16;
    if (!QFileInfo(file).isFile() || !f.open(QIODevice::ReadOnly))
        return {};
    return QString::fromUtf8(f.read(most)).trimmed();
}

} // namespace failure

FailureDialog::FailureDialog(Workspace& workspace, const QString& roster, QWidget* parent)
    : QDialog(parent), workspace_(workspace), path_(roster), file_(failure::reportOf(roster)) {
    setObjectName("failure");
    setWindowTitle(wording("Marram ended unexpectedly"));
    setAttribute(Qt::WA_DeleteOnClose);
    auto* layout = new QVBoxLayout(this);
    const QString name = QFileInfo(roster).completeBaseName();
    layout->addWidget(wordsLabel(
        roster.isEmpty()
            ? wording("The last time Marram ended unexpectedly, with no roster open.")
            : QString(
                  wording(
                      "The last time Marram ended unexpectedly while %1 was open. Every change is written as "
                      "it "
                      "is made, so it is as you left it but for what was being typed. It is not opened yet."))
                  .arg(name)));
    layout->addWidget(headingLabel(wording("What happened")));
    auto* text = new QPlainTextEdit(failure::read(file_));
    text->setObjectName("failureText");
    text->setAccessibleName(wording("What happened"));
    text->setReadOnly(true);
    layout->addWidget(text, 1);
    layout->addWidget(wordsLabel(
        wording("This is all of it. It has no rider, race or file in it, and it stays on this machine: keep "
                "it for whoever looks after Marram for you, or let it go."),
        true));
    auto* said = captionLabel({});
    said->setObjectName("failureSaid");
    said->setWordWrap(true);
    layout->addWidget(said);
    auto* buttons = new QHBoxLayout;
    const auto button = [&](const QString& words, const char* called, auto what) {
        auto* b = new QPushButton(words);
        b->setObjectName(called);
        b->setAutoDefault(false);
        connect(b, &QPushButton::clicked, this, what);
        buttons->addWidget(b);
        return b;
    };
    QPushButton* usual = nullptr;
    if (!roster.isEmpty()) {
        usual = button(wording("Open %1", name), "failureOpen", [this] { openRoster(); });
        if (const auto copies = copiesOf(roster); !copies.empty())
            button(wording("Open its copy of %1 as a new file")
                       .arg(QString::fromStdString(dayText(copies.front().day, workspace_.today()))),
                   "failureCopy", [this] { openCopy(); });
    }
    button(wording("Keep the report"), "failureKeep", [this] { keepReport(); });
    buttons->addStretch();
    auto* close = button(wording("Close"), "failureClose", [this] { accept(); });
    layout->addLayout(buttons);
    (usual ? usual : close)->setDefault(true);
    (usual ? usual : close)->setFocus();
    resize(qRound(760 * textScale()), qRound(480 * textScale()));
    // It is shown once: what is not kept goes with the window.
    connect(this, &QDialog::finished, this, [this] { QFile::remove(file_); });
}

void FailureDialog::openRoster() {
    const QString path = path_;
    QFile::remove(file_); // one that comes now is of this time
    accept();
    workspace_.roster.open(path);
}

void FailureDialog::openCopy(QString to) {
    const auto copies = copiesOf(path_);
    if (copies.empty())
        return;
    if (to.isEmpty())
        to = askForNewRoster(this, wording("The copy as a new file"));
    if (to.isEmpty())
        return;
    const auto made = marram::restoreCopy(path_, copies.front().day, to);
    if (!made)
        return say(QString::fromStdString(made.error().sentence));
    accept();
    if (workspace_.roster.open(to))
        emit workspace_.notices.said(wording("This is the copy of %1; %2 is where it was.",
                                             QString::fromStdString(isoText(copies.front().day)),
                                             QFileInfo(path_).fileName()));
}

void FailureDialog::keepReport(QString to) {
    if (to.isEmpty())
        to = QFileDialog::getSaveFileName(this, wording("The report"), "marram report.txt",
                                          wording("Text (*.txt)"));
    if (to.isEmpty())
        return;
    const auto written = writeWholeFile(to, (failure::read(file_) + "\n").toUtf8());
    say(written ? wording("The report is in %1.", to) : QString::fromStdString(written.error().sentence));
}

void FailureDialog::say(const QString& sentence) {
    findChild<QLabel*>("failureSaid")->setText(sentence);
}

} // namespace marram

#include "moc_failure.cpp"
