// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "core/review/monday.h"
#include <QByteArray>
#include <QByteArrayList>
#include <QString>

namespace marram {

/// The family of the typeface that ships with Marram, loaded where it was not; that of the desktop where it
/// can't be. Needs a QGuiApplication.
QString shippedTypeface();

/// The letter of a week as rich text for a page: names and notes are plain text in it.
QString letterHtml(const Monday& monday, const QString& coach);

/// The same as one page of A4; what does not fit at ten points is set smaller, down to seven and a half, and
/// then goes on on a second page. Needs a QGuiApplication.
QByteArray letterPdf(const Monday& monday, const QString& coach);

/// A sheet on which a rider answers for each day of a week: one page of A4. Needs a QGuiApplication.
QByteArray sheetPdf(const QString& rider, Date monday);

/// A table as pages of A4 across, its header on each; cells are plain text, numbers stand to the right with
/// one decimal. Needs a QGuiApplication.
QByteArray tablePdf(const QString& title, const QByteArrayList& header,
                    const std::vector<QByteArrayList>& rows);

} // namespace marram
