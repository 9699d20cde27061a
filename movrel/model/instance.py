"""Instances: classes with their modifications applied, members made when first asked for.

Making members on demand lets an array size or a condition refer to a parameter that is declared
later or somewhere else, without a second pass.
"""

from __future__ import annotations

import math
from collections.abc import Callable, Iterator, Mapping
from dataclasses import replace

from movrel.errors import LookupFault, Place, StructureFault, TypeFault, Unsupported
from movrel.language import syntax as s
from movrel.model import annotation as note
from movrel.model.attributes import ATTRIBUTES, mod_value
from movrel.model.class_in_place import class_in_place
from movrel.model.classes import Definition
from movrel.model.environment import (
    Content,
    Declared,
    EnumerationType,
    Environment,
    Member,
    Mod,
    Model,
    Redeclaration,
    ScalarType,
    Scope,
)
from movrel.model.expression import Variability, Variable
from movrel.model.inheritance import base_of, content_of
from movrel.model.modification import merge, merge_all, read_arguments, read_modification
from movrel.model.values import as_boolean, as_scalar, shape

#: Most scalars one model may have, and deepest nesting of components.
SCALAR_LIMIT = 500_000
DEPTH_LIMIT = 60


#: Prefixes of a record that hold for its members.
HANDED_ON = {"parameter", "constant", "discrete", "flow", "stream", "input", "output"}


