// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "app/owners/workspace.h"
#include "app/theme/theme.h"
#include <QComboBox>
#include <QLabel>
#include <QListWidget>
#include <QPrinter>
#include <QTextBrowser>
#include <QTimer>
#include <QWidget>

namespace marram {

/// A report as rich text of a width, its figures drawn and added to `document` in a palette.
QString reportHtml(QTextDocument& document, const Report& report, double width, const Shore& shore);

/// What a coach asks of a record: the questions at the side, the answer beside them.
class ReportPage : public QWidget {
    Q_OBJECT
public:
    explicit ReportPage(Workspace& workspace, QWidget* parent = nullptr);
    void ask(Question question);
    void print(QPrinter& printer) const;

signals:
    void wantsRide(qint64 ride);
    void wantsTry(const QString& name, const Season& season);

protected:
    void showEvent(QShowEvent*) override;
    void hideEvent(QHideEvent*) override;
    void resizeEvent(QResizeEvent*) override;
    void changeEvent(QEvent*) override;

private:
    void askChosen();
    void refresh();
    void show();
    void follow(const QString& link);

    Workspace& workspace_;
    QListWidget* questions_;
    QLabel *title_, *state_, *spanWords_;
    QComboBox* span_;
    QTextBrowser* page_;
    QTimer again_; ///< drawn anew once the width rests
    std::shared_ptr<const AnswerPicture> shown_;
};

} // namespace marram
