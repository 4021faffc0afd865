"""Tries to break it, for some minutes: many kills, mutated files, hostile bodies, a disk that fills, bombs.

A short part of each stands among the tests; here are the long runs. ``ELVATCH_TRIAL_SEED`` repeats one that failed.
"""

from __future__ import annotations

import io
import json
import os
import random
import shutil
import subprocess
import sys
import time
from collections.abc import Callable, Iterator
from pathlib import Path
from typing import Any

import numpy as np
import pytest
import tifffile
from PIL import Image

from elvatch.app.workshop import Workshop
from elvatch.core.document import begin_sheet
from elvatch.core.formats import isolated, png
from elvatch.core.ground import heights
from elvatch.core.ground.measures import Measures
from elvatch.core.ground.shaped import Shaped
from elvatch.core.ground.survey import survey
from elvatch.core.handoff import job
from elvatch.core.handoff.listing import Source
from elvatch.core.refusal import RefusalError
from elvatch.core.stock import archive
from elvatch.store.store import Store
from elvatch.web.app import create_app
from tests import hostile
from tests.conftest import NAMES, flat_set, layer, plane, put_set, recipe
from tests.serving import Served, serve

SEED = int(os.environ.get("ELVATCH_TRIAL_SEED", str(int(time.time()))))


@pytest.fixture
def chance() -> random.Random:
    print(f"ELVATCH_TRIAL_SEED={SEED}")
    return random.Random(SEED)


def test_kills_while_edits_are_acknowledged_lose_none(demo_data: Path, tmp_path: Path, chance: random.Random) -> None:
    data = Path(shutil.copytree(demo_data, tmp_path / "data"))
    kept: dict[str, Any] | None = None
    acknowledged = 0
    for _ in range(25):
        served = serve(data)
        site = served.ask("GET", "/api/sites")[1]["sites"][0]["id"]
        state = served.ask("GET", f"/api/sites/{site}")[1]
        assert kept is None or state["recipe"]["light"]["exposure_ev"] == kept["recipe"]["light"]["exposure_ev"]
        assert kept is None or state["revision"] >= kept["revision"]
        for _ in range(chance.randint(3, 30)):
            state = edit(served, state, chance.uniform(-5, 5))
            kept, acknowledged = state, acknowledged + 1
        served.kill()
    print(f"{acknowledged} edits acknowledged over 25 kills")


def edit(served: Served, state: dict[str, Any], exposure: float) -> dict[str, Any]:
    light = state["recipe"]["light"] | {"exposure_ev": round(exposure, 3)}
    body = {"base": state["revision"], "label": "light", "recipe": state["recipe"] | {"light": light}}
    status, answer = served.ask("PUT", f"/api/sites/{state['id']}/recipe", body)
    assert status == 200
    return dict(answer)


def whole_files() -> dict[str, bytes]:
    """One honest file of every format."""
    values = np.random.default_rng(1).integers(0, 60_000, (24, 31)).astype(np.uint16)
    out = {"a.png": png.encode(values)}
    for name, kind in (("a.jpg", "JPEG"), ("a.webp", "WEBP"), ("a.tga", "TGA")):
        stream = io.BytesIO()
        Image.fromarray((values >> 8).astype(np.uint8)).convert("RGB").save(stream, kind)
        out[name] = stream.getvalue()
    stream = io.BytesIO()
    tifffile.imwrite(stream, values, tile=(16, 16), compression="zlib")
    out["a.tif"] = stream.getvalue()
    stream = io.BytesIO()
    np.save(stream, values.astype(np.float32))
    out["a.npy"] = stream.getvalue()
    text = "ncols 31\nnrows 24\ncellsize 2\n" + "\n".join(" ".join(map(str, row)) for row in values)
    out["a.asc"] = text.encode()
    out["a.zip"] = hostile.zipped({"set_colour.png": hostile.grey_png(16)})
    return out


def mutated(data: bytes, chance: random.Random) -> bytes:
    out = bytearray(data)
    for _ in range(chance.choice((1, 1, 2, 5, 20))):
        at = chance.randrange(len(out))
        way = chance.random()
        if way < 0.6:
            out[at] = chance.randrange(256)
        elif way < 0.8:
            del out[at : at + chance.randrange(1, 40)]
        else:
            out[at:at] = bytes(chance.randrange(256) for _ in range(chance.randrange(1, 12)))
        if not out:
            return b"x"
    return bytes(out)


def test_mutated_files_are_read_or_refused(chance: random.Random) -> None:
    ways: tuple[Callable[[str, bytes], object], ...] = (
        heights.read,
        isolated.texture,
        isolated.photo,
        lambda name, data: list(archive.members(name, data)),
    )
    files, taken, refused = whole_files(), 0, 0
    until = time.monotonic() + 60
    while time.monotonic() < until:
        name = chance.choice(list(files))
        data = mutated(files[name], chance)
        try:
            chance.choice(ways)(name, data)
            taken += 1
        except RefusalError:
            refused += 1
    print(f"{taken} taken, {refused} refused")
    assert refused > 100


NAMED = ("recipe", "base", "id", "name", "layers", "ground", "kind")


