"""Dependencies point one way, files stay readable, and the books are true."""

from __future__ import annotations

import argparse
import ast
import re
from pathlib import Path

import pytest

from elvatch.cli import parser
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


FORBIDDEN = {
    "core": ("elvatch.store", "elvatch.web", "elvatch.workshop", "elvatch.cli", "elvatch.demo", "flask", "sqlite3",
             "waitress"),
    "core/cover": ("elvatch.core.picture", "elvatch.core.handoff"),
    "core/ground": ("elvatch.core.cover", "elvatch.core.picture", "elvatch.core.handoff"),
    "core/stock": ("elvatch.core.cover", "elvatch.core.picture", "elvatch.core.handoff"),
    "core/handoff": ("elvatch.core.picture",),
    "store": ("elvatch.web", "elvatch.workshop", "flask"),
    "web": ("sqlite3", "elvatch.store.database"),
}  # fmt: skip


@pytest.mark.parametrize("folder", FORBIDDEN)
def test_dependencies_point_one_way(folder: str) -> None:
    files = list((SOURCE / folder).rglob("*.py"))
    assert files
    for path in files:
        for name in imported(path):
            assert not name.startswith(FORBIDDEN[folder]), f"{path.relative_to(ROOT)} imports {name}"


def test_no_file_is_longer_than_five_hundred_lines() -> None:
    files = [*SOURCE.rglob("*.py"), *(ROOT / "ui/src").rglob("*.ts*"), *(ROOT / "tests").rglob("*.py")]
    long = [p for p in files if "generated" not in p.parts and len(p.read_text().splitlines()) > 500]
    assert long == []


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
    told = dict(re.findall(r"^## elvatch ([a-z ]+)\n(.*?)(?=^## |\Z)", text, re.M | re.S))
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
