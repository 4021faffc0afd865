"""The examples run as they stand, and what they print and write is true."""

from __future__ import annotations

import re
import subprocess
import sys
from pathlib import Path

import numpy as np
from PIL import Image

import elvatch.api

ROOT = Path(__file__).parents[1]


def test_a_site_is_built_baked_and_read_back_without_a_browser(tmp_path: Path) -> None:
    command = [sys.executable, str(ROOT / "examples/build_bake_read.py"), str(tmp_path)]
    said = subprocess.run(command, check=True, capture_output=True, text=True).stdout
    shares = [float(value) / 100 for value in re.findall(r"([\d.]+)% of the ground", said)]
    assert len(shares) == 2
    assert 0.05 < shares[1] < 0.95
    grey = np.asarray(Image.open(next((tmp_path / "maps").glob("*_share_02_grass.png")))) / 65535
    # what is said of the whole ground is what was written of it
    assert abs(float(grey.mean()) - shares[1]) < 0.01
    low, high = map(float, re.findall(r"sum to ([\d.]+) to ([\d.]+)", said)[0])
    assert abs(low - 1) < 1e-3
    assert abs(high - 1) < 1e-3
    assert Image.open(tmp_path / "far.png").size == (320, 200)


def test_the_public_names_are_there_and_each_says_what_it_is() -> None:
    for name in elvatch.api.__all__:
        assert (getattr(elvatch.api, name).__doc__ or "").strip(), name
