"""What a class declares together with all that it inherits, as it stands in one place of a model."""

from __future__ import annotations

from dataclasses import dataclass, field, replace

from movrel.errors import LookupFault, Place, StructureFault, TypeFault, Unsupported, did_you_mean
from movrel.language import syntax as s
from movrel.model.classes import ClassTree, Definition
from movrel.model.environment import Content, Declared, Environment, Mod, Model, Redeclaration
from movrel.model.modification import merge, merge_all, read_arguments
from movrel.model.old_names import with_present_names


def content_of(instance: Environment, mods: dict[str, Mod]) -> Content:
    """What the class of an instance declares, modified from outside by ``mods``.

    Where nothing that is inherited is modified on the way, all instances of the class share what they have in common: the
    content itself without ``mods``, else its declarations but for those that are modified.
    """
    definition, contents = instance.definition, instance.model.contents
    common = contents.get(definition)
    if common is not None and all(name in common.declared for name in mods):
        if not mods:
            return common
        declared = dict(common.declared)
        for name, mod in mods.items():
            declared[name] = Declared(declared[name].node, declared[name].definition, mod)
        return Content(declared, common.bodies, common.overrides)
    collecting = _Collecting(instance)
    collecting.add(definition, mods, [])
    _check_names(mods, collecting.content, definition, instance.model)
    if collecting.alike:
        contents[definition] = _without_modifications(collecting.content)
    return collecting.content


def _without_modifications(content: Content) -> Content:
    declared = {n: Declared(d.node, d.definition, None) for n, d in content.declared.items()}
    return Content(declared, content.bodies, content.overrides, shared=True)


def _check_names(
    mods: dict[str, Mod], content: Content, definition: Definition, model: Model
) -> None:
    for name, mod in with_present_names(definition.qualified, mods).items():
        if (
            name in content.declared
            or name in content.overrides
            or model.tree.child(definition, name)
        ):
            continue
        hint = did_you_mean(name, content.declared, "Remove the modification, or correct the name.")
        raise LookupFault(
            f"'{definition.name}' has no element '{name}' to modify.", mod.where, hint
        )


def base_of(clause: s.Extends, definition: Definition, tree: ClassTree) -> Definition:
    """The class that an extends clause, or a short class, of ``definition`` names."""
    if clause.type_name == "ExternalObject":
        raise Unsupported(
            "external objects cannot be computed.",
            definition.place(clause),
            "Use parameters and functions.",
        )
    form = definition.node.form
    if definition.meant is not None:
        return definition.meant
    if form == "extends" and tree.bases(definition):
        return tree.bases(definition)[0]
    base = tree.lookup(clause.type_name, definition, form == "short")
    if base is definition:
        base = tree.lookup(clause.type_name, definition, True)
    if base is None or base is definition:
        base = tree.require(clause.type_name, None, definition.place(clause))
    return base


