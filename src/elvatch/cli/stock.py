"""The commands about the stock: bring sets in, list, check, take out, make."""

from __future__ import annotations

import argparse
from collections.abc import Callable
from pathlib import Path

from elvatch.cli.terminal import bar, read_file, tell, workshop, write_beside
from elvatch.core.refusal import RefusalError
from elvatch.core.run import Run
from elvatch.core.stock import archive, generators, intake, roles
from elvatch.core.stock.facts import SetFacts
from elvatch.core.stock.intake import Bytes, Decision
from elvatch.core.stock.recognise import SetGuess
from elvatch.store.wall import Wish

Command = Callable[[str, Callable[[argparse.Namespace], None], str], argparse.ArgumentParser]
_MOST_BYTES = 2 << 30


def commands(command: Command, with_data: Callable[[argparse.ArgumentParser], argparse.ArgumentParser]) -> None:
    """Add the commands to a parser."""
    made = with_data(command("add", _add, "bring in texture sets from zips, folders or files"))
    made.add_argument("paths", nargs="+", metavar="PATH", help="a zip, a folder, or an image")
    made.add_argument("--tile", type=float, metavar="M", help="metres that one repeat covers (default: a guess)")
    made.add_argument("--look", action="store_true", help="only say what they would be taken for; store nothing")
    made = with_data(command("list", _list, "list the sets"))
    made.add_argument("--text", default="", help="words that title, tags, notes or category must hold")
    for name, run, about in (
        ("check", _check, "say what a set is worth: seams, repetition, green axis, ranges"),
        ("out", _out, "take a set out as a zip with clean names"),
    ):
        made = with_data(command(name, run, about))
        made.add_argument("set", metavar="NAME", help="title or name of a set")
        if name == "out":
            made.add_argument("--to", required=True, metavar="FILE.zip", help="the zip to write")
    made = with_data(command("make", _make, "make a sample set"))
    made.add_argument("kind", metavar="KIND", help="one of " + ", ".join(generators.GENERATORS))
    made.add_argument("--seed", type=int, default=7, help="which one (default 7)")
    made.add_argument("--size", type=int, default=1024, metavar="PX", help="pixels along a side (default 1024)")
    made.add_argument(
        "--control", action="append", default=[], metavar="NAME=VALUE", help="of this kind; may be given again"
    )


def _gather(paths: list[str]) -> list[tuple[str, Bytes]]:
    """Return every file worth looking at, by a path as text, and what reads it."""
    out: list[tuple[str, Bytes]] = []

    def later(path: Path) -> Bytes:
        return lambda: read_file(path, "an image", _MOST_BYTES)

    for text in paths:
        path = Path(text)
        if path.is_dir():
            inside = sorted(one for one in path.rglob("*") if one.is_file() and archive.wanted(str(one)))
            out += [(f"{path.name}/{one.relative_to(path).as_posix()}", later(one)) for one in inside]
            continue
        if path.suffix.lower() == ".zip":
            data = read_file(path, "a zip", _MOST_BYTES)
            out += [(f"{path.stem}/{m.path}", _held(m.data)) for m in archive.members(path.name, data)]
            continue
        if not path.is_file():
            raise RefusalError(str(path), "no such file", "a zip, a folder or an image", "check the path")
        out.append((path.name, later(path)))
    if not out:
        raise RefusalError(", ".join(paths)[:80], "no images", "images of texture sets", "choose another folder")
    return out


def _held(data: bytes) -> Bytes:
    return lambda: data


def _add(options: argparse.Namespace) -> None:
    files = _gather(options.paths)
    shop = workshop(options)
    found = intake.propose(files, Path(options.paths[0]).stem or "New set", Run(progress=bar()))
    data, lines = [], []
    for guess in found.sets:
        decision = intake.decide(guess)
        if options.tile is not None:
            decision = Decision.model_validate(decision.model_dump() | {"tile_m": options.tile})
        name, problem = None, None
        if not options.look:
            try:
                name = shop.sets.keep(decision, dict(files), Run(progress=bar()))
            except RefusalError as error:
                problem = str(error)
        data.append(_guess_data(guess, decision, name, problem))
        lines += _guess_lines(guess, decision, name, problem)
    tell(options, {"sets": data, "refused": found.refused}, lines + [f"left out: {text}" for text in found.refused])


