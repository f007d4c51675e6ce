// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include <QCheckBox>
#include <QComboBox>
#include <QDateEdit>
#include <QDoubleSpinBox>
#include <QLineEdit>
#include <QPlainTextEdit>
#include <QVariant>
#include <functional>

namespace marram {

/// One value and the field that shows it. Shows what holds, but never over what somebody is typing; takes
/// what was typed when it is finished, and takes nothing from a field nobody changed, so that a value is
/// never rounded to what its field can show. What was typed for one subject (a rider, a ride) goes to that
/// one, also when another is shown meanwhile.
class Binding : public QObject {
    Q_OBJECT
public:
    using Commit = std::function<void(qint64 subject, const QVariant& value)>;

    /// What holds now. While the field is being changed for the same subject it is left alone.
    void show(qint64 subject, const QVariant& value);
    /// Takes what was typed, if anything was.
    void finish();
    /// The same for every field within a widget.
    static void finishWithin(QWidget* part);
    bool changed() const { return changed_; }

    static Binding* text(QLineEdit* field, Commit commit);      ///< QString, trimmed
    static Binding* area(QPlainTextEdit* field, Commit commit); ///< QString
    static Binding* number(QDoubleSpinBox* field, Commit commit);
    static Binding* whole(QSpinBox* field, Commit commit);
    static Binding* choice(QComboBox* field, Commit commit); ///< int, the index
    static Binding* check(QCheckBox* field, Commit commit);  ///< bool
    static Binding* date(QDateEdit* field, Commit commit);   ///< QDate

protected:
    bool eventFilter(QObject* watched, QEvent* event) override;

private:
    Binding(QWidget* field, std::function<QVariant()> read, std::function<void(const QVariant&)> write,
            Commit commit);
    void take();

    QWidget* field_;
    std::function<void()> settle_; ///< has a field that takes its text late take it now
    std::function<QVariant()> read_;
    std::function<void(const QVariant&)> write_;
    Commit commit_;
    qint64 subject_ = 0;
    bool changed_ = false, showing_ = false;
};

/// Ends every editing session of the programme in order: what is being typed, in fields and in cells of
/// tables, is taken for whom it was begun. Called before the rider, the roster or the row it belongs to goes
/// away.
void endEditing();

} // namespace marram
