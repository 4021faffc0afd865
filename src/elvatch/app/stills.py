"""Stills of a site: what is asked of them, and the files that come of it."""

from __future__ import annotations

import datetime
import io
import math
import secrets
import shutil
from collections.abc import Iterator
from dataclasses import dataclass
from pathlib import Path
from typing import Annotated, Literal, get_args

import numpy as np
from numpy.typing import NDArray
from PIL import Image
from pydantic import Field

from elvatch.app.covers import Covers
from elvatch.app.grounds import Grounds
from elvatch.app.panoramas import Panoramas
from elvatch.app.strews import Strews
from elvatch.core.document.light import Light, When
from elvatch.core.document.recipe import Recipe, Shot
from elvatch.core.document.sheet_entry import StillsEntry
from elvatch.core.formats import exr, png
from elvatch.core.light import sun
from elvatch.core.parts import Part, PartId
from elvatch.core.picture import still as stills
from elvatch.core.picture.picture import StandName
from elvatch.core.picture.still import MOST_PX, MOST_RAYS, PassName, Still
from elvatch.core.plain_name import plain_name
from elvatch.core.refusal import RefusalError, of_disk
from elvatch.core.results import result
from elvatch.core.run import Run
from elvatch.core.shown import Shown
from elvatch.store.paths import file_inside
from elvatch.store.store import Store

Sequence = Literal["one", "turn", "day"]
Moving = Literal["webp", "png"]
_MOST_PASS_BYTES = 3 << 30
_MOST_MOVING_PX = 2048
_MOST_MOVING_BYTES = 1 << 30
_GUTTER_PX = 16
_SHEET_ACROSS_PX = 4096


class StillAsk(Part):
    """What is asked of stills: of which views, how large, with what beside them, one or a sequence of each."""

    stands: tuple[StandName, ...] = Field(default=(), max_length=3)
    shots: tuple[PartId, ...] = Field(default=(), max_length=64)
    width_px: Annotated[int, Shown("Width", "px", 16, MOST_PX, 1)] = Field(default=1920, ge=16, le=MOST_PX)
    height_px: Annotated[int, Shown("Height", "px", 16, MOST_PX, 1)] = Field(default=1080, ge=16, le=MOST_PX)
    rays: Annotated[int, Shown("Rays a pixel", "", 1, MOST_RAYS, 1)] = Field(default=16, ge=1, le=MOST_RAYS)
    passes: tuple[PassName, ...] = ()
    warmth: Annotated[float, Shown("Warmth", "", -1, 1, 0.01, 2, hint="Turns white to blue or amber")] = Field(
        default=0.0, ge=-1, le=1
    )
    contrast: Annotated[float, Shown("Contrast", "", 0, 1, 0.01, 2, hint="An S about middle grey")] = Field(
        default=0.0, ge=0, le=1
    )
    sequence: Sequence = "one"
    frames: Annotated[int, Shown("Frames", "", 2, 480, 1)] = Field(default=48, ge=2, le=480)
    seconds: Annotated[float, Shown("Lasts", "s", 0.5, 120, 0.5, 1)] = Field(default=6.0, ge=0.5, le=120)
    moving: Moving = "webp"
    sheet: bool = False


@result
class StillFile:
    """A file that was written."""

    name: str
    bytes: int


@result
class StillsTaken:
    """What was taken: the folder's name, where it lies, and the files in it."""

    folder: str
    path: str
    files: list[StillFile]


@dataclass(frozen=True)
class _View:
    name: str
    shot: Shot


@result
class SunPlace:
    """Where the sun stands, degrees."""

    bearing_deg: float
    height_deg: float


def sun_place(when: When) -> SunPlace:
    """Return where the sun stands at a latitude, date and hour."""
    bearing, height = sun.place(when.latitude_deg, when.day, when.hour)
    return SunPlace(round(bearing, 2), round(height, 2))


def at_sun(light: Light, when: When) -> Light:
    """Return a light with its sun where it stands at a latitude, date and hour; at least its whole disc is up."""
    place = sun_place(when)
    height = max(place.height_deg, 0.3)
    return light.model_copy(update={"sun_bearing_deg": place.bearing_deg, "sun_height_deg": height, "when": when})


