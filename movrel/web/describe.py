"""Print the description of the HTTP interface: ``python -m movrel.web.describe > movrel/web/openapi.json``."""

from __future__ import annotations

import json


def description() -> str:
    """The OpenAPI document as JSON text."""
    from movrel.web.app import bare_app

    return json.dumps(bare_app().api_doc, indent=1, sort_keys=True) + "\n"


if __name__ == "__main__":
    print(description(), end="")
