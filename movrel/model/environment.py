"""What a text is worked out in: the model as a whole, an instance in it, names that loops and functions add.

Instances need values (sizes, conditions, bindings) and values need instances (members, constants). Both
stand above this file: an instance is an :class:`Environment`, and a model is given an :class:`Evaluator`
when it is made.
"""

from __future__ import annotations

from abc import ABC, abstractmethod
from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass, field, replace
from typing import Any, NamedTuple, TypeAlias

from typing_extensions import TypeIs

from movrel.errors import Place, StructureFault
from movrel.language import syntax as s
from movrel.model.classes import ClassTree, Definition
from movrel.model.expression import Expr, Scalar, Variable, evaluate, variables
from movrel.model.flat import Assertion, Termination
from movrel.model.streams import Streams


class Unset:
    """A variable of a function before it is assigned."""

    def __repr__(self) -> str:
        return "unset"


UNSET = Unset()


class Record:
    """Named values of one record class."""

    __slots__ = ("definition", "fields")

    def __init__(self, definition: Definition, fields: dict[str, Value]) -> None:
        self.definition = definition
        self.fields = fields

    @property
    def name(self) -> str:
        return self.definition.name

    def __repr__(self) -> str:
        return f"<{self.name} {', '.join(self.fields)}>"


class EnumerationType:
    """An enumeration used as a value, for instance as an array size."""

    def __init__(self, literals: tuple[str, ...]) -> None:
        self.literals = literals


@dataclass(frozen=True, slots=True)
class FunctionValue:
    """A function as an argument, with those of its inputs that it has been given already (12.4.2)."""

    definition: Definition
    given: dict[str, Value]


#: What an expression stands for: a scalar, an array, a record, a component, an enumeration, a function.
Value: TypeAlias = (
    "Expr | Sequence[Value] | Record | Environment | EnumerationType | FunctionValue | Unset"
)
#: What a class in its place is made of; None for what is conditioned away.
Member: TypeAlias = "Variable | Environment | Sequence[Member] | None"
#: What a name stands for before it is used in an expression.
Named: TypeAlias = "Value | Variable | Sequence[Named] | None"


def is_array(value: Named) -> TypeIs[Sequence[Named]]:
    """Whether a value or member is an array: arrays are lists, and nothing else is a sequence."""
    return isinstance(value, list)


@dataclass(slots=True, eq=False)
class Redeclaration:
    """The element that takes the place of a replaceable one, and where it was written."""

    element: s.Component | s.ClassDef
    scope: Environment
    definition: Definition
    #: Of a class: whether it stands among the elements of ``definition``, not in a modification.
    among_elements: bool = False

    @property
    def clause(self) -> s.Extends | None:
        """The class that it names, of a class in a modification."""
        if self.among_elements or not isinstance(self.element, s.ClassDef):
            return None
        return self.element.base


@dataclass(slots=True)
class Mod:
    """A value with the scope in which it is evaluated, and modifications of members.

    ``index`` holds ``(element, size)`` pairs that select the part of an array value which belongs to
    one element of an array of components; ``each`` values are shared by all elements. ``whole``
    keeps the array once it is evaluated, for all its elements.
    """

    value: s.Given | None = None
    scope: Environment | None = None
    definition: Definition | None = None
    each: bool = False
    final: bool = False
    index: tuple[tuple[int, int], ...] = ()
    members: dict[str, Mod] = field(default_factory=dict)
    redeclaration: Redeclaration | None = None
    removed: bool = False
    where: Place | None = None
    whole: list[Value] = field(default_factory=list)

    def at(self, index: int, size: int) -> Mod:
        """The modification of one element of an array of components."""
        if self.each or (self.value is None and not self.members):
            return self
        members = {name: mod.at(index, size) for name, mod in self.members.items()}
        return Mod(
            self.value, self.scope, self.definition, self.each, self.final, (*self.index, (index, size)), members,
            self.redeclaration, self.removed, self.where, self.whole,
        )  # fmt: skip

    def for_one(self) -> Mod:
        """The same without ``each``, which was meant for arrays around."""
        return replace(self, each=False) if self.each else self


