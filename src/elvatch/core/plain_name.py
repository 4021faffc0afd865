"""Names for files made of names that people gave."""

from __future__ import annotations

import re


def plain_name(name: str) -> str:
    """A name for a file: lower case, plain letters and digits, never empty, never a path."""
    return re.sub(r"[^a-z0-9]+", "-", name.lower()).strip("-")[:48] or "unnamed"
