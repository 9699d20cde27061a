"""One class tree, many threads: what is read on demand is read once and whole."""

from __future__ import annotations

from concurrent.futures import ThreadPoolExecutor

from movrel.model.classes import ClassTree
from movrel.session import LoadedModel
from tests.conftest import SUMP


def test_a_tree_can_be_used_by_many_threads_at_once() -> None:
    for _ in range(10):
        tree = ClassTree()
        definition = tree.add_path(SUMP)[0]
        with ThreadPoolExecutor(8) as pool:
            models = [LoadedModel(tree, definition) for _ in range(8)]
            counts = list(pool.map(lambda model: len(model.ordered.flat.variables), models))
        assert len(set(counts)) == 1