class Instance(Environment):
    """A class in its place in a model."""

    __slots__ = (
        "_content",
        "definition",
        "depth",
        "held",
        "is_package",
        "members",
        "model",
        "parent",
        "path",
    )

    parent: Instance | None

    def __init__(
        self,
        model: Model,
        path: str,
        definition: Definition,
        mods: dict[str, Mod],
        parent: Instance | None,
    ) -> None:
        self.model = model
        self.path = path
        self.definition = definition
        self.parent = parent
        self.is_package = False
        #: Prefixes that its members have because it has them, as a record may.
        self.held: tuple[str, ...] = ()
        self.depth: int = parent.depth + 1 if parent else 0
        self.members: dict[str, Member] = {}
        if self.depth > DEPTH_LIMIT:
            raise StructureFault(
                f"components are nested more than {DEPTH_LIMIT} deep at '{'.'.join(path.split('.')[:3])}…'.",
                definition.place(),
                "A class that contains itself, perhaps?",
            )
        self._content = content_of(self, mods)

    def __repr__(self) -> str:
        return f"<{self.definition.name} {self.path}>"

    @property
    def declared(self) -> Mapping[str, Declared]:
        return self._content.declared

    @property
    def bodies(self) -> list[Definition]:
        return self._content.bodies

    @property
    def overrides(self) -> Mapping[str, Redeclaration]:
        return self._content.overrides

    def declare(self, name: str, declared: Declared) -> None:
        """Add a declaration, or put another in its place, in this instance alone."""
        content = self._content
        if content.shared:
            self._content = content = Content(
                dict(content.declared), content.bodies, content.overrides
            )
        content.declared[name] = declared

    @property
    def is_connector(self) -> bool:
        return self.model.tree.is_kind(self.definition, "connector")

    @property
    def is_expandable(self) -> bool:
        return self.is_connector and self.model.tree.has_prefix(self.definition, "expandable")

    # --- members ---

    def member(self, name: str) -> Member:
        """A member by name: a Variable, an Instance, a nested list of these, or None if conditioned away."""
        if name in self.members:
            return self.members[name]
        making = self.model.making
        if (self, name) in making:
            raise StructureFault(
                f"the structure of '{self.path + '.' if self.path else ''}{name}' depends on itself.",
                self.declared[name].definition.place(self.declared[name].node),
            )
        making.add((self, name))
        try:
            made = self._make(name, self.declared[name])
        finally:
            making.discard((self, name))
        self.members[name] = made
        return made

    def all_members(self) -> Iterator[tuple[str, Member]]:
        made = 0
        while made < len(self.declared):  # what parts look for outside may come while they are made
            for name in list(self.declared)[made:]:
                made += 1
                yield name, self.member(name)

    def _make(self, name: str, declared: Declared) -> Member:
        node, definition = declared.node, declared.definition
        where = definition.place(node)
        if "outer" in node.flags and "inner" not in node.flags:
            return self._find_inner(name, where)
        if "final" in node.flags and declared.mod is not None and declared.mod.value is not None:
            raise TypeFault(
                f"'{name}' is final and cannot be given another value.",
                declared.mod.where,
                "Remove the modification.",
            )
        written = read_modification(node.modification, self, definition)
        constraint = None
        if node.constraint is not None:
            constraint = Mod(members=read_arguments(node.constraint.arguments, self, definition))
        mod = merge(merge(declared.mod, written), constraint)
        type_name, type_scope, type_subscripts = node.type_name, definition, node.type_subscripts
        if mod.redeclaration is not None:
            by = mod.redeclaration
            if not isinstance(by.element, s.Component):
                raise TypeFault(
                    f"'{name}' is a component; it cannot be redeclared as a class.", mod.where
                )
            if "replaceable" not in node.flags:
                raise TypeFault(
                    f"'{name}' is not replaceable.", mod.where, "Declare it replaceable."
                )
            own = read_modification(by.element.modification, by.scope, by.definition)
            # What a constraining clause says holds for the replacement; without one, the declaration's own (7.3.2).
            mod = merge(declared.mod, merge(own, constraint or written))
            type_name, type_scope = by.element.type_name, by.definition
            node = replace(node, prefixes=by.element.prefixes or node.prefixes)
        if node.condition is not None:
            condition = self.model.value(node.condition, Scope(self, definition))
            value = self.model.structural_value(
                as_boolean(condition, where), f"the condition of '{name}'", where
            )
            if not value:
                return None
        class_, extra = self._component_class(type_name, type_scope, where)
        if extra:
            mod = merge(mod, Mod(members=extra))
        scalar = self.scalar_type(class_)
        dimensions = [(d, definition) for d in (*node.subscripts, *type_subscripts)]
        if scalar is not None:
            dimensions += scalar.dimensions
        sizes = self._sizes(name, dimensions, mod, where)
        path = f"{self.path}.{name}" if self.path else name
        if math.prod(sizes) > SCALAR_LIMIT:
            raise StructureFault(
                f"'{path}' has {math.prod(sizes)} elements; a model may have {SCALAR_LIMIT}.",
                where,
                "Make the array smaller.",
            )

        held = (*(p for p in node.prefixes if p in HANDED_ON), *self.held)

        def one(full: str, mod: Mod) -> Member:
            if scalar is not None:
                return self._scalar(full, node, scalar, mod, where)
            instance = Instance(self.model, full, class_, mod.members, self)
            instance.held = held
            if mod.value is not None:
                instance.bind_record(mod)
            return instance

        # An 'each' was meant for arrays around this component.
        return _elements(one, path, (), mod.for_one(), sizes)

    def bind_record(self, mod: Mod) -> None:
        """Spread the value of a record declaration over its members."""
        assert mod.value is not None
        for name, declared in list(self.declared.items()):
            if declared.mod is not None and declared.mod.value is not None:
                continue
            part = Mod(
                s.Selection(mod.value, name=name),
                mod.scope,
                mod.definition,
                index=mod.index,
                where=mod.where,
            )
            self.declare(
                name, Declared(declared.node, declared.definition, merge(declared.mod, part))
            )

    def class_named(self, name: str, scope: Definition) -> tuple[Definition | None, dict[str, Mod]]:
        return class_in_place(self, name, scope)

    def function(self, name: str, scope: Definition) -> Definition | None:
        """A function, or a class that is called like one, by the name used in ``scope``."""
        definition, mods = self.class_named(name, scope)
        if mods:
            raise Unsupported(
                f"'{name}' is redeclared with modifications; a record is only redeclared as it is where it is made.",
                scope.place(), "Define a class that extends it with the modification.",
            )  # fmt: skip
        return definition

    def _component_class(
        self, type_name: str, scope: Definition, where: Place
    ) -> tuple[Definition, dict[str, Mod]]:
        named, mods = self.class_named(type_name, scope)
        class_ = named or self.model.tree.require(type_name, scope, where)
        if class_.node.kind in ("package", "function"):
            raise TypeFault(
                f"'{type_name}' is a {class_.node.kind} and cannot be the type of a component.",
                where,
            )
        if class_.node.partial:
            raise TypeFault(
                f"'{type_name}' is partial and cannot be used as it is.",
                where,
                "Choose a class that extends it.",
            )
        return class_, mods

    def scalar_type(self, definition: Definition) -> ScalarType | None:
        """What a type definition comes down to, or None for a class with components."""
        types = self.model.scalar_types
        if definition not in types:
            types[definition] = self._scalar_type(definition)
        return types[definition]

    def _scalar_type(self, definition: Definition) -> ScalarType | None:
        if definition.predefined:
            if definition.node.form == "enumeration":
                return ScalarType(
                    "enumeration", literals=tuple(n for n, _ in definition.node.literals or ())
                )
            return ScalarType(definition.name)
        node = definition.node
        if node.form == "enumeration":
            return ScalarType(
                "enumeration", literals=tuple(name for name, _ in node.literals or ())
            )
        bases = [e for e in node.elements if isinstance(e, s.Extends)]
        clause = (
            node.base
            if node.form == "short"
            else (bases[0] if len(bases) == 1 and node.kind in ("type", "connector") else None)
        )
        if clause is None:
            return None
        base = base_of(clause, definition, self.model.tree)
        below = self.scalar_type(base)
        if below is None:
            return None
        members = merge_all(
            read_arguments(clause.arguments, self.model.package(definition), definition),
            below.members,
        )
        dimensions = [(d, definition) for d in node.base_subscripts] + below.dimensions
        return ScalarType(
            below.base, members, dimensions, node.base_prefixes or below.prefixes, below.literals
        )

    def _sizes(
        self, name: str, dimensions: list[tuple[s.Subscript, Definition]], mod: Mod, where: Place
    ) -> list[int]:
        sizes: list[int] = []
        for position, (subscript, definition) in enumerate(dimensions):
            if isinstance(subscript, s.WholeDimension):
                if mod.value is None:
                    raise StructureFault(
                        f"the size of '{name}' is open.", where, "Give it a value or a size."
                    )
                sizes.append(shape(mod_value(mod, self.model))[position])
                continue
            value = self.model.value(subscript, Scope(self, definition))
            if isinstance(value, EnumerationType):
                sizes.append(len(value.literals))
                continue
            size = self.model.structural_value(
                as_scalar(value, where), f"the size of '{name}'", where
            )
            if isinstance(size, bool) or int(size) != size or size < 0:
                raise TypeFault(
                    f"the size of '{name}' is {size}; it must be a whole number, not negative.",
                    where,
                )
            sizes.append(int(size))
        return sizes

    def _find_inner(self, name: str, where: Place) -> Member:
        enclosing = self.parent
        outermost = self
        while enclosing is not None:
            declared = enclosing.declared.get(name)
            if declared is not None and "inner" in declared.node.flags:
                return enclosing.member(name)
            outermost, enclosing = enclosing, enclosing.parent
        if outermost.add_default_inner(name, self.declared[name]):
            if outermost is self:
                return self._make(name, self.declared[name])
            return outermost.member(name)
        raise LookupFault(
            f"'{name}' is declared outer, but no enclosing component has an inner '{name}'.",
            where,
            f"Add an inner component '{name}' to the model.",
        )

    def add_default_inner(self, name: str, outer: Declared) -> bool:
        """Declare what a part looks for outside as it is by itself, if its class has foreseen that (5.4).

        A class has, when it says what to tell its user then (missingInnerMessage). False if it has not, or if the
        name means something else here.
        """
        class_, _ = self._component_class(
            outer.node.type_name, outer.definition, outer.definition.place(outer.node)
        )
        message = note.text_of(class_.node.annotation, "missingInnerMessage")
        if not message:
            return False
        if name in self.declared and self.declared[name] is not outer:
            return False
        declared = replace(outer.node, flags=("inner",), modification=None, protected=False)
        self.declare(name, Declared(declared, outer.definition, None))
        self.model.warnings.append(message)
        return True

    def _scalar(
        self, path: str, node: s.Component, scalar: ScalarType, mod: Mod, where: Place
    ) -> Variable:
        model = self.model
        model.count += 1
        if model.count > SCALAR_LIMIT:
            raise StructureFault(
                f"the model has more than {SCALAR_LIMIT} scalars.",
                where,
                "Make its arrays smaller.",
            )
        prefixes = (*node.prefixes, *scalar.prefixes, *self.held)
        if "constant" in prefixes:
            variability: Variability = "constant"
        elif "parameter" in prefixes:
            variability = "parameter"
        elif "discrete" in prefixes or scalar.base != "Real":
            variability = "discrete"
        else:
            variability = "continuous"
        variable = Variable(path, scalar.base, variability, where=where, component=self.path)
        if "stream" in prefixes:
            variable.stream = True
            model.streams.declare(variable, self)
        variable.description = node.comment.text if node.comment else ""
        variable.flow = "flow" in prefixes
        variable.final = "final" in node.flags or mod.final
        variable.protected = node.protected
        variable.enumeration = scalar.literals
        if variability == "parameter" or "input" in prefixes:
            variable.declaration = node
        if "input" in prefixes or "output" in prefixes:
            variable.causality = variable.direction = "input" if "input" in prefixes else "output"
        members = merge_all(mod.members, scalar.members)
        for name, member in members.items():
            if name not in ATTRIBUTES:
                raise LookupFault(
                    f"'{path}' is a {scalar.base}; it has no attribute '{name}'.",
                    member.where or where,
                )
        model.pending[variable] = replace(mod, members=members) if scalar.members else mod
        return variable


def _elements(
    one: Callable[[str, Mod], Member],
    path: str,
    index: tuple[int, ...],
    mod: Mod,
    sizes: list[int],
) -> Member:
    """A member by its path and modification, or nested lists of such for arrays of these sizes."""
    if not sizes:
        return one(f"{path}[{','.join(map(str, index))}]" if index else path, mod)
    count = sizes[0]
    return [
        _elements(one, path, (*index, i + 1), mod.at(i, count), sizes[1:]) for i in range(count)
    ]


def package_instance(model: Model, definition: Definition) -> Instance:
    """An instance that only gives the constants of a package or of an enclosing class."""
    package = Instance(model, definition.qualified, definition, {}, None)
    package.is_package = True
    return package
