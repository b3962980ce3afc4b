#!/usr/bin/env python3
"""Brings the catalogues of translations up to date with the texts in the source, checks and compiles them.

usage: tools/catalogue.py update          new texts come into every catalogue, empty; those that are gone leave it
       tools/catalogue.py check           says what is missing or does not fit its original
       tools/catalogue.py compile         makes the files that the program reads (setup.py does this, too)
       tools/catalogue.py add LANGUAGE    begins a catalogue for another language, as "fr"
       tools/catalogue.py pseudo FOLDER   makes two languages that nobody speaks, for tests: a longer (qps) and one
                                          that is written from right to left (ar_XB); they are seen with
                                          NUB_SHIFT_LOCALE_DIR=FOLDER LANGUAGE=qps
"""

from __future__ import annotations

import ast
import inspect
import string
import sys
from collections.abc import Iterator
from functools import cache
from pathlib import Path
from typing import BinaryIO

from babel.messages.catalog import Catalog, Message
from babel.messages.extract import extract_from_dir
from babel.messages.mofile import write_mo
from babel.messages.pofile import read_po, write_po

ROOT = Path(__file__).resolve().parent.parent
PACKAGE = ROOT / "nub_shift"
FOLDER = PACKAGE / "translation"
DOMAIN = "nub_shift"
DEMO = "demo"  # the context of what the invented games say
LONGER, REVERSED = "qps", "ar_XB"
# Accents show at a glance what is not led through translation.
_ACCENTS = str.maketrans("aeiouyAEIOUYcnsCNS", "àéîõüýÀÉÎÕÜÝçñšÇÑŠ")

Text = tuple[str | tuple[str, str], str | None, str]  # the text or its two forms, its context, where it stands


@cache
def texts() -> tuple[Text, ...]:
    """All texts of the source that are translated: those of calls, what commands say of themselves, and the demo's."""
    return (*_of_source(), *_of_demo(), *_of_click())


def _of_source() -> Iterator[Text]:
    for path in sorted(PACKAGE.rglob("*.py")):
        where = str(path.relative_to(ROOT))
        for node in ast.walk(ast.parse(path.read_text())):
            if isinstance(node, ast.Call) and isinstance(node.func, ast.Name) and node.func.id in ("tr", "trc", "trn"):
                yield from _of_call(node, node.func.id, where)
            elif isinstance(node, ast.FunctionDef) and any(map(_is_command, node.decorator_list)):
                yield inspect.cleandoc(ast.get_docstring(node, clean=False) or ""), None, where


def _of_call(node: ast.Call, name: str, where: str) -> Iterator[Text]:
    said = [arg.value for arg in node.args if isinstance(arg, ast.Constant) and isinstance(arg.value, str)]
    match name, said:
        case "tr", [text]:
            yield text, None, where
        case "trc", [context, text]:
            yield text, context, where
        case "trn", [one, several]:
            yield (one, several), None, where
        case _ if where.startswith("nub_shift/translation/") or not said:
            pass  # a text that was put into a catalogue elsewhere
        case _:
            raise SystemExit(f"{where}:{node.lineno}: only plain texts can be put into a catalogue")


def _is_command(decorator: ast.expr) -> bool:
    return isinstance(decorator, ast.Call) and ast.unparse(decorator.func) in ("click.command", "click.group")


def _of_demo() -> Iterator[Text]:
    from nub_shift.demo.games import GAMES, demo_texts

    for game in GAMES:
        yield from ((text, DEMO, f"nub_shift/demo/{game}.toml") for text in demo_texts(game))


def _of_click() -> Iterator[Text]:
    """What the library of the commands says by itself; it asks for it in the same way."""
    import click

    for _, _, said, _, context in extract_from_dir(Path(click.__file__).parent, [("**.py", "python")]):
        text = (said[0], said[1]) if isinstance(said, tuple) else said
        yield text, context, "click"


def template() -> Catalog:
    """All texts, with nothing translated."""
    made = Catalog(project="Nub Shift", domain=DOMAIN, fuzzy=False)
    for text, context, where in texts():
        made.add(text, context=context, locations=[(where, 0)])
    return made


def catalogues() -> dict[str, Path]:
    """The file of each language."""
    return {path.parent.parent.name: path for path in sorted(FOLDER.glob(f"*/LC_MESSAGES/{DOMAIN}.po"))}


def read(language: str, path: Path) -> Catalog:
    """A catalogue as it is."""
    with path.open("rb") as file:
        return read_po(file, locale=language, domain=DOMAIN)


def update(language: str, path: Path) -> None:
    """Brings one up to date."""
    found = read(language, path) if path.exists() else Catalog(locale=language, domain=DOMAIN)
    kept = {
        (message.id if isinstance(message.id, str) else message.id[0], message.context): message for message in found
    }
    made = Catalog(locale=language, domain=DOMAIN, project="Nub Shift", fuzzy=False)
    for message in template():
        if message.id:
            before = kept.get(_key(message))
            fits = before is not None and isinstance(before.id, str) is isinstance(message.id, str)
            said = before.string if before is not None and fits else None
            made.add(message.id, said, context=message.context, locations=message.locations)
    path.parent.mkdir(parents=True, exist_ok=True)
    with path.open("wb") as file:
        _write_plainly(made, file)


