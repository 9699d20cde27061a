"""The syntax tree: one small class per construct, each with its span in the source.

``start`` and ``end`` are character offsets into the text that was parsed (end exclusive). They are
left out of comparison, so two trees are equal when they say the same thing.
"""

from __future__ import annotations

from dataclasses import dataclass, field
from typing import TypeAlias


@dataclass(slots=True)
class Node:
    """Anything with a place in the text."""

    start: int = field(default=-1, compare=False, repr=False, kw_only=True)
    end: int = field(default=-1, compare=False, repr=False, kw_only=True)


#: What has a value, or can stand where one is written.
Expression: TypeAlias = (
    "Number | String | Boolean | Ref | Call | Unary | Binary | IfExpression | Range | Array | Matrix"
    " | Tuple | Selection | EndIndex"
)
#: What selects from an array, or says its size.
Subscript: TypeAlias = "Expression | WholeDimension"
#: What can be handed to a function.
CallArgument: TypeAlias = "Expression | PartialApplication"
#: What a modification may give; ``break`` takes an inherited value away.
Given: TypeAlias = "CallArgument | Subscript | BreakValue"
#: What stands in the parentheses of a modification.
Argument: TypeAlias = "Modify | Redeclare | InheritanceBreak"
#: What a class is made of, besides equations and statements.
Element: TypeAlias = "Component | ClassDef | Extends | Import"
AnyEquation: TypeAlias = (
    "Equation | CallEquation | IfEquation | ForEquation | WhenEquation | Connect"
)
Statement: TypeAlias = (
    "Assignment | TupleAssignment | CallStatement | BreakStatement | ReturnStatement | IfStatement"
    " | ForStatement | WhileStatement | WhenStatement"
)

# --- expressions -------------------------------------------------------------------------------


@dataclass(slots=True)
class Number(Node):
    text: str

    @property
    def is_integer(self) -> bool:
        return self.text.isdigit()


@dataclass(slots=True)
class String(Node):
    value: str


@dataclass(slots=True)
class Boolean(Node):
    value: bool


@dataclass(slots=True)
class RefPart(Node):
    name: str
    subscripts: tuple[Subscript, ...] = ()


@dataclass(slots=True)
class Ref(Node):
    """A component reference such as ``a.b[2].c``; ``absolute`` when it begins with a dot."""

    parts: tuple[RefPart, ...]
    absolute: bool = False

    @property
    def text(self) -> str:
        return ("." if self.absolute else "") + ".".join(part.name for part in self.parts)


@dataclass(slots=True)
class ForIndex(Node):
    name: str
    over: Expression | None


@dataclass(slots=True)
class Named(Node):
    name: str
    value: CallArgument


@dataclass(slots=True)
class Call(Node):
    """A function call; ``der``, ``initial`` and ``pure`` are called by a plain Ref as well."""

    function: Ref
    arguments: tuple[CallArgument, ...] = ()
    named: tuple[Named, ...] = ()
    indices: tuple[ForIndex, ...] = ()

    @property
    def name(self) -> str:
        return self.function.text


@dataclass(slots=True)
class PartialApplication(Node):
    function: str
    named: tuple[Named, ...]


@dataclass(slots=True)
class Unary(Node):
    operator: str
    operand: Expression


@dataclass(slots=True)
class Binary(Node):
    operator: str
    left: Expression
    right: Expression


@dataclass(slots=True)
class IfExpression(Node):
    branches: tuple[tuple[Expression, Expression], ...]
    otherwise: Expression


@dataclass(slots=True)
class Range(Node):
    first: Expression
    step: Expression | None
    last: Expression


@dataclass(slots=True)
class Array(Node):
    items: tuple[Expression, ...]
    indices: tuple[ForIndex, ...] = ()


@dataclass(slots=True)
class Matrix(Node):
    rows: tuple[tuple[Expression, ...], ...]


@dataclass(slots=True)
class Tuple(Node):
    """Parentheses: one item is grouping, several (or empty ones) are outputs of a function."""

    items: tuple[Expression | None, ...]


@dataclass(slots=True)
class Selection(Node):
    """``(expression)[subscripts]`` or ``(expression).name``."""

    of: Given
    subscripts: tuple[Subscript, ...] = ()
    name: str = ""


@dataclass(slots=True)
class EndIndex(Node):
    pass


@dataclass(slots=True)
class WholeDimension(Node):
    pass


@dataclass(slots=True)
class BreakValue(Node):
    """``= break``: remove an inherited modification."""


# --- modifications and annotations ---------------------------------------------------------------


@dataclass(slots=True)
class Modification(Node):
    """``(arguments) = value``; ``assigns`` when written with ``:=``."""

    arguments: tuple[Argument, ...] = ()
    value: Expression | BreakValue | None = None
    assigns: bool = False
    #: Span of the parenthesised arguments, if they are written.
    arguments_span: tuple[int, int] | None = field(default=None, compare=False)


@dataclass(slots=True)
class Modify(Node):
    """One argument of a class modification: ``each final name.sub(...) = value "comment"``."""

    name: str
    modification: Modification | None
    each: bool = False
    final: bool = False
    comment: str = ""


@dataclass(slots=True)
class Redeclare(Node):
    """``redeclare``/``replaceable`` inside a modification."""

    element: Component | ClassDef
    redeclare: bool
    replaceable: bool
    each: bool = False
    final: bool = False
    constraint: Constraint | None = None


@dataclass(slots=True)
class InheritanceBreak(Node):
    """``break x`` or ``break connect(a, b)`` in an extends clause."""

    name: str = ""
    connection: Connect | None = None


