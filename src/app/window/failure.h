// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include <QDialog>
#include <QString>

namespace marram {

class Workspace;

/// What happens when the programme itself fails: a report is written beside the roster, of the programme
/// alone – which version, what ended it, where in the code, which actions came before – and of no rider, race
/// or file name. Nothing of it is sent anywhere; the next start shows it before anything else.
namespace failure {

/// Has what ends the programme write its report, in the language spoken. Once, at the start, when that is
/// known; `version` outlives it.
void watch(const char* version);
/// Where a report would go: beside this roster, or into a folder of the programme's own where none is open.
void reportBeside(const QString& roster);
/// Keeps the name of an action, the newest dozen; words of ours, never of a coach's.
void note(const QString& action);

/// The file a report of a roster would be in.
QString reportOf(const QString& roster);
/// The report left there, in words; empty where there is none or it can't be read.
QString read(const QString& file);

} // namespace failure

/// The report of the last time, before anything else: the roster waits until the coach has it opened, for it
/// may be what ended the programme; or the newest copy of the day is opened as a new file; the report is kept
/// elsewhere or goes.
class FailureDialog : public QDialog {
    Q_OBJECT
public:
    /// `roster` may be empty: what failed had none open.
    FailureDialog(Workspace& workspace, const QString& roster, QWidget* parent = nullptr);

    void openRoster();
    void openCopy(QString to = {});
    void keepReport(QString to = {});

private:
    void say(const QString& sentence);

    Workspace& workspace_;
    QString path_, file_;
};

} // namespace marram
