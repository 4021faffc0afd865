"""What can be handed off of a site: its sheets, the files they come to, their writing, what was written before."""

from __future__ import annotations

import json
import secrets
import shutil
import time
import zipfile
from collections.abc import Sequence
from datetime import UTC, datetime
from pathlib import Path
from typing import Literal

from pydantic import TypeAdapter, ValidationError

from elvatch.app.covers import Covers
from elvatch.app.grounds import Grounds
from elvatch.app.packs import Packs
from elvatch.app.stills import Stills
from elvatch.app.strews import Strews
from elvatch.core.document import begin_sheet
from elvatch.core.document.recipe import Recipe, part_from_data
from elvatch.core.document.sheet import MOST_SHEETS, Sheet
from elvatch.core.document.sheet_entry import MeshEntry
from elvatch.core.handoff import job, looking, meshes
from elvatch.core.handoff.job import Elsewhere
from elvatch.core.handoff.listing import File, Source, files_of
from elvatch.core.handoff.looking import LookedInto, Looking, Thumb, Window
from elvatch.core.handoff.manifest import FILE_NAME, AnySaid, FileSaid, Manifest, covered_by, told_of
from elvatch.core.handoff.meshes import MeshLook
from elvatch.core.handoff.tiles import sheet_grid, tiles_of
from elvatch.core.handoff.whole import Whole
from elvatch.core.handoff.wholes import wholes_of
from elvatch.core.mesh.seen import MeshEye
from elvatch.core.plain_name import plain_name
from elvatch.core.refusal import RefusalError
from elvatch.core.results import result
from elvatch.core.run import Run
from elvatch.store.paths import file_inside
from elvatch.store.sites import SiteState
from elvatch.store.store import Store

_LANDED = "landed.json"
_KEPT_SHEETS = "sheets.json"
_PART_DAYS = 7


@result
class TileBox:
    """A tile on the site, 0..1 from the west and from the north."""

    left: float
    top: float
    right: float
    bottom: float


@result
class EntryLine:
    """What an entry of a sheet comes to: the name of its first file, how many there are, bytes; the size of its maps
    in pixels, 0 where it has none."""

    id: str
    name: str
    files: int
    width_px: int
    height_px: int
    m_per_texel: float
    channels: int
    disk_bytes: int
    memory_bytes: int
    block_bytes: int
    names: list[str]
    maps: list[str]
    """Those that are maps, which can be looked into."""


@result
class SheetLines:
    """What a sheet comes to: its entries, its tiles on the site, and how fine it is against what the sets hold."""

    entries: list[EntryLine]
    tiles: list[TileBox]
    m_per_texel: float
    sets_px_per_m: tuple[float, float] | None
    disk_bytes: int
    memory_bytes: int
    block_bytes: int


@result
class WrittenFile:
    """A file that was handed off, and what its manifest says of it; its size in pixels is 0 where it is no map."""

    name: str
    entry: str
    bytes: int
    width_px: int
    height_px: int
    told: list[str]


@result
class HandedOff:
    """What was written: the folder's name, where it lies, of which sheet, when, the files in it, and whether the site
    or the sheet has changed since."""

    folder: str
    path: str
    sheet: str
    sheet_name: str
    at: str
    since: Literal["as it is", "sheet changed", "site changed"]
    bytes: int
    files: list[WrittenFile]


@result
class HandedOffs:
    """What was handed off of a site, the latest first."""

    landed: list[HandedOff]


@result
class KeptSheets:
    """Sheets that any site can take: those that come ready, and those that were kept."""

    ready: list[Sheet]
    kept: list[Sheet]


@result
class Thumbs:
    """A small picture of each entry of a sheet."""

    thumbs: list[Thumb]