class Stills:
    """Stills of the sites of one store.

    Parameters
    ----------
    store : Store
        What is kept.
    grounds, covers, panoramas
        What is seen, and what lights it.
    """

    def __init__(self, store: Store, grounds: Grounds, covers: Covers, panoramas: Panoramas, strews: Strews) -> None:
        self._store, self._grounds, self._covers, self._panoramas = store, grounds, covers, panoramas
        self._strews = strews

    @property
    def folder(self) -> Path:
        """Where stills from the page are written."""
        return self._store.folder / "stills"

    def check(self, recipe: Recipe, ask: StillAsk) -> None:
        """Refuse what cannot be taken.

        Raises
        ------
        RefusalError
            When no view is asked for, or the passes of one would not fit into memory.
        """
        self._views(recipe, ask)
        channels = sum(len(stills.channels_of(name, recipe)) for name in ask.passes)
        needed = channels * ask.width_px * ask.height_px * 4
        if needed > _MOST_PASS_BYTES:
            raise RefusalError(
                "passes",
                f"{needed / 1e9:.1f} GB of {channels} channels at {ask.width_px} x {ask.height_px}",
                f"at most {_MOST_PASS_BYTES / 1e9:.1f} GB",
                "take fewer passes or a smaller still",
            )
        if ask.sequence != "one" and max(ask.width_px, ask.height_px) > _MOST_MOVING_PX:
            raise RefusalError(
                "sequence",
                f"{ask.width_px} x {ask.height_px} pixels",
                f"at most {_MOST_MOVING_PX} along a side",
                "take a smaller one",
            )
        whole = ask.frames * ask.width_px * ask.height_px * 3
        if ask.sequence != "one" and ask.moving == "webp" and whole > _MOST_MOVING_BYTES:
            raise RefusalError(
                "sequence",
                f"{ask.frames} frames that come to {whole / 1e9:.1f} GB",
                f"at most {_MOST_MOVING_BYTES / 1e9:.1f} GB in one moving picture",
                "write numbered PNGs, or fewer",
            )

    def _views(self, recipe: Recipe, ask: StillAsk) -> list[_View]:
        shots = {shot.id: shot for shot in recipe.shots}
        missing = [id for id in ask.shots if id not in shots]
        if missing:
            raise RefusalError("shot", f"none called {missing[0]!r}", "one of this site's", "choose another")
        if not ask.stands and not ask.shots:
            raise RefusalError("stills", "no view", "Far, Mid, Near or a shot", "choose at least one")
        out = []
        for name in ask.stands:
            peg = None if name == "far" else recipe.peg
            shot = Shot(id="view", name=name, stand=getattr(recipe.stands, name), peg=peg)
            out.append(_View(name, shot))
        return [*out, *(_View(plain_name(shots[id].name), shots[id]) for id in ask.shots)]

    def picture(self, recipe: Recipe, entry: StillsEntry, view: str, run: Run) -> NDArray[np.uint8]:
        """Return a still of a stand, or of the shot of an id."""
        stands = tuple(name for name in get_args(StandName) if name == view)
        shots = () if stands else (view,)
        ask = StillAsk(
            stands=stands, shots=shots, width_px=entry.width_px, height_px=entry.height_px, rays=entry.rays
        )
        shot = self._views(recipe, ask)[0].shot
        lit = recipe.model_copy(update={"light": shot.light}) if shot.light else recipe
        return self._still(lit, ask, shot, run).pixels

    def write(self, title: str, recipe: Recipe, ask: StillAsk, run: Run | None = None) -> StillsTaken:
        """Take stills into a new folder of the data folder."""
        folder = f"{plain_name(title)}_{datetime.datetime.now(datetime.UTC):%Y%m%d-%H%M%S}_{secrets.token_hex(2)}"
        out = self.folder / folder
        written = self.take(recipe, ask, out, run)
        return StillsTaken(folder, str(out), [StillFile(path.name, path.stat().st_size) for path in written])

    def take(self, recipe: Recipe, ask: StillAsk, out: Path, run: Run | None = None) -> list[Path]:
        """Take stills into a folder, whole or not at all; return the files in it."""
        run = run or Run()
        self.check(recipe, ask)
        views = self._views(recipe, ask)
        partial = out.with_name(f".part-{out.name}-{secrets.token_hex(4)}")
        try:
            partial.mkdir(parents=True)
            for k, view in enumerate(views):
                part = run.part(k / len(views), (k + 1) / len(views))
                self._one(recipe, ask, view, partial, _unlike(view.name, partial), part)
            if ask.sheet:
                _sheet(partial)
            out.mkdir(parents=True, exist_ok=True)
            for path in sorted(partial.iterdir()):
                path.replace(out / path.name)
        except OSError as error:
            raise of_disk(out, error) from None
        finally:
            shutil.rmtree(partial, ignore_errors=True)
        return sorted(path for path in out.iterdir() if path.is_file())

    def _one(self, recipe: Recipe, ask: StillAsk, view: _View, out: Path, name: str, run: Run) -> None:
        shot = view.shot
        lit = recipe.model_copy(update={"light": shot.light}) if shot.light else recipe
        if ask.sequence == "one":
            taken = self._still(lit, ask, shot, run)
            (out / f"{name}.png").write_bytes(png.encode(taken.pixels))
            if taken.passes:
                exr.write(
                    out / f"{name}_passes.exr",
                    {one: (stills.channels_of(one, recipe), values) for one, values in taken.passes.items()},
                )
            return
        plain = ask.model_copy(update={"passes": ()})
        frames = []
        for k, (at, moved) in enumerate(_frames(lit, shot, ask)):
            part = run.part(k / ask.frames, (k + 1) / ask.frames)
            frame = self._still(at, plain, moved, part).pixels
            if ask.moving == "png":
                (out / f"{name}_{k + 1:03d}.png").write_bytes(png.encode(frame))
            else:
                frames.append(frame)
        if frames:
            (out / f"{name}.webp").write_bytes(_animated(frames, ask.seconds))

    def _still(self, recipe: Recipe, ask: StillAsk, shot: Shot, run: Run) -> stills.Taken:
        still = Still(
            shot.stand, shot.peg, ask.width_px, ask.height_px, ask.rays, ask.passes, ask.warmth, ask.contrast
        )
        land = self._grounds.land(recipe.ground, None, run.part(0.0, 0.02))
        evidence = self._covers.evidence(recipe)
        panorama = self._panoramas.of(recipe.light)
        field = self._strews.field(recipe, evidence) if recipe.strews or recipe.set_things else None
        place = stills.place_of(land, recipe, self._store.stock, evidence, still, run, panorama, field)
        return stills.take(place, still, run)

    def file(self, folder: str, name: str) -> Path:
        """Return the path of a still that was written."""
        return file_inside(self.folder, folder, name)

    def tidy(self) -> None:
        """Clear away what an earlier run left unfinished."""
        for partial in self.folder.glob(".part-*"):
            shutil.rmtree(partial, ignore_errors=True)


