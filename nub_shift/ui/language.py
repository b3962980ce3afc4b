"""Qt in the reader's language: numbers, the direction of writing, and the texts that Qt brings itself."""

from __future__ import annotations

from PyQt6.QtCore import QLibraryInfo, QLocale, QTranslator
from PyQt6.QtWidgets import QApplication

from nub_shift.translation import LANGUAGE


def speak(application: QApplication) -> None:
    """Has all windows of an application be in that language."""
    locale = QLocale(LANGUAGE)
    locale.setNumberOptions(QLocale.NumberOption.OmitGroupSeparator)  # which nobody types
    QLocale.setDefault(locale)
    application.setLayoutDirection(locale.textDirection())
    translator = QTranslator(application)
    if translator.load(locale, "qtbase", "_", QLibraryInfo.path(QLibraryInfo.LibraryPath.TranslationsPath)):
        application.installTranslator(translator)
