"""Run the benchmarks, all or those named, beside what is asked for; fail when one is missed.

``--small`` runs them at small sizes and judges only that both sides agree.
"""

from __future__ import annotations

import sys

from benchmarks import (
    baking,
    covering,
    editing,
    fitting,
    grounding,
    hand,
    lighting,
    meshing,
    setting,
    stocking,
    strewing,
    tracing,
    wearing,
)
from benchmarks.scale import FULL, SMALL

PARTS = {
    "tracing": tracing,
    "editing": editing,
    "covering": covering,
    "fitting": fitting,
    "lighting": lighting,
    "wearing": wearing,
    "baking": baking,
    "meshing": meshing,
    "grounding": grounding,
    "stocking": stocking,
    "strewing": strewing,
    "setting": setting,
    "hand": hand,
}


def main(arguments: list[str]) -> int:
    """Return 1 when any ratio misses its mark; a small run judges agreement alone, which every part checks first."""
    small = "--small" in arguments
    scale = SMALL if small else FULL
    missed = 0
    for name in [one for one in arguments if one != "--small"] or PARTS:
        for line in PARTS[name].run(scale):
            print(f"agreed {line.name}" if small else line, flush=True)
            missed += not line.met and not small
    return 1 if missed else 0


if __name__ == "__main__":
    sys.exit(main(sys.argv[1:]))
