"""Writes docs/library.md from the component library: what each part is, its equation, its source, its tests.

.venv/bin/python docs/make_library.py
"""

from __future__ import annotations

import html
import re
import sys
from pathlib import Path

ROOT = Path(__file__).resolve().parent.parent
sys.path.insert(0, str(ROOT))

from movrel.model import annotation as note  # noqa: E402
from movrel.model.classes import ClassTree, Definition  # noqa: E402
from movrel.model.flatten import RUNNABLE  # noqa: E402
from movrel.views.examples import EXAMPLES, examples, used_by  # noqa: E402

#: Tests named for one part.
SHOWN = 2

HEAD = """# The component library

Every part is Modelica text in `movrel/library`; its page in the application shows its equations, parameters,
source and examples. This table is written by `docs/make_library.py`; a test keeps it up to date. A test
belongs to a part when it runs the part itself or an example made of it.

"""


def parts(tree: ClassTree, package: Definition) -> list[Definition]:
    """The parts of a package and of those in it, without the examples."""
    found: list[Definition] = []
    for member in tree.members(package):
        if member.node.kind == "package" and member.qualified != EXAMPLES:
            found += parts(tree, member)
        elif member.node.kind in RUNNABLE and not member.node.partial:
            found.append(member)
    return found


def test_functions() -> dict[str, str]:
    """The text of each test of the library, by file and name."""
    found: dict[str, str] = {}
    for file in sorted((ROOT / "tests" / "library").glob("test_*.py")):
        if file.name == "test_library.py":
            continue
        text = _spelled_out(file.read_text(encoding="utf-8"))
        constants = re.findall(r"^([A-Z][A-Z_]+) = ([\s\S]*?)\n\n", text, re.M)
        helpers = "\n".join(re.findall(r"^def (?!test_)\w+[\s\S]*?(?=^\S)", text, re.M))
        for match in re.finditer(
            r"(?:^@[\s\S]*?)?^def (test_\w+)[\s\S]*?(?=^@|^def |\Z)", text, re.M
        ):
            used = [h for h in re.findall(r"^def (\w+)", helpers, re.M) if f"{h}(" in match[0]]
            extra = "".join(
                re.findall(rf"^def {h}[\s\S]*?(?=^def |\Z)", helpers, re.M)[0] for h in used
            )
            extra += "".join(value for name, value in constants if name in match[0])
            found[
                f"{file.stem.removeprefix('test_')}: {match[1].removeprefix('test_').replace('_', ' ')}"
            ] = match[0] + extra
    return found


def _spelled_out(text: str) -> str:
    """The text of a test file with the short names of packages in it written out."""
    for name, package in re.findall(r'^(\w) = "(Movrel\.[\w.]+)"', text, re.M):
        text = text.replace(f"{{{name}}}", package)
    return text


def tests_of(part: Definition, tests: dict[str, str], harbour: dict[str, str]) -> list[str]:
    """The tests that run a part or an example that is made of it."""
    path = part.qualified.removeprefix("Movrel.")
    named = re.compile(
        rf"(Movrel\.{re.escape(path)}\b|\{{[A-Z]\}}{part.name}\b|[\"'(]{part.name} p\()"
    )
    own = [
        e.qualified.removeprefix(EXAMPLES + ".")
        for e in examples()
        if part.qualified in used_by(e.qualified)
    ]
    field = part.qualified.split(".")[1].lower()
    quay = [name for name, text in harbour.items() if f"{part.qualified} " in text]
    return [
        name
        for name, text in tests.items()
        if named.search(text)
        or (name.startswith(field) and f'"{part.name}"' in text)
        or any(f'"{e}"' in text for e in own)
        or any(f'quay("{q}")' in text for q in quay)
    ]


def ordered(names: list[str], part: Definition) -> list[str]:
    """Tests of the part's own field first."""
    field = {"Translational": "mechanics", "Rotational": "mechanics"}.get(
        part.qualified.split(".")[1], part.qualified.split(".")[1].lower()
    )
    return sorted(names, key=lambda name: not name.startswith(field))


def plain(info: str) -> str:
    """The first paragraph of a documentation without its markup, for a cell of a table."""
    first = re.sub(r"\s+", " ", re.split(r"</p>", info)[0])
    return html.unescape(
        re.sub(r"<sup>(.*?)</sup>", r"^\1", first).replace("<i>", "").replace("</i>", "")
    ).strip()


def library_page() -> str:
    tree = ClassTree()
    root = tree.find("Movrel")
    assert root is not None
    tests = test_functions()
    harbour = {
        f.stem: f.read_text(encoding="utf-8")
        for f in (ROOT / "examples" / "VarrowQuay").glob("*.mo")
    }
    lines = [HEAD]
    for package in tree.members(root):
        members = (
            parts(tree, package)
            if package.node.kind == "package" and package.qualified != EXAMPLES
            else []
        )
        if not members:
            continue
        lines.append(
            f"## {package.node.comment}\n\n| part | what it is | equation | source | tests |\n|---|---|---|---|---|\n"
        )
        for part in members:
            own = note.members(note.find(part.node.annotation, "__Movrel"))
            info = note.members(note.find(part.node.annotation, "Documentation")).get("info") or ""
            text = re.sub(r"<(?!/?(p|i|sup)\b)[^>]+>", "", str(info))
            cell = re.sub(
                r"<[^>]+>", "", plain(text.replace("<html>", "").replace("<p>", ""))
            ).replace("|", "\\|")
            checks = "; ".join(ordered(tests_of(part, tests, harbour), part)[:SHOWN])
            name = part.qualified.removeprefix(f"{package.qualified}.")
            lines.append(
                f"| {name} | {part.node.comment} | {cell} | {own.get('source') or ''} | {checks} |\n"
            )
        lines.append("\n")
    return "".join(lines).rstrip() + "\n"


if __name__ == "__main__":
    (ROOT / "docs" / "library.md").write_text(library_page(), encoding="utf-8")
