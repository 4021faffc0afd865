"""Files from outside, told apart into sets: by their names and by their pixels, each guess with its reason.

Where the two disagree the pixels win, and the reason says so.
"""

from __future__ import annotations

from dataclasses import dataclass, field, replace
from pathlib import PurePosixPath

import numpy as np
from numpy.typing import NDArray

from elvatch.core.refusal import RefusalError
from elvatch.core.stock import category, names, roles
from elvatch.core.stock.description import Category
from elvatch.core.stock.green import GreenAxis
from elvatch.core.stock.manifest import SetManifest
from elvatch.core.stock.names import NameFacts
from elvatch.core.stock.pixels import PixelFacts
from elvatch.core.stock.roles import Meaning, Role

_WET = 0.38
"""Ground whose roughness is lower than this on average looks wet all over."""


@dataclass(frozen=True)
class DecodedFile:
    """A file that was decoded once: its path as text, its size, bits and what its pixels look like.

    ``green`` is what the curl of its slopes says, for one that looks like a normal map; ``middle`` a
    piece of its middle, 0..1, for one that looks like a normal or a height map.
    """

    path: str
    width_px: int
    height_px: int
    bits: int
    looks: PixelFacts
    notes: tuple[str, ...] = ()
    green: GreenAxis | None = None
    middle: NDArray[np.float32] | None = None


@dataclass(frozen=True)
class FileGuess:
    """What a file is taken for, how surely (0..1), why, and what the user should know of it.

    ``turn_green`` says that a normal map's green axis points down and is to be turned over.
    """

    seen: DecodedFile
    meaning: Meaning
    sure: float
    reason: str
    warnings: tuple[str, ...] = ()
    turn_green: bool = False


@dataclass
class SetGuess:
    """Files that belong together, and what is proposed for the set.

    ``relief_share`` is the relief read off its normal map, as a share of what one repeat covers; None
    where there is none to read.
    """

    title: str
    category: Category
    tile_m: float
    tile_reason: str
    files: list[FileGuess] = field(default_factory=list)
    warnings: list[str] = field(default_factory=list)
    manifest: SetManifest | None = None
    relief_share: float | None = None


_Read = tuple[DecodedFile, NameFacts]


def recognise(seen: list[DecodedFile], default_title: str) -> list[SetGuess]:
    """Tell sets apart and guess what each file is.

    Parameters
    ----------
    seen : list of DecodedFile
        All files of one drop.
    default_title : str
        Name of the set whose files name none, usually that of the archive or folder.

    Returns
    -------
    list of SetGuess
        By title; files by what they are taken for.
    """
    groups: dict[str, list[_Read]] = {}
    for one in seen:
        said = names.read(one.path)
        groups.setdefault(said.key, []).append((one, said))
    _join_strays(groups)
    apart = [part for found in groups.values() for part in _by_folder(found)]
    return sorted((_set(found, default_title) for found in apart), key=lambda made: made.title.casefold())


def _by_folder(found: list[_Read]) -> list[list[_Read]]:
    """Divide files of one name that lie in folders of different names and would fill the same roles."""
    folders: dict[str, list[_Read]] = {}
    for one, said in found:
        folders.setdefault(names.folder_title(one.path), []).append((one, said))
    filled = [{said.meaning for _, said in part if said.meaning} for part in folders.values()]
    clash = any(a & b for k, a in enumerate(filled) for b in filled[k + 1 :])
    if len(folders) < 2 or not clash:
        return [found]
    return [
        [(one, replace(said, title=f"{said.title} {folder}".strip())) for one, said in part]
        for folder, part in folders.items()
    ]


def _join_strays(groups: dict[str, list[_Read]]) -> None:
    """Files that name no set belong to the only one there is."""
    if len(groups) == 2 and "" in groups:
        strays = groups.pop("")
        next(iter(groups.values())).extend(strays)
    # a picture of the whole with nothing but the name of a set inside a longer name joins that set
    for key in list(groups):
        longer = [other for other in groups if other != key and other.startswith(key + " ")]
        if len(groups[key]) == 1 and groups[key][0][1].meaning is None and len(longer) == 1:
            groups[longer[0]].extend(groups.pop(key))


