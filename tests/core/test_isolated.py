"""Files that cost much, say what is not so or end their decoder are one sentence each and harm nobody else."""

from __future__ import annotations

import functools
import os
import signal
import struct
import threading
import time
import zipfile
from collections.abc import Callable

import numpy as np
import pytest

from elvatch.core.document import recipe as recipes
from elvatch.core.formats import isolated, texture
from elvatch.core.ground import heights
from elvatch.core.parallel import WORKERS, Token
from elvatch.core.refusal import CancelledError, RefusalError
from elvatch.core.stock import archive, intake
from tests import hostile

SLOW = hostile.jpeg_of_many_scans(4000, 400)


def test_an_honest_file_comes_back_as_it_is() -> None:
    data = hostile.grey_png(2048)
    np.testing.assert_array_equal(isolated.texture("a.png", data).values, texture.decode("a.png", data).values)


def test_a_file_that_takes_too_long_is_given_up_and_the_next_one_is_read(monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setattr(isolated, "TEXTURE_S", 0.5)
    began = time.monotonic()
    with pytest.raises(RefusalError, match=r"slow.jpg: found a file that takes longer than 0.5 s"):
        isolated.texture("slow.jpg", SLOW)
    assert time.monotonic() - began < 5
    monkeypatch.undo()
    assert isolated.texture("a.png", hostile.grey_png(16)).values.shape == (16, 16, 1)


def test_cancel_ends_decoding_at_once() -> None:
    token = Token()
    threading.Timer(0.3, token.cancel).start()
    began = time.monotonic()
    with pytest.raises(CancelledError):
        isolated.texture("slow.jpg", SLOW, token)
    assert time.monotonic() - began < 3


def test_a_file_that_wants_more_memory_than_there_may_be_is_a_sentence(monkeypatch: pytest.MonkeyPatch) -> None:
    # 16 bits, four channels, 8192 a side is the largest a set may have, and is taken
    large = hostile.png_of_one_colour(8192)
    assert isolated.texture("large.png", large).values.shape == (8192, 8192, 3)
    monkeypatch.setattr(isolated, "MOST_MEMORY_BYTES", 900 << 20)
    monkeypatch.setattr(isolated, "_pool", isolated._Pool())
    with pytest.raises(RefusalError, match=r"large.png: found more memory needed than decoding may take"):
        isolated.texture("large.png", large)


def test_a_decoder_that_dies_is_a_sentence_about_its_file(monkeypatch: pytest.MonkeyPatch) -> None:
    real = isolated._Process.ask

    def dying(self: isolated._Process, *asked: object) -> object:
        os.kill(self._process.pid, signal.SIGSEGV)
        return real(self, *asked)  # type: ignore[arg-type]

    monkeypatch.setattr(isolated._Process, "ask", dying)
    with pytest.raises(RefusalError, match="a file that ended its decoder"):
        isolated.texture("a.png", hostile.grey_png(16))
    monkeypatch.undo()
    assert isolated.texture("a.png", hostile.grey_png(16)).bits == 8


def test_many_at_once_are_refused_instead_of_holding_all_who_ask(monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setattr(isolated, "TEXTURE_S", 2.0)
    said: list[str] = []

    def ask() -> None:
        with pytest.raises(RefusalError) as refused:
            isolated.texture("slow.jpg", SLOW)
        said.append(str(refused.value))

    threads = [threading.Thread(target=ask) for _ in range(12)]
    for thread in threads:
        thread.start()
    for thread in threads:
        thread.join(30)
    busy = [text for text in said if "decoded already" in text]
    assert len(said) == 12
    assert len(busy) >= 12 - WORKERS - 4


def _directory_elsewhere() -> bytes:
    data = bytearray(hostile.zipped({"a.png": b"x"}))
    end = data.rindex(b"PK\x05\x06")
    data[end + 16 : end + 20] = struct.pack("<I", 7)
    return bytes(data)


def _damaged_lzma() -> bytes:
    data = bytearray(hostile.zipped({"a.png": hostile.grey_png(64)}, zipfile.ZIP_LZMA))
    data[60:400] = bytes(340)
    return bytes(data)


def _name_not_utf8() -> bytes:
    data = hostile.zipped({"\u00e9\u00e9.png": b"x"})
    return data.replace("\u00e9\u00e9".encode(), b"\xff\xfe\xff\xfe")


@pytest.mark.parametrize("made", [_directory_elsewhere, _damaged_lzma, _name_not_utf8])
def test_damaged_zips_are_a_sentence(made: Callable[[], bytes]) -> None:
    with pytest.raises(RefusalError, match=r"sets\.zip"):
        list(archive.members("sets.zip", made()))


@pytest.mark.parametrize(
    "header",
    [
        "{'descr': '<f4', 'fortran_order': False, 'shape': (8, 8), ",
        "{'descr': '<f4', 'fortran_order': False, 'shape': (True, 8), }",
        "{'descr': '<f4', 'fortran_order': False, 'shape': (8, (8), }",
        "((((((((((",
        "{'descr': 'O', 'shape': (8, 8)}",
    ],
)
def test_damaged_npy_headers_are_a_sentence(header: str) -> None:
    with pytest.raises(RefusalError, match=r"h.npy"):
        heights.read("h.npy", hostile.npy(header, bytes(4096)))


@pytest.mark.parametrize(
    "tags",
    [
        {"t322": 0, "t323": 0},
        {"t322": 16, "t323": 0},
        {"t256": 0xFFFFFFFF},
        {"t258": 0xFFFFFFFF},
        {"t277": 0xFFFF},
        {"t273": 0xFFFFFFF0},
        {"t259": 65000},
        {"t262": 77},
    ],
)
def test_tiffs_whose_tags_make_no_sense_are_a_sentence_or_read(tags: dict[str, int]) -> None:
    data = hostile.tiff_of_one_strip(16, 16, **tags)
    for read in (isolated.texture, heights.read):
        said = ""
        try:
            read("t.tif", data)
        except RefusalError as refused:
            said = str(refused)
        assert not said or said.startswith("t.tif: found")


def test_one_bad_file_of_a_drop_answers_for_itself() -> None:
    files = {
        "a/silt_colour.png": hostile.grey_png(64, 1),
        "a/silt_height.tif": hostile.tiff_of_one_strip(16, 16, t322=0, t323=0),
        "b/mud_colour.png": hostile.grey_png(64, 2),
        "c.tif": b"II*\0",
        "d.exr": b"\x76\x2f\x31\x01junk",
    }
    found = intake.propose([(path, functools.partial(bytes, data)) for path, data in files.items()], "Drop")
    assert {file.seen.path for guess in found.sets for file in guess.files} == {
        "a/silt_colour.png",
        "b/mud_colour.png",
    }
    assert len(found.refused) == 3
    assert all(any(name in text for text in found.refused) for name in ("silt_height.tif", "c.tif", "d.exr"))


def test_a_drop_has_a_budget_that_is_told_in_the_refusal(monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setattr(intake, "MOST_DROP_PIXELS", 9000)
    files = [(f"set{k}_colour.png", lambda k=k: hostile.grey_png(64, k)) for k in range(8)]
    found = intake.propose(files, "Drop")
    assert 2 <= 8 - len(found.refused) <= 4, "three of 4096 pixels, and one that was begun beside the third"
    assert "over 0 million pixels before it" in found.refused[0]
    monkeypatch.setattr(intake, "MOST_DROP_S", -1.0)
    assert len(intake.propose(files, "Drop").refused) == 8


def test_a_jpeg_that_declares_more_than_it_holds_is_refused() -> None:
    data = bytearray(hostile.jpeg_of_many_scans(64, 1))
    frame = data.index(b"\xff\xc2")
    taller = data[: frame + 5] + struct.pack(">H", 256) + data[frame + 7 :]
    with pytest.raises(RefusalError, match="ends before its last row"):
        texture.decode("tall.jpg", bytes(taller))
    assert texture.decode("whole.jpg", bytes(data)).values.shape == (64, 64, 3)


@pytest.mark.parametrize("version", [1, 2, 5])
@pytest.mark.parametrize("where", ["layers", "wears", "steps", "clauses"])
def test_lists_of_an_old_recipe_are_measured_before_it_is_brought_up_to_date(version: int, where: str) -> None:
    long: list[object] = [{}] * 1_300_000
    recipe: dict[str, object] = {"format": recipes.FORMAT, "version": version, "ground": {"steps": []}, "layers": []}
    if where == "steps":
        recipe["ground"] = {"steps": long}
    elif where == "clauses":
        recipe["layers"] = [{"rule": {"clauses": long}}]
    else:
        recipe[where] = long
    # of this thread: others may take the machine away in between
    began = time.thread_time()
    with pytest.raises(RefusalError, match="a list of 1300000"):
        recipes.from_data(recipe)
    assert time.thread_time() - began < 0.1
