"""Dependencies point one way, files stay readable, and the books are true."""

from __future__ import annotations

import argparse
import ast
import re
import subprocess
import sys
from pathlib import Path

import pytest

from elvatch.cli.commands import main, parser
from elvatch.core.kernel import cache_folder
from elvatch.core.picture.modes import MODES
from elvatch.core.stock.generators import GENERATORS
from elvatch.core.stock.overlays import OVERLAYS

ROOT = Path(__file__).parents[1]
SOURCE = ROOT / "src/elvatch"


def imported(path: Path) -> set[str]:
    found: set[str] = set()
    for node in ast.walk(ast.parse(path.read_text())):
        if isinstance(node, ast.Import):
            found |= {alias.name for alias in node.names}
        elif isinstance(node, ast.ImportFrom) and node.module:
            found |= {node.module, *(f"{node.module}.{alias.name}" for alias in node.names)}
    return found


CORE = (
    "ground",
    "stock",
    "thing",
    "document",
    "mapping",
    "rules",
    "strew",
    "wear",
    "cover",
    "picture",
    "handoff",
    "judging",
)
"""The rooms of core, each knowing only those before it; what they share stands beside them."""
FORBIDDEN = {
    "core": (
        "elvatch.store",
        "elvatch.web",
        "elvatch.app",
        "elvatch.cli",
        "elvatch.demo",
        "flask",
        "sqlite3",
        "waitress",
    ),
    **{f"core/{room}": tuple(f"elvatch.core.{later}" for later in CORE[k + 1 :]) for k, room in enumerate(CORE)},
    "store": ("elvatch.web", "elvatch.app", "elvatch.cli", "flask"),
    "app": ("elvatch.web", "elvatch.cli", "elvatch.demo", "flask", "sqlite3", "elvatch.store.database"),
    "web": ("sqlite3", "elvatch.store.database", "elvatch.cli", "elvatch.demo"),
}


@pytest.mark.parametrize("folder", FORBIDDEN)
def test_dependencies_point_one_way(folder: str) -> None:
    files = list((SOURCE / folder).rglob("*.py"))
    assert files
    for path in files:
        for name in imported(path):
            assert not name.startswith(FORBIDDEN[folder]), f"{path.relative_to(ROOT)} imports {name}"


MODULES = {
    ".".join(path.relative_to(SOURCE.parent).with_suffix("").parts).removesuffix(".__init__"): path
    for path in SOURCE.rglob("*.py")
}


def package_of(module: str) -> str:
    """The folder that a module stands in, below core the room."""
    parts = module.split(".")
    deep = 3 if parts[1:2] == ["core"] else 2
    return ".".join(parts[:deep])


def on_a_circle(arrows: dict[str, set[str]]) -> set[str]:
    """Those that lead back to themselves."""

    def reached(start: str) -> set[str]:
        seen: set[str] = set()
        ahead = list(arrows[start])
        while ahead:
            one = ahead.pop()
            if one not in seen:
                seen.add(one)
                ahead += arrows.get(one, ())
        return seen

    return {one for one in arrows if one in reached(one)}


def test_no_imports_run_in_circles() -> None:
    arrows = {
        module: {one for one in imported(path) if one in MODULES} - {module} for module, path in MODULES.items()
    }
    # a package that gathers its parts is not what those parts import
    for module, ahead in arrows.items():
        arrows[module] = {one for one in ahead if not any(other.startswith(f"{one}.") for other in ahead)}
    assert on_a_circle(arrows) == set()
    rooms: dict[str, set[str]] = {}
    for module, ahead in arrows.items():
        rooms.setdefault(package_of(module), set()).update(package_of(one) for one in ahead)
    assert on_a_circle({room: ahead - {room} for room, ahead in rooms.items()}) == set()


PAGE = ROOT / "ui/src"


def test_no_imports_of_the_page_run_in_circles() -> None:
    arrows: dict[str, set[str]] = {}
    for path in (one for one in PAGE.rglob("*.ts*") if "generated" not in one.parts):
        named = re.findall(r'(?:import|export)\s[^;]*?from "(\.[^"]+)"', path.read_text())
        ahead = [(path.parent / name).resolve() for name in named]
        arrows[str(path.with_suffix("").relative_to(PAGE))] = {
            str(one.relative_to(PAGE)) for one in ahead if one.is_relative_to(PAGE)
        }
    assert sum(map(len, arrows.values())) > 300
    assert on_a_circle(arrows) == set()


def test_no_file_is_longer_than_five_hundred_lines() -> None:
    files = [*SOURCE.rglob("*.py"), *(ROOT / "ui/src").rglob("*.ts*"), *(ROOT / "tests").rglob("*.py")]
    long = [p for p in files if "generated" not in p.parts and len(p.read_text().splitlines()) > 500]
    assert long == []


def test_nothing_is_kept_from_the_formatter() -> None:
    folders = [SOURCE, *(ROOT / name for name in ("tests", "trials", "benchmarks", "tools", "examples"))]
    lines = [line for folder in folders for path in folder.rglob("*.py") for line in path.read_text().splitlines()]
    assert [line for line in lines if re.search(r"# fmt: (skip|off)\b", line)] == []


