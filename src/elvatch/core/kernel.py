"""The one way Numba is used here: compiled, without the interpreter lock, kept on disk.

Numba's own disk cache notices a change of the file a kernel stands in, but not of a file
that it calls into. The cache folder is therefore named after the text of every kernel
module together, so a stale compilation cannot be picked up.
"""

from __future__ import annotations

import hashlib
import os
import tempfile
from collections.abc import Callable
from pathlib import Path
from typing import TYPE_CHECKING, TypeVar, cast

F = TypeVar("F", bound=Callable[..., object])

_CORE = Path(__file__).parent


def _kernel_sources_digest() -> str:
    digest = hashlib.blake2b(digest_size=8)
    for path in sorted(_CORE.rglob("*.py")):
        text = path.read_bytes()
        if b"@kernel" in text:
            digest.update(path.relative_to(_CORE).as_posix().encode())
            digest.update(text)
    return digest.hexdigest()


def _cache_folder() -> Path:
    base = Path(os.environ.get("XDG_CACHE_HOME", Path.home() / ".cache"))
    folder = base / "elvatch" / f"kernels-{_kernel_sources_digest()}"
    try:
        folder.mkdir(parents=True, exist_ok=True)
        with tempfile.TemporaryFile(dir=folder):
            return folder
    except OSError:
        return Path(tempfile.mkdtemp(prefix="elvatch-kernels-"))


os.environ.setdefault("NUMBA_CACHE_DIR", str(_cache_folder()))

import numba  # noqa: E402  (the cache folder must be set before Numba is loaded)
import numba.extending  # noqa: E402
from llvmlite import ir  # noqa: E402
from numba import types  # noqa: E402

_compile = cast(Callable[..., Callable[[F], F]], numba.njit)


def kernel(function: F) -> F:
    """Compile ``function`` with Numba: no Python objects, no interpreter lock, cached on disk.

    Sums may be regrouped and multiplied-and-added in one go; NaN and infinity keep their meaning.
    Reference counting is off: threads that share arrays would spend their time on the counters
    (measured here: ten times slower rays). A kernel therefore cannot create arrays; callers pass
    scratch space in.
    """
    return _compile(nogil=True, cache=True, error_model="numpy", fastmath={"contract", "reassoc", "nsz"}, _nrt=False)(
        function
    )


if TYPE_CHECKING:

    def word_at(address: int, index: int) -> int:
        """Return the ``index``-th 16-bit unsigned number from a memory address; for kernels only.

        Compiled code cannot hold a list of arrays cheaply; it can hold a list of addresses. The
        caller keeps the arrays alive while their addresses are in use.
        """

else:

    @numba.extending.intrinsic
    def word_at(typing_context, address, index):
        """Load a word through a pointer; see the typed declaration above."""

        def emit(context, builder, signature, arguments):
            base = builder.inttoptr(arguments[0], ir.IntType(16).as_pointer())
            return builder.load(builder.gep(base, [arguments[1]]))

        return types.uint16(types.int64, types.int64), emit
