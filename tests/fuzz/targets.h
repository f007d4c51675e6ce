// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include <QByteArray>

/// What fuzzers throw bytes at and what old findings are replayed through: every reader, and what becomes of
/// what it reads. Each aborts where something that must hold does not.
namespace marram::fuzz {

/// FIT, GPX or CSV by their first bytes; on into the grid, scoring, curve, efforts, and out again.
void recording(const QByteArray& bytes);
/// SEASON.json: read, checked, written, read again.
void season(const QByteArray& bytes);
/// The file of one rider in an export: read, written, read again.
void rider(const QByteArray& bytes);
/// Check-ins and daily stress as CSV.
void tables(const QByteArray& bytes);
/// The bytes of a roster file: opened, looked through, exported.
void roster(const QByteArray& bytes);

struct Target {
    const char* name;
    void (*run)(const QByteArray&);
};
inline constexpr Target targets[] = {
    {"recording", recording}, {"season", season}, {"rider", rider}, {"tables", tables}, {"roster", roster}};

} // namespace marram::fuzz
