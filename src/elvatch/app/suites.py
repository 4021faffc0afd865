"""Suites of layers: kept, laid on sites, taken to other machines and brought from there."""

from __future__ import annotations

import json
import shutil
import tempfile
from pathlib import Path
from typing import IO, Self

import numpy as np
from numpy.typing import NDArray

from elvatch.app.carried import SetPacks, renamed
from elvatch.app.grounds import Grounds
from elvatch.app.marks import new_id
from elvatch.app.sets import Sets
from elvatch.core import digest
from elvatch.core.cache import Cache
from elvatch.core.document import suite as suites
from elvatch.core.document.recipe import Recipe
from elvatch.core.document.suite import SHARES, How, SpreadOf, Suite
from elvatch.core.ground.measures import MeasureName
from elvatch.core.handoff import suite_pack
from elvatch.core.handoff.suite_pack import SuitePack
from elvatch.core.plain_name import plain_name
from elvatch.core.refusal import of_disk
from elvatch.core.results import result
from elvatch.core.run import Run
from elvatch.store.store import Store

_SAMPLES = 1024
"""Along a side of the ground that tell how a measure is spread over it."""


@result
class SuiteLine:
    """A suite that is kept: its layers' names from the top down, how many wears, the site it comes from, and how
    many limits of its rules can follow the ground."""

    id: str
    name: str
    layers: list[str]
    wears: int
    of_site: str
    measured: int


@result
class SuiteLaid:
    """A recipe with a suite laid on it, what was done in words, ids of the new layers, what could not come along."""

    label: str
    recipe: Recipe
    layers: list[str]
    notes: list[str]


class BroughtSuite:
    """A packed suite on its way in, in a folder of its own that goes when it is done with."""

    pack: SuitePack

    def __init__(self, within: Path) -> None:
        self._folder = tempfile.TemporaryDirectory(prefix="suite-", dir=within)
        self.path = Path(self._folder.name) / "suite.zip"

    def close(self) -> None:
        """Let it go."""
        self._folder.cleanup()

    def __enter__(self) -> Self:
        return self

    def __exit__(self, *_how: object) -> None:
        self.close()


class Suites:
    """Suites of one store.

    Parameters
    ----------
    store : Store
        Where they are kept.
    grounds : Grounds
        What they are kept from and laid on.
    sets : Sets
        What reads sets that are brought along.
    """

    def __init__(self, store: Store, grounds: Grounds, sets: Sets) -> None:
        self._store, self._grounds = store, grounds
        self._carried = SetPacks(store, sets)
        self._spreads = Cache[NDArray[np.float64]](48)

    def all(self) -> list[SuiteLine]:
        """Return what is kept, by name."""
        return [_line(id, name, suite) for id, name, suite in self._store.suites.all()]

    def keep(self, recipe: Recipe, layers: list[str], name: str, of_site: str) -> SuiteLine:
        """Keep layers of a site under a name, in place of a suite of the same name.

        Raises
        ------
        RefusalError
            When a layer is not there, or the name is empty or too long.
        """
        return self._kept(suites.keep(recipe, layers, name, of_site, self._spread_of(recipe)))

    def _kept(self, suite: Suite) -> SuiteLine:
        id = self._store.suites.keep(suite.name, suite, suite.files(), suite.sets())
        return _line(id, suite.name, suite)

    def forget(self, id: str) -> None:
        """Keep a suite no longer; sites that it was laid on stay as they are."""
        self._store.suites.remove(id)

    def lay(self, recipe: Recipe, id: str, above: str | None, how: How) -> SuiteLaid:
        """Return a recipe with a suite laid on it; see :func:`elvatch.core.document.suite.lay`."""
        suite = self._store.suites.get(id)
        laid = suites.lay(suite, recipe, above, how, self._spread_of(recipe), new_id)
        by = "" if how == "limits" else ", by quantiles of this ground"
        return SuiteLaid(f"laid the suite {suite.name}{by}", laid.recipe, list(laid.layers), list(laid.notes))

    def packed(self, id: str) -> tuple[str, bytes]:
        """Return a suite as a file that holds all it needs, and what that is called."""
        suite = self._store.suites.get(id)
        sets = {name: self._store.stock.state(name).description for name in suite.sets()}
        with tempfile.TemporaryDirectory(prefix="suite-", dir=self._store.packs) as folder:
            path = Path(folder) / "suite.zip"
            suite_pack.write(path, suite, sets, self._store.files.get)
            return f"{plain_name(suite.name)}.suite.zip", path.read_bytes()

    def look(self, stream: IO[bytes]) -> BroughtSuite:
        """Read a packed suite, and let it go again where it is none.

        Raises
        ------
        RefusalError
            When it is no whole pack of a suite.
        """
        brought = BroughtSuite(self._store.packs)
        try:
            try:
                with brought.path.open("wb") as out:
                    shutil.copyfileobj(stream, out, 1 << 20)
            except OSError as error:
                raise of_disk("the suite", error) from None
            brought.pack = suite_pack.look(brought.path)
        except BaseException:
            brought.close()
            raise
        return brought

    def bring(self, brought: BroughtSuite, run: Run | None = None) -> SuiteLine:
        """Keep a suite that was read, with its sets: all of it, or nothing.

        Raises
        ------
        RefusalError
            When a file in it is not what it is taken for.
        """
        pack = brought.pack
        with brought, self._store.files.putting() as put:
            for one in pack.told.files:
                put(pack.file(one))
            read = self._carried.read(pack.told, run or Run())
            with self._store.database.writing():
                names = self._carried.put(read, pack.held.name)
                return self._kept(
                    Suite.model_validate_json(json.dumps(renamed(pack.held.model_dump(mode="json"), names)))
                )

    def _spread_of(self, recipe: Recipe) -> SpreadOf:
        def spread(measure: MeasureName, radius_m: float | None) -> NDArray[np.float64]:
            of = [digest.of_part(recipe.ground), digest.of_part(recipe.water), measure, radius_m]

            def make() -> NDArray[np.float64]:
                values = self._grounds.measures(recipe.ground, water=recipe.water).map(measure, radius_m)
                steps = [max(1, side // _SAMPLES) for side in values.shape]
                return np.quantile(values[:: steps[0], :: steps[1]].astype(np.float64), SHARES)

            return self._spreads.get(digest.of_json(of), make)

        return spread


def _line(id: str, name: str, suite: Suite) -> SuiteLine:
    return SuiteLine(
        id,
        name,
        [layer.name for layer in reversed(suite.layers)],
        len(suite.wears),
        suite.of_site,
        len(suite.spreads),
    )