def _unlike(name: str, folder: Path) -> str:
    """Return a name that no file of a folder begins with yet."""
    tried, number = name, 1
    while any(path.stem in (tried, f"{tried}_passes") for path in folder.iterdir()):
        number += 1
        tried = f"{name}-{number}"
    return tried


def _frames(recipe: Recipe, shot: Shot, ask: StillAsk) -> Iterator[tuple[Recipe, Shot]]:
    """Yield what each frame of a sequence is taken of: once round what the view looks at, or a day of sun."""
    if ask.sequence == "turn":
        for k in range(ask.frames):
            bearing = (shot.stand.bearing_deg + 360.0 * k / ask.frames) % 360.0
            yield recipe, shot.model_copy(update={"stand": shot.stand.model_copy(update={"bearing_deg": bearing})})
        return
    when = recipe.light.when or When()
    first, last = _daylight(when)
    for k in range(ask.frames):
        hour = first + (last - first) * (k + 0.5) / ask.frames
        light = at_sun(recipe.light, when.model_copy(update={"hour": hour}))
        yield recipe.model_copy(update={"light": light}), shot


def _daylight(when: When) -> tuple[float, float]:
    """Return the hours of sunrise and sunset; those of a day's light where it never sets.

    Raises
    ------
    RefusalError
        When the sun does not rise that day.
    """
    hours = np.arange(0.0, 24.001, 1 / 60)
    up = [sun.place(when.latitude_deg, when.day, float(hour))[1] > 0.3 for hour in hours]
    if not any(up):
        raise RefusalError(
            "day of sun",
            f"a sun that stays down at {when.latitude_deg:g}° on {when.day}",
            "a day with sun",
            "choose another date or latitude",
        )
    lit = hours[np.array(up)]
    return float(lit[0]), float(lit[-1])


def _animated(frames: list[NDArray[np.uint8]], seconds: float) -> bytes:
    images = [Image.fromarray(frame) for frame in frames]
    out = io.BytesIO()
    each = round(seconds * 1000 / len(images))
    images[0].save(out, "WEBP", save_all=True, append_images=images[1:], duration=each, loop=0, quality=88)
    return out.getvalue()


def _sheet(folder: Path) -> None:
    """Write all stills of a folder side by side as one picture."""
    paths = sorted(folder.glob("*.png"))
    if len(paths) < 2:
        return
    across = math.ceil(math.sqrt(len(paths)))
    down = math.ceil(len(paths) / across)
    images = [Image.open(path) for path in paths]
    width = min(images[0].width, (_SHEET_ACROSS_PX - _GUTTER_PX * (across + 1)) // across)
    height = max(1, round(images[0].height * width / images[0].width))
    size = across * (width + _GUTTER_PX) + _GUTTER_PX, down * (height + _GUTTER_PX) + _GUTTER_PX
    whole = Image.new("RGB", size, (28, 29, 30))
    for k, image in enumerate(images):
        small = image.convert("RGB").resize((width, height), Image.Resampling.LANCZOS)
        row, col = divmod(k, across)
        whole.paste(small, (_GUTTER_PX + col * (width + _GUTTER_PX), _GUTTER_PX + row * (height + _GUTTER_PX)))
        image.close()
    (folder / "sheet.png").write_bytes(png.encode(np.asarray(whole)))
