// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include <QTimer>
#include <QUndoStack>
#include <deque>
#include <functional>
#include <vector>

namespace marram {

/// Steps to undo, each two functions that say whether they could. The stack is never entered twice: a step
/// asked for while another is taken, undone or redone waits for its turn. What could not be kept for the
/// file's sake is remembered until it can.
class Steps : public QObject {
    Q_OBJECT
public:
    using Act = std::function<bool()>;

    explicit Steps(QObject* parent = nullptr);

    QUndoStack& stack() { return stack_; }
    /// Takes a step, or has it wait. One that can't be taken leaves the stack.
    void take(const QString& what, Act redo, Act undo);
    /// Takes what waits, unless a step is being taken.
    void takeWaiting();
    /// Has several steps be one to undo. Asked for while a step is taken they wait one by one.
    void asOneStep(const QString& what, const std::function<void()>& edits);
    /// Said from within a step: it fails only because the file is gone, and is to be taken again.
    void lost() { lost_ = true; }
    /// Takes again what failed so.
    void takeLost();
    /// Forgets all of it.
    void clear();

private:
    struct Step {
        QString what;
        Act redo, undo;
    };
    class Command;
    void push(Step step);

    QUndoStack stack_;
    std::deque<Step> waiting_;
    std::vector<Step> unkept_;
    QTimer drain_;
    bool running_ = false, lost_ = false;
};

} // namespace marram