@dataclass(slots=True)
class Declared:
    """A component as it stands in the flattened class: its declaration and what extends adds."""

    node: s.Component
    definition: Definition
    mod: Mod | None


@dataclass(slots=True)
class Content:
    """What a class declares with all that it inherits, the classes whose equations it has, and redeclared classes."""

    declared: dict[str, Declared] = field(default_factory=dict)
    bodies: list[Definition] = field(default_factory=list)
    overrides: dict[str, Redeclaration] = field(default_factory=dict)
    #: Whether several instances have it; then it must not be changed.
    shared: bool = False


@dataclass(slots=True)
class ScalarType:
    """What a chain of type definitions comes down to."""

    base: str  # Real, Integer, Boolean, String, Clock or enumeration
    members: dict[str, Mod] = field(default_factory=dict)
    dimensions: list[tuple[s.Subscript, Definition]] = field(default_factory=list)
    prefixes: tuple[str, ...] = ()
    literals: tuple[str, ...] = ()


class Environment(ABC):
    """A class in its place in a model, as far as texts that are written in it need it."""

    __slots__ = ()

    model: Model
    path: str
    definition: Definition
    is_package: bool

    @property
    @abstractmethod
    def parent(self) -> Environment | None:
        """The instance that it is a component of, None at the top and for packages."""

    @property
    @abstractmethod
    def declared(self) -> Mapping[str, Declared]:
        """What the class declares and inherits, by name."""

    @property
    @abstractmethod
    def bodies(self) -> list[Definition]:
        """The classes whose equations it has: itself and all bases."""

    @property
    @abstractmethod
    def overrides(self) -> Mapping[str, Redeclaration]:
        """What stands in the place of its classes, by their names."""

    @abstractmethod
    def member(self, name: str) -> Member:
        """A Variable, an Environment, a nested list of these, or None if conditioned away."""

    @abstractmethod
    def class_named(self, name: str, scope: Definition) -> tuple[Definition | None, dict[str, Mod]]:
        """The class that a name used in ``scope`` means here, and how a redeclaration modifies it."""

    @abstractmethod
    def function(self, name: str, scope: Definition) -> Definition | None:
        """A function, or a class that is called like one, by the name used in ``scope``."""

    @abstractmethod
    def scalar_type(self, definition: Definition) -> ScalarType | None:
        """What a type definition comes down to, or None for a class with components."""


@dataclass(slots=True)
class Scope:
    """Where names are looked up: an instance, the class whose text is being read, loop variables."""

    instance: Environment
    definition: Definition
    names: dict[str, Value] = field(default_factory=dict)
    extent: int | None = None  # what 'end' means inside subscripts

    @property
    def model(self) -> Model:
        return self.instance.model

    def place(self, node: s.Node) -> Place:
        return self.definition.place(node)

    def within(self, names: dict[str, Value]) -> Scope:
        return Scope(self.instance, self.definition, {**self.names, **names}, self.extent)


class Input(NamedTuple):
    """An input of a function: its type, how many dimensions it has, and whether a call must give it."""

    type: Definition | None
    dimensions: int
    required: bool

    @property
    def is_function(self) -> bool:
        return self.type is not None and self.type.node.kind == "function"


@dataclass(frozen=True, slots=True)
class Signature:
    """The inputs and outputs of a function in their order.

    ``sizes`` holds for each of its variables what says the size of each dimension, and the class in which that is written.
    """

    package: Environment
    inputs: dict[str, Input]
    outputs: list[str]
    sizes: dict[str, list[tuple[s.Subscript, Definition]]]


@dataclass(frozen=True, slots=True)
class Evaluator:
    """How texts become values.

    ``value`` works out any expression, ``call`` the first output of a function call, ``outputs`` all
    of them, ``operator`` what an operator of operator records gives, ``package`` the constants of a package or of an
    enclosing class; ``finish`` gives a variable the attributes and the value that its modification says.
    """

    value: Callable[[s.Given, Scope], Value]
    call: Callable[[s.Call, Scope], Value]
    outputs: Callable[[s.Call, Scope], list[Value]]
    operator: Callable[[str, list[Value], Model, Place], Value | None]
    package: Callable[[Model, Definition], Environment]
    finish: Callable[[Variable, Mod, Model], None]


