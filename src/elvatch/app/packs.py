"""Whole sites out and in: packed with all they need, looked through, opened whole or not at all."""

from __future__ import annotations

import re
import secrets
import shutil
import time
from pathlib import Path
from typing import IO

from elvatch.app.carried import SetPacks, renamed
from elvatch.app.covers import Covers
from elvatch.app.grounds import Grounds
from elvatch.app.panoramas import Panoramas
from elvatch.app.references import References
from elvatch.app.sets import Sets
from elvatch.core import digest
from elvatch.core.document.marks import TILE
from elvatch.core.document.recipe import Recipe, from_data
from elvatch.core.ground.description import FileSource
from elvatch.core.handoff import site_pack
from elvatch.core.plain_name import plain_name
from elvatch.core.refusal import RefusalError, of_disk
from elvatch.core.results import result
from elvatch.core.run import Run
from elvatch.store.paths import file_inside
from elvatch.store.sites import SiteState
from elvatch.store.store import Store

_ID = re.compile(r"[0-9a-f]{16}")
_FORGOTTEN_S = 24 * 3600


@result
class PackFacts:
    """What a pack holds: the site's title and size, how many of its sets are in the stock already, the same in lines
    for people."""

    pack: str
    title: str
    width_m: float
    depth_m: float
    layers: int
    steps: int
    wears: int
    sets: list[str]
    known_sets: int
    files: int
    bytes: int
    made_by: str
    told: list[str]


class Packs:
    """Whole sites of one store.

    Parameters
    ----------
    store : Store
        What is kept.
    sets, grounds, covers, panoramas, references
        What reads what is brought in.
    """

    def __init__(
        self,
        store: Store,
        sets: Sets,
        grounds: Grounds,
        covers: Covers,
        panoramas: Panoramas,
        references: References,
    ) -> None:
        self._store, self._grounds, self._covers, self._panoramas = store, grounds, covers, panoramas
        self._references = references
        self._carried = SetPacks(store, sets)

    @staticmethod
    def file_name(state: SiteState) -> str:
        """Return what the pack of a site is called."""
        return f"{plain_name(state.title)}.elvatch.zip"

    def packed(self, state: SiteState) -> Path:
        """Return a site as one file, made when it is first asked for as it is now."""
        contents = self._store.stock.contents(state.recipe.sets())
        name = digest.of_json([state.title, state.recipe.model_dump(mode="json"), contents])
        path = self._store.packs / f"out-{name}.zip"
        if not path.exists():
            for older in self._store.packs.glob("out-*.zip"):
                older.unlink(missing_ok=True)
            self.pack(state.title, state.recipe, path)
        return path

    def bring(self, stream: IO[bytes]) -> PackFacts:
        """Keep a pack until it is opened or let go; return what it holds. One that is none goes again."""
        for older in self._store.packs.glob("in-*.zip"):
            if time.time() - older.stat().st_mtime > _FORGOTTEN_S:
                older.unlink(missing_ok=True)
        id = secrets.token_hex(8)
        path = self._store.packs / f"in-{id}.zip"
        try:
            with path.open("wb") as out:
                shutil.copyfileobj(stream, out, 1 << 20)
            return self.facts(path, id)
        except BaseException as error:
            path.unlink(missing_ok=True)
            if isinstance(error, OSError):
                raise of_disk("the pack", error) from None
            raise

    def brought(self, id: str) -> Path:
        """Return where a pack lies that was brought."""
        if not _ID.fullmatch(id):
            raise RefusalError("the pack", repr(id[:40]), "one that was brought", "drop it again")
        return file_inside(self._store.packs, f"in-{id}.zip")

    def open_brought(self, path: Path, run: Run) -> SiteState:
        """Open a pack that was brought, and let it go."""
        state = self.open(path, run)
        path.unlink(missing_ok=True)
        return state

    def tidy(self) -> None:
        """Clear away packs that an earlier run left."""
        shutil.rmtree(self._store.folder / "packs", ignore_errors=True)

    def pack(self, title: str, recipe: Recipe, path: Path, run: Run | None = None) -> list[str]:
        """Write a site with all that it needs; return what is in it, in lines."""
        lost = [name for name in recipe.sets() if name not in self._store.stock]
        if lost:
            raise RefusalError(title, "a texture set that is not in the stock", "all that it uses", "choose another")
        sets = {name: self._store.stock.state(name).description for name in recipe.sets()}
        return site_pack.write(path, title, recipe, sets, self._store.files.get, run)

    def facts(self, path: Path, name: str = "") -> PackFacts:
        """Return what a pack holds, before it is opened."""
        pack = site_pack.look(path)
        told, recipe, ground = pack.told, pack.held, pack.held.ground
        known = len(self._carried.known(told))
        return PackFacts(
            name or path.name,
            told.title,
            ground.width_m,
            ground.depth_m,
            len(recipe.layers),
            len(ground.steps),
            len(recipe.wears),
            sorted(one.title for one in told.sets.values()),
            known,
            len(told.files),
            sum(told.files.values()),
            told.made_by,
            site_pack.lines_of(told, recipe),
        )

    def open(self, path: Path, run: Run | None = None) -> SiteState:
        """Make a site of a pack: all of it, or nothing.

        Raises
        ------
        RefusalError
            When it is no whole pack, or a file in it is not what the recipe takes it for. Nothing is kept.
        """
        run = run or Run()
        pack = site_pack.look(path)
        with self._store.files.putting() as put:
            for k, name in enumerate(pack.told.files):
                put(pack.file(name))
                run.at(0.4 * (k + 1) / len(pack.told.files))
            self._check(pack.held)
            taken = self._carried.read(pack.told, run.part(0.4, 1))
            run.token.check()
            # sets and site come to be together, or neither
            with self._store.database.writing():
                names = self._carried.put(taken, pack.told.title)
                recipe = from_data(renamed(pack.held.model_dump(mode="json"), names))
                return self._store.sites.add(pack.told.title, recipe, "opened from a pack")

    def _check(self, recipe: Recipe) -> None:
        """Refuse files that are not what a recipe takes them for."""
        ground = recipe.ground
        if isinstance(ground.source, FileSource):
            self._grounds.files.read(ground.source.file, ground.source.file_name, ground.source.reading)
        self._grounds.image(ground)
        for mask in recipe.marks.masks:
            for tile in mask.tiles:
                if self._covers.tile(tile.file).shape != (TILE, TILE):
                    raise RefusalError(mask.name, "a tile of another size", f"{TILE} x {TILE}", "pack the site again")
        for image in recipe.marks.images:
            self._covers.packed(image.file, image.file_name)
        for cover in (thing.cover for thing in recipe.things):
            for painted in cover.masks:
                self._covers.surface(painted)
            for laid in cover.images:
                self._covers.packed(laid.file, laid.file_name)
        for light in (recipe.light, *(shot.light for shot in recipe.shots if shot.light)):
            self._panoramas.of(light)
        for photograph in recipe.references:
            self._references.pixels(photograph.file)
