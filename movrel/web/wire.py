"""The dataclasses of the core as they travel over HTTP: one shape, written once.

Names that are words of Python are spelt out in the core and short on the wire: ``class_name`` is ``class`` there.
"""

from __future__ import annotations

import dataclasses
from typing import Any, get_type_hints

from flask import Response
from pydantic import BaseModel, ConfigDict, Field, create_model

#: Names of fields in the core, and on the wire.
WIRE_NAMES = {
    "class_name": "class", "from_port": "from", "to_port": "to", "from_state": "from", "to_state": "to", "form": "is",
}  # fmt: skip


def wire_name(name: str) -> str:
    return WIRE_NAMES.get(name, name)


WIRE = ConfigDict(
    alias_generator=wire_name,
    populate_by_name=True,
    from_attributes=True,
    json_schema_serialization_defaults_required=True,
)


def schema(shape: type) -> type[BaseModel]:
    """The schema of a dataclass: the same fields, those of nested dataclasses too."""
    return _schemas[shape] if shape in _schemas else _schemas.setdefault(shape, _schema(shape))


_schemas: dict[type, type[BaseModel]] = {}


def _schema(shape: type) -> type[BaseModel]:
    assert dataclasses.is_dataclass(shape)
    hints = get_type_hints(shape, include_extras=True)
    fields: dict[str, Any] = {}
    for f in dataclasses.fields(shape):
        default: Any = ...
        if f.default is not dataclasses.MISSING:
            default = f.default
        elif f.default_factory is not dataclasses.MISSING:
            default = Field(default_factory=f.default_factory)
        fields[f.name] = (hints[f.name], default)
    # A dataclass without words of its own carries its signature instead.
    words = None if (shape.__doc__ or "").startswith(f"{shape.__name__}(") else shape.__doc__
    return create_model(shape.__name__, __config__=WIRE, __doc__=words, **fields)


def answer(view: Any, status: int = 200) -> Response:
    """A response with a dataclass of the core, or a model of the web room."""
    body = view if isinstance(view, BaseModel) else schema(type(view)).model_validate(view)
    return Response(body.model_dump_json(by_alias=True), status, content_type="application/json")
