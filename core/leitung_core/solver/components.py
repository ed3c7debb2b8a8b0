"""Which nodes hang together, for many variants of a network at once."""

from __future__ import annotations

import numpy as np

from leitung_core.solver.arrays import FEW, Bools, Ints


def fixed_groups(size: int, pairs: list[tuple[int, int]]) -> Ints:
    """The group of each node when the pairs are joined in every variant: the least node of the group."""
    root = list(range(size))

    def find(node: int) -> int:
        while root[node] != node:
            root[node] = root[root[node]]
            node = root[node]
        return node

    for a, b in pairs:
        low, high = sorted((find(a), find(b)))
        root[high] = low
    return np.array([find(node) for node in range(size)], dtype=np.int64)


def _united(fixed: Ints, a: Ints, b: Ints) -> Ints:
    """The groups of one variant."""
    found = fixed_groups(len(fixed), list(zip(fixed[a].tolist(), fixed[b].tolist(), strict=True)))
    return found[fixed]


def groups(fixed: Ints, a: Ints, b: Ints, joined: Bools) -> Ints:
    """The group of each node in each variant (nodes, variants): the least node of the group.

    fixed: groups that hold in every variant (nodes,). a, b: ends of the pairs that may be joined (pairs,).
    joined: which are, (pairs, variants).
    """
    if joined.shape[1] <= FEW:
        ones = [_united(fixed, a[on], b[on]) for on in joined.T]
        return np.stack(ones, axis=1)
    always = joined.all(axis=1)
    fixed = _united(fixed, a[always], b[always])
    labels = np.repeat(np.arange(len(fixed), dtype=np.int16)[:, None], joined.shape[1], axis=1)
    first, second = fixed[a], fixed[b]
    pairs = np.flatnonzero((first != second) & ~always & joined.any(axis=1))
    rows = [(labels[first[pair]], labels[second[pair]], joined[pair]) for pair in pairs]
    before = None
    while before is None or not np.array_equal(before, labels):
        before = labels.copy()
        # Down the list and up again: along a chain of wires two sweeps are enough.
        for one, two, both in (*rows, *reversed(rows)):
            least = np.minimum(one, two)
            np.copyto(one, least, where=both)
            np.copyto(two, least, where=both)
    return labels[fixed].astype(np.int64)
