"""Rooms import downwards only, and the core knows neither web nor database."""

from __future__ import annotations

import ast
from graphlib import CycleError, TopologicalSorter
from pathlib import Path

import pytest

ROOT = Path(__file__).resolve().parent.parent / "movrel"
#: From the bottom to the top; a room may import itself and what stands before it.
ORDER = [
    "errors", "collection", "delimited", "matching", "sundials", "unit_sizes", "units", "unit_words", "disk_cache", "sized_cache", "fmi", "language", "model", "equations", "simulate", "kept_models", "session",
    "analyse", "project", "sheet", "edits", "exchange", "couple", "views", "workspace", "jobs", "web", "cli",
]  # fmt: skip
CORE = ORDER[: ORDER.index("workspace")]
OUTSIDE_THE_CORE = {
    "flask",
    "flask_openapi3",
    "peewee",
    "playhouse",
    "psycopg",
    "procrastinate",
    "pydantic",
    "gunicorn",
}


def room_of(path: Path) -> str:
    return path.relative_to(ROOT).parts[0].removesuffix(".py")


def imported_modules(path: Path) -> set[str]:
    found: set[str] = set()
    for node in ast.walk(ast.parse(path.read_text())):
        if isinstance(node, ast.Import):
            found |= {alias.name for alias in node.names}
        elif isinstance(node, ast.ImportFrom) and node.module:
            found.add(node.module)
            if node.module.startswith("movrel"):
                found |= {f"{node.module}.{alias.name}" for alias in node.names}
    return found


SOURCES = [p for p in sorted(ROOT.rglob("*.py")) if room_of(p) not in ("__init__", "__main__")]


@pytest.mark.parametrize("path", SOURCES, ids=lambda p: str(p.relative_to(ROOT)))
def test_imports_run_downwards(path: Path) -> None:
    room = room_of(path)
    assert room in ORDER, f"{room} is a new room: give it a place in the order"
    below = set(ORDER[: ORDER.index(room) + 1])
    for module in imported_modules(path):
        if module.startswith("movrel."):
            other = module.split(".")[1]
            assert other in below or other == "__version__", (
                f"{path} imports {module}, which stands above {room}"
            )
        if room in CORE:
            assert module.split(".")[0] not in OUTSIDE_THE_CORE, (
                f"{path} of the core imports {module}"
            )


def circle(imports: dict[str, set[str]]) -> list[str]:
    """Modules that import each other in a ring, or nothing; imports in functions and for types count too."""
    try:
        TopologicalSorter(
            {m: others & imports.keys() - {m} for m, others in imports.items()}
        ).prepare()
    except CycleError as fault:
        return fault.args[1]
    return []


def test_no_files_import_each_other_in_a_circle() -> None:
    imports = {
        ".".join(p.relative_to(ROOT.parent).with_suffix("").parts).removesuffix(".__init__"): (
            imported_modules(p)
        )
        for p in ROOT.rglob("*.py")
    }
    assert circle(imports) == []
    assert circle({"a": {"b"}, "b": {"c"}, "c": {"a"}, "d": {"a"}})


def test_the_check_sees_a_wrong_import(tmp_path: Path) -> None:
    wrong = tmp_path / "wrong.py"
    wrong.write_text("import flask\nfrom movrel.web import app\n")
    assert imported_modules(wrong) == {"flask", "movrel.web", "movrel.web.app"}
