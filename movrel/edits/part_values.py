"""Values that are typed together with a new part: ``resistor 10k``, ``pulse width=300 ms``."""

from __future__ import annotations

from collections.abc import Mapping

from movrel.edits.tables import SetTable
from movrel.edits.target import Edit, Target, apply_to, target_of
from movrel.edits.values import Parameter
from movrel.errors import EditFault
from movrel.language.tree_search import component
from movrel.model.classes import ClassTree, Definition
from movrel.model.declared import components
from movrel.project.snapshot import Snapshot
from movrel.sheet.main_parameter import main_parameter
from movrel.sheet.symbols import icon

#: A model that holds nothing but the part, its name and its file.
_ALONE, _FILE, _PART = "Alone_with_its_values", "Alone_with_its_values.mo", "part_by_itself"


def named_values(
    tree: ClassTree, definition: Definition, values: Mapping[str, str]
) -> dict[str, str]:
    """The values by the names of parameters; one without a name is that of the parameter the part is known by.

    Raises :class:`EditFault` for what is no parameter of the class.
    """
    parameters = [n.name for _, n in components(tree, definition) if "parameter" in n.prefixes]
    named = {}
    for name, text in values.items():
        if name and name not in parameters:
            raise EditFault(
                f"'{definition.name}' has no parameter '{name}'.",
                hint=f"It has {', '.join(parameters) or 'none'}.",
            )
        main = name or main_parameter(tree, definition, icon(tree, definition))
        if not main:
            raise EditFault(
                f"'{definition.name}' has no number that it is known by.",
                hint="Name the parameter: gain k=2.",
            )
        named[main] = text
    return named


def with_values(target: Target, part: str, values: Mapping[str, str]) -> Target:
    """The model with values typed into the rows of a part, one after the other. Raises what each row refuses."""
    for name, typed in values.items():
        row = f"{part}.{name}"
        is_table = any(v.name.startswith(f"{row}[") for v in target.loaded.flat.parameters())
        edit: Edit = SetTable(row, typed) if is_table else Parameter(row, typed)
        target = target.after(apply_to(target, edit).text)
    return target


def modification_of(target: Target, definition: Definition, values: Mapping[str, str]) -> str:
    """The modification that gives a part these values, found without the model around it.

    Raises :class:`movrel.errors.LookupFault` where a value names something of the model.
    """
    text = f"model {_ALONE}\n  {definition.qualified} {_PART};\nend {_ALONE};\n"
    around = target.snapshot
    alone = Snapshot.of(
        {**dict(around.files), _FILE: text}, around.project, {**around.revisions, _FILE: 0}, around.folder
    )  # fmt: skip
    done = with_values(target_of(alone, _ALONE), _PART, values)
    node = component(done.cls, _PART)
    return done.source.slice(node.modification) if node.modification is not None else ""