def commands(of: argparse.ArgumentParser | None = None, before: str = "") -> dict[str, str]:
    """Every command by its words, those of a group among them, with what its help says."""
    out: dict[str, str] = {}
    group = next(a for a in (of or parser())._actions if isinstance(a, argparse._SubParsersAction))
    for name, made in group.choices.items():
        inside = [a for a in made._actions if isinstance(a, argparse._SubParsersAction)]
        out |= commands(made, f"{before}{name} ") if inside else {before + name: made.format_help()}
    return out


def test_the_guide_names_every_command_and_option_and_no_other() -> None:
    text = (ROOT / "docs/guide/command-line.md").read_text()
    told = dict(re.findall(r"^## elvatch ([a-z -]+)\n(.*?)(?=^## |\Z)", text, re.M | re.S))
    assert told.keys() == commands().keys()
    for name, usage in commands().items():
        options = set(re.findall(r"--[a-z-]+", usage)) - {"--help"}
        assert set(re.findall(r"--[a-z-]+", told[name])) == options, name


def test_the_books_name_every_mode_and_every_sample_set() -> None:
    guide = (ROOT / "docs/guide/cover.md").read_text()
    for mode in MODES:
        assert f"`{mode}`" in guide
    stock = (ROOT / "docs/guide/stock.md").read_text()
    for kind in GENERATORS:
        assert f"`{kind}`" in stock
    wear = (ROOT / "docs/guide/wear.md").read_text()
    for kind in OVERLAYS:
        assert f"`{kind}`" in wear
    formats = (ROOT / "docs/formats.md").read_text()
    for generator in GENERATORS.values():
        assert generator.title.lower() in formats.lower()


def test_links_in_the_books_lead_somewhere() -> None:
    for book in [ROOT / "README.md", *(ROOT / "docs").rglob("*.md")]:
        for target in re.findall(r"\]\(([^)#]+)", book.read_text()):
            if "://" not in target:
                assert (book.parent / target).exists(), f"{book.name}: {target}"


FILES = {name: f"docs/{name}.schema.json" for name in ("recipe", "stock", "answers", "hand-off")} | {
    "catalogue": "docs/catalogue.json"
}


def test_published_schemas_are_those_of_the_models(capsys: pytest.CaptureFixture[str]) -> None:
    for name in FILES:
        assert main(["schema", "--of", name]) == 0
        assert capsys.readouterr().out == (ROOT / FILES[name]).read_text()


def test_the_types_of_the_page_are_made_from_what_is_published(tmp_path: Path) -> None:
    subprocess.run(["node", "types.mjs", str(tmp_path)], cwd=ROOT / "ui", check=True, capture_output=True)
    made = {path.name: path.read_text() for path in tmp_path.iterdir()}
    assert made == {path.name: path.read_text() for path in (ROOT / "ui/src/generated").iterdir()}, "run: make types"


MOST_LINES, MOST_PARAMETERS = 60, 9


def test_functions_are_short_enough_to_see_whole_and_take_few_things() -> None:
    found = []
    for path in SOURCE.rglob("*.py"):
        for node in ast.walk(ast.parse(path.read_text())):
            if isinstance(node, ast.FunctionDef):
                kernel = any(
                    isinstance(d, ast.Name) and d.id in ("kernel", "inner", "part") for d in node.decorator_list
                )
                taken = [a.arg for a in (*node.args.args, *node.args.kwonlyargs) if a.arg not in ("self", "cls")]
                lines = (node.end_lineno or 0) - node.lineno + 1
                if not kernel and (lines > MOST_LINES or len(taken) > MOST_PARAMETERS):
                    found.append(
                        f"{path.relative_to(SOURCE)}: {node.name} has {lines} lines, {len(taken)} parameters"
                    )
    assert found == []


def test_a_first_run_compiles_every_kernel() -> None:
    # one that it leaves out has a user wait for seconds in the middle of work
    kernels = {
        f"{path.stem}.{node.name}"
        for path in (SOURCE / "core").rglob("*.py")
        for node in ast.walk(ast.parse(path.read_text()))
        if isinstance(node, ast.FunctionDef) and "kernel" in {getattr(one, "id", "") for one in node.decorator_list}
    }
    compiled = {name.split("-")[0] for name in (cache_folder() / "whole").read_text().splitlines()}
    assert len(kernels) > 100
    assert sorted(kernels - compiled) == []


def test_a_class_has_a_name_of_its_own() -> None:
    named: dict[str, list[str]] = {}
    for path in sorted(SOURCE.rglob("*.py")):
        for node in ast.parse(path.read_text()).body:
            if isinstance(node, ast.ClassDef) and not node.name.startswith("_"):
                named.setdefault(node.name, []).append(path.relative_to(SOURCE).as_posix())
    assert {name: places for name, places in named.items() if len(places) > 1} == {}


def test_what_is_heavy_is_not_loaded_at_start() -> None:
    heavy = ["pxr", "MaterialX", "PyOpenColorIO", "trimesh", "dask", "distributed"]
    heavy += ["scipy.interpolate", "scipy.optimize", "scipy.spatial", "scipy.sparse"]
    asked = f"import elvatch.cli.commands, elvatch.web.app, sys; print([m for m in {heavy} if m in sys.modules])"
    found = subprocess.run([sys.executable, "-c", asked], capture_output=True, text=True, check=True)
    assert found.stdout.strip() == "[]"
