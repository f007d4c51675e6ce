// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/shell/read_aloud.h"

#include <QAccessibleWidget>
#include <QComboBox>
#include <QEvent>
#include <QLabel>
#include <QPointer>
#include <QWidget>

namespace marram {
namespace {

const ReadAloud* readable(const QWidget* widget) {
    return dynamic_cast<const ReadAloud*>(widget);
}

/// One part: it belongs to its widget and has no children. It may outlive what it told of; then it says so.
class PartOf : public QAccessibleInterface {
public:
    PartOf(QWidget* widget, int index) : widget_(widget), index_(index) {}
    bool isValid() const override { return widget_ && part().has_value(); }
    QObject* object() const override { return nullptr; }
    QWindow* window() const override { return widget_ ? widget_->window()->windowHandle() : nullptr; }
    QAccessibleInterface* parent() const override { return QAccessible::queryAccessibleInterface(widget_); }
    QAccessibleInterface* child(int) const override { return nullptr; }
    QAccessibleInterface* childAt(int, int) const override { return nullptr; }
    int childCount() const override { return 0; }
    int indexOfChild(const QAccessibleInterface*) const override { return -1; }
    QString text(QAccessible::Text kind) const override {
        const auto p = part();
        return kind == QAccessible::Name && p ? p->name : QString();
    }
    void setText(QAccessible::Text, const QString&) override {}
    QRect rect() const override {
        const auto p = part();
        return p ? QRect(widget_->mapToGlobal(p->at.topLeft()), p->at.size()) : QRect();
    }
    QAccessible::Role role() const override { return QAccessible::ListItem; }
    QAccessible::State state() const override {
        QAccessible::State s;
        s.readOnly = true;
        s.invisible = !widget_ || !widget_->isVisible();
        s.offscreen = widget_ && !widget_->visibleRegion().intersects(part().value_or(SpokenPart{}).at);
        return s;
    }

private:
    std::optional<SpokenPart> part() const {
        const ReadAloud* all = readable(widget_);
        if (!all)
            return std::nullopt;
        const auto parts = all->spokenParts();
        return index_ < static_cast<int>(parts.size()) ? std::optional(parts[static_cast<size_t>(index_)])
                                                       : std::nullopt;
    }
    QPointer<QWidget> widget_;
    int index_;
};

/// A widget with its parts.
class Picture : public QAccessibleWidget {
public:
    explicit Picture(QWidget* w) : QAccessibleWidget(w, QAccessible::List) {}
    ~Picture() override {
        for (const QAccessible::Id id : parts_)
            QAccessible::deleteAccessibleInterface(id);
    }
    int childCount() const override { return static_cast<int>(spoken().size()); }
    QAccessibleInterface* child(int index) const override {
        if (index < 0 || index >= childCount())
            return nullptr;
        while (static_cast<int>(parts_.size()) <= index)
            parts_.push_back(QAccessible::registerAccessibleInterface(
                new PartOf(widget(), static_cast<int>(parts_.size()))));
        return QAccessible::accessibleInterface(parts_[static_cast<size_t>(index)]);
    }
    QAccessibleInterface* childAt(int x, int y) const override {
        const QPoint at = widget()->mapFromGlobal(QPoint(x, y));
        const auto all = spoken();
        // What is drawn last lies on top.
        for (size_t i = all.size(); i-- > 0;)
            if (all[i].at.contains(at))
                return child(static_cast<int>(i));
        return nullptr;
    }
    int indexOfChild(const QAccessibleInterface* child) const override {
        for (size_t i = 0; i < parts_.size(); ++i)
            if (QAccessible::accessibleInterface(parts_[i]) == child)
                return static_cast<int>(i);
        return -1;
    }

private:
    std::vector<SpokenPart> spoken() const {
        const ReadAloud* all = readable(widget());
        return all ? all->spokenParts() : std::vector<SpokenPart>{};
    }
    mutable std::vector<QAccessible::Id> parts_;
};

/// On Linux Qt reads a field that opens a list by what is chosen in it alone: what it is comes from a label.
/// One that has no label of its own gets one nobody sees.
void label(QComboBox* field) {
    if (!field || field->accessibleName().isEmpty() || !field->parentWidget())
        return;
    for (const QLabel* beside : field->parentWidget()->findChildren<QLabel*>(Qt::FindDirectChildrenOnly))
        if (beside->buddy() == field)
            return;
    auto* unseen = new QLabel(field->accessibleName(), field->parentWidget());
    unseen->setTextFormat(Qt::PlainText);
    unseen->setBuddy(field);
    unseen->hide();
}

/// A field is asked about before it has a name and a place: it is labelled when it is shown.
class Labels : public QObject {
public:
    using QObject::QObject;
    bool eventFilter(QObject* object, QEvent* event) override {
        if (event->type() == QEvent::Show)
            label(qobject_cast<QComboBox*>(object));
        return false;
    }
};

QAccessibleInterface* make(const QString&, QObject* object) {
    if (auto* field = qobject_cast<QComboBox*>(object)) {
        static Labels labels;
        field->installEventFilter(&labels);
        if (field->isVisible())
            label(field);
    }
    auto* widget = qobject_cast<QWidget*>(object);
    return widget && readable(widget) ? new Picture(widget) : nullptr;
}

} // namespace

void offerParts() {
    static const bool once = [] {
        QAccessible::installFactory(make);
        return true;
    }();
    (void)once;
}

void partsChanged(QWidget* widget) {
    if (!QAccessible::isActive())
        return;
    QAccessibleEvent event(widget, QAccessible::ObjectReorder);
    QAccessible::updateAccessibility(&event);
}

} // namespace marram
