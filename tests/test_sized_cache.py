"""Caches hold as much as fits, by what things have grown to."""

from __future__ import annotations

from movrel.project.snapshot import Snapshot, class_tree, loaded_model
from movrel.sized_cache import SizedCache

CHAIN = """
package Chains
  model Chain parameter Integer n = 300; Real x[n](each start = 1); equation
    for i in 1:n loop der(x[i]) = -x[i]; end for;
  end Chain;
end Chains;
"""


def test_what_was_used_last_stays_and_what_has_grown_pushes_out() -> None:
    cache: SizedCache[list[int]] = SizedCache(100, lambda items: 10 * len(items))
    things = {name: cache.get(name, lambda: [1, 2, 3]) for name in "abc"}
    assert cache.bytes == 90 and cache.get("a", list) is things["a"]
    things["c"] += [4, 5]
    assert cache.get("c", list) is things["c"]  # 110 bytes together: b was used longest ago
    assert [name for name in "abc" if cache.find(name) is not None] == ["a", "c"]
    huge = cache.get("huge", lambda: [0] * 50)
    assert cache.get("huge", list) is huge and len(cache) == 1


def test_a_model_is_weighed_by_what_was_made_of_it() -> None:
    snapshot = Snapshot.of({"Chains.mo": CHAIN}, project=981)
    model = loaded_model(snapshot, "Chains.Chain")
    sizes = [model.size, (model.flat, model.size)[1], (model.system, model.size)[1]]
    assert sizes[0] < 100_000 and sizes[1] > 1_000_000 and sizes[2] > 3 * sizes[1]
    assert loaded_model(snapshot, "Chains.Chain") is model


def test_snapshots_share_the_trees_of_equal_texts() -> None:
    first = Snapshot.of({"Chains.mo": CHAIN, "A.mo": "model A end A;"}, project=982)
    second = first.changed("A.mo", "model A Real x = 1; end A;")
    trees = [class_tree(s) for s in (first, second)]
    assert trees[0] is not trees[1]
    assert trees[0].files["Chains.mo"] is trees[1].files["Chains.mo"]
