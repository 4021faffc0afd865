"""A wheel holds all that is needed: installed in a clean environment without Node it serves the page and the demo."""

from __future__ import annotations

import os
import re
import subprocess
import sys
import sysconfig
import time
import urllib.request
import venv
import zipfile
from pathlib import Path

import psutil
import pytest

ROOT = Path(__file__).parents[1]


@pytest.fixture(scope="module")
def wheel(tmp_path_factory: pytest.TempPathFactory) -> Path:
    folder = tmp_path_factory.mktemp("wheel")
    subprocess.run(
        [sys.executable, "-m", "pip", "wheel", "--quiet", "--no-deps", "--no-build-isolation", "-w", folder, ROOT],
        check=True,
        capture_output=True,
    )
    (made,) = folder.glob("elvatch-*.whl")
    return made


def test_a_wheel_holds_the_page_and_everything_else_that_is_no_code(wheel: Path) -> None:
    names = zipfile.ZipFile(wheel).namelist()
    package = ROOT / "src/elvatch"
    wanted = [
        path for path in package.rglob("*") if path.suffix in (".sql", ".webp", ".html", ".svg", ".woff2", ".js")
    ]
    assert len(wanted) > 20
    for path in wanted:
        assert path.relative_to(ROOT / "src").as_posix() in names


def test_installed_by_itself_it_is_all_that_is_needed(wheel: Path, tmp_path: Path) -> None:
    venv.create(tmp_path / "clean", with_pip=True)
    python = tmp_path / "clean/bin/python"
    subprocess.run([python, "-m", "pip", "install", "--quiet", "--no-deps", wheel], check=True, capture_output=True)
    # the packages it depends on are those of this environment; a line of a path file makes nothing editable there
    site = subprocess.run(
        [python, "-c", "import sysconfig; print(sysconfig.get_path('purelib'))"],
        check=True,
        capture_output=True,
        text=True,
    )
    (Path(site.stdout.strip()) / "others.pth").write_text(sysconfig.get_path("purelib"))
    environment = {"PATH": str(python.parent), "HOME": os.environ["HOME"], "XDG_CACHE_HOME": str(tmp_path / "cache")}
    served = subprocess.Popen(
        ["elvatch", "demo", "--data", str(tmp_path / "data"), "--port", "0"],
        executable=str(python.parent / "elvatch"),
        env=environment,
        stderr=subprocess.PIPE,
        text=True,
        cwd=tmp_path,
    )
    try:
        assert served.stderr is not None
        url = next(found[0] for line in served.stderr if (found := re.search(r"http://[\d.:]+/", line)))
        page = urllib.request.urlopen(url).read().decode()
        script = re.search(r'src="/(assets/[^"]+\.js)"', page)
        assert script is not None
        assert len(urllib.request.urlopen(url + script[1]).read()) > 100_000
        assert "Laying out the demo" in urllib.request.urlopen(f"{url}api/readiness").read().decode()
        assert str(tmp_path / "clean") in " ".join(psutil.Process(served.pid).cmdline())
        until = time.monotonic() + 60
        while not (compiling := psutil.Process(served.pid).children()) and time.monotonic() < until:
            time.sleep(0.1)
        assert compiling
    finally:
        served.kill()
        served.wait()
    # what it started ends with it, however it ended
    _, alive = psutil.wait_procs(compiling, timeout=30)
    assert alive == []
