// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include <QMouseEvent>
#include <QObject>
#include <QPointF>
#include <QPointer>
#include <QTimer>
#include <QTouchEvent>
#include <QWidget>
#include <functional>

namespace marram {

/// How near a hand has to come to what it takes hold of, in pixels on either side: a finger covers 32.
inline double reachOf(const QMouseEvent& event, double byMouse) {
    constexpr double finger = 16;
    return event.pointerType() == QPointingDevice::PointerType::Finger ? std::max(finger, byMouse) : byMouse;
}

/// Fingers on a picture: one is a mouse whose button is down, two move and zoom it, one that stays opens the
/// menu of what is under it. A pen is a mouse anyway.
class TouchHand : public QObject {
    Q_OBJECT
public:
    struct Moves {
        std::function<void(double factor, const QPointF& around)> pinch; ///< over one: fingers go apart
        std::function<void(const QPointF& by)> pan;
    };
    /// Watches the picture's fingers as long as it lives.
    TouchHand(QWidget* picture, Moves moves);

protected:
    bool eventFilter(QObject* watched, QEvent* event) override;

private:
    void touched(const QTouchEvent& event);
    void two(const QTouchEvent& event);
    void send(QEvent::Type type, const QPointF& at);
    void stayed();

    enum class Doing { Nothing, Waiting, Dragging, Moving, Done };
    QWidget* picture_;
    Moves moves_;
    Doing doing_ = Doing::Nothing;
    QPointF from_;     ///< where the first finger came down
    QPointF middle_;   ///< of two, when they moved last
    double apart_ = 0; ///< how far they were then
    QTimer long_;
    QPointer<const QPointingDevice> device_;
};

} // namespace marram
