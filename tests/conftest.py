"""Data that several tests share, all of it made by code."""

from __future__ import annotations

import fcntl
import os
import shutil
from collections.abc import Callable
from pathlib import Path

import numpy as np
import pytest
from hypothesis import settings

from elvatch.app.workshop import Workshop
from elvatch.core.document.fit import Fit
from elvatch.core.document.layer import Layer, Look
from elvatch.core.document.recipe import Peg, Recipe
from elvatch.core.document.rule import Rule
from elvatch.core.ground.description import FileSource, Ground
from elvatch.core.ground.heightfield import Heightfield
from elvatch.core.stock import facts, intake, loaded, pyramid
from elvatch.core.stock.canonical import KeptMap
from elvatch.core.stock.description import SetDescription
from elvatch.core.stock.pyramid import Pyramid
from elvatch.demo import scenario
from elvatch.store.stock import Draft
from elvatch.store.store import Store

settings.register_profile("elvatch", deadline=None, max_examples=40)
settings.load_profile("elvatch")

NAMES = tuple(f"{k}" * 40 for k in range(1, 6))


def plane(tilt_deg: float, bearing_deg: float = 90.0, samples: int = 65, size_m: float = 100.0) -> Heightfield:
    """A plane that rises by ``tilt_deg`` towards a compass bearing."""
    steps = np.linspace(0, size_m, samples)
    x, y = np.meshgrid(steps, size_m - steps)
    rise = np.tan(np.radians(tilt_deg))
    bearing = np.radians(bearing_deg)
    heights = 50 + rise * ((x - size_m / 2) * np.sin(bearing) + (y - size_m / 2) * np.cos(bearing))
    return Heightfield(heights.astype(np.float32), size_m, size_m)


def flat_set(colour: float, height: float = 0.5, size: int = 8, tile_m: float = 1.0) -> Pyramid:
    """A set of one colour and one height."""
    level = np.zeros((size, size, 3), np.float32)
    level[..., 2] = 1.0
    full = np.full((size, size), 1.0, np.float32)
    maps = pyramid.Maps(np.full((size, size, 3), colour, np.float32), level, full * 0.5, full * height, full)
    return pyramid.build(maps, tile_m, 0.1)


def put_set(store: Store, colour: float = 0.2, title: str = "Grey", size: int = 64, tile_m: float = 1.0) -> str:
    """Keep a set of one colour with a ripple of height in a store; return its name."""
    ripple = np.tile(32768 + 20000 * np.sin(np.arange(size) * 2 * np.pi / size), (size, 1)).astype(np.uint16)
    grey = np.full((size, size, 3), colour, np.float32)
    kept = (loaded.kept("colour", grey, 16, ""), KeptMap("height", ripple, ""))
    maps = {one.role: intake.entry(one, store.files.put, "brought") for one in kept}
    description = SetDescription(title=title, tile_m=tile_m, relief_m=0.1, lookup_px=intake.LOOKUPS[size], maps=maps)
    found = facts.gather(loaded.load(description, store.files.get), size)
    return store.stock.add(Draft(description, found, b"\x89PNG swatch"), "brought in")


def layer(name: str, index: int, rule: Rule | None = None, **more: object) -> Layer:
    """A layer of set ``NAMES[index]`` that shows the set as it is."""
    given: dict[str, object] = {"look": Look(variation=0), "fit": Fit(tile_m=1.0, relief_m=0.1)} | more
    plain = "".join(c for c in name.lower() if c.isalnum() and c.isascii())
    return Layer.model_validate(
        {"id": plain + "0000", "name": name, "set": NAMES[index], "rule": rule or Rule(), **given}
    )


def file_ground(land: Heightfield, file: str = "a" * 40) -> Ground:
    """The description of a ground read from a stored file of its heights."""
    source = FileSource(
        file=file, file_name="made.npy", lowest_m=land.lowest_m, highest_m=max(land.highest_m, land.lowest_m + 1)
    )
    return Ground(width_m=land.width_m, depth_m=land.depth_m, source=source)


def recipe(layers: tuple[Layer, ...] = (), ground: Heightfield | None = None) -> Recipe:
    """A recipe over a ground that is given apart from it."""
    land = ground or plane(0)
    return Recipe(ground=file_ground(land), layers=layers, peg=Peg(east_m=land.width_m / 2, north_m=land.depth_m / 2))


@pytest.fixture
def workshop(tmp_path: Path) -> Workshop:
    """An empty data folder."""
    return Workshop(Store(tmp_path / "data"))


@pytest.fixture(scope="session")
def demo_data(tmp_path_factory: pytest.TempPathFactory) -> Path:
    """The demo with small sample sets, the apron worn in, the reservoir clean; tests that change it copy it first."""
    folder = tmp_path_factory.mktemp("demo") / "data"
    own = tmp_path_factory.getbasetemp()
    shared = (own.parent if "PYTEST_XDIST_WORKER" in os.environ else own) / "laid-out"
    with (own.parent / f"{shared.name}.lock").open("w") as lock:
        # laid out once for all workers, then each has a copy
        fcntl.flock(lock, fcntl.LOCK_EX)
        if not shared.exists():
            _lay_out(shared.with_suffix(".new"))
            shared.with_suffix(".new").rename(shared)
        shutil.copytree(shared, folder)
    return folder


def _lay_out(folder: Path) -> None:
    shop = Workshop(Store(folder))
    scenario.lay_out(shop, lambda _: None, set_px=256, samples=513, strewn=False)
    site = shop.store.sites.find(scenario.TITLE)
    clean = next(one for one in shop.store.snapshots.all(site.id) if one.name == "Clean")
    shop.store.sites.edit(site.id, site.revision, "as it was", shop.store.snapshots.recipe(site.id, clean.id))


@pytest.fixture
def height_png(tmp_path: Path) -> Callable[..., Path]:
    """Write a 16-bit grey PNG of rolling hills; return its path."""

    def write(name: str = "hills.png", samples: int = 129) -> Path:
        from elvatch.core.formats import png

        x, y = np.meshgrid(np.linspace(0, 9, samples), np.linspace(0, 7, samples))
        values = 32768 + 20000 * np.sin(x) * np.cos(y) + 9000 * np.sin(3.1 * x + y)
        path = tmp_path / name
        path.write_bytes(png.encode(values.astype(np.uint16)))
        return path

    return write
