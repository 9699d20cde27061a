"""Print the description of the HTTP interface: ``python -m movrel.web.describe > movrel/web/openapi.json``."""

from __future__ import annotations

import json
from typing import Any


def description() -> str:
    """The OpenAPI document as JSON text."""
    from movrel.web.app import bare_app

    document = bare_app().api_doc
    for shape in document["components"]["schemas"].values():
        _require_kind(shape)
    return json.dumps(document, indent=1, sort_keys=True) + "\n"


def _require_kind(shape: dict[str, Any]) -> None:
    """What tells edits apart must be there, although in the core it follows from the class."""
    kind = shape.get("properties", {}).get("do")
    if kind and "const" in kind:
        kind.pop("default", None)
        shape["required"] = [*shape.get("required", []), "do"]


if __name__ == "__main__":
    print(description(), end="")