class HandOffs:
    """What is handed off of the sites of one store.

    Parameters
    ----------
    store : Store
        What is kept.
    grounds, covers
        What is written.
    packs, stills
        What writes whole sites, and takes stills.
    """

    def __init__(
        self, store: Store, grounds: Grounds, covers: Covers, packs: Packs, stills: Stills, strews: Strews
    ) -> None:
        self._store, self._grounds, self._covers, self._packs = store, grounds, covers, packs
        self._stills, self._strews = stills, strews

    @property
    def folder(self) -> Path:
        """Where hand-offs from the page are written."""
        return self._store.folder / "hand-off"

    def source(self, title: str, recipe: Recipe, run: Run | None = None) -> Source:
        """Return what a recipe's hand-offs are of."""
        land = self._grounds.land(recipe.ground, None, run or Run())
        measured = self._grounds.measures(recipe.ground, water=recipe.water)
        evidence = self._covers.evidence(recipe)
        return Source(
            title,
            recipe,
            land.survey,
            measured,
            self._store.stock,
            evidence,
            lambda path, run: self._packs.pack(title, recipe, path, run),
            lambda entry, view, run: self._stills.picture(recipe, entry, view, run),
            lambda: self._strews.field(recipe, evidence),
        )

    @staticmethod
    def sheet(recipe: Recipe, wanted: str) -> Sheet:
        """Return a sheet of a recipe by its id or name.

        Raises
        ------
        RefusalError
            When there is none.
        """
        for sheet in recipe.sheets:
            if wanted == sheet.id or wanted.lower() == sheet.name.lower():
                return sheet
        known = ", ".join(sheet.name for sheet in recipe.sheets) or "none"
        raise RefusalError("sheet", repr(wanted[:80]), f"one of this site's: {known}", "choose one of these")

    def lines(self, title: str, recipe: Recipe, wanted: str) -> SheetLines:
        """Return what a sheet would come to."""
        sheet, source = self.sheet(recipe, wanted), self.source(title, recipe)
        ground = recipe.ground
        files = files_of(sheet, source)
        wholes = wholes_of(sheet, source, files)
        entries = [_line(entry.id, files, wholes, source) for entry in sheet.entries]
        grid = sheet_grid(ground, sheet)
        boxes = [
            TileBox(
                tile.cols[0] / grid.width,
                tile.rows[0] / grid.height,
                tile.cols[1] / grid.width,
                tile.rows[1] / grid.height,
            )
            for tile in tiles_of(ground, sheet, grid)
        ]
        shown = [layer for layer in source.shown if layer.set in source.sets]
        dense = [source.sets[layer.set].size / layer.fit.tile_m for layer in shown]
        return SheetLines(
            entries,
            boxes,
            ground.width_m / grid.width,
            (min(dense), max(dense)) if dense else None,
            sum(one.disk_bytes for one in entries),
            sum(file.memory_bytes for file in files),
            sum(file.block_bytes for file in files),
        )

    def look(
        self, title: str, recipe: Recipe, wanted: str, name: str, part: Window, run: Run | None = None
    ) -> LookedInto:
        """Return a part of a file that a sheet would come to."""
        source = self.source(title, recipe)
        sheet = self.sheet(recipe, wanted)
        file = next((file for file in files_of(sheet, source) if file.name == name), None)
        if file is None:
            raise RefusalError(name[:80], "no file of that name", f"one of {sheet.name}", "choose one it lists")
        return Looking(source, (run or Run()).token).into(file, part)

    def look_at_mesh(
        self,
        title: str,
        recipe: Recipe,
        wanted: str,
        entry: str,
        level: int,
        seen: MeshEye,
        size: tuple[int, int],
        run: Run | None = None,
    ) -> MeshLook:
        """Return a picture of a mesh of a sheet, as it would leave."""
        sheet = self.sheet(recipe, wanted)
        for one in sheet.entries:
            if one.id == entry and isinstance(one, MeshEntry):
                return meshes.look(one, sheet, self.source(title, recipe, run), level, seen, size, run or Run())
        raise RefusalError(sheet.name, f"no mesh {entry[:40]!r}", "one that it lists", "choose one of these")

    def thumbs(self, title: str, recipe: Recipe, wanted: str, run: Run | None = None) -> Thumbs:
        """Return a small picture of each entry of a sheet."""
        source = self.source(title, recipe)
        files = files_of(self.sheet(recipe, wanted), source)
        return Thumbs(Looking(source, (run or Run()).token).thumbs(files))

    def bake(
        self,
        title: str,
        recipe: Recipe,
        sheet: Sheet,
        out: Path,
        run: Run | None = None,
        elsewhere: Elsewhere | None = None,
    ) -> list[Path]:
        """Write a sheet's files into a folder; see :func:`elvatch.core.handoff.job.write`."""
        return job.write(sheet, self.source(title, recipe, run), out, run, elsewhere)

    def check(self, state: SiteState, wanted: str) -> None:
        """Refuse a sheet that cannot be written, before a job begins."""
        sheet, source = self.sheet(state.recipe, wanted), self.source(state.title, state.recipe)
        wholes_of(sheet, source, files_of(sheet, source))

    def write(self, state: SiteState, wanted: str, run: Run | None = None) -> HandedOff:
        """Write a sheet of a site into a new folder of the data folder."""
        sheet = self.sheet(state.recipe, wanted)
        stamp = datetime.now(UTC).strftime("%Y%m%d-%H%M%S")
        folder = f"{plain_name(state.title)}_{plain_name(sheet.name)}_{stamp}_{secrets.token_hex(2)}"
        out = self.folder / folder
        self.bake(state.title, state.recipe, sheet, out, run)
        told = {"site": state.id, "at": datetime.now(UTC).isoformat(timespec="seconds")}
        job.keep(out / _LANDED, json.dumps(told).encode())
        found = self._landed(folder, state)
        if found is None:
            raise RefusalError(folder, "nothing", "what was just written", "write it again")
        return found

    def landed(self, state: SiteState) -> HandedOffs:
        """Return what was handed off of a site from the page, the latest first."""
        found = [self._landed(path.parent.name, state) for path in self.folder.glob(f"*/{_LANDED}")]
        return HandedOffs(sorted((one for one in found if one), key=lambda one: one.at, reverse=True))

    def _landed(self, folder: str, state: SiteState) -> HandedOff | None:
        try:
            told = json.loads((self.folder / folder / _LANDED).read_text(encoding="utf-8"))
            manifest = self._manifest(folder)
        except (OSError, ValueError):
            return None
        if not isinstance(told, dict) or told.get("site") != state.id:
            return None
        now = next((sheet for sheet in state.recipe.sheets if sheet.id == manifest.sheet.id), None)
        since: Literal["as it is", "sheet changed", "site changed"] = (
            "site changed"
            if manifest.recipe != covered_by(state.recipe)
            else "as it is"
            if now == manifest.sheet
            else "sheet changed"
        )
        files = [
            WrittenFile(
                one.name,
                one.entry,
                one.bytes,
                one.width_px if isinstance(one, FileSaid) else 0,
                one.height_px if isinstance(one, FileSaid) else 0,
                told_of(one),
            )
            for one in manifest.files
        ]
        return HandedOff(
            folder,
            str(self.folder / folder),
            manifest.sheet.id,
            manifest.sheet.name,
            str(told.get("at", "")),
            since,
            sum(file.bytes for file in files),
            files,
        )

    def _manifest(self, folder: str) -> Manifest:
        try:
            return Manifest.model_validate_json(file_inside(self.folder, folder, FILE_NAME).read_bytes())
        except (OSError, ValidationError):
            raise RefusalError(folder[:60], "a damaged manifest", "that of a hand-off", "write it again") from None

    def _said(self, folder: str, name: str) -> AnySaid:
        for file in self._manifest(folder).files:
            if file.name == name:
                return file
        raise RefusalError(name[:60], "a file that the sheet does not list", "one it lists", "choose one of those")

    def file(self, folder: str, name: str) -> Path:
        """Return the path of a file that a hand-off wrote: one that its manifest lists, and no other.

        Raises
        ------
        RefusalError
            When there is no such hand-off, or its manifest does not list the file.
        """
        if name != FILE_NAME:
            self._said(folder, name)
        else:
            self._manifest(folder)
        return file_inside(self.folder, folder, name)

    def look_landed(self, folder: str, name: str, part: Window) -> LookedInto:
        """Return a part of a file that was written."""
        said = self._said(folder, name)
        if not isinstance(said, FileSaid):
            raise RefusalError(name, "no map", "a map", "open it in what it is made for")
        return looking.landed(file_inside(self.folder, folder, name), said, part)

    def zipped(self, folder: str) -> Path:
        """Return one archive of all files of a hand-off, made when it is first asked for."""
        manifest = self._manifest(folder)
        path = self.folder / folder / f".{plain_name(folder)}.zip"
        if not path.exists():
            beside = path.with_name(f".{secrets.token_hex(4)}.zip-new")
            try:
                with zipfile.ZipFile(beside, "w", zipfile.ZIP_STORED) as archive:
                    for name in (*(file.name for file in manifest.files), FILE_NAME):
                        archive.write(file_inside(self.folder, folder, name), name)
                beside.replace(path)
            finally:
                beside.unlink(missing_ok=True)
        return path

    def discard(self, folder: str, state: SiteState) -> HandedOffs:
        """Take away what was handed off; return what is left."""
        self._manifest(folder)
        shutil.rmtree(file_inside(self.folder, folder, FILE_NAME).parent)
        return self.landed(state)

    def kept_sheets(self) -> KeptSheets:
        """Return the sheets that any site can take."""
        try:
            kept = TypeAdapter(list[Sheet]).validate_json((self._store.folder / _KEPT_SHEETS).read_bytes())
        except (OSError, ValidationError):
            kept = []
        return KeptSheets(list(begin_sheet.READY), kept)

    def keep_sheet(self, data: object) -> KeptSheets:
        """Keep a sheet for all sites, in place of one of the same name."""
        sheet = part_from_data(Sheet, "sheet", data)
        kept = [one for one in self.kept_sheets().kept if one.name != sheet.name]
        if len(kept) >= MOST_SHEETS:
            raise RefusalError("kept sheets", f"{len(kept)}", f"at most {MOST_SHEETS}", "forget one first")
        return self._keep([*kept, sheet])

    def forget_sheet(self, name: str) -> KeptSheets:
        """Keep a sheet no longer."""
        return self._keep([one for one in self.kept_sheets().kept if one.name != name])

    def _keep(self, sheets: Sequence[Sheet]) -> KeptSheets:
        text = json.dumps([sheet.model_dump(mode="json") for sheet in sheets], indent=2)
        job.keep(self._store.folder / _KEPT_SHEETS, text.encode())
        return self.kept_sheets()

    def tidy(self) -> None:
        """Clear away what was left unfinished for long, or without a finished tile."""
        for part in self.folder.glob(job.PART + "*"):
            begun = (part / job.DONE).exists()
            if not begun or time.time() - part.stat().st_mtime > _PART_DAYS * 86_400:
                shutil.rmtree(part, ignore_errors=True)


def _line(entry: str, files: Sequence[File], wholes: Sequence[Whole], source: Source) -> EntryLine:
    maps = [file for file in files if file.entry.id == entry]
    kept = [file for file in maps if file.kept]
    made = [one for one in wholes if one.entry == entry]
    names = [*(name for one in made for name in one.names), *(file.name for file in kept)]
    first = maps[0] if maps else None
    size = (first.image.width, first.image.height, first.image.channels) if first else (0, 0, 0)
    return EntryLine(
        entry,
        names[0],
        len(names),
        size[0],
        size[1],
        max(first.grid.cell_m(source.survey)) if first else 0.0,
        size[2],
        sum(file.disk_bytes for file in maps) + sum(one.about_bytes for one in made),
        sum(file.memory_bytes for file in maps),
        sum(file.block_bytes for file in maps),
        names,
        [file.name for file in kept],
    )
