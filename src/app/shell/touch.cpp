// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/shell/touch.h"

#include <QApplication>
#include <QContextMenuEvent>
#include <QLineF>

namespace marram {
namespace {

constexpr int holdTime = 500; ///< ms a finger stays for a menu
constexpr double slip = 10;   ///< px it may move meanwhile, fingers being soft

} // namespace

TouchHand::TouchHand(QWidget* picture, Moves moves)
    : QObject(picture), picture_(picture), moves_(std::move(moves)) {
    picture_->setAttribute(Qt::WA_AcceptTouchEvents);
    picture_->installEventFilter(this);
    long_.setSingleShot(true);
    long_.setInterval(holdTime);
    connect(&long_, &QTimer::timeout, this, &TouchHand::stayed);
}

bool TouchHand::eventFilter(QObject* watched, QEvent* event) {
    switch (event->type()) {
    case QEvent::TouchBegin:
    case QEvent::TouchUpdate:
    case QEvent::TouchEnd:
        touched(*static_cast<QTouchEvent*>(event));
        event->accept();
        return true;
    case QEvent::TouchCancel:
        long_.stop();
        if (doing_ == Doing::Dragging)
            send(QEvent::MouseButtonRelease, from_);
        doing_ = Doing::Nothing;
        return true;
    default:
        return QObject::eventFilter(watched, event);
    }
}

void TouchHand::touched(const QTouchEvent& event) {
    device_ = event.pointingDevice();
    const auto& points = event.points();
    if (event.type() == QEvent::TouchBegin && doing_ == Doing::Nothing) {
        doing_ = Doing::Waiting;
        from_ = points.front().position();
        long_.start();
    }
    if (points.size() >= 2 && (doing_ == Doing::Waiting || doing_ == Doing::Moving))
        return two(event);
    const QPointF at = points.front().position();
    if (event.type() == QEvent::TouchEnd) {
        long_.stop();
        // A tap is a click.
        if (doing_ == Doing::Waiting)
            send(QEvent::MouseButtonPress, from_);
        if (doing_ == Doing::Waiting || doing_ == Doing::Dragging)
            send(QEvent::MouseButtonRelease, at);
        doing_ = Doing::Nothing;
        return;
    }
    if (doing_ == Doing::Waiting && QLineF(from_, at).length() > slip) {
        long_.stop();
        doing_ = Doing::Dragging;
        send(QEvent::MouseButtonPress, from_);
    }
    if (doing_ == Doing::Dragging)
        send(QEvent::MouseMove, at);
}

void TouchHand::two(const QTouchEvent& event) {
    long_.stop();
    const QPointF a = event.points()[0].position(), b = event.points()[1].position();
    const QPointF middle = (a + b) / 2;
    const double apart = std::max(20.0, QLineF(a, b).length());
    if (doing_ == Doing::Moving) {
        if (std::abs(apart / apart_ - 1) > 0.005)
            moves_.pinch(apart / apart_, middle);
        if (middle != middle_)
            moves_.pan(middle - middle_);
    }
    doing_ = event.type() == QEvent::TouchEnd ? Doing::Nothing : Doing::Moving;
    middle_ = middle;
    apart_ = apart;
}

void TouchHand::send(QEvent::Type type, const QPointF& at) {
    const bool down = type != QEvent::MouseButtonRelease;
    QMouseEvent mouse(type, at, picture_->mapToGlobal(at),
                      type == QEvent::MouseMove ? Qt::NoButton : Qt::LeftButton,
                      down ? Qt::LeftButton : Qt::NoButton, Qt::NoModifier,
                      device_ ? device_.data() : QPointingDevice::primaryPointingDevice());
    QApplication::sendEvent(picture_, &mouse);
}

void TouchHand::stayed() {
    doing_ = Doing::Done;
    QContextMenuEvent menu(QContextMenuEvent::Mouse, from_.toPoint(), picture_->mapToGlobal(from_.toPoint()));
    QApplication::sendEvent(picture_, &menu);
}

} // namespace marram

#include "moc_touch.cpp"
