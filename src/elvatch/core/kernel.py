"""The one way Numba is used here: compiled, without the interpreter lock, kept on disk.

Numba's own disk cache notices a change of the file a kernel stands in, but not of a file
that it calls into. The cache folder is therefore named after the text of every kernel
module together, so a stale compilation cannot be picked up. It is named after the place of
the code as well: what Numba keeps goes by path, and a second copy of the code would else
be taken for compiled when nothing of it is.
"""

from __future__ import annotations

import functools
import hashlib
import inspect
import os
import tempfile
from collections.abc import Callable
from pathlib import Path
from typing import TYPE_CHECKING, Any, TypeVar, cast

F = TypeVar("F", bound=Callable[..., object])

_CORE = Path(__file__).parent


@functools.cache
def sources_digest() -> str:
    """Return a name for the text of all kernel modules together."""
    digest = hashlib.blake2b(digest_size=8)
    for path in sorted(_CORE.rglob("*.py")):
        text = path.read_bytes()
        if any(mark in text for mark in (b"@kernel", b"@inner", b"@part", b"PartPipeline")):
            digest.update(path.relative_to(_CORE).as_posix().encode())
            digest.update(text)
    return digest.hexdigest()


@functools.cache
def cache_folder() -> Path:
    """Return the folder of what is compiled of just these kernels, where they lie."""
    base = Path(os.environ.get("XDG_CACHE_HOME", Path.home() / ".cache"))
    where = hashlib.blake2b(str(_CORE).encode(), digest_size=4).hexdigest()
    folder = base / "elvatch" / f"kernels-{sources_digest()}-{where}"
    try:
        folder.mkdir(parents=True, exist_ok=True)
        with tempfile.TemporaryFile(dir=folder):
            return folder
    except OSError:
        return Path(tempfile.mkdtemp(prefix="elvatch-kernels-"))


os.environ.setdefault("NUMBA_CACHE_DIR", str(cache_folder()))

import numba  # noqa: E402  (the cache folder must be set before Numba is loaded)
import numba.extending  # noqa: E402
import numpy as np  # noqa: E402
from llvmlite import ir  # noqa: E402
from numba import types  # noqa: E402

from elvatch.core.linked import PartPipeline, callable_too  # noqa: E402

_compile = cast(Callable[..., Callable[[F], F]], numba.njit)
_HOW = {
    "nogil": True,
    "cache": True,
    "error_model": "numpy",
    "fastmath": {"contract", "reassoc", "nsz"},
    "_nrt": False,
    "no_cfunc_wrapper": True,
}


_LITERAL = {"channels", "values"}
"""Parameters that say how many numbers are worked on at once: compiled for each count that they are called with."""


def _for_any_number(made: F) -> F:
    """Let a number written out in a call be compiled as any number; else each would be compiled by itself.

    What is put in place where it is called is fitted to that number all the same.
    """
    dispatcher = cast(Any, made)
    names = list(inspect.signature(dispatcher.py_func).parameters)
    plain, unliteral = dispatcher.get_call_template, cast(Any, types).unliteral

    def get_call_template(args: tuple[Any, ...], kws: dict[str, Any]) -> Any:
        return plain(
            tuple(a if name in _LITERAL else unliteral(a) for name, a in zip(names, args, strict=False)),
            {name: a if name in _LITERAL else unliteral(a) for name, a in kws.items()},
        )

    dispatcher.get_call_template = get_call_template
    return made


def kernel(function: F) -> F:
    """Compile ``function`` with Numba: no Python objects, no interpreter lock, cached on disk.

    Sums may be regrouped and multiplied-and-added in one go; NaN and infinity keep their meaning.
    Reference counting is off: threads that share arrays would spend their time on the counters
    (measured here: ten times slower rays). A kernel therefore cannot create arrays; callers pass
    scratch space in.
    """
    return _for_any_number(_compile(**_HOW)(function))


def part(function: F) -> F:
    """Compile a part of kernels that stays a function of its own: too large to stand wherever it is called.

    Only kernels and tests call it, so that it has no file of its own.
    """
    return _standing(function, in_place=False)


def inner(function: F) -> F:
    """Compile a kernel's innermost part, put in place wherever it is called.

    A call hands every array of every named tuple over one by one, some fifty numbers for a scene;
    in a loop over pixels that costs more than the work (measured here: a third of a picture).
    """
    return _standing(function, in_place=True)


def _standing(function: F, in_place: bool) -> F:
    # said even where it is false: what is not said is taken over from what is being compiled
    how = _HOW | {"cache": False, "forceinline": in_place}
    made = _compile(**how, pipeline_class=PartPipeline, no_cpython_wrapper=True)(function)
    callable_too(made, lambda: _for_any_number(_compile(**how)(function)))
    return _for_any_number(made)


def plainly(function: F) -> F:
    """Return a part of kernels as plain Python: compiling it would take seconds each time a process begins."""
    return cast(F, cast(Any, function).py_func)


Corners = tuple[int, int, int, int, np.float32, np.float32, np.float32, np.float32]

