"""The tree of classes: files and package folders, and the lookup of class names in it."""

from __future__ import annotations

import threading
from collections.abc import Iterator, Mapping
from dataclasses import dataclass, field
from pathlib import Path

from movrel.errors import LookupFault, MovrelError, Place, did_you_mean
from movrel.language import syntax as s
from movrel.language.parse_cache import parse_cached
from movrel.language.parser import Source
from movrel.model.old_names import present_class
from movrel.model.package_folder import PACKAGE, classes_in, file_of_class, read_text

LIBRARY_FOLDER = Path(__file__).resolve().parent.parent / "library"
PREDEFINED = (
    "Real",
    "Integer",
    "Boolean",
    "String",
    "StateSelect",
    "AssertionLevel",
    "Clock",
    "ExternalObject",
)
_PREDEFINED_TEXT = """
type StateSelect = enumeration(never, avoid, default, prefer, always);
type AssertionLevel = enumeration(warning, error);
type Real "Real number" end Real;
type Integer "Whole number" end Integer;
type Boolean "Truth value" end Boolean;
type String "Text" end String;
type Clock "Ticks" end Clock;
"""
#: Kinds of classes that see a package which inherits them; types and connectors are the same everywhere.
INHERITED_WITH_PACKAGE = {"function", "model", "block", "class", "package", "record"}


@dataclass(eq=False, slots=True)
class Definition:
    """A class in its place in the tree."""

    node: s.ClassDef
    source: Source
    parent: Definition | None
    children: dict[str, Definition] = field(default_factory=dict)
    folder: Path | None = None  # where further members of a package lie, read when asked for
    _absent: set[str] = field(
        default_factory=set
    )  # what was looked for in the folder and is not there
    #: Of a class that a package inherits: where it is declared, and the class around that package's base.
    original: Definition | None = None
    beyond: Definition | None = None
    #: Of a short class made from a redeclaration: the class that it means.
    meant: Definition | None = None
    #: Of such a short class: the component in whose place its modification was written, where it has one.
    written_in: object = None
    #: Classes made for this one: what it inherits as it has them, and short classes from redeclarations.
    _made: dict[object, Definition] = field(default_factory=dict)
    _inherited: list[Definition] | None = None
    _settled: bool = False
    _imports: list[s.Import] | None = None

    @property
    def imports(self) -> list[s.Import]:
        """The import clauses of the class itself."""
        if self._imports is None:
            self._imports = [e for e in self.node.elements if isinstance(e, s.Import)]
        return self._imports

    @property
    def name(self) -> str:
        return self.node.name

    @property
    def qualified(self) -> str:
        if self.parent is None:
            return self.node.name
        return f"{self.parent.qualified}.{self.node.name}"

    @property
    def predefined(self) -> bool:
        return self.parent is None and self.source.file == "predefined"

    def place(self, node: s.Node | None = None) -> Place:
        return self.source.place(node.start if node is not None else self.node.name_span[0])

    def around(self) -> Iterator[Definition]:
        """The class itself and those around it in which its names are looked for, from the inside (5.3.1).

        A class that a package inherits sees that package first, then what is around its declaration.
        """
        at: Definition | None = self
        beyond: Definition | None = None
        while at is not None:
            yield at
            if "encapsulated" in at.node.prefixes:
                return
            after = at.beyond
            if after is not None:
                at, beyond = at.parent, after
            elif beyond is not None:
                at, beyond = beyond, None
            else:
                at = at.parent

    def __repr__(self) -> str:
        return f"<class {self.qualified}>"