def _set(found: list[_Read], default_title: str) -> SetGuess:
    title = next((said.title for _, said in found if said.title), "") or default_title
    filed = category.guess(" ".join([title, default_title]))
    told = next((said.tile_m for _, said in found if said.tile_m), None)
    tile, why = (told, "told by the name") if told else (category.TILE_M[filed], f"usual for {filed}")
    guesses = [_file(one, said) for one, said in found]
    if filed == "overlay" and len(guesses) == 1 and found[0][1].meaning is None:
        guesses = [_as_overlay(guesses[0])]
    made = SetGuess(title[:80], filed, tile, why, sorted(_one_each(guesses), key=_order))
    made.warnings.extend(_set_warnings(made))
    return made


def _as_overlay(guess: FileGuess) -> FileGuess:
    """Return a lone image that is filed as an overlay as what it is: one channel of raw numbers."""
    said = ("a picture in colours: its brightness is taken",) if guess.seen.looks.coloured else ()
    reason = "one image, filed as an overlay: its numbers as they are, never decoded"
    return replace(guess, meaning="mask", sure=0.8, reason=reason, warnings=(*guess.warnings, *said))


def _order(guess: FileGuess) -> tuple[int, str]:
    return roles.MEANINGS.index(guess.meaning), guess.seen.path


def _file(seen: DecodedFile, said: NameFacts) -> FileGuess:
    by_name = said.meaning
    if by_name is None:
        meaning, sure, reason = _by_pixels(seen)
        return _with_green(FileGuess(seen, meaning, sure, reason, seen.notes), said)
    reason = f"“{said.word}” in its name"
    against = _against(by_name, seen.looks)
    if against is None:
        return _with_green(FileGuess(seen, by_name, said.sure, reason, (*seen.notes, *_doubts(by_name, seen))), said)
    meaning, why = against
    message = f"named {roles.title(by_name)} (“{said.word}”), but {why}: taken as {roles.title(meaning)}"
    return _with_green(FileGuess(seen, meaning, 0.8, why, (*seen.notes, message)), said)


def _with_green(guess: FileGuess, said: NameFacts) -> FileGuess:
    """Say which way a normal map's green axis points: what the pixels say, else the name, else up."""
    found = guess.seen.green
    if guess.meaning != "normal" or found is None:
        return guess
    if found.points == "cannot tell":
        told = f"told {said.green} by the name" if said.green else "taken as up"
        warning = f"its green axis cannot be told ({found.by}); {told}"
        return replace(guess, turn_green=said.green == "down", warnings=(*guess.warnings, warning))
    sure = f"{found.by}, confidence {found.confidence:.2f}"
    warnings = guess.warnings
    if said.green and said.green != found.points:
        warnings = (*warnings, f"its name says that green points {said.green}, but it points {found.points} ({sure})")
    elif found.points == "down":
        warnings = (*warnings, f"its green axis points down ({sure}); it is turned over on the way in")
    return replace(guess, turn_green=found.points == "down", warnings=warnings)


def _against(by_name: Meaning, looks: PixelFacts) -> tuple[Meaning, str] | None:
    """Return what the pixels say instead of the name, where they are plain about it."""
    if by_name == "left-out":
        return None
    if by_name == "normal":
        if looks.normal or looks.flat:
            return None
        if looks.grey:
            return "height", "it is grey, so it can hold no directions"
        return ("colour", "its pixels are no unit vectors") if looks.unit_share < 0.35 else None
    if looks.normal and not looks.flat:
        return "normal", "its pixels are unit vectors, as of a normal map"
    if roles.coloured(by_name) or by_name.startswith("packed-"):
        return None
    if looks.packed:
        return "packed-orm", "its channels are different maps"
    return ("colour", "it is a picture in colours") if looks.colour_spread > 0.05 else None


