"""A suite as one pack: its layers and wear with their texture sets, to be laid on another machine."""

from __future__ import annotations

from collections.abc import Callable, Mapping
from importlib.metadata import version
from pathlib import Path
from typing import Literal

from elvatch.core.document.suite import Suite
from elvatch.core.handoff import pack
from elvatch.core.handoff.pack import Pack, Packed
from elvatch.core.stock.description import SetDescription

DESCRIPTION = "suite.json"


class PackedSuite(Packed):
    """What a suite's pack says of itself."""

    format: Literal["elvatch-suite"] = "elvatch-suite"
    version: Literal[1] = 1
    suite: Suite


SuitePack = Pack[PackedSuite, Suite]


def write(path: Path, suite: Suite, sets: Mapping[str, SetDescription], file: Callable[[str], bytes]) -> None:
    """Write a suite.

    Parameters
    ----------
    path : Path
        Where to; written beside and renamed.
    suite : Suite
        All that it is.
    sets : mapping
        Descriptions of the texture sets that it names.
    file : callable
        Returns a stored file's bytes by its content name.
    """

    def told(sizes: dict[str, int]) -> PackedSuite:
        return PackedSuite(
            made_by=f"elvatch {version('elvatch')}", suite=suite, sets=dict(sorted(sets.items())), files=sizes
        )

    pack.write(path, DESCRIPTION, pack.needed(suite, sets.values()), told, file)


def look(path: Path) -> SuitePack:
    """Look through a suite's pack without unpacking its files; see :func:`elvatch.core.handoff.pack.look`."""
    return pack.look(path, DESCRIPTION, PackedSuite, lambda told: told.suite)
