"""Running the examples of the component library."""

from __future__ import annotations

import functools

import movrel
from movrel.model.classes import ClassTree
from movrel.session import LoadedModel
from movrel.simulate.trajectory import Trajectory


@functools.cache
def loaded(name: str) -> LoadedModel:
    tree = ClassTree()
    definition = tree.find(f"Movrel.Examples.{name}")
    assert definition is not None, f"there is no example {name}"
    return LoadedModel(tree, definition)


def example(name: str, **set_: float) -> Trajectory:
    """A run of an example as it is prepared, some parameters changed."""
    return loaded(name).simulate(set=set_ or None)


def run(text: str, stop: float, interval: float | None = None, **options: object) -> Trajectory:
    """A run of a small model given as text."""
    return movrel.load(text=f"model M {text} end M;").simulate(
        stop=stop, interval=interval, **options
    )  # type: ignore[arg-type]
