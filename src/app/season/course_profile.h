// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "app/shell/read_aloud.h"
#include "core/course/course.h"
#include <QWidget>

namespace marram {

/// A course as its profile: height over distance, climbs named by length, gradient and time.
class CourseProfile : public QWidget, public ReadAloud {
public:
    explicit CourseProfile(QWidget* parent = nullptr);
    void show(const std::vector<CoursePoint>& course, const std::vector<Climb>& climbs);
    QSize sizeHint() const override { return {600, 170}; }
    QSize minimumSizeHint() const override { return {300, 110}; }

    std::vector<SpokenPart> spokenParts() const override;

protected:
    void paintEvent(QPaintEvent*) override;

private:
    QRectF plotArea() const;
    double xOf(double metres) const;
    std::vector<CoursePoint> course_;
    std::vector<Climb> climbs_;
};

} // namespace marram
