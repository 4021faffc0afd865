"""What is answered with: facts and figures, declared once in Python and told to the page in types made from them.

A :func:`result` is a plain frozen dataclass. How it looks on the wire, its JSON Schema and its TypeScript type all
follow from its fields; nothing mirrors it by hand.
"""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from typing import Annotated, Any, TypeVar, dataclass_transform

import numpy as np
from numpy.typing import NDArray
from pydantic import ConfigDict, GetPydanticSchema
from pydantic.alias_generators import to_camel
from pydantic_core import core_schema

T = TypeVar("T")
_CONFIG = ConfigDict(
    alias_generator=to_camel,
    validate_by_name=True,
    arbitrary_types_allowed=True,
    json_schema_serialization_defaults_required=True,
)


@dataclass_transform(frozen_default=True)
def result(cls: type[T]) -> type[T]:
    """Make a class a result: a frozen dataclass whose fields the page knows in camel case.

    Examples
    --------
    >>> from pydantic import TypeAdapter
    >>> @result
    ... class Spot:
    ...     east_m: float
    >>> TypeAdapter(Spot).dump_json(Spot(2.5), by_alias=True)
    b'{"eastM":2.5}'
    """
    cls.__pydantic_config__ = _CONFIG  # type: ignore[attr-defined]
    return dataclass(frozen=True)(cls)


def _as_list(item: core_schema.CoreSchema, digits: int | None) -> GetPydanticSchema:
    def told(values: NDArray[Any]) -> Any:
        return values.tolist() if digits is None else [round(value, digits) for value in values.tolist()]

    def schema(source: Any, handler: Callable[[Any], core_schema.CoreSchema]) -> core_schema.CoreSchema:
        return core_schema.no_info_plain_validator_function(
            np.asarray, serialization=core_schema.plain_serializer_function_ser_schema(told, return_schema=item)
        )

    return GetPydanticSchema(schema)


_NUMBER, _WHOLE = core_schema.float_schema(), core_schema.int_schema()
Numbers = Annotated[NDArray[np.floating[Any]], _as_list(core_schema.list_schema(_NUMBER), None)]
Millimetres = Annotated[NDArray[np.floating[Any]], _as_list(core_schema.list_schema(_NUMBER), 3)]
TenthsOfMillimetres = Annotated[NDArray[np.floating[Any]], _as_list(core_schema.list_schema(_NUMBER), 4)]
Hundredths = Annotated[NDArray[np.floating[Any]], _as_list(core_schema.list_schema(_NUMBER), 5)]
Counts = Annotated[NDArray[np.int64], _as_list(core_schema.list_schema(_WHOLE), None)]
CountsByRow = Annotated[NDArray[np.int64], _as_list(core_schema.list_schema(core_schema.list_schema(_WHOLE)), None)]
