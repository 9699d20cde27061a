"""What a window that shows a model already needs to hear to show its newest state."""

from __future__ import annotations

from typing import Any

Item = dict[str, Any]
#: The lists of a view that are told by their changes.
LISTS = ("components", "connections", "rows")


def key_of(item: Item) -> str:
    """What tells the items of a list apart: the name, or both ends of a wire."""
    return str(item["name"]) if "name" in item else f"{item['from']} {item['to']}"


def changes(before: Item, after: Item) -> Item | None:
    """A view with only those components, connections, rows and symbols that are not in an earlier one.

    Under ``changes`` it tells for each list what is ``gone`` and, where replacing and adding at the end does
    not give it, the new ``order``. None where items cannot be told apart: then all must be told.
    """
    sheet = after["sheet"]
    told: Item = {}
    new: dict[str, list[Item]] = {}
    for name in LISTS:
        then, now = ((view if name == "rows" else view["sheet"])[name] for view in (before, after))
        known, current = {key_of(i): i for i in then}, {key_of(i): i for i in now}
        if len(known) < len(then) or len(current) < len(now):
            return None
        new[name] = [item for key, item in current.items() if known.get(key) != item]
        by_itself = [key for key in known if key in current] + [key for key in current if key not in known]
        order = list(current)
        told[name] = {"gone": [key for key in known if key not in current], "order": order if order != by_itself else None}
    icons = {name: icon for name, icon in sheet["icons"].items() if before["sheet"]["icons"].get(name) != icon}
    drawn = sheet | {"icons": icons, "components": new["components"], "connections": new["connections"]}
    return after | {"sheet": drawn, "rows": new["rows"], "changes": told}
