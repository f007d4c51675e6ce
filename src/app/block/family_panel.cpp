// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/block/family_panel.h"
#include "app/block/board_picture.h"
#include "app/theme/theme.h"
#include "core/session/shorthand.h"
#include "formats/files/files.h"
#include "formats/json/session_json.h"
#include "wording/wording.h"

#include <QDialogButtonBox>
#include <QFileDialog>
#include <QFormLayout>
#include <QGridLayout>
#include <QKeyEvent>
#include <QSettings>
#include <QVBoxLayout>
#include <algorithm>

namespace marram {
namespace {
const std::array phaseKeys{"transition", "base", "build", "specialise"};
}

FamilyPanel::FamilyPanel(QWidget* parent)
    : QWidget(parent), book_(std::make_shared<FamilyBook>(FamilyBook::standard())), search_(new QLineEdit),
      list_(new QListWidget), words_(new QTextBrowser) {
    auto* layout = new QVBoxLayout(this);
    layout->setContentsMargins(16, 10, 12, 6);
    auto* top = new QHBoxLayout;
    auto* title = new QLabel(wording("Families of sessions"));
    title->setWordWrap(true); // or its width is the least of the whole view
    title->setFont(typeface(Type::Title, true));
    auto* close = new QPushButton(wording("Close"));
    close->setObjectName("closeFamilies");
    top->addWidget(title, 1);
    top->addWidget(close);
    layout->addLayout(top);
    search_->setPlaceholderText(wording("Find by name or purpose"));
    search_->setObjectName("familySearch");
    search_->setAccessibleName(wording("Find a family"));
    layout->addWidget(search_);
    list_->setObjectName("familyList");
    list_->setAccessibleName(wording("Families"));
    layout->addWidget(list_, 3);
    words_->setOpenLinks(false);
    words_->setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
    words_->document()->setDocumentMargin(0);
    words_->setObjectName("familyWords");
    layout->addWidget(words_, 3);
    auto* grid = new QGridLayout;
    grid->setSpacing(4);
    const auto button = [&](const QString& text, const char* name, const QString& tip, int row, int column) {
        auto* b = new QPushButton(text);
        b->setObjectName(name);
        b->setToolTip(tip);
        grid->addWidget(b, row, column);
        return b;
    };
    pick_ =
        button(wording("Put on the day"), "pickFamily", wording("Instead of what is there (Return)"), 0, 0);
    edit_ = button(wording("Change…"), "editFamily", wording("Its words and its rungs"), 0, 1);
    copy_ = button(wording("Copy…"), "copyFamily", wording("A family of your own to begin from"), 1, 0);
    remove_ = button(wording("Remove"), "removeFamily",
                     wording("Your own goes; one of the trade's is as it was"), 1, 1);
    auto* in =
        button(wording("From a file…"), "familiesIn", wording("Families written by Marram, as JSON"), 2, 0);
    auto* out = button(wording("To a file…"), "familiesOut", wording("Your own, as JSON"), 2, 1);
    layout->addLayout(grid);

    connect(close, &QPushButton::clicked, this, &FamilyPanel::closed);
    connect(search_, &QLineEdit::textChanged, this, &FamilyPanel::fill);
    connect(list_, &QListWidget::currentRowChanged, this, &FamilyPanel::describe);
    connect(list_, &QListWidget::itemActivated, this, [this] { pick_->click(); });
    connect(pick_, &QPushButton::clicked, this, [this] {
        if (!chosen().isEmpty())
            emit picked(chosen());
    });
    connect(edit_, &QPushButton::clicked, this, [this] { openEditor(false); });
    connect(copy_, &QPushButton::clicked, this, [this] { openEditor(true); });
    connect(remove_, &QPushButton::clicked, this, [this] {
        std::vector<Family> after = own();
        std::erase_if(after, [&](const Family& f) { return f.name == chosen().toStdString(); });
        emit edited(own(), after, wording("Remove a family of sessions"));
    });
    connect(in, &QPushButton::clicked, this, &FamilyPanel::bringIn);
    connect(out, &QPushButton::clicked, this, &FamilyPanel::writeOut);
    search_->installEventFilter(this);
    list_->installEventFilter(this);
}

void FamilyPanel::show(std::shared_ptr<const FamilyBook> book, const std::vector<std::string>& injuries,
                       double lowThreshold) {
    const bool same = book == book_ && injuries == injuries_ && list_->count() > 0;
    book_ = std::move(book);
    injuries_ = injuries;
    low_ = lowThreshold;
    if (!same)
        fill();
}

void FamilyPanel::find() {
    search_->clear();
    search_->setFocus();
}

QString FamilyPanel::chosen() const {
    return list_->currentItem() ? list_->currentItem()->data(Qt::UserRole).toString() : QString();
}

void FamilyPanel::choose(const QString& family) {
    for (int i = 0; i < list_->count(); ++i)
        if (list_->item(i)->data(Qt::UserRole).toString() == family)
            list_->setCurrentRow(i);
}

std::vector<Family> FamilyPanel::own() const {
    std::vector<Family> all;
    for (const Family& f : book_->all())
        if (f.own)
            all.push_back(f);
    return all;
}

void FamilyPanel::fill() {
    const QString before = chosen(), wanted = search_->text().trimmed();
    list_->clear();
    for (const Family& f : book_->all()) {
        const QString name = QString::fromStdString(f.name);
        if (!wanted.isEmpty() && !wording(name).contains(wanted, Qt::CaseInsensitive) &&
            !wording(QString::fromStdString(f.purpose)).contains(wanted, Qt::CaseInsensitive))
            continue;
        auto* item =
            new QListWidgetItem(capital(translated(f.name)) + (f.own ? wording("  (yours)") : QString()));
        item->setData(Qt::UserRole, name);
        for (const std::string& injury : injuries_)
            if (excludedBy(f, injury)) {
                item->setForeground(shore().muted);
                item->setText(wording("%1  (not with %2)", item->text(),
                                      withinSentence(QString::fromStdString(injury))));
            }
        list_->addItem(item);
    }
    choose(before);
    if (list_->currentRow() < 0 && list_->count() > 0)
        list_->setCurrentRow(0);
    describe();
}

void FamilyPanel::describe() {
    const Family* f = book_->named(chosen().toStdString());
    for (QPushButton* b : {pick_, edit_, copy_})
        b->setEnabled(f != nullptr);
    remove_->setEnabled(f && f->own);
    remove_->setText(f && f->own && familyNamed(f->name) ? wording("As it was") : wording("Remove"));
    if (!f) {
        words_->setHtml(wording("<p>No family of that name. Clear what is looked for to see them all.</p>"));
        return;
    }
    const auto line = [](const QString& what, const std::string& words) {
        return words.empty() ? QString()
                             : QString("<p>%1%2.</p>")
                                   .arg(what, wording(QString::fromStdString(words)).toHtmlEscaped());
    };
    QString rungs;
    for (size_t r = 0; r < f->rungs.size(); ++r)
        rungs += QString("<tr><td align='right' style='padding-right:8px'>%1</td><td>%2</td></tr>")
                     .arg(r + 1)
                     .arg(QString::fromStdString(spokenShorthand(f->rungs[r])).toHtmlEscaped());
    words_->setHtml(line(wording("For "), f->purpose) + line(wording("Grows by "), f->grows) +
                    line(wording("The rider stops when "), f->stop) +
                    (f->caution.empty()
                         ? QString()
                         : "<p style='color:" + shore().rust.name() + "'>" +
                               wording(QString::fromStdString(f->caution)).toHtmlEscaped() + "</p>") +
                    "<table>" + rungs + "</table>");
}

bool FamilyPanel::eventFilter(QObject* watched, QEvent* event) {
    if (event->type() == QEvent::KeyPress) {
        const int key = static_cast<QKeyEvent*>(event)->key();
        if (key == Qt::Key_Escape) {
            emit closed();
            return true;
        }
        if (watched == search_ && (key == Qt::Key_Down || key == Qt::Key_Up)) {
            list_->setCurrentRow(std::clamp(list_->currentRow() + (key == Qt::Key_Down ? 1 : -1), 0,
                                            std::max(0, list_->count() - 1)));
            return true;
        }
        if (watched == search_ && (key == Qt::Key_Return || key == Qt::Key_Enter)) {
            pick_->click();
            return true;
        }
    }
    return QWidget::eventFilter(watched, event);
}

void FamilyPanel::openEditor(bool copy) {
    const Family* f = book_->named(chosen().toStdString());
    if (!f)
        return;
    Family start = *f;
    if (copy)
        start.name += phrase(" of mine");
    auto* editor = new FamilyEditor(start, copy || !familyNamed(f->name), this);
    editor->setAttribute(Qt::WA_DeleteOnClose);
    editor->setObjectName("familyEditor");
    connect(editor, &QDialog::accepted, this, [this, editor, old = copy ? std::string() : f->name] {
        // The list may have changed while it was open: what is kept is added to what is there now.
        std::vector<Family> after = own();
        if (old != editor->family().name)
            std::erase_if(after, [&](const Family& each) { return each.name == old; });
        const auto same = std::find_if(after.begin(), after.end(), [&](const Family& each) {
            return each.name == editor->family().name;
        });
        same == after.end() ? after.push_back(editor->family()) : void(*same = editor->family());
        const QString name = QString::fromStdString(editor->family().name);
        emit edited(own(), after, wording("Change a family of sessions"));
        choose(name);
    });
    editor->open();
}

void FamilyPanel::bringIn() {
    const QString path = QFileDialog::getOpenFileName(this, wording("Families from a file"),
                                                      QSettings().value("familyFolder").toString(),
                                                      wording("Families (*.json)"));
    if (path.isEmpty())
        return;
    const QString name = QFileInfo(path).fileName();
    QFile file(path);
    if (!file.open(QIODevice::ReadOnly) || file.size() > (1 << 22)) {
        emit failed(
            wording("%1 can't be read: %2.", name,
                    (file.isOpen() ? wording("it is far too large for families") : file.errorString())));
        return;
    }
    const auto read = readFamilies(file.readAll());
    if (!read) {
        emit failed(
            wording("%1: %2. Nothing was taken.", name, QString::fromStdString(read.error().sentence)));
        return;
    }
    std::vector<Family> after = own();
    for (const Family& f : *read) {
        std::erase_if(after, [&](const Family& each) { return each.name == f.name; });
        after.push_back(f);
    }
    QSettings().setValue("familyFolder", QFileInfo(path).absolutePath());
    emit edited(own(), after, wording("Take families from a file"));
}

void FamilyPanel::writeOut() {
    const QString path = QFileDialog::getSaveFileName(
        this, wording("Families to a file"), QSettings().value("familyFolder").toString() + "/families.json",
        wording("Families (*.json)"));
    if (path.isEmpty())
        return;
    if (const auto ok = writeWholeFile(path, writeFamilies(own())); !ok)
        emit failed(QString::fromStdString(ok.error().sentence));
    else
        QSettings().setValue("familyFolder", QFileInfo(path).absolutePath());
}

FamilyEditor::FamilyEditor(const Family& family, bool nameOpen, QWidget* parent)
    : QDialog(parent), family_(family), wrong_(new QLabel) {
    setWindowTitle(wording("A family of sessions"));
    auto* layout = new QVBoxLayout(this);
    auto* form = new QFormLayout;
    const auto field = [&](const QString& label, const std::string& text, const char* name) {
        auto* f = new QLineEdit(QString::fromStdString(text));
        f->setObjectName(name);
        f->setMaxLength(name == QString("familyName") ? 60 : 900);
        form->addRow(label, f);
        connect(f, &QLineEdit::textChanged, this, &FamilyEditor::look);
        return f;
    };
    name_ = field(wording("Name"), family.name, "familyName");
    name_->setEnabled(nameOpen);
    purpose_ = field(wording("For"), family.purpose, "familyPurpose");
    grows_ = field(wording("Grows by"), family.grows, "familyGrows");
    stop_ = field(wording("Stop when"), family.stop, "familyStop");
    caution_ = field(wording("Caution"), family.caution, "familyCaution");
    QStringList parts;
    for (const std::string& w : family.notWith)
        parts << QString::fromStdString(w);
    notWith_ = field(wording("Not with trouble in"), parts.join(", ").toStdString(), "familyNotWith");
    auto* row = new QHBoxLayout;
    for (size_t i = 0; i < phases_.size(); ++i) {
        phases_[i] = new QCheckBox(phaseKeys[i]);
        phases_[i]->setChecked(std::find(family.phases.begin(), family.phases.end(), phaseKeys[i]) !=
                               family.phases.end());
        connect(phases_[i], &QCheckBox::toggled, this, &FamilyEditor::look);
        row->addWidget(phases_[i]);
    }
    row->addStretch();
    form->addRow(wording("Placed by itself in"), row);
    QStringList rungs;
    for (const std::string& r : family.rungs)
        rungs << QString::fromStdString(r);
    rungs_ = new QPlainTextEdit(rungs.join('\n'));
    rungs_->setObjectName("familyRungs");
    rungs_->setMinimumSize(560, 190);
    connect(rungs_, &QPlainTextEdit::textChanged, this, &FamilyEditor::look);
    form->addRow(wording("Rungs, easiest first,\none a line"), rungs_);
    layout->addLayout(form);
    wrong_->setWordWrap(true);
    wrong_->setObjectName("familyWrong");
    layout->addWidget(wrong_);
    auto* buttons = new QDialogButtonBox;
    keep_ = buttons->addButton(wording("Keep"), QDialogButtonBox::AcceptRole);
    buttons->addButton(wording("Leave it"), QDialogButtonBox::RejectRole);
    connect(buttons, &QDialogButtonBox::accepted, this, &QDialog::accept);
    connect(buttons, &QDialogButtonBox::rejected, this, &QDialog::reject);
    layout->addWidget(buttons);
    look();
}

void FamilyEditor::look() {
    const auto text = [](const QLineEdit* f) { return f->text().trimmed().toStdString(); };
    Family f = family_;
    f.name = text(name_);
    f.purpose = text(purpose_);
    f.grows = text(grows_);
    f.stop = text(stop_);
    f.caution = text(caution_);
    f.own = true;
    f.notWith.clear();
    for (const QString& w : notWith_->text().toLower().split(',', Qt::SkipEmptyParts))
        if (!w.trimmed().isEmpty())
            f.notWith.push_back(w.trimmed().toStdString());
    f.phases.clear();
    for (size_t i = 0; i < phases_.size(); ++i)
        if (phases_[i]->isChecked())
            f.phases.emplace_back(phaseKeys[i]);
    f.rungs.clear();
    for (const QString& line : rungs_->toPlainText().split('\n', Qt::SkipEmptyParts))
        if (!line.trimmed().isEmpty())
            f.rungs.push_back(line.trimmed().toStdString());
    QString wrong;
    if (const auto ok = readRungs(f); !ok)
        wrong = QString::fromStdString(ok.error().sentence);
    else if (const Family* trade = familyNamed(f.name); trade && !trade->rungs.empty() && f.rungs.empty())
        wrong = wording("This family needs a rung at least: the block rides it.");
    // Counted as a coach counts lines.
    if (wrong.startsWith("rungs[")) {
        const qsizetype end = wrong.indexOf(']');
        wrong = wording("Line %1%2").arg(wrong.mid(6, end - 6).toInt() + 1).arg(wrong.mid(end + 1));
    }
    wrong_->setText(wrong.isEmpty() ? QString()
                                    : "<span style='color:" + shore().rust.name() + "'>" +
                                          wrong.toHtmlEscaped() + "</span>");
    keep_->setEnabled(wrong.isEmpty());
    family_ = std::move(f);
}

} // namespace marram

#include "moc_family_panel.cpp"
