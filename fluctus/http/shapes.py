"""Answers as frozen dataclasses: orjson writes them, and the API's description is made from them.

A shape is declared once. Its docstring, and those below its fields, describe it to whoever
reads the API; the web client's types are generated from the same.
"""

from typing import Annotated, Any, ClassVar, TypeAlias

from pydantic import ConfigDict, TypeAdapter, WithJsonSchema

from fluctus.core.arrays import Floats, Ints

NUMBER: dict[str, Any] = {"type": "number"}
FullColumn: TypeAlias = Annotated[Floats, WithJsonSchema({"type": "array", "items": NUMBER})]
"""Numbers of one length with their neighbours."""
FloatColumn: TypeAlias = Annotated[
    Floats, WithJsonSchema({"type": "array", "items": {"anyOf": [NUMBER, {"type": "null"}]}})
]
"""Numbers, or none: NaN is written as null."""
IntColumn: TypeAlias = Annotated[
    Ints, WithJsonSchema({"type": "array", "items": {"type": "integer"}})
]
REFERENCE = "#/components/schemas/{model}"


class Shape:
    """What a frozen dataclass derives from to be an answer, or a part of one."""

    __slots__ = ()
    __pydantic_config__: ClassVar[ConfigDict] = ConfigDict(
        arbitrary_types_allowed=True,
        json_schema_serialization_defaults_required=True,
        use_attribute_docstrings=True,
    )


def schema_of(shape: type[Shape]) -> dict[str, Any]:
    """Describe an answer of this shape."""
    return {"$ref": REFERENCE.format(model=shape.__name__)}


def schema_of_list(shape: type[Shape]) -> dict[str, Any]:
    """Describe an answer that is a list of this shape."""
    return {"type": "array", "items": schema_of(shape)}


def describe_shapes(
    result: dict[str, Any], generator: Any, request: Any, public: bool
) -> dict[str, Any]:
    """Add every shape to the components of the API's description; a hook of drf-spectacular."""
    shapes = sorted(_kinds_of(Shape), key=lambda shape: shape.__name__)
    _, described = TypeAdapter.json_schemas(
        [(shape.__name__, "serialization", TypeAdapter(shape)) for shape in shapes],
        ref_template=REFERENCE,
    )
    components = result.setdefault("components", {}).setdefault("schemas", {})
    result["components"]["schemas"] = dict(
        sorted((components | _without_titles(described["$defs"])).items())
    )
    return result


def _kinds_of(shape: type[Shape]) -> set[type[Shape]]:
    """Return all that derive from a shape, near and far."""
    near = set(shape.__subclasses__())
    return near.union(*map(_kinds_of, near))


def _without_titles(described: Any) -> Any:
    """Leave out the titles, which only say the names again; a field of that name stays."""
    if isinstance(described, list):
        return [_without_titles(part) for part in described]
    if isinstance(described, dict):
        return {
            name: _without_titles(part)
            for name, part in described.items()
            if name != "title" or not isinstance(part, str)
        }
    return described
