"""Parameters that the user of an assembly sees: made from those of its parts, and hidden again."""

from __future__ import annotations

from movrel.edits.fragment import free_references, is_figure, qualified_type
from movrel.errors import EditFault, Place
from movrel.language import edit_class
from movrel.language import syntax as s
from movrel.language.class_annotation import quoted
from movrel.language.clauses import without_declaration
from movrel.language.names import check_name
from movrel.language.patch import Patch
from movrel.language.set_value import set_value
from movrel.language.tree_search import component, references
from movrel.model.classes import ClassTree, Definition
from movrel.model.declared import class_of, declaration, loaded_classes, reach


def expose(
    tree: ClassTree,
    definition: Definition,
    path: list[str],
    name: str,
    value: str,
    description: str,
    group: str,
) -> list[Patch]:
    """Give the class a parameter that sets the one at ``path`` of a part inside.

    ``value`` is the Modelica text that the parameter has now. Raises :class:`EditFault` when the
    path leads to no parameter or the name is taken. A vector or matrix may have any size then.
    """
    source, cls = definition.source, definition.node
    origin = declaration(tree, definition, path)
    if len(path) < 2 or origin is None or "parameter" not in origin[1].prefixes:
        raise EditFault(f"'{'.'.join(path)}' is not a parameter of a part in '{cls.name}'.")
    check_name(cls, name)
    owner, node = origin
    dimensions = len(node.subscripts) + len(node.type_subscripts)
    sizes = f"[{', '.join(':' * dimensions)}]" if dimensions else ""
    kind = reach(qualified_type(tree, owner, node), definition.qualified)
    attributes = []
    for argument in node.modification.arguments if node.modification else ():
        # Limits may refer to other parameters of the part; units and the like do not.
        if (
            isinstance(argument, s.Modify)
            and argument.name
            in (
                "unit",
                "displayUnit",
                "quantity",
                "min",
                "max",
            )
            and not any(free_references(argument.modification, set()))
        ):
            text = owner.source.slice(argument)
            for flag in ("each ", "final "):
                text = text.removeprefix(flag).lstrip()
            attributes.append(f"each {text}" if dimensions else text)
    words = description or (node.comment.text if node.comment else "")
    dialog = f" annotation (Dialog(group={quoted(group)}))" if group else ""
    limits = f"({', '.join(attributes)})" if attributes else ""
    note = f" {quoted(words)}" if words else ""
    line = f"parameter {kind} {name}{sizes}{limits} = {value}{note}{dialog};"
    figures = [e for e in cls.elements if isinstance(e, s.Component) and is_figure(e)]
    patches = edit_class.insert_elements(source, cls, [line], first=not figures)
    if figures:
        patches = edit_class.insert_after(source, figures[-1], [line])
    return patches + set_value(source, cls, path, name)


def hide(tree: ClassTree, definition: Definition, name: str) -> list[Patch]:
    """Take a parameter of the class away; what used it gets its value.

    Raises :class:`EditFault` when some model gives the parameter a value of its own.
    """
    source, cls = definition.source, definition.node
    node = component(cls, name)
    if not is_figure(node):
        raise EditFault(f"'{name}' is not a parameter.")
    value = node.modification.value if node.modification else None
    if value is None:
        raise EditFault(
            f"'{name}' has no value that could be put in its place.", hint="Give it a value first."
        )
    for place, user in users(tree, definition, name):
        raise EditFault(
            f"'{user}' gives '{name}' a value of its own.", place, "Reset that row first."
        )
    text = source.slice(value)
    if not isinstance(value, s.Ref | s.Number):
        text = f"({text})"
    patches = []
    for reference in references(cls, name):
        if node.start <= reference.start < node.end:
            continue
        before = source.text[: reference.start].rstrip()[-1:]
        after = source.text[reference.end :].lstrip()[:1]
        alone = before == "=" and after in (",", ")", ";")
        patches.append(
            Patch(reference.start, reference.end, source.slice(value) if alone else text)
        )
    return patches + without_declaration(source, cls, node)


def users(tree: ClassTree, definition: Definition, name: str) -> list[tuple[Place, str]]:
    """Parts of any loaded class whose class this is and that give a parameter of it a value."""
    uses: list[tuple[Place, str]] = []

    for at in loaded_classes(tree):
        for element in at.node.elements:
            if not isinstance(element, s.Component) or element.modification is None:
                continue
            if class_of(tree, at, element) is not definition:
                continue
            for argument in element.modification.arguments:
                if isinstance(argument, s.Modify) and argument.name.split(".")[0] == name:
                    uses.append((at.source.place(argument.start), f"{at.qualified}.{element.name}"))
    return uses