def _key(message: Message) -> tuple[str, str | None]:
    return message.id if isinstance(message.id, str) else message.id[0], message.context


def _write_plainly(made: Catalog, file: BinaryIO) -> None:
    """Without lines and dates, which change with every edit and say nothing."""
    lines = [f"# {made.locale_identifier} of Nub Shift", 'msgid ""', 'msgstr ""']
    lines += [f'"Language: {made.locale_identifier}\\n"', '"Content-Type: text/plain; charset=utf-8\\n"']
    lines += ['"Content-Transfer-Encoding: 8bit\\n"', f'"Plural-Forms: {made.plural_forms}\\n"', ""]
    file.write("\n".join([*lines, ""]).encode())
    write_po(file, made, width=116, omit_header=True, include_lineno=False, sort_output=True)


def faults(language: str, path: Path) -> Iterator[str]:
    """What is missing, too much, or does not fit."""
    found = read(language, path)
    known = {(message.id, message.context) for message in found if message.id}
    wanted = {(message.id, message.context) for message in template() if message.id}
    yield from (f"{language}: lacks {text!r}" for text, _ in wanted - known)
    yield from (f"{language}: has {text!r}, which is in the source no more" for text, _ in known - wanted)
    for message in found:
        yield from (f"{language}: {message.id!r}: {wrong}" for wrong in _wrong(message) if message.id)


def _wrong(message: Message) -> Iterator[str]:
    originals = [message.id] if isinstance(message.id, str) else list(message.id)
    said = [message.string] if isinstance(message.string, str) else list(message.string or [""])
    if not all(said):
        yield "is not translated"
        return
    if message.fuzzy:
        yield "is marked as uncertain"
    for text in said:
        if not any(_places(text) == _places(original) for original in originals):
            yield f"has other places for values: {text!r}"
        if text.endswith(("\n", " ")) != originals[0].endswith(("\n", " ")):
            yield f"ends differently: {text!r}"


def _places(text: str) -> set[str]:
    """The names of values in a text; of one that is not filled, what looks like them."""
    try:
        return {name for _, name, _, _ in string.Formatter().parse(text) if name}
    except ValueError:
        return set()


def compile_all() -> None:
    """Makes what the program reads."""
    for language, path in catalogues().items():
        with path.with_suffix(".mo").open("wb") as file:
            write_mo(file, read(language, path))


def make_pseudo(folder: Path) -> None:
    """The two languages for tests."""
    for language in (LONGER, REVERSED):
        made = Catalog(locale="en" if language == LONGER else "ar", domain=DOMAIN, fuzzy=False)
        for message in template():
            if message.id:
                one = message.id if isinstance(message.id, str) else message.id[1]
                said = one if message.context in ("decimal point", DEMO) else pseudo(one, language)
                forms = said if isinstance(message.id, str) else (said,) * made.num_plurals
                made.add(message.id, forms, context=message.context)
        path = folder / language / "LC_MESSAGES" / f"{DOMAIN}.mo"
        path.parent.mkdir(parents=True, exist_ok=True)
        with path.open("wb") as file:
            write_mo(file, made)


def pseudo(text: str, language: str) -> str:
    """A text in one of them: with accents and a third longer, or in brackets that are mirrored."""
    try:
        parts = list(string.Formatter().parse(text))
    except ValueError:
        parts = [(text, None, None, None)]
    plain = "".join(part[0] for part in parts)
    said = []
    for before, name, spec, conversion in parts:
        said.append(before.translate(_ACCENTS).replace("{", "{{").replace("}", "}}"))
        if name is not None:
            said.append("{" + name + (f"!{conversion}" if conversion else "") + (f":{spec}" if spec else "") + "}")
    whole = "".join(said)
    end = len(whole) - len(whole.rstrip())
    body, tail = (whole[:-end], whole[-end:]) if end else (whole, "")
    if language == REVERSED:
        return f"\u202b{body}\u202c{tail}"
    return f"{body}{'·' * round(len(plain.strip()) * 0.3)}{tail}"


def main() -> None:
    match sys.argv[1:]:
        case ["update"]:
            for language, path in catalogues().items():
                update(language, path)
        case ["add", language]:
            update(language, FOLDER / language / "LC_MESSAGES" / f"{DOMAIN}.po")
        case ["check"]:
            wrong = [fault for language, path in catalogues().items() for fault in faults(language, path)]
            sys.exit("\n".join(wrong) or 0)
        case ["compile"]:
            compile_all()
        case ["pseudo", folder]:
            make_pseudo(Path(folder))
        case _:
            sys.exit(__doc__)


if __name__ == "__main__":
    main()
