"""What a call of a function must give and what it gets: worked out once for each function of a model."""

from __future__ import annotations

from movrel.language import syntax as s
from movrel.model.classes import Definition
from movrel.model.environment import Environment, Input, Model, Signature


def signature_of(definition: Definition, model: Model) -> Signature:
    """The signature of a function."""
    if definition not in model.signatures:
        model.signatures[definition] = _made(model.package(definition))
    return model.signatures[definition]


def _made(package: Environment) -> Signature:
    inputs: dict[str, Input] = {}
    outputs: list[str] = []
    sizes: dict[str, list[tuple[s.Subscript, Definition]]] = {}
    for name, declared in package.declared.items():
        node, where = declared.node, declared.definition
        type_, _ = package.class_named(node.type_name, where)
        scalar = package.scalar_type(type_) if type_ is not None else None
        of_type = scalar.dimensions if scalar is not None else []
        sizes[name] = [*((d, where) for d in (*node.subscripts, *node.type_subscripts)), *of_type]
        if "input" in node.prefixes:
            given = node.modification is not None and node.modification.value is not None
            given |= declared.mod is not None and declared.mod.value is not None
            inputs[name] = Input(type_, len(sizes[name]), not given)
        elif "output" in node.prefixes:
            outputs.append(name)
    return Signature(package, inputs, outputs, sizes)
