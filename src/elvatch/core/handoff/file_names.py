"""Names of handed-off files from patterns in Python's format syntax, of which only plain fields are taken."""

from __future__ import annotations

import re
import string
from collections.abc import Mapping

from elvatch.core.plain_name import plain_name
from elvatch.core.refusal import RefusalError

FIELDS = {
    "site": "the site's name",
    "map": "the values that it holds",
    "row": "the tile's row, a from the north",
    "column": "the tile's column, 1 from the west",
    "udim": "the tile's UDIM number, 1001 in the south-west",
    "k": "which of several files",
    "layer": "the layer that a share is of",
    "width": "pixels across",
    "height": "pixels down",
    "level": "a mesh's level of detail, 0 the finest",
    "view": "what a still is taken from",
}
_PLAIN_SPEC = re.compile(r"0?[0-9]{0,2}d?")
_PLAIN = re.compile(r"[A-Za-z0-9][A-Za-z0-9._-]*")
_LONGEST = 160


class Row(int):
    """A row of tiles, counted from 1: a letter by itself, a number where the pattern asks for digits."""

    def __format__(self, spec: str) -> str:
        if spec:
            return super().__format__(spec)
        letters, rest = "", int(self)
        while rest > 0:
            rest, letter = divmod(rest - 1, 26)
            letters = chr(ord("a") + letter) + letters
        return letters


def fields_of(
    title: str,
    map: str,
    row: int = 0,
    column: int = 0,
    rows: int = 1,
    level: int = 0,
    size: tuple[int, int] = (0, 0),
    view: str = "all",
) -> dict[str, object]:
    """Return the fields of a file that is not one of several, or a tile of something that has no texels."""
    return {
        "site": plain_name(title),
        "map": map,
        "row": Row(row + 1),
        "column": column + 1,
        "udim": 1001 + column + 10 * (rows - 1 - row),
        "k": 1,
        "layer": "all",
        "width": size[0],
        "height": size[1],
        "level": level,
        "view": view,
    }


def check(pattern: str) -> None:
    """Refuse a pattern that names what does not exist, or asks more of a field than its digits.

    Raises
    ------
    RefusalError
        With the pattern as typed and the fields that exist.
    """
    try:
        parts = list(string.Formatter().parse(pattern))
    except ValueError as error:
        raise RefusalError(
            repr(pattern), str(error), "braces in pairs, like {site}_{map}", "close or take out"
        ) from None
    for _text, field, spec, conversion in parts:
        if field is None:
            continue
        if field not in FIELDS:
            known = ", ".join(f"{{{one}}}" for one in FIELDS)
            raise RefusalError(repr(pattern), f"a field {{{field}}}", f"some of {known}", "choose one of these")
        if conversion or not _PLAIN_SPEC.fullmatch(spec or ""):
            raise RefusalError(repr(pattern), f"{{{field}:{spec}}}", "at most digits, like {k:02d}", "correct it")


def name_of(pattern: str, fields: Mapping[str, object], suffix: str) -> str:
    """Return the name of a file by a pattern that was checked.

    Raises
    ------
    RefusalError
        When what comes of it is no plain name.
    """
    try:
        made = pattern.format(**fields)
    except (ValueError, TypeError) as error:
        raise RefusalError(repr(pattern), str(error), "digits only of numbers", "correct it") from None
    if not _PLAIN.fullmatch(made) or len(made) > _LONGEST:
        raise RefusalError(
            repr(pattern),
            f"{made[:60]!r}",
            f"at most {_LONGEST} plain letters, digits, dots, dashes, underscores",
            "correct it",
        )
    return f"{made}.{suffix}"
