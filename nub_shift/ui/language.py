"""Qt in the reader's language: numbers, direction of writing, and Qt's own texts."""

from __future__ import annotations

from PyQt6.QtCore import QLibraryInfo, QLocale, QTranslator
from PyQt6.QtWidgets import QApplication

from nub_shift.translation import LANGUAGE


def speak(application: QApplication) -> None:
    """Sets the language of all windows of an application."""
    locale = QLocale(LANGUAGE)
    locale.setNumberOptions(QLocale.NumberOption.OmitGroupSeparator)  # group separators are not typed
    QLocale.setDefault(locale)
    application.setLayoutDirection(locale.textDirection())
    translator = QTranslator(application)
    if translator.load(locale, "qtbase", "_", QLibraryInfo.path(QLibraryInfo.LibraryPath.TranslationsPath)):
        application.installTranslator(translator)