@dataclass(slots=True)
class Annotation(Node):
    arguments: tuple[Argument, ...]


@dataclass(slots=True)
class Comment(Node):
    text: str = ""
    annotation: Annotation | None = None


# --- elements of a class --------------------------------------------------------------------------


@dataclass(slots=True)
class Constraint(Node):
    type_name: str
    arguments: tuple[Argument, ...] = ()
    comment: Comment | None = None


@dataclass(slots=True)
class Component(Node):
    """One declared component; a clause with several names gives several of these."""

    name: str
    type_name: str
    prefixes: tuple[str, ...] = ()  # flow, parameter, input, ...
    flags: tuple[str, ...] = ()  # redeclare, final, inner, outer, replaceable
    type_subscripts: tuple[Subscript, ...] = ()
    subscripts: tuple[Subscript, ...] = ()
    modification: Modification | None = None
    condition: Expression | None = None
    comment: Comment | None = None
    constraint: Constraint | None = None
    protected: bool = False
    name_span: tuple[int, int] = field(default=(-1, -1), compare=False)


@dataclass(slots=True)
class Extends(Node):
    type_name: str
    arguments: tuple[Argument, ...] = ()
    annotation: Annotation | None = None
    protected: bool = False


@dataclass(slots=True)
class Import(Node):
    """``import alias = path``, ``import path``, ``import path.*`` or ``import path.{names}``."""

    path: str
    alias: str = ""
    everything: bool = False
    names: tuple[str, ...] = ()


@dataclass(slots=True)
class ClassDef(Node):
    """A class definition of any kind and any form.

    ``form`` is ``long``, ``extends``, ``short``, ``enumeration`` or ``der``. For a short class the
    base and its modification are in ``base`` (an Extends) with ``base_prefixes`` and
    ``base_subscripts``; enumeration literals are in ``literals`` (``None`` means ``(:)``).
    """

    name: str
    kind: str
    form: str = "long"
    prefixes: tuple[str, ...] = ()  # partial, encapsulated, pure, impure, operator, expandable
    flags: tuple[str, ...] = ()  # redeclare, final, inner, outer, replaceable
    comment: str = ""
    elements: list[Element] = field(default_factory=list)
    equations: list[AnyEquation] = field(default_factory=list)
    initial_equations: list[AnyEquation] = field(default_factory=list)
    algorithms: list[list[Statement]] = field(default_factory=list)
    initial_algorithms: list[list[Statement]] = field(default_factory=list)
    external: External | None = None
    annotation: Annotation | None = None
    base: Extends | None = None
    base_prefixes: tuple[str, ...] = ()
    base_subscripts: tuple[Subscript, ...] = ()
    literals: tuple[tuple[str, Comment | None], ...] | None = ()
    derivative_of: tuple[str, ...] = ()
    constraint: Constraint | None = None
    protected: bool = False
    name_span: tuple[int, int] = field(default=(-1, -1), compare=False)

    @property
    def partial(self) -> bool:
        return "partial" in self.prefixes


@dataclass(slots=True)
class External(Node):
    language: str = ""
    result: Ref | None = None
    function: str = ""
    arguments: tuple[Expression, ...] = ()
    annotation: Annotation | None = None


# --- equations and statements ---------------------------------------------------------------------


@dataclass(slots=True)
class Equation(Node):
    left: Expression
    right: Expression
    comment: Comment | None = None


@dataclass(slots=True)
class CallEquation(Node):
    call: Call
    comment: Comment | None = None


@dataclass(slots=True)
class IfEquation(Node):
    branches: tuple[tuple[Expression, tuple[AnyEquation, ...]], ...]
    otherwise: tuple[AnyEquation, ...]
    comment: Comment | None = None


@dataclass(slots=True)
class ForEquation(Node):
    indices: tuple[ForIndex, ...]
    body: tuple[AnyEquation, ...]
    comment: Comment | None = None


@dataclass(slots=True)
class WhenEquation(Node):
    branches: tuple[tuple[Expression, tuple[AnyEquation, ...]], ...]
    comment: Comment | None = None


@dataclass(slots=True)
class Connect(Node):
    left: Ref
    right: Ref
    comment: Comment | None = None


@dataclass(slots=True)
class Assignment(Node):
    target: Ref
    value: Expression
    comment: Comment | None = None


@dataclass(slots=True)
class TupleAssignment(Node):
    targets: Tuple
    call: Call
    comment: Comment | None = None


@dataclass(slots=True)
class CallStatement(Node):
    call: Call
    comment: Comment | None = None


@dataclass(slots=True)
class BreakStatement(Node):
    comment: Comment | None = None


@dataclass(slots=True)
class ReturnStatement(Node):
    comment: Comment | None = None


@dataclass(slots=True)
class IfStatement(Node):
    branches: tuple[tuple[Expression, tuple[Statement, ...]], ...]
    otherwise: tuple[Statement, ...]
    comment: Comment | None = None


@dataclass(slots=True)
class ForStatement(Node):
    indices: tuple[ForIndex, ...]
    body: tuple[Statement, ...]
    comment: Comment | None = None


@dataclass(slots=True)
class WhileStatement(Node):
    condition: Expression
    body: tuple[Statement, ...]
    comment: Comment | None = None


@dataclass(slots=True)
class WhenStatement(Node):
    branches: tuple[tuple[Expression, tuple[Statement, ...]], ...]
    comment: Comment | None = None


@dataclass(slots=True)
class StoredFile(Node):
    """What one file holds: an optional ``within`` path (``None`` when absent) and its classes."""

    within: str | None
    classes: list[ClassDef]