def _doubts(by_name: Meaning, seen: DecodedFile) -> tuple[str, ...]:
    """Return what is odd about a file that is otherwise what its name says."""
    looks = seen.looks
    if by_name == "roughness" and looks.mean < _WET:
        return (f"as roughness it would look wet all over (mean {looks.mean:.2f}): is it gloss?",)
    if by_name == "gloss" and looks.mean > 1 - _WET:
        return (f"as gloss it would look wet all over (mean {looks.mean:.2f}): is it roughness?",)
    if by_name == "height" and seen.bits == 8:
        return ("8 bits of height step; 16 are better",)
    if by_name == "mask" and looks.mean > 0.6:
        return (f"it is dark on light (mean {looks.mean:.2f}); masks work where they are light",)
    if not roles.coloured(by_name) and roles.packed(by_name) == () and by_name != "normal" and looks.coloured:
        return ("its channels differ a little; their brightness is taken",)
    return ()


def _by_pixels(seen: DecodedFile) -> tuple[Meaning, float, str]:
    looks = seen.looks
    if looks.normal and not looks.flat:
        return "normal", 0.9, "its pixels are unit vectors; its name says nothing"
    if looks.packed:
        return "packed-orm", 0.4, "its channels are different maps; the order is a guess"
    if looks.coloured:
        return "colour", 0.85, "it is a picture in colours; its name says nothing"
    if looks.mean > 0.75:
        return "occlusion", 0.35, "it is grey and mostly white; its name says nothing"
    if looks.ends > 0.8:
        return "mask", 0.4, "it is nearly black and white; its name says nothing"
    return "height", 0.35, "it is grey with all tones; its name says nothing"


def _one_each(guesses: list[FileGuess]) -> list[FileGuess]:
    """Leave one file for each role: the surer, then the larger, then the deeper."""
    taken: dict[Role, FileGuess] = {}
    out: list[FileGuess] = []

    def worst_last(guess: FileGuess) -> tuple[bool, float, int, int]:
        seen = guess.seen
        return bool(roles.packed(guess.meaning)), -guess.sure, -seen.width_px * seen.height_px, -seen.bits

    for guess in sorted(guesses, key=worst_last):
        wanted = roles.gives(guess.meaning)
        free = [role for role in wanted if role not in taken]
        if wanted and not free:
            other = taken[wanted[0]]
            name = PurePosixPath(other.seen.path).name
            why = f"a second {roles.FACTS[wanted[0]].title} map beside {name}"
            out.append(replace(guess, meaning="left-out", reason=why))
            continue
        for role in free:
            taken[role] = guess
        out.append(guess)
    return out


def _set_warnings(made: SetGuess) -> list[str]:
    kept = [guess for guess in made.files if guess.meaning != "left-out"]
    has = {role for guess in kept for role in roles.gives(guess.meaning)}
    warnings = [
        f"{PurePosixPath(guess.seen.path).name} is left out: {guess.reason}"
        for guess in made.files
        if guess.reason.startswith("a second")
    ]
    if "colour" not in has and "mask" not in has:
        warnings.append("it has no base colour; a plain grey stands in for it")
    sizes = {(guess.seen.width_px, guess.seen.height_px) for guess in kept}
    if len(sizes) > 1:
        listed = ", ".join(f"{w} x {h}" for w, h in sorted(sizes, reverse=True))
        warnings.append(f"its maps have different sizes ({listed}); each is kept, covers look them up at one size")
    if any(w != h for w, h in sizes):
        warnings.append(
            "it is not square: a whole multiple is repeated to a square, anything else is cut to its middle"
        )
    return warnings


def refused(path: str, error: RefusalError) -> str:
    """Return what is said of a file that could not be taken."""
    return f"{PurePosixPath(path).name}: found {error.found}, expected {error.expected}; {error.todo}"