class Model:
    """What all instances of one model share: classes, settings, variables, limits."""

    def __init__(
        self, tree: ClassTree, evaluator: Evaluator, settings: dict[str, Expr] | None = None
    ) -> None:
        self.tree = tree
        self.evaluator = evaluator
        self.settings = settings or {}
        self.used_settings: set[str] = set()
        #: Variables whose attributes and value are not worked out yet, with what says them.
        self.pending: dict[Variable, Mod] = {}
        self.count = 0
        self.packages: dict[Definition, Environment] = {}
        self.resolving: list[Variable] = []
        #: Limits of the function call that is being inlined, if one is.
        self.function_budget: Any = None
        #: What the statements of functions and algorithms assert, and where they end the run.
        self.assertions: list[Assertion] = []
        self.terminations: list[Termination] = []
        self.streams = Streams()
        #: What its author should know, though it can be computed.
        self.warnings: list[str] = []
        #: Whether values were read from files beside the model.
        self.reads_files = False
        #: What names of types mean in a class without redeclarations, and what types come down to.
        self.classes: dict[tuple[str, Definition], Definition | None] = {}
        self.scalar_types: dict[Definition, ScalarType | None] = {}
        #: What calls of functions must give.
        self.signatures: dict[Definition, Signature] = {}
        #: Classes in which others stand in the place of replaceable ones, by the redeclarations.
        self.redeclared: dict[tuple[object, ...], Definition] = {}
        #: Modifications that say the same wherever they are read, by the identity of their text.
        self.literal_mods: dict[int, Mod] = {}
        #: What instances of a class have in common, and members that are being made.
        self.contents: dict[Definition, Content] = {}
        self.making: set[tuple[Environment, str]] = set()
        #: Whether anything ticks.
        self.clocked = False
        #: Whether each state of the state machines is active.
        self.machine_states: dict[Environment, Variable] = {}

    def package(self, definition: Definition) -> Environment:
        """The constants of a package or of an enclosing class."""
        package = self.packages.get(definition)
        if package is None:
            package = self.packages[definition] = self.evaluator.package(self, definition)
        return package

    def value(self, node: s.Given, scope: Scope) -> Value:
        """The value of an expression in a scope: a scalar, nested lists, a record, an instance."""
        return self.evaluator.value(node, scope)

    def binding(self, variable: Variable) -> Expr | None:
        """The binding of a variable, its attributes being worked out first if need be."""
        mod = self.pending.pop(variable, None)
        if mod is not None:
            if variable in self.resolving:
                raise StructureFault(f"'{variable.name}' depends on itself.", variable.where)
            self.resolving.append(variable)
            try:
                self.evaluator.finish(variable, mod, self)
            finally:
                self.resolving.remove(variable)
        return variable.binding

    def structural_value(self, expression: Expr, purpose: str, where: Place | None) -> Any:
        """The number that decides structure; the parameters it uses become structural."""
        try:
            return self._number(expression, purpose, where, [])
        except (ArithmeticError, ValueError, TypeError) as fault:
            raise StructureFault(f"{purpose} cannot be worked out: {fault}.", where) from None
        except KeyError as fault:
            raise StructureFault(
                f"{purpose} depends on '{fault.args[0]}', which has no value before the run.", where,
                "Only parameters and constants may decide the structure of a model.",
            ) from None  # fmt: skip

    def _number(self, expression: Expr, purpose: str, where: Place | None, chain: list[str]) -> Any:
        values: dict[Variable, Scalar] = {}
        for variable in variables(expression):
            if variable.name in chain:
                raise StructureFault(f"'{variable.name}' depends on itself.", variable.where)
            if variable.variability not in ("parameter", "constant"):
                raise StructureFault(
                    f"{purpose} depends on '{variable.name}', which varies in time.",
                    where,
                    "Only parameters and constants may decide the structure of a model.",
                )
            binding = self.binding(variable)
            if binding is None:
                binding = variable.start
            if binding is None:
                raise StructureFault(
                    f"{purpose} needs a value for '{variable.name}'.", where, "Give it one."
                )
            variable.structural = True
            values[variable] = self._number(binding, purpose, where, [*chain, variable.name])
        return evaluate(expression, values)
