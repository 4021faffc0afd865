"""Parts of kernels: compiled as far as a kernel needs in order to take them in, and no further.

Numba makes of every compiled function a whole that runs by itself: optimised, with a way in from the interpreter,
turned into machine code. What calls it is optimised with it once more, and what calls that again. Parts of kernels
stand four or five deep, so most of a first start went into wholes that nothing ever ran. Here a part stays as it was
lowered until it stands in a kernel (measured for what the cover needs: 65 to 70 s of one core where it was 190; the
same pictures).
"""

from __future__ import annotations

from collections.abc import Callable
from typing import Any, cast

from llvmlite.binding import Linkage
from numba.core.codegen import JITCodeLibrary
from numba.core.compiler import Compiler


class _NoEnvironment:
    """Stands where code is told what objects of Python it uses: a part uses none."""

    def set_env(self, name: str, environment: object) -> None:
        """Take no notice."""


class _Part(JITCodeLibrary):
    """The code of a part: put in place where it is called, or kept apart."""

    apart = False

    @property
    def codegen(self) -> _NoEnvironment:
        """What is told of its environment."""
        return _NoEnvironment()

    def _optimize_final_module(self) -> None:
        """Leave it to the kernel."""

    def _finalize_final_module(self) -> None:
        numba: Any = self
        numba._finalize_dynamic_globals()
        numba._verify_declare_only_symbols()
        for function in numba._final_module.functions:
            if self.apart and not function.is_declaration and function.linkage == Linkage.external:
                function.add_function_attribute("noinline")
        self._finalized = True

    def get_pointer_to_function(self, name: str) -> int:
        """Return nowhere: there is no machine code."""
        del name
        return 0


class PartPipeline(Compiler):
    """Numba's compiler for what only stands in kernels."""

    def define_pipelines(self) -> Any:
        """Return Numba's own steps, over code that stays a part."""
        state = self.state
        state.library = cast(Any, _Part)(state.targetctx.codegen(), state.func_id.func_qualname)
        state.library.apart = not state.flags.forceinline
        return cast(Any, super()).define_pipelines()


def callable_too(dispatcher: Any, compiled: Callable[[], Callable[..., object]]) -> None:
    """Let Python call a part: what it calls then is compiled as a whole, once.

    Parameters
    ----------
    dispatcher : Dispatcher
        A part, with :class:`PartPipeline`.
    compiled : callable
        Returns the same function compiled to run by itself.
    """
    whole: list[Callable[..., object]] = []

    def add_overload(result: Any) -> None:
        dispatcher.overloads[tuple(result.signature.args)] = result

    def called(*given: object, **named: object) -> Callable[..., object]:
        if not whole:
            whole.append(compiled())
        return cast(Callable[..., object], cast(Any, whole[0])._compile_for_args(*given, **named))

    dispatcher.add_overload = add_overload
    dispatcher._compile_for_args = called
