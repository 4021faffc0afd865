"""The steps that shape a ground, one module each; what stands here is known everywhere."""

from __future__ import annotations

import importlib
import pkgutil

for _found in pkgutil.iter_modules(__path__, f"{__name__}."):
    importlib.import_module(_found.name)