class ClassTree:
    """All classes that can be named: what was loaded, and the component library on demand."""

    def __init__(self, library: Path | None = LIBRARY_FOLDER) -> None:
        self.roots: dict[str, Definition] = {}
        self.library = library
        self.files: dict[str, Source] = {}
        #: Where files with data may lie.
        self.folders: list[Path] = []
        self._absent: set[str] = set()  # what is not in the component library
        # Classes are read when first asked for, perhaps by several threads at once.
        self._lock = threading.RLock()
        predefined = parse_cached(_PREDEFINED_TEXT, "predefined")
        self._predefined = {
            c.name: Definition(c, predefined, None) for c in predefined.tree.classes
        }

    # --- loading ---

    def add_text(self, text: str, file: str) -> list[Definition]:
        """Add the classes of one file; the last of them is what a run defaults to."""
        return self.add_source(parse_cached(text, file))

    def add_source(self, source: Source) -> list[Definition]:
        parent = None
        if source.tree.within:
            parent = self.find(source.tree.within)
            if parent is None:
                raise LookupFault(
                    f"the package '{source.tree.within}' named by 'within' is not loaded.",
                    Place(source.file, 1, 1),
                    "Load the package too, or remove the 'within' line.",
                )
        self.files[source.file] = source
        return [self._add(node, source, parent) for node in source.tree.classes]

    def _add(self, node: s.ClassDef, source: Source, parent: Definition | None) -> Definition:
        definition = Definition(node, source, parent)
        for element in node.elements:
            if isinstance(element, s.ClassDef):
                self._add(element, source, definition)
        siblings = parent.children if parent else self.roots
        known = siblings.get(node.name)
        if known and known.source is source:
            raise LookupFault(
                f"the class '{definition.qualified}' is defined twice.",
                definition.place(),
                f"The first is at line {known.place().line}; rename one of them.",
            )
        if known:
            definition.folder = known.folder
        siblings[node.name] = definition
        return definition

    def add_path(self, path: Path) -> list[Definition]:
        """Add a file or a package folder, together with the package that a file lies in."""
        self.folders.append(path if path.is_dir() else path.parent)
        if path.is_dir():
            package = path / PACKAGE
            if not package.is_file():
                raise MovrelError(
                    f"the folder {path} is not a package.", hint="It has no package.mo."
                )
            return [self._add_folder(path, None)]
        if not path.is_file():
            raise MovrelError(f"the file {path} does not exist.")
        if path.name == PACKAGE:
            return [self._add_folder(path.parent, None)]
        source = parse_cached(read_text(path), str(path))
        if source.tree.within and self.find(source.tree.within) is None:
            depth = source.tree.within.count(".")
            root = path.resolve().parents[depth]
            if (root / PACKAGE).is_file() and root.name == source.tree.within.split(".")[0]:
                self._add_folder(root, None)
        return self.add_source(source)

    def _add_folder(self, folder: Path, parent: Definition | None) -> Definition:
        path = folder / PACKAGE
        source = parse_cached(read_text(path), self._shown(path))
        if len(source.tree.classes) != 1:
            raise MovrelError("package.mo must hold exactly one class.", Place(str(path), 1, 1))
        self.files[source.file] = source
        definition = self._add(source.tree.classes[0], source, parent)
        definition.folder = folder
        return definition

    # --- finding ---

    def root(self, name: str) -> Definition | None:
        """A class at the top, from the component library if it was not loaded."""
        with self._lock:
            root = self.roots.get(name) or self._predefined.get(name)
            if root is not None or self.library is None or name in self._absent:
                return root
            path = file_of_class(self.library, name)
            if path is not None and path.name == PACKAGE:
                return self._add_folder(path.parent, None)
            self._absent.add(name)
            return None

    def own_child(self, definition: Definition, name: str) -> Definition | None:
        """A class declared in this very class (not inherited), read from its folder if need be."""
        child = definition.children.get(name)
        if definition.original is not None and child is None:
            declared = self.own_child(definition.original, name)
            return None if declared is None else self._inherit(declared, definition, None)
        if child is not None or definition.folder is None or name in definition._absent:
            return child
        with self._lock:
            if name not in definition.children:
                self._read_member(definition, definition.folder, name)
            child = definition.children.get(name)
            if child is None:
                present = present_class(definition.qualified, name)
                if present is not None:
                    return self.own_child(definition, present)
                definition._absent.add(name)
            return child

    def _shown(self, path: Path) -> str:
        """How a file is named to a person: files of the component library without where they are installed."""
        if self.library is not None and path.is_relative_to(self.library):
            return str(Path("library") / path.relative_to(self.library))
        return str(path)

    def _read_member(self, definition: Definition, folder: Path, name: str) -> None:
        path = file_of_class(folder, name)
        if path is None:
            return
        if path.name == PACKAGE:
            self._add_folder(path.parent, definition)
            return
        source = parse_cached(read_text(path), self._shown(path))
        self.files[source.file] = source
        for node in source.tree.classes:
            self._add(node, source, definition)

    def members(self, definition: Definition) -> list[Definition]:
        """All classes declared in a package, those in its folder included, in package order."""
        if definition.folder is not None:
            names = classes_in(definition.folder)
            for name in names:
                self.own_child(definition, name)
            ordered = [definition.children[n] for n in names if n in definition.children]
            return ordered + [d for d in definition.children.values() if d not in ordered]
        return list(definition.children.values())

    def own_texts(self) -> dict[str, str]:
        """The texts that were loaded, by file, without those of the component library."""
        with self._lock:
            return {
                file: source.text
                for file, source in self.files.items()
                if not file.startswith("library/")
            }

    def own_folders(self) -> list[Path]:
        """The folders of packages that were loaded, without those of the component library."""
        with self._lock:
            folders = [root.folder for root in self.roots.values() if root.folder is not None]
        return [f for f in folders if self.library is None or not f.is_relative_to(self.library)]

    def find(self, qualified: str) -> Definition | None:
        """A class by its full name."""
        parts = qualified.lstrip(".").split(".")
        definition = self.root(parts[0])
        for part in parts[1:]:
            if definition is None:
                return None
            definition = self.child(definition, part)
        return definition

    def bases(self, definition: Definition) -> list[Definition]:
        """The direct base classes."""
        if definition._inherited is not None and definition._settled:
            return definition._inherited
        with self._lock:
            return self._find_bases(definition)

    def _find_bases(self, definition: Definition) -> list[Definition]:
        if definition._inherited is None:
            definition._inherited = []  # cuts off a class that extends itself while looking up its base
            bases = []
            node = definition.node
            clauses = [e for e in node.elements if isinstance(e, s.Extends)]
            if node.base is not None and node.form in ("short", "extends"):
                clauses.append(node.base)
            for clause in clauses:
                if node.form == "extends" and definition.parent is not None:
                    base = self._extended(definition, definition.parent)
                else:
                    base = self.lookup(clause.type_name, definition, node.form == "short")
                if base is None and node.form == "short":
                    base = self.root(clause.type_name.split(".")[0])
                if base is not None and base is not definition:
                    bases.append(base)
            definition._inherited = bases
            definition._settled = True
        return definition._inherited

    def _extended(self, definition: Definition, parent: Definition) -> Definition | None:
        """What ``redeclare class extends`` goes on from: the class of that name which its package inherits."""
        original = definition.original
        if original is None or original.parent is None:
            return self._from_bases(parent, definition.name, set())
        base = self._from_bases(original.parent, definition.name, set())
        if base is None:
            return None
        return self._inherit(base, parent, base.beyond or original.parent.parent)

    def child(
        self, definition: Definition, name: str, _seen: set[Definition] | None = None
    ) -> Definition | None:
        """A class declared in or inherited by a class."""
        child = self.own_child(definition, name)
        seen = set() if _seen is None else _seen
        if child is not None or definition in seen:
            return child
        return self._from_bases(definition, name, seen)

    def _from_bases(
        self, definition: Definition, name: str, seen: set[Definition]
    ) -> Definition | None:
        """A class that a class inherits; of a package, with that package around it."""
        redeclared = self._redeclared(definition, name)
        if redeclared is not None:
            return redeclared
        seen.add(definition)
        for base in self.bases(definition):
            child = self.child(base, name, seen)
            if child is not None:
                beyond = child.beyond or base.parent
                return self._inherit(child, definition, beyond)
        return None

    def short_class(
        self, element: s.ClassDef, scope: Definition, base: Definition | None
    ) -> Definition:
        """A short class as if it stood in ``scope``, of a given base; without one it is refused where it is used."""
        meant = base.qualified if base is not None else "nothing"
        made = Definition(element, scope.source, scope)
        if base is not None:
            made.meant, made._inherited, made._settled = base, [base], True
        return scope._made.setdefault(f"{element.name} = {meant} at {element.start}", made)

    def as_redeclared(
        self, definition: Definition, classes: Mapping[str, Definition]
    ) -> Definition:
        """A class in which others stand in the place of replaceable ones; what it declares locally sees these (7.3)."""
        made = Definition(definition.node, definition.source, definition.parent)
        made.original, made.beyond = definition.original or definition, definition.beyond
        made.children.update(classes)
        return made

    def _redeclared(self, definition: Definition, name: str) -> Definition | None:
        """The short class that takes a class's place in an extends clause or a short class of this definition (7.3)."""
        if definition.node.kind != "package":
            return None
        clauses = [e for e in definition.node.elements if isinstance(e, s.Extends)]
        if definition.node.base is not None:
            clauses.append(definition.node.base)
        for argument in (a for clause in clauses for a in clause.arguments):
            if isinstance(argument, s.Redeclare) and isinstance(argument.element, s.ClassDef):
                element = argument.element
                if element.name == name and element.base is not None:
                    # The same name on the right is that of a class further out, not of the one it replaces.
                    right = element.base.type_name
                    same = right.partition(".")[0] == name
                    return self.short_class(
                        element, definition, self.lookup(right, definition, outside=same)
                    )
        return None

    def _inherit(
        self, child: Definition, package: Definition, beyond: Definition | None
    ) -> Definition:
        """A class as an inheriting package has it: what it names is looked for in that package (5.6.1)."""
        stands_for_others = package.node.kind == "package" or package.original is not None
        if not stands_for_others or child.node.kind not in INHERITED_WITH_PACKAGE:
            return child
        original = child.original or child
        if original not in package._made:
            made = Definition(child.node, child.source, package)
            made.original, made.beyond = original, beyond
            package._made.setdefault(original, made)
        return package._made[original]

    def lookup(
        self, name: str, scope: Definition | None, outside: bool = False
    ) -> Definition | None:
        """A class by the name used inside ``scope``, or around it if ``outside`` (specification 5.3)."""
        if name.startswith("."):
            return self.find(name)
        first, _, rest = name.partition(".")
        definition = self.lookup_simple(first, scope, outside)
        for part in rest.split(".") if rest else []:
            if definition is None:
                return None
            definition = self.child(definition, part)
        return definition

    def lookup_simple(
        self, name: str, scope: Definition | None, outside: bool = False
    ) -> Definition | None:
        around = scope.around() if scope is not None else iter(())
        if outside:
            next(around, None)
        for at in around:
            definition = self.child(at, name) or self._imported(name, at)
            if definition is not None:
                return definition
            if at.parent is None and at.name == name and "encapsulated" not in at.node.prefixes:
                return at
        return self.root(name)

    def _imported(self, name: str, scope: Definition) -> Definition | None:
        for element in scope.imports:
            target = self._import_target(element, name)
            if target is not None:
                return target
        return None

    def _import_target(self, clause: s.Import, name: str) -> Definition | None:
        if clause.alias:
            return self.find(clause.path) if clause.alias == name else None
        if clause.names:
            return self.find(f"{clause.path}.{name}") if name in clause.names else None
        if clause.everything:
            package = self.find(clause.path)
            return self.child(package, name) if package is not None else None
        return self.find(clause.path) if clause.path.rpartition(".")[2] == name else None

    def require(self, name: str, scope: Definition | None, place: Place | None) -> Definition:
        """Like :meth:`lookup`, but a missing class is an error with a suggestion."""
        definition = self.lookup(name, scope)
        if definition is None:
            raise LookupFault(
                f"no class '{name}' is known here.", place, self._suggest(name, scope)
            )
        return definition

    def _suggest(self, name: str, scope: Definition | None) -> str:

        last = name.rpartition(".")[2]
        candidates: dict[str, str] = {n: n for n in (*self.roots, *self._predefined)}
        while scope is not None:
            candidates.update({n: n for n in scope.children})
            scope = scope.parent
        return did_you_mean(last, candidates, "Load the file that defines it, or correct the name.")

    def is_kind(self, definition: Definition, kind: str) -> bool:
        """Whether a class is of a kind (``connector``, ``function``, ...), itself or through its base."""
        seen: set[Definition] = set()
        while definition not in seen:
            seen.add(definition)
            if definition.node.kind == kind:
                return True
            if definition.node.form != "short" or not self.bases(definition):
                return False
            definition = self.bases(definition)[0]
        return False

    def has_prefix(self, definition: Definition, prefix: str) -> bool:
        """Whether a class has a prefix, itself or as a short class of one that has it."""
        seen: set[Definition] = set()
        while definition not in seen:
            seen.add(definition)
            if prefix in definition.node.prefixes:
                return True
            if definition.node.form != "short" or not self.bases(definition):
                return False
            definition = self.bases(definition)[0]
        return False
