"""Reading ``terminalsAndIcons.xml`` of FMI 3 (2.4.9, 2.5.3): which variables belong to one connector."""

from __future__ import annotations

import xml.etree.ElementTree as ET
from collections.abc import Iterator

from movrel.fmi.description import Terminal
from movrel.fmi.read_description import DescriptionFault, well_formed

FILE = "terminalsAndIcons/terminalsAndIcons.xml"
#: Terminals within terminals that are followed.
DEPTH = 20


def read_terminals(content: bytes) -> list[Terminal]:
    """The terminals in a file, those within others by their full names. Raises :class:`DescriptionFault`."""
    root = well_formed(content)
    if root.tag != "fmiTerminalsAndIcons":
        raise DescriptionFault(f"the terminals begin with '{root.tag}'.")
    return [t for element in root.findall("Terminals/Terminal") for t in _terminals(element, "", 0)]


def _terminals(element: ET.Element, outer: str, depth: int) -> Iterator[Terminal]:
    if depth > DEPTH:
        raise DescriptionFault(f"the terminal '{outer}' holds more than {DEPTH} levels of others.")
    name = f"{outer}.{element.get('name', '')}".removeprefix(".")
    members: dict[str, str] = {}
    flows: set[str] = set()
    for member in element.findall("TerminalMemberVariable"):
        variable = member.get("variableName", "")
        called = member.get("memberName") or variable
        members[called] = variable
        if member.get("variableKind") in ("inflow", "outflow"):
            flows.add(called)
    yield Terminal(name, element.get("terminalKind", ""), members, frozenset(flows))
    for inner in element.findall("Terminal"):
        yield from _terminals(inner, name, depth + 1)
