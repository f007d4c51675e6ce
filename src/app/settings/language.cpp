// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/settings/language.h"
#include "core/words/phrase.h"

#include <QCoreApplication>
#include <QDoubleSpinBox>
#include <QFile>
#include <QGuiApplication>
#include <QKeyEvent>
#include <QLibraryInfo>
#include <QLocale>
#include <QTranslator>

/// Not inside a namespace, as Qt asks.
static void takeCatalogues() {
    Q_INIT_RESOURCE(words);
}

namespace marram {
namespace {

/// In fields of numbers a point and a comma are both the decimal mark, whichever of them the language has: of
/// "2.5" typed into a field that knows the comma alone Qt takes 25.
class DecimalKey : public QObject {
public:
    using QObject::QObject;
    bool eventFilter(QObject* watched, QEvent* event) override {
        if (event->type() != QEvent::KeyPress)
            return false;
        const auto* box = qobject_cast<QDoubleSpinBox*>(watched);
        if (!box)
            box = qobject_cast<QDoubleSpinBox*>(watched->parent());
        const QString typed = static_cast<QKeyEvent*>(event)->text(),
                      mark = box ? box->locale().decimalPoint() : QString();
        if (!box || typed == mark || (typed != "." && typed != ","))
            return false;
        QKeyEvent meant(QEvent::KeyPress, mark == "," ? Qt::Key_Comma : Qt::Key_Period, Qt::NoModifier, mark);
        QCoreApplication::sendEvent(watched, &meant);
        return true;
    }
};

} // namespace

bool takeLanguage(QCoreApplication& app, const QString& wanted) {
    takeCatalogues();
    if (static const QString name = "decimalKey"; !app.findChild<QObject*>(name)) {
        auto* key = new DecimalKey(&app);
        key->setObjectName(name);
        app.installEventFilter(key);
    }
    const QLocale desktop = QLocale::system();
    Language language;
    if (wanted.startsWith("pseudo")) {
        language.pseudo = true;
        if (wanted == "pseudo-rtl")
            QGuiApplication::setLayoutDirection(Qt::RightToLeft);
        return speak(language);
    }
    const QString code = wanted == "system" ? desktop.name().section('_', 0, 0) : wanted;
    QFile catalogue(QString(":/words/%1.mo").arg(code));
    if (code == "en" || !catalogue.open(QIODevice::ReadOnly))
        return (code == "en" || wanted == "system") && speak(language);
    language.code = code.toStdString();
    language.catalogue = catalogue.readAll().toStdString();
    // The region is the desktop's where it speaks that language: an Austrian desktop has Austria's days.
    QLocale locale = desktop.language() == QLocale(code).language() ? desktop : QLocale(code);
    locale.setNumberOptions(locale.numberOptions() | QLocale::OmitGroupSeparator);
    language.decimal = locale.decimalPoint() == "," ? ',' : '.';
    if (!speak(language))
        return false;
    QLocale::setDefault(locale);
    auto* own = new QTranslator(&app); // the buttons of Qt's dialogs
    if (own->load(locale, "qtbase", "_", QLibraryInfo::path(QLibraryInfo::TranslationsPath)))
        QCoreApplication::installTranslator(own);
    return true;
}

} // namespace marram