def _guess_data(guess: SetGuess, decision: Decision, name: str | None, problem: str | None) -> dict[str, object]:
    return {
        "name": name,
        "title": decision.title,
        "category": decision.category,
        "tile_m": decision.tile_m,
        "tile_reason": guess.tile_reason,
        "relief_m": decision.relief_m,
        "warnings": guess.warnings,
        "refused": problem,
        "files": [
            {
                "path": f.seen.path,
                "meaning": f.meaning,
                "roles": list(roles.gives(f.meaning)),
                "sure": f.sure,
                "reason": f.reason,
                "width_px": f.seen.width_px,
                "height_px": f.seen.height_px,
                "bits": f.seen.bits,
                "turn_green": f.turn_green,
                "warnings": list(f.warnings),
            }
            for f in guess.files
        ],
    }


def _guess_lines(guess: SetGuess, decision: Decision, name: str | None, problem: str | None) -> list[str]:
    lines = [f"{decision.title}: {decision.category}, {decision.tile_m:g} m per repeat ({guess.tile_reason})"]
    for file in guess.files:
        lines.append(f"  {roles.title(file.meaning):12} {file.seen.path} ({file.reason})")
        lines += [f"    note: {text}" for text in file.warnings]
    lines += [f"  note: {text}" for text in guess.warnings]
    return [*lines, f"  kept as {name}" if name else f"  not kept: {problem or 'only looked at'}"]


def _list(options: argparse.Namespace) -> None:
    found = workshop(options).store.wall.find(Wish(text=options.text)).lines
    data = [{key: value for key, value in vars(line).items() if key != "revision"} for line in found]
    lines = [
        f"{line.name}  {line.title}: {line.category}, {line.size_px} px, {line.tile_m:g} m, seam {line.seam:.1f}, "
        f"{', '.join(line.roles)}"
        for line in found
    ]
    tell(options, data, lines or ["No sets. Bring some in: elvatch stock add PATH, or make one: elvatch stock make"])


def _check(options: argparse.Namespace) -> None:
    shop = workshop(options)
    state = shop.store.stock.state(shop.store.stock.find(options.set))
    facts = state.facts
    data = {
        "name": state.name,
        "title": state.description.title,
        "tile_m": state.description.tile_m,
        "relief_m": state.description.relief_m,
        **facts.model_dump(mode="json"),
    }
    tell(
        options, data, [f"{state.description.title}: {state.description.tile_m:g} m per repeat", *_facts_lines(facts)]
    )


def _facts_lines(facts: SetFacts) -> list[str]:
    lines = [
        f"  {roles.FACTS[m.role].title:12} {m.width_px} px, {m.bits} bit, seam {m.across.ratio:.2f} across, "
        f"{m.down.ratio:.2f} down"
        for m in facts.maps
    ]
    lines.append(f"  repetition {facts.repetition_far:.2f} from afar, {facts.repetition_near:.2f} nearer by, of 1")
    if facts.green:
        lines.append(f"  green axis {facts.green.points}, confidence {facts.green.confidence:.2f} ({facts.green.by})")
    return lines + [f"  finding: {finding.text}" for finding in facts.findings]


def _out(options: argparse.Namespace) -> None:
    shop = workshop(options)
    _, data = shop.sets.take_out(shop.store.stock.find(options.set))
    write_beside(Path(options.to), data)
    tell(options, {"out": options.to, "bytes": len(data)}, [f"{options.to}  {len(data) / 1e6:.1f} MB"])


def _make(options: argparse.Namespace) -> None:
    controls = {}
    for text in options.control:
        key, _, value = text.partition("=")
        try:
            controls[key] = float(value)
        except ValueError:
            raise RefusalError("--control", repr(text), "NAME=VALUE with a number", "correct it") from None
    if not 0 <= options.seed <= 1_000_000:
        raise RefusalError("--seed", str(options.seed), "0 to 1000000", "choose another")
    name = workshop(options).sets.make(options.kind, options.size, options.seed, controls, Run(progress=bar()))
    title = generators.GENERATORS[options.kind].title
    tell(
        options,
        {"name": name, "kind": options.kind, "seed": options.seed, "size_px": options.size},
        [f"{name}  {title}, {options.size} px, seed {options.seed}"],
    )