def junk(chance: random.Random, depth: int = 0) -> object:
    kinds: list[Callable[[], object]] = [
        lambda: None,
        lambda: chance.choice((True, False)),
        lambda: chance.randint(-(10**20), 10**20),
        lambda: chance.choice((1e308, -0.0, 1e-320, 0.5)),
        lambda: "x" * chance.randrange(300),
        lambda: "../../etc/passwd",
    ]
    if depth < 4:
        kinds += [
            lambda: [junk(chance, depth + 1) for _ in range(chance.randrange(5))],
            lambda: {chance.choice(NAMED): junk(chance, depth + 1) for _ in range(chance.randrange(5))},
        ]
    return chance.choice(kinds)()


def test_hostile_bodies_on_every_route_are_no_fault(tmp_path: Path, chance: random.Random) -> None:
    shop = Workshop(Store(tmp_path / "data"))
    put_set(shop.store)
    app = create_app(shop)
    client = app.test_client()
    paths = client.get("/api/openapi.json").get_json()["paths"]
    asked = 0
    until = time.monotonic() + 60
    while time.monotonic() < until:
        path, methods = chance.choice(list(paths.items()))
        method = chance.choice(list(methods))
        address = path
        while "{" in address:
            start, end = address.index("{"), address.index("}")
            part = chance.choice(("5" * 40, "x", "..", "%00", "none", "a" * 900))
            address = address[:start] + part + address[end + 1 :]
        body = json.dumps(junk(chance))
        answer = client.open(address, method=method.upper(), data=body, content_type="application/json")
        assert answer.status_code < 500, (method, address, answer.get_json())
        asked += 1
    print(f"{asked} bodies")


@pytest.fixture
def small_disk(tmp_path: Path) -> Iterator[Path]:
    folder = tmp_path / "disk"
    folder.mkdir()
    if subprocess.run(["mount", "-t", "tmpfs", "-o", "size=36m", "none", folder], check=False).returncode != 0:
        pytest.skip("this machine lets nobody mount a small disk")
    yield folder
    subprocess.run(["umount", folder], check=True)


def test_heights_of_4096_pixels_on_a_disk_of_36_mb_are_a_sentence(
    small_disk: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    sheet = begin_sheet.plain(("height",), 4096, float_heights=True)
    ground = plane(20)
    site = recipe((layer("Low", 0),), ground)
    sets = {name: flat_set(0.2) for name in NAMES}
    for known in (True, False):
        if not known:
            monkeypatch.setattr("elvatch.core.handoff.job._check_room", lambda *_: None)
        with pytest.raises(RefusalError, match="free" if known else "No space left"):
            job.write(sheet, Source("Hill", site, survey(ground), Measures(Shaped(ground)), sets), small_disk / "out")
        assert list(small_disk.iterdir()) == []


_TOLD = """
with open("/proc/self/status") as status:
    print(next(int(line.split()[1]) for line in status if line.startswith("VmHWM")))
"""
_ALL = """
import sys
from pathlib import Path
from elvatch.core.stock import intake
from elvatch.store.store import Store
from elvatch.app.workshop import Workshop

files = [Path(path) for path in sys.argv[2:]]
drop = [(path.name, path.read_bytes) for path in files]
shop = Workshop(Store(Path(sys.argv[1])))
"""
_HEIGHTS = _ALL + 'assert shop.grounds.files.bring_file("large", files[0].read_bytes())[1].holes > 0' + _TOLD
_SET = _ALL + 'shop.sets.keep(intake.decide(intake.propose(drop, "large").sets[0]), dict(drop))' + _TOLD
_SIXTY = """
found = intake.propose([(f"set{k}_colour.png", files[0].read_bytes) for k in range(60)], "Bomb")
assert len(found.refused) >= 28, len(found.refused)
assert "at most 2000 million at once" in found.refused[-1], found.refused[-1]
"""


def _peak_kb(script: str, data: Path, *files: Path) -> int:
    """Return how much memory a process of its own had at most."""
    command = [sys.executable, "-c", script, str(data), *map(str, files)]
    return int(subprocess.run(command, check=True, stdout=subprocess.PIPE, text=True).stdout.split()[-1])


def test_sixty_large_images_are_taken_within_their_budget(tmp_path: Path) -> None:
    (tmp_path / "one.png").write_bytes(hostile.png_of_one_colour(8192))
    assert _peak_kb(_ALL + _SIXTY + _TOLD, tmp_path / "data", tmp_path / "one.png") < 1_500_000


def test_heights_with_holes_of_the_largest_size_stay_below_their_memory(tmp_path: Path) -> None:
    side = 11_832
    wave = np.sin(np.linspace(0, 30, side, dtype=np.float32))
    heights_m = 400 + 150 * wave[None] * wave[:, None]
    heights_m[2000:4000, 3000:6000] = np.nan
    heights_m[::50, ::50] = np.nan
    np.save(tmp_path / "large.npy", heights_m)
    assert _peak_kb(_HEIGHTS, tmp_path / "data", tmp_path / "large.npy") < 1_500_000


def test_a_set_of_five_maps_of_8192_pixels_stays_below_its_memory(tmp_path: Path) -> None:
    side = 8192
    grain = np.random.default_rng(4).integers(90, 160, (side, side), np.uint8)
    level = np.zeros((side, side, 3), np.uint8)
    level[...] = (128, 128, 255)
    grey = {"roughness": grain, "ao": 255 - grain // 4, "height": grain}
    files = []
    for meaning, values in {"color": np.dstack([grain, grain - 20, grain - 40]), "normal": level, **grey}.items():
        files.append(tmp_path / f"rock_{meaning}.png")
        files[-1].write_bytes(png.encode(values))
    assert _peak_kb(_SET, tmp_path / "data", *files) < 1_600_000
