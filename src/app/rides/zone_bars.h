// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "app/shell/read_aloud.h"
#include "core/ride/score.h"
#include <QWidget>

namespace marram {

/// One line of the bars: a zone and the time in it.
struct ZoneLine {
    QString name;
    double seconds = 0;
    double part = 0; ///< of all
};

/// Time in zones by power, or by heart rate where there is no power. Pure.
std::vector<ZoneLine> zoneLines(const Score& score);

/// Time in zones as bars of one hue that deepens with intensity.
class ZoneBars : public QWidget, public ReadAloud {
    Q_OBJECT
public:
    explicit ZoneBars(QWidget* parent = nullptr);
    void show(const Score& score);
    QSize sizeHint() const override;
    std::vector<SpokenPart> spokenParts() const override;

protected:
    void paintEvent(QPaintEvent*) override;

private:
    std::vector<ZoneLine> lines_;
    QString by_;
};

} // namespace marram
