"""From parser reductions to the syntax tree; one method per grammar rule, called while parsing.

Every method receives all children, punctuation included, so a node's span runs from its first child
to its last.
"""

from __future__ import annotations

from typing import Any

from lark import Token

from movrel.language import pieces
from movrel.language import syntax as s
from movrel.language.expression_builder import Children
from movrel.language.pieces import (
    Condition,
    Items,
    NameMismatch,
    Section,
    Subscripts,
    Text,
    TypePrefix,
    Words,
    unquote,
)
from movrel.language.statement_builder import StatementBuilder


class TreeBuilder(StatementBuilder):
    """Builds :mod:`movrel.language.syntax` nodes."""

    # --- files and classes ---

    def stored_definition(self, c: Children) -> s.StoredFile:
        within = pieces.first(c, Words)
        return s.StoredFile(
            within.words[0] if within else None,
            [x for x in c if isinstance(x, s.ClassDef)],
            **pieces.span(c),
        )

    def within_clause(self, c: Children) -> Words:
        return Words((pieces.text(c),), **pieces.span(c))

    def stored_class(self, c: Children) -> s.ClassDef:
        definition: s.ClassDef = c[-1]
        if len(c) == 2:
            definition.flags = (*definition.flags, "final")
        return definition

    def class_kind(self, c: Children) -> Words:
        return Words(tuple(str(x) for x in c), **pieces.span(c))

    def class_prefixes(self, c: Children) -> Words:
        words: list[str] = []
        for x in c:
            words.extend(x.words if isinstance(x, Words) else [str(x)])
        return Words(tuple(words), **pieces.span(c))

    def class_definition(self, c: Children) -> s.ClassDef:
        definition: s.ClassDef = c[-1]
        words = list(pieces.first(c, Words).words)
        if isinstance(c[0], Token):
            words.insert(0, str(c[0]))
        definition.kind = words[-1]
        definition.prefixes = tuple(words[:-1])
        definition.start = pieces.start(c[0])
        return definition

    short_definition = class_definition

    def _close(self, name: Token, closing: Token) -> None:
        closed = closing.split()[-1] if "'" not in closing else closing[closing.index("'") :]
        if closed != name:
            raise NameMismatch(str(name), closed, pieces.end(closing) - len(closed))

    def long_class(self, c: Children) -> s.ClassDef:
        self._close(c[0], c[-1])
        definition = s.ClassDef(str(c[0]), "", comment=pieces.text(c), **pieces.span(c))
        definition.name_span = (c[0].start_pos, c[0].end_pos)
        self._fill(definition, pieces.first(c, Items))
        return definition

    def extends_class(self, c: Children) -> s.ClassDef:
        self._close(c[1], c[-1])
        definition = s.ClassDef(
            str(c[1]), "", form="extends", comment=pieces.text(c), **pieces.span(c)
        )
        definition.name_span = (c[1].start_pos, c[1].end_pos)
        modification = pieces.first(c, s.Modification)
        definition.base = s.Extends(str(c[1]), modification.arguments if modification else ())
        self._fill(definition, pieces.first(c, Items))
        return definition

    def _fill(self, definition: s.ClassDef, composition: Items | None) -> None:
        for part in composition.items if composition else []:
            if isinstance(part, s.External):
                definition.external = part
            elif isinstance(part, s.Annotation):
                definition.annotation = part
            elif part.kind == "elements":
                definition.elements.extend(part.items)
            elif part.kind == "equation":
                definition.equations.extend(part.items)
            elif part.kind == "initial equation":
                definition.initial_equations.extend(part.items)
            elif part.kind == "algorithm":
                definition.algorithms.append(part.items)
            else:
                definition.initial_algorithms.append(part.items)

    def short_class(self, c: Children) -> s.ClassDef:
        prefix = pieces.first(c, TypePrefix)
        subscripts = pieces.first(c, Subscripts)
        modification = pieces.first(c, s.Modification)
        comment = pieces.first(c, s.Comment)
        base = pieces.first(c, Text)
        definition = s.ClassDef(str(c[0]), "", form="short", **pieces.span(c))
        definition.name_span = (c[0].start_pos, c[0].end_pos)
        definition.base = s.Extends(
            base.text,
            modification.arguments if modification else (),
            start=base.start,
            end=base.end,
        )
        definition.base_prefixes = prefix.words if prefix else ()
        definition.base_subscripts = subscripts.items if subscripts else ()
        if comment:
            definition.comment, definition.annotation = comment.text, comment.annotation
        return definition

    def enumeration(self, c: Children) -> s.ClassDef:
        definition = s.ClassDef(str(c[0]), "", form="enumeration", **pieces.span(c))
        definition.name_span = (c[0].start_pos, c[0].end_pos)
        literals = pieces.first(c, Items)
        definition.literals = tuple(literals.items) if literals else (None if ":" in c else ())
        comment = pieces.first(c, s.Comment)
        if comment:
            definition.comment, definition.annotation = comment.text, comment.annotation
        return definition

    def enum_list(self, c: Children) -> Items:
        return Items([tuple(x.items) for x in pieces.nodes(c)], **pieces.span(c))

    def enum_literal(self, c: Children) -> Items:
        return Items([str(c[0]), c[1] if len(c) > 1 else None], **pieces.span(c))

    def der_class(self, c: Children) -> s.ClassDef:
        names = pieces.identifiers(c)
        definition = s.ClassDef(str(names[0]), "", form="der", **pieces.span(c))
        definition.name_span = (c[0].start_pos, c[0].end_pos)
        definition.base = s.Extends(pieces.text(c))
        definition.derivative_of = tuple(str(x) for x in names[1:])
        return definition

    def composition(self, c: Children) -> Items:
        return Items(
            [Section("elements", x.items) if isinstance(x, Items) else x for x in c],
            **pieces.span(c),
        )

    def element_list(self, c: Children) -> Items:
        items: list[Any] = []
        for x in pieces.nodes(c):
            items.extend(x.items if isinstance(x, Items) else [x])
        return Items(items, **pieces.span(c))

    def public_section(self, c: Children) -> Section:
        return Section("elements", c[1].items if len(c) > 1 else [], **pieces.span(c))

    def protected_section(self, c: Children) -> Section:
        items = c[1].items if len(c) > 1 else []
        for item in items:
            if not isinstance(item, s.Import):
                item.protected = True
        return Section("elements", items, **pieces.span(c))

    def class_annotation(self, c: Children) -> s.Annotation:
        return c[0]

    def external_clause(self, c: Children) -> s.External:
        language = next((unquote(x) for x in c if isinstance(x, Token) and x.type == "STRING"), "")
        call = pieces.first(c, s.External) or s.External()
        call.language = language
        call.annotation = pieces.first(c, s.Annotation)
        call.start, call.end = pieces.start(c[0]), pieces.end(c[-1])
        return call

    def external_call(self, c: Children) -> s.External:
        nodes = pieces.nodes(c)
        result = nodes.pop(0) if "=" in c else None
        name = pieces.identifiers(c)[0]
        return s.External("", result, str(name), tuple(nodes))

    # --- elements ---

    def element_flags(self, c: Children) -> Words:
        return Words(tuple(str(x) for x in c), **pieces.span(c))

    def declared_element(self, c: Children) -> Any:
        flags = c[0].words if isinstance(c[0], Words) else ()
        if any(isinstance(x, Token) for x in c):
            flags = (*flags, "replaceable")
        constraint = pieces.first(c, s.Constraint)
        element = next(x for x in c if isinstance(x, s.ClassDef | Items))
        for item in element.items if isinstance(element, Items) else [element]:
            item.flags = flags
            item.constraint = constraint
        return element

    def constraining_clause(self, c: Children) -> s.Constraint:
        modification = pieces.first(c, s.Modification)
        arguments = modification.arguments if modification else ()
        return s.Constraint(pieces.text(c), arguments, pieces.first(c, s.Comment), **pieces.span(c))

    def import_path(self, c: Children) -> Text:
        if len(c) == 1:
            return Text(str(c[0]), **pieces.span(c))
        return Text(f"{c[0].text}.{c[2]}", **pieces.span(c))

    def import_clause(self, c: Children) -> s.Import:
        path = pieces.text(c)
        if "=" in c:
            return s.Import(path, alias=str(c[1]), **pieces.span(c))
        names = tuple(str(x) for x in pieces.identifiers(c))
        everything = any(isinstance(x, Token) and x.type == "MUL_OP" for x in c)
        return s.Import(path, everything=everything, names=names, **pieces.span(c))

    def extends_clause(self, c: Children) -> s.Extends:
        modification = pieces.first(c, s.Modification)
        arguments = modification.arguments if modification else ()
        return s.Extends(pieces.text(c), arguments, pieces.first(c, s.Annotation), **pieces.span(c))

    def component_clause(self, c: Children) -> Items:
        prefix = pieces.first(c, TypePrefix)
        type_name = pieces.first(c, Text)
        subscripts = pieces.first(c, Subscripts)
        components = [x for x in c if isinstance(x, s.Component)]
        for component in components:
            component.prefixes = prefix.words if prefix else ()
            component.type_name = type_name.text
            component.type_subscripts = subscripts.items if subscripts else ()
        components[0].start = pieces.start(c[0])
        return Items(components, **pieces.span(c))

    def component_clause1(self, c: Children) -> s.Component:
        items = self.component_clause(c)
        return items.items[0]

    def type_prefix(self, c: Children) -> TypePrefix:
        return TypePrefix(tuple(str(x) for x in c), **pieces.span(c))

    def type_specifier(self, c: Children) -> Text:
        return Text("".join(x.text if isinstance(x, Text) else str(x) for x in c), **pieces.span(c))

    def component_declaration(self, c: Children) -> s.Component:
        subscripts = pieces.first(c, Subscripts)
        condition = pieces.first(c, Condition)
        return s.Component(
            str(c[0]),
            "",
            subscripts=subscripts.items if subscripts else (),
            modification=pieces.first(c, s.Modification),
            condition=condition.expression if condition else None,
            comment=pieces.first(c, s.Comment),
            name_span=(c[0].start_pos, c[0].end_pos),
            **pieces.span(c),
        )

    component_declaration1 = component_declaration

    def condition(self, c: Children) -> Condition:
        return Condition(c[1], **pieces.span(c))

    # --- modifications ---

    def modification(self, c: Children) -> s.Modification:
        arguments: tuple[Any, ...] = ()
        span = None
        if isinstance(c[0], s.Modification):
            arguments, span = c[0].arguments, c[0].arguments_span
        value = c[-1] if len(c) > 1 else None
        return s.Modification(arguments, value, ":=" in c, arguments_span=span, **pieces.span(c))

    def break_value(self, c: Children) -> s.BreakValue:
        return s.BreakValue(**pieces.span(c))

    def class_modification(self, c: Children) -> s.Modification:
        return s.Modification(
            tuple(pieces.nodes(c)),
            arguments_span=(pieces.start(c[0]), pieces.end(c[-1])),
            **pieces.span(c),
        )

    def each_final(self, c: Children) -> Words:
        return Words(tuple(str(x) for x in c), **pieces.span(c))

    def element_modification(self, c: Children) -> s.Modify:
        flags = c[0].words if isinstance(c[0], Words) else ()
        texts = [x for x in c if isinstance(x, Text)]
        comment = texts[1].text if len(texts) > 1 else ""
        modification = pieces.first(c, s.Modification)
        return s.Modify(
            texts[0].text,
            modification,
            "each" in flags,
            "final" in flags,
            comment,
            **pieces.span(c),
        )

    def element_redeclaration(self, c: Children) -> s.Redeclare:
        return self._redeclaration(c, True)

    def element_replaceable(self, c: Children) -> s.Redeclare:
        return self._redeclaration(c, False)

    def _redeclaration(self, c: Children, redeclare: bool) -> s.Redeclare:
        flags = pieces.first(c, Words)
        words = flags.words if flags else ()
        element = next(x for x in c if isinstance(x, s.ClassDef | s.Component))
        return s.Redeclare(
            element, redeclare, "replaceable" in c, "each" in words, "final" in words,
            pieces.first(c, s.Constraint), **pieces.span(c),
        )  # fmt: skip

    def inheritance_modification(self, c: Children) -> s.InheritanceBreak:
        if isinstance(c[1], s.Connect):
            return s.InheritanceBreak(connection=c[1], **pieces.span(c))
        return s.InheritanceBreak(str(c[1]), **pieces.span(c))

    # --- comments and annotations ---

    def string_comment(self, c: Children) -> Text:
        return Text("".join(unquote(x) for x in c if x.type == "STRING"), **pieces.span(c))

    def comment(self, c: Children) -> s.Comment:
        return s.Comment(pieces.text(c), pieces.first(c, s.Annotation), **pieces.span(c))

    def annotation(self, c: Children) -> s.Annotation:
        return s.Annotation(c[1].arguments, **pieces.span(c))