if TYPE_CHECKING:

    def blend_corners(texels: int, channels: int, corners: Corners, out: int) -> None:
        """Add four weighted texels to ``out``; for kernels only.

        Compiled code cannot hold a list of arrays cheaply; it can hold a list of addresses. The
        caller keeps the arrays alive while their addresses are in use. Written as vector
        instructions, since a loop over channels is not turned into them (measured: half the time).

        Parameters
        ----------
        texels : int
            Memory address of 16-bit unsigned numbers.
        channels : int
            How many numbers a texel has; a literal.
        corners : tuple
            Where four texels begin, counted in numbers, and what each weighs (float32).
        out : int
            Memory address of ``channels`` float32 that are added to.
        """

    def scale_values(values: int, channels: int, scale: int, shift: int) -> None:
        """Multiply numbers and add to them, each by its own, in place; for kernels only.

        Parameters
        ----------
        values, scale, shift : int
            Memory addresses of ``channels`` float32 each.
        channels : int
            How many; a literal.
        """

    def mix_values(values: int, channels: int, others: int, part: np.float32) -> None:
        """Move numbers a part of the way towards others, in place; for kernels only.

        Parameters
        ----------
        values, others : int
            Memory addresses of ``channels`` float32 each.
        channels : int
            How many; a literal.
        part : float32
            0 leaves them as they are, 1 makes them the others.
        """

    def exponent_of(value: float) -> tuple[int, float]:
        """Return a whole ``n`` and ``m`` in 1..2 with ``m * 2**n`` the number above 0 asked for; for kernels only."""

    def settled(value: float) -> float:
        """Return a number as it is, worked out by now; for kernels only.

        Sums may be regrouped, so that what is multiplied by ``1 / x`` is divided by ``x`` instead, in each round of a
        loop, if that is all that ``1 / x`` is for (measured: rays over ground a sixth slower).
        """

    def unsigned(index: int) -> int:
        """Return an index of which it is known that it is not below 0; for kernels only.

        Numba counts from the end what is below 0: wherever that cannot be ruled out, each look into an array asks
        for it first.
        """

    def mixed_bits(ix: int, iy: int, seed: int) -> int:
        """Return 32 well-mixed bits for three whole numbers (Wellons 2018 mixing constants); for kernels only.

        Worked out in 32 bits, which Numba would make 64: half as many at a time, and no single instruction for a
        product (measured: less than half the time in a row of cells).
        """

    def peek_code(codes: int, index: int) -> int:
        """Return one of the 16-bit unsigned numbers at a memory address; for kernels only."""

    def peek_value(values: int, index: int) -> float:
        """Return one of the float32 at a memory address; for kernels only."""