@dataclass(slots=True)
class _Collecting:
    """The walk through a class and its bases."""

    instance: Environment
    content: Content = field(default_factory=Content)
    #: Whether another instance of the class finds the same.
    alike: bool = True
    #: The classes seen, each with what modified it.
    _seen: dict[tuple[object, ...], dict[str, Mod]] = field(default_factory=dict)

    def add(self, definition: Definition, mods: dict[str, Mod], chain: list[Definition]) -> None:
        if definition in chain:
            raise StructureFault(
                f"the class '{definition.qualified}' extends itself.", definition.place()
            )
        # What is inherited along several ways, modified alike, is there once (7.1).
        key = (definition, *sorted((name, id(mod)) for name, mod in mods.items()))
        if key in self._seen:
            return
        self._seen[key] = mods
        chain = [*chain, definition]
        mods = with_present_names(definition.qualified, mods)
        node = definition.node
        redeclared = []
        _check_kind(definition)
        if node.base is not None and node.form in ("short", "extends"):
            self._inherit(node.base, definition, mods, chain)
        for element in node.elements:
            if isinstance(element, s.Extends):
                self._inherit(element, definition, mods, chain)
            elif isinstance(element, s.Component | s.ClassDef) and "redeclare" in element.flags:
                redeclared.append(element)
            elif isinstance(element, s.Component):
                self._declare(element, definition, mods.get(element.name))
            elif isinstance(element, s.ClassDef):
                mod = mods.get(element.name)
                if mod is not None and mod.redeclaration is not None:
                    self._redeclare(element, mod.redeclaration, mod.where)
                elif "outer" in element.flags and "inner" not in element.flags:
                    self._look_outside(element)
        for element in redeclared:  # in the place of what is inherited, wherever the clause stands
            if isinstance(element, s.Component):
                self._redeclare_component(element, definition, mods.get(element.name))
            else:
                self._redeclare_class(element, definition, mods.get(element.name))
        if definition not in self.content.bodies:
            self.content.bodies.append(definition)

    def _inherit(
        self,
        clause: s.Extends,
        definition: Definition,
        mods: dict[str, Mod],
        chain: list[Definition],
    ) -> None:
        base = base_of(clause, definition, self.instance.model.tree)
        scope = definition.written_in
        assert scope is None or isinstance(scope, Environment)
        inner = read_arguments(clause.arguments, scope or self.instance, definition)
        self.alike &= not inner
        self.add(base, merge_all(mods, inner), chain)

    def _redeclare_component(
        self, node: s.Component, definition: Definition, mod: Mod | None
    ) -> None:
        """Put a component in the place of an inherited one (7.3)."""
        inherited = self.content.declared.get(node.name)
        where = definition.place(node)
        if inherited is None:
            raise LookupFault(
                f"'{node.name}' is redeclared, but nothing of that name is inherited.", where
            )
        self.alike = False
        if mod is not None and mod.redeclaration is not None:
            # Further out, and it takes the place of this one.
            self.content.declared[node.name] = Declared(node, definition, mod)
            return
        mod = merge(mod, inherited.mod)
        before = mod.redeclaration
        if before is not None and isinstance(before.element, s.Component):
            inherited = Declared(before.element, before.definition, None)
            self.content.declared[node.name] = inherited
        by = Redeclaration(node, self.instance, definition)
        inherited.mod = replace(mod, redeclaration=by, where=where)

    def _redeclare_class(self, node: s.ClassDef, definition: Definition, mod: Mod | None) -> None:
        """Put a class in the place of an inherited one; those of packages are inherited by way of the tree."""
        if mod is not None and mod.redeclaration is not None:
            self._redeclare(node, mod.redeclaration, mod.where)
        elif definition.node.kind != "package":
            tree = self.instance.model.tree
            for base in tree.bases(definition):
                inherited = tree.child(base, node.name)
                if inherited is not None:
                    _check_replaceable(inherited.node, definition.place(node))
            self.alike = False
            self.content.overrides[node.name] = Redeclaration(
                node, self.instance, definition, among_elements=True
            )

    def _redeclare(self, element: s.ClassDef, by: Redeclaration, where: Place | None) -> None:
        if not isinstance(by.element, s.ClassDef) or by.element.base is None:
            raise Unsupported(
                f"the class '{element.name}' can only be redeclared by a short class.", where
            )
        _check_replaceable(element, where)
        self.alike = False
        self.content.overrides[element.name] = by

    def _look_outside(self, element: s.ClassDef) -> None:
        """Have the inner class of an enclosing component in the place of an outer one (5.4); without one it stays."""
        self.alike = False
        enclosing = self.instance.parent
        while enclosing is not None:
            inner = enclosing.model.tree.child(enclosing.definition, element.name)
            if inner is not None and inner.parent is not None and "inner" in inner.node.flags:
                clause = s.Extends(element.name, start=element.start, end=element.end)
                meant = replace(element, form="short", base=clause)
                self.content.overrides[element.name] = Redeclaration(meant, enclosing, inner.parent)
                return
            enclosing = enclosing.parent

    def _declare(self, node: s.Component, definition: Definition, mod: Mod | None) -> None:
        declared = self.content.declared
        present = declared.get(node.name)
        if present is None:
            declared[node.name] = Declared(node, definition, mod)
        elif present.node == node:  # inherited along two ways, or repeated alike
            present.mod = merge(mod, present.mod)
        else:
            raise LookupFault(
                f"'{node.name}' is declared twice in '{self.instance.definition.qualified}'.",
                definition.place(node),
                f"The other declaration is at {present.definition.place(present.node)}; rename one.",
            )


def _check_replaceable(element: s.ClassDef, where: Place | None) -> None:
    if "replaceable" not in element.flags:
        raise TypeFault(
            f"the class '{element.name}' is not replaceable.", where, "Declare it replaceable."
        )


def _check_kind(definition: Definition) -> None:
    node = definition.node
    if node.kind == "operator":
        raise TypeFault(f"{node.name} is an operator; it is used by its sign.", definition.place())
    if node.form == "der":
        raise Unsupported(
            f"a partial derivative of a function ('{node.name}') cannot be computed yet.",
            definition.place(),
        )
    if node.external is not None and node.kind != "function":
        raise Unsupported(
            "'external' is only allowed in functions.", definition.place(node.external)
        )
