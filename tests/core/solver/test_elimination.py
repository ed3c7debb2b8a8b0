"""The sparse elimination against the dense solution of numpy, on matrices as networks make them."""

from __future__ import annotations

from typing import Any

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from leitung_core.solver.arrays import FEW
from leitung_core.solver.elimination import Elimination


@st.composite
def shapes(draw: st.DrawFn) -> tuple[int, list[tuple[int, int]]]:
    """A size and pairs of nodes: a tree of wires, and some more that close rings."""
    size = draw(st.integers(1, 14))
    tree = [(draw(st.integers(0, node - 1)), node) for node in range(1, size)]
    more = draw(st.lists(st.tuples(st.integers(0, size - 1), st.integers(0, size - 1)), max_size=8))
    return size, tree + more


@settings(max_examples=60)
@given(shapes(), st.sampled_from([1, FEW, FEW + 1, 3 * FEW]), st.booleans(), st.integers(0, 10**6))
def test_every_variant_is_solved_as_if_alone(
    shape: tuple[int, list[tuple[int, int]]], variants: int, reactive: bool, seed: int
) -> None:
    size, pairs = shape
    rng = np.random.default_rng(seed)
    work = Elimination(size, pairs)
    kind = complex if reactive else float
    matrices = np.zeros((variants, size, size), dtype=kind)
    entries = np.zeros((len(work.places), variants), dtype=kind)
    for a, b in {(min(pair), max(pair)) for pair in pairs if pair[0] != pair[1]}:
        y = rng.uniform(0.1, 10, variants) * (np.exp(1j * rng.uniform(-1, 1, variants)) if reactive else 1)
        for one, two, value in ((a, a, y), (b, b, y), (a, b, -y), (b, a, -y)):
            matrices[:, one, two] += value
    matrices[:, range(size), range(size)] += rng.uniform(0.01, 1, (variants, size))
    for (a, b), place in work.places.items():
        entries[place] = matrices[:, a, b]
    rhs: Any = rng.normal(size=(size, 2, variants)).astype(kind)
    wanted = np.stack([np.linalg.solve(matrices[v], rhs[:, :, v]) for v in range(variants)], axis=2)
    assert work.solve(entries, rhs.copy()) == pytest.approx(wanted, rel=1e-8, abs=1e-10)


def test_a_chain_of_wires_fills_nothing_in() -> None:
    """A tree needs no entry beyond those of its own pairs, in whatever order its nodes are named."""
    chain = [(3, 0), (0, 4), (4, 1), (1, 2)]
    assert Elimination(5, chain).entries == 5 + len(chain)
    ring = [*chain, (2, 3)]
    assert Elimination(5, ring).entries == 5 + len(ring) + 2, "a ring of five takes two more"
