// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "core/session/family.h"
#include <QCheckBox>
#include <QDialog>
#include <QLabel>
#include <QLineEdit>
#include <QListWidget>
#include <QPlainTextEdit>
#include <QPushButton>
#include <QTextBrowser>
#include <memory>

namespace marram {

/// Families of sessions at the side, where they are asked for: looked at, put on the chosen day, changed,
/// copied, added, taken from a file and written to one.
class FamilyPanel : public QWidget {
    Q_OBJECT
public:
    explicit FamilyPanel(QWidget* parent = nullptr);
    /// What there is, and what the rider may not ride, by why.
    void show(std::shared_ptr<const FamilyBook> book, const std::vector<std::string>& injuries,
              double lowThreshold);
    void choose(const QString& family);
    void find();
    QString chosen() const;

signals:
    void picked(const QString& family); ///< for the chosen day
    void edited(const std::vector<marram::Family>& before, const std::vector<marram::Family>& after,
                const QString& what);
    void failed(const QString& sentence);
    void closed();

protected:
    bool eventFilter(QObject* watched, QEvent* event) override;

private:
    void fill();
    void describe();
    void openEditor(bool copy);
    void bringIn();
    void writeOut();
    std::vector<Family> own() const;

    std::shared_ptr<const FamilyBook> book_;
    std::vector<std::string> injuries_;
    double low_ = defaultLowThreshold;
    QLineEdit* search_;
    QListWidget* list_;
    QTextBrowser* words_;
    QPushButton *pick_, *edit_, *copy_, *remove_;
};

/// A family's own words and rungs, to change. Rungs are written as sessions are, one a line; the first that
/// can't be read is named with its line and character.
class FamilyEditor : public QDialog {
    Q_OBJECT
public:
    FamilyEditor(const Family& family, bool nameOpen, QWidget* parent = nullptr);
    const Family& family() const { return family_; }

private:
    void look();

    Family family_;
    QLineEdit *name_, *purpose_, *grows_, *stop_, *caution_, *notWith_;
    QPlainTextEdit* rungs_;
    std::array<QCheckBox*, 4> phases_{};
    QLabel* wrong_;
    QPushButton* keep_;
};

} // namespace marram
