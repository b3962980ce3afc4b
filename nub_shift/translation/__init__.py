"""Texts and numbers in the reader's language, from gettext catalogues.

The language is chosen at import, from the environment as in gettext (LANGUAGE, LC_ALL, LC_MESSAGES, LANG), so that
constants may be translated texts. Texts in the source are English, and shown unchanged without a catalogue.
"""

from __future__ import annotations

import os
import re
from functools import cache
from pathlib import Path
from typing import TYPE_CHECKING, Any

if TYPE_CHECKING:
    from collections.abc import Callable
    from datetime import date, datetime
    from gettext import NullTranslations

DOMAIN = "nub_shift"
SOURCE_LANGUAGE = "en"
# Folder of the catalogues, which translators may override.
FOLDER = Path(os.environ.get("NUB_SHIFT_LOCALE_DIR") or Path(__file__).parent)
_UNIT = re.compile(r"(?<=[0-9}]) (?=(?:ms|s|%|°|Hz|px)(?![a-z]))")
_VARIABLES = ("LANGUAGE", "LC_ALL", "LC_MESSAGES", "LANG")


def _catalogue() -> NullTranslations | None:
    requested = next((os.environ[name] for name in _VARIABLES if os.environ.get(name)), "")
    if not requested or requested.startswith((SOURCE_LANGUAGE, "C")):
        return None  # the usual case, which needs no catalogue reader
    import gettext

    return gettext.translation(DOMAIN, FOLDER, fallback=True)


_FOUND = _catalogue()
if _FOUND is not None:
    # Libraries that use gettext find their texts in our catalogue, too.
    import locale
    from contextlib import suppress
    from gettext import bindtextdomain, textdomain

    bindtextdomain(DOMAIN, str(FOLDER))
    textdomain(DOMAIN)
    with suppress(locale.Error):  # the system may lack that language; its own messages are then English
        locale.setlocale(locale.LC_MESSAGES, "")
LANGUAGE: str = (_FOUND.info().get("language") if _FOUND is not None else "") or SOURCE_LANGUAGE


def tr(text: str, **values: Any) -> str:
    """Returns a text in the reader's language, with values for its named places: `tr("{pad} is here", pad=…)`.

    Numbers formatted in the text have that language's decimal point.
    """
    said = _FOUND.gettext(text) if _FOUND is not None else unbroken(text)
    return _filled(said, values) if values else said


def trc(context: str, text: str, **values: Any) -> str:
    """Returns an ambiguous text in the reader's language; `context` tells translators which meaning is intended."""
    said = _FOUND.pgettext(context, text) if _FOUND is not None else unbroken(text)
    return _filled(said, values) if values else said


def trn(one: str, several: str, count: int, **values: Any) -> str:
    """Returns the form of a text for a number, available as `{count}`."""
    said = _FOUND.ngettext(one, several, count) if _FOUND is not None else unbroken(one if count == 1 else several)
    return _filled(said, {"count": count, **values})


@cache
def unbroken(text: str) -> str:
    """Returns an English text with no-break spaces between numbers, or places for numbers, and their units.

    Catalogues contain such spaces themselves.
    """
    return _UNIT.sub("\N{NO-BREAK SPACE}", text)


def number_text(value: float, spec: str = "g") -> str:
    """Returns a number formatted as by `format`, with the decimal point of the reader's language."""
    return format(value, spec).replace(".", DECIMAL_POINT)


def day_text(day: date) -> str:
    """Returns a day with its year, such as "27 November 2026"."""
    from babel.dates import format_date

    return format_date(day, "long", locale=_date_locale())


def moment_text(moment: datetime, year: bool = False, seconds: bool = False) -> str:
    """Returns a day and time, such as "27 November, 14:05"."""
    from babel.dates import format_skeleton, format_time

    day = day_text(moment.date()) if year else format_skeleton("MMMMd", moment, locale=_date_locale())
    return f"{day}, {format_time(moment, 'medium' if seconds else 'short', locale=_date_locale())}"


def _date_locale() -> str:
    from babel import Locale, UnknownLocaleError

    if LANGUAGE == SOURCE_LANGUAGE:
        return "en_GB"  # has the day before the month, and 24 hours
    try:
        return str(Locale.parse(LANGUAGE))
    except (UnknownLocaleError, ValueError):
        return "en_GB"


def inside(label: str) -> str:
    """Returns a label in its form within a sentence: "Left stick" becomes "left stick", "D-pad" stays.

    Only English labels begin with a capital letter that they lose within a sentence.
    """
    if LANGUAGE != SOURCE_LANGUAGE:
        return label
    return label if label[1:2] == "-" else label[:1].lower() + label[1:]


def beginning(words: str) -> str:
    """Returns words in their form at the beginning of a line, the inverse of `inside`."""
    return words[:1].upper() + words[1:]


DECIMAL_POINT = trc("decimal point", ".")


def _make_filler() -> Callable[[str, dict[str, Any]], str]:
    if DECIMAL_POINT == ".":
        return lambda text, values: text.format(**values)
    from string import Formatter

    class Localised(Formatter):
        def format_field(self, value: Any, format_spec: str) -> Any:
            shown = super().format_field(value, format_spec)
            return shown.replace(".", DECIMAL_POINT) if isinstance(value, float) else shown

    formatter = Localised()
    return lambda text, values: formatter.vformat(text, (), values)


_filled = _make_filler()