else:

    def _peek(kind, result, widen):
        """Make an intrinsic that reads one number at an address; ``widen`` turns it into ``result``."""

        @numba.extending.intrinsic
        def peek(typing_context, address, index):
            def emit(context, builder, signature, arguments):
                start = builder.inttoptr(arguments[0], kind.as_pointer())
                return widen(builder, builder.load(builder.gep(start, [arguments[1]]), align=1))

            return result(types.int64, types.int64), emit

        return peek

    peek_code = _peek(ir.IntType(16), types.int64, lambda builder, code: builder.zext(code, ir.IntType(64)))
    peek_value = _peek(ir.FloatType(), types.float64, lambda builder, value: builder.fpext(value, ir.DoubleType()))

    def _widths(count):
        """Yield where parts of some numbers begin, and of how many numbers vector instructions take each."""
        first = 0
        while first < count:
            width = 8 if count - first >= 8 else 1 << ((count - first).bit_length() - 1)
            yield first, width
            first += width

    def _everywhere(builder, number, width):
        """Return a vector of so many times a number."""
        vector = ir.Constant(ir.VectorType(number.type, width), ir.Undefined)
        for lane in range(width):
            vector = builder.insert_element(vector, number, ir.Constant(ir.IntType(32), lane))
        return vector

    @numba.extending.intrinsic(prefer_literal=True)
    def mix_values(typing_context, values, channels, others, part):
        """Move numbers towards others; see the typed declaration above."""
        count = channels.literal_value

        def emit(context, builder, signature, arguments):
            starts = [builder.inttoptr(arguments[k], ir.FloatType().as_pointer()) for k in (0, 2)]
            for first, width in _widths(count):
                vector = ir.VectorType(ir.FloatType(), width)
                own, other = (
                    builder.bitcast(builder.gep(start, [ir.Constant(ir.IntType(64), first)]), vector.as_pointer())
                    for start in starts
                )
                here = builder.load(own, align=4)
                way = builder.fsub(builder.load(other, align=4), here)
                way = builder.fmul(way, _everywhere(builder, arguments[3], width), flags=("contract",))
                builder.store(builder.fadd(here, way, flags=("contract",)), own, align=4)
            return context.get_dummy_value()

        return types.void(types.int64, channels, types.int64, types.float32), emit

    @numba.extending.intrinsic(prefer_literal=True)
    def scale_values(typing_context, values, channels, scale, shift):
        """Multiply and add; see the typed declaration above."""
        count = channels.literal_value

        def emit(context, builder, signature, arguments):
            starts = [builder.inttoptr(arguments[k], ir.FloatType().as_pointer()) for k in (0, 2, 3)]
            for first, width in _widths(count):
                vector = ir.VectorType(ir.FloatType(), width)
                own, by, more = (
                    builder.bitcast(builder.gep(start, [ir.Constant(ir.IntType(64), first)]), vector.as_pointer())
                    for start in starts
                )
                value = builder.fmul(builder.load(own, align=4), builder.load(by, align=4), flags=("contract",))
                value = builder.fadd(value, builder.load(more, align=4), flags=("contract",))
                builder.store(value, own, align=4)
            return context.get_dummy_value()

        return types.void(types.int64, channels, types.int64, types.int64), emit

    @numba.extending.intrinsic
    def settled(typing_context, value):
        """Hide where a number comes from; see the typed declaration above."""

        def emit(context, builder, signature, arguments):
            kind = ir.FunctionType(ir.DoubleType(), [ir.DoubleType()])
            return builder.call(ir.InlineAsm(kind, "", "=r,0"), [arguments[0]])

        return types.float64(types.float64), emit

    @numba.extending.intrinsic
    def unsigned(typing_context, index):
        """Rule out what is below 0; see the typed declaration above."""

        def emit(context, builder, signature, arguments):
            kind = ir.FunctionType(ir.VoidType(), [ir.IntType(1)])
            assume = builder.module.declare_intrinsic("llvm.assume", (), kind)
            builder.call(assume, [builder.icmp_signed(">=", arguments[0], ir.IntType(64)(0))])
            return arguments[0]

        return types.int64(types.int64), emit

    @numba.extending.intrinsic
    def mixed_bits(typing_context, ix, iy, seed):
        """Mix three numbers; see the typed declaration above."""

        def emit(context, builder, signature, arguments):
            word = ir.IntType(32)
            factors = 0x27D4EB2D, 0x165667B1, 0x9E3779B1
            parts = [builder.mul(builder.trunc(a, word), word(k)) for a, k in zip(arguments, factors, strict=True)]
            bits = builder.add(parts[0], builder.add(*parts[1:]))
            for shift, factor in ((16, 0x7FEB352D), (15, 0x846CA68B)):
                bits = builder.mul(builder.xor(bits, builder.lshr(bits, word(shift))), word(factor))
            bits = builder.xor(bits, builder.lshr(bits, word(16)))
            return builder.zext(bits, ir.IntType(64))

        return types.int64(types.int64, types.int64, types.int64), emit

    @numba.extending.intrinsic
    def exponent_of(typing_context, value):
        """Take a number apart; see the typed declaration above."""
        result = types.Tuple((types.int64, types.float64))

        def emit(context, builder, signature, arguments):
            word = ir.IntType(64)
            bits = builder.bitcast(arguments[0], word)
            exponent = builder.sub(builder.lshr(bits, word(52)), word(1023))
            rest = builder.or_(builder.and_(bits, word((1 << 52) - 1)), word(1023 << 52))
            return context.make_tuple(builder, result, (exponent, builder.bitcast(rest, ir.DoubleType())))

        return result(types.float64), emit

    @numba.extending.intrinsic(prefer_literal=True)
    def blend_corners(typing_context, texels, channels, corners, out):
        """Blend texels; see the typed declaration above."""
        count = channels.literal_value

        def emit(context, builder, signature, arguments):
            address, _, tuple_, out_address = arguments
            parts = [builder.extract_value(tuple_, k) for k in range(8)]
            words = builder.inttoptr(address, ir.IntType(16).as_pointer())
            floats = builder.inttoptr(out_address, ir.FloatType().as_pointer())
            for first, width in _widths(count):
                vector = ir.VectorType(ir.FloatType(), width)
                place = builder.bitcast(
                    builder.gep(floats, [ir.Constant(ir.IntType(64), first)]), vector.as_pointer()
                )
                weighed = []
                for corner in range(4):
                    at = builder.add(parts[corner], ir.Constant(ir.IntType(64), first))
                    kind = ir.VectorType(ir.IntType(16), width)
                    codes = builder.load(builder.bitcast(builder.gep(words, [at]), kind.as_pointer()), align=2)
                    wide = builder.zext(codes, ir.VectorType(ir.IntType(32), width))
                    weight = _everywhere(builder, parts[4 + corner], width)
                    weighed.append(builder.fmul(builder.sitofp(wide, vector), weight, flags=("contract",)))
                # two by two: what is added one after the other is waited for one after the other
                pairs = [builder.fadd(*weighed[k : k + 2], flags=("contract",)) for k in (0, 2)]
                total = builder.fadd(builder.load(place, align=4), builder.fadd(*pairs))
                builder.store(total, place, align=4)
            return context.get_dummy_value()

        return types.void(types.int64, channels, corners, types.int64), emit
