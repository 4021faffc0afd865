"""A full disk is said in one sentence, leaves nothing half made and ends nothing."""

from __future__ import annotations

import io
import subprocess
from collections import namedtuple
from collections.abc import Iterator
from pathlib import Path

import numpy as np
import pytest

from elvatch.app.workshop import Workshop
from elvatch.core.document import begin_sheet
from elvatch.core.formats.written import FORMS, WrittenImage
from elvatch.core.ground.measures import Measures
from elvatch.core.ground.shaped import Shaped
from elvatch.core.ground.survey import survey
from elvatch.core.handoff import job
from elvatch.core.handoff.listing import Source
from elvatch.core.handoff.manifest import FILE_NAME
from elvatch.core.refusal import RefusalError
from elvatch.store.database import Database
from elvatch.store.files import Files
from elvatch.store.tray import Tray
from elvatch.web.app import create_app
from tests.conftest import NAMES, flat_set, layer, plane, recipe

GROUND = plane(20)
_Usage = namedtuple("_Usage", "total used free")


@pytest.fixture
def small_disk(tmp_path: Path) -> Iterator[Path]:
    """A disk of 8 MB."""
    folder = tmp_path / "disk"
    folder.mkdir()
    mounted = subprocess.run(["mount", "-t", "tmpfs", "-o", "size=8m", "none", folder], check=False)
    if mounted.returncode != 0:
        pytest.skip("this machine lets nobody mount a small disk")
    try:
        yield folder
    finally:
        subprocess.run(["umount", folder], check=True)


def write_heights(out: Path, size_px: int) -> list[Path]:
    sheet = begin_sheet.plain(("height", "relief"), size_px, float_heights=True)
    site = recipe((layer("Low", 0),), GROUND)
    sets = {name: flat_set(0.2) for name in NAMES}
    return job.write(sheet, Source("Hill", site, survey(GROUND), Measures(Shaped(GROUND)), sets), out)


def test_a_sheet_larger_than_what_is_free_is_refused_at_once_with_both_numbers(small_disk: Path) -> None:
    with pytest.raises(RefusalError, match=r"some 34 MB to write and 8 MB free in .*disk, expected room"):
        write_heights(small_disk / "out", 2048)
    assert list(small_disk.iterdir()) == []
    assert [path.name for path in write_heights(small_disk / "out", 512)][-1] == FILE_NAME


def test_a_disk_that_fills_while_floats_are_written_is_an_error_and_leaves_nothing(
    small_disk: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    monkeypatch.setattr("shutil.disk_usage", lambda _: _Usage(1 << 40, 0, 1 << 40))
    with pytest.raises(RefusalError, match="No space left on device, expected room and permission"):
        write_heights(small_disk / "out", 2048)
    assert list(small_disk.iterdir()) == []


def test_a_file_that_lacks_rows_is_never_called_whole(tmp_path: Path) -> None:
    values = np.random.default_rng(3).normal(0, 900, (37, 53, 1)).astype(np.float32)
    for form in FORMS.values():
        if "float32" in form.types:
            image = WrittenImage(53, 37, 1, "float32", ("Y",))
            short = form.writer(tmp_path / "short", image)
            short.write(values[:30])
            with pytest.raises(ValueError, match="7 rows are missing"):
                short.finish()
            short.close()


def test_bringing_in_on_a_full_disk_is_a_sentence_and_gives_its_room_back(small_disk: Path, tmp_path: Path) -> None:
    tray = Tray(small_disk / "tray")
    drop = tray.begin("Sets")
    tray.add(drop, "small.png", b"kept")
    noise = np.random.default_rng(1).bytes(9 << 20)
    with pytest.raises(RefusalError, match="No space left on device"):
        tray.add(drop, "large.png", noise)
    assert list(tray.files(drop)) == ["small.png"]
    assert sum(path.stat().st_size for path in small_disk.rglob("*") if path.is_file()) < 1 << 20
    files = Files(small_disk / "files", Database(tmp_path / "db.sqlite"))
    with pytest.raises(RefusalError, match="No space left on device"):
        files.put(noise)
    assert not [path for path in (small_disk / "files").rglob("*") if path.is_file()]


def test_over_the_web_it_is_the_same_sentence(workshop: Workshop, monkeypatch: pytest.MonkeyPatch) -> None:
    client = create_app(workshop).test_client()

    def full(*_: object) -> int:
        raise OSError(28, "No space left on device")

    monkeypatch.setattr(Path, "write_bytes", full)
    drop = client.post("/api/intake", json={"title": "x"}).get_json()["drop"]
    answer = client.post(
        f"/api/intake/{drop}/files", data={"file": (io.BytesIO(b"x"), "a.png")}, content_type="multipart/form-data"
    )
    assert (answer.status_code, "free some space" in answer.get_json()["message"]) == (422, True)
    monkeypatch.setattr(workshop.store.sites, "all", full)
    answer = client.get("/api/sites")
    assert (answer.status_code, "free some space" in answer.get_json()["message"]) == (507, True)
