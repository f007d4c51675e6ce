// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include <QElapsedTimer>
#include <QTimer>
#include <QUndoStack>
#include <deque>
#include <functional>
#include <vector>

namespace marram {

/// Steps to undo, each two functions that say whether they could. The stack is never entered twice: a step
/// asked for while another is taken, undone or redone waits for its turn, and so does one that comes while
/// somebody else is writing. What could not be kept for the file's sake is remembered until it can.
class Steps : public QObject {
    Q_OBJECT
public:
    using Act = std::function<bool()>;

    explicit Steps(QObject* parent = nullptr);

    QUndoStack& stack() { return stack_; }
    /// `claim` takes the right to write, at once, or says that somebody else has it; `letGo` gives it back.
    void writeWith(std::function<bool()> claim, std::function<void()> letGo);
    /// Takes a step, or has it wait. One that can't be taken leaves the stack.
    void take(const QString& what, Act redo, Act undo);
    /// Undoes or redoes the last step, when its turn has come.
    void undo();
    void redo();
    /// Does something that writes and is no step, when its turn has come.
    void inTurn(std::function<void()> what);
    /// Takes what waits unless somebody else is writing; what has been held up follows one at a turn.
    void takeWaiting();
    /// Takes all that waits, without asking whether somebody else is writing.
    void takeAll();
    bool waiting() const { return !waiting_.empty(); }
    /// Has several steps be one to undo. Asked for while a step is taken they wait one by one; the edits are
    /// kept until their turn has come.
    void asOneStep(const QString& what, std::function<void()> edits);
    /// Said from within a step: it fails only because the file is gone, and is to be taken again.
    void lost() { lost_ = true; }
    /// Takes again what failed so.
    void takeLost();
    /// Forgets all of it.
    void clear();

signals:
    void held(); ///< what was asked for has been waiting for somebody else for two seconds

private:
    struct Step {
        QString what;
        Act redo, undo;
    };
    class Command;
    void push(Step step);
    bool mayWrite();

    QUndoStack stack_;
    std::deque<std::function<void()>> waiting_;
    std::vector<Step> unkept_;
    std::function<bool()> claim_;
    std::function<void()> letGo_;
    QElapsedTimer since_; ///< when the first of them began to wait for somebody else
    QTimer drain_;
    bool running_ = false, lost_ = false, macro_ = false, told_ = false;
    bool backlog_ = false; ///< what waits has been held up by somebody else
};

} // namespace marram
