"""Run the benchmarks, all or those named, beside what is asked for; fail when one is missed."""

from __future__ import annotations

import sys

from benchmarks import baking, covering, editing, fitting, grounding, stocking, tracing, wearing

PARTS = {
    "tracing": tracing,
    "editing": editing,
    "covering": covering,
    "fitting": fitting,
    "wearing": wearing,
    "baking": baking,
    "grounding": grounding,
    "stocking": stocking,
}


def main(names: list[str]) -> int:
    """Return 1 when any ratio misses its mark."""
    missed = 0
    for name in names or PARTS:
        for line in PARTS[name].run():
            print(line, flush=True)
            missed += not line.met
    return 1 if missed else 0


if __name__ == "__main__":
    sys.exit(main(sys.argv[1:]))
