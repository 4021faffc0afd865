"""The one way in which a name from outside becomes a path: plain, inside its folder, through no link."""

from __future__ import annotations

import re
from pathlib import Path

from elvatch.core.refusal import RefusalError

_PLAIN = re.compile(r"[A-Za-z0-9_][A-Za-z0-9_.-]{0,199}")


def inside(folder: Path, *names: str) -> Path:
    """Return the path of something in a folder, whether it is there or not.

    Parameters
    ----------
    folder : Path
        Ours; may itself be reached through links.
    names : str
        One for each level below it: letters, digits, points, dashes, no point at the beginning.

    Raises
    ------
    RefusalError
        When a name is not plain, or a link leads elsewhere.
    """
    path = folder
    for name in names:
        if not _PLAIN.fullmatch(name):
            raise RefusalError(
                "name", repr(name[:60]), "letters, digits, points and dashes", "use a name that was given"
            )
        path = path / name
        if path.is_symlink():
            raise RefusalError("name", f"{name[:60]!r}, a link", "a file or folder of its own", "put the file there")
    if not path.resolve().is_relative_to(folder.resolve()):
        raise RefusalError("name", repr(names[-1][:60]), "something in its folder", "use a name that was given")
    return path


def file_inside(folder: Path, *names: str) -> Path:
    """Return the path of a plain file that is there; see :func:`inside`."""
    path = inside(folder, *names)
    if not path.is_file():
        raise RefusalError("file", f"no file {names[-1][:60]!r}", "one that is there", "look at what there is")
    return path
