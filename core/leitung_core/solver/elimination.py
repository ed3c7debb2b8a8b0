"""Many networks of one shape solved at once: a sparse symmetric elimination, vectorised over the variants.

The shape is analysed once (order of least degree); then every pivot is a few array operations for all variants.
A network of wires is almost a tree, so the cost grows close to linearly with its nodes and with the variants.
"""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass
from typing import TypeVar

import numpy as np

from leitung_core.solver.arrays import FEW, Complex, Floats, Ints

Numbers = TypeVar("Numbers", Floats, Complex)


@dataclass(frozen=True)
class _Pivot:
    """One node's elimination: its neighbours still there, their entries, and the entries that they update."""

    node: int
    near: Ints
    entry: Ints
    left: Ints
    right: Ints
    target: Ints


class Elimination:
    """The order and the fill of a symmetric matrix with entries on the diagonal and on `pairs`."""

    def __init__(self, size: int, pairs: Iterable[tuple[int, int]]) -> None:
        self.size = size
        near: list[set[int]] = [set() for _ in range(size)]
        for a, b in pairs:
            if a != b:
                near[a].add(b)
                near[b].add(a)
        self.places: dict[tuple[int, int], int] = {(node, node): node for node in range(size)}
        for a in range(size):
            for b in near[a]:
                self._place(a, b)
        self.pivots = [self._eliminate(node, near) for node in _least_degree(near)]
        self.entries = len(self.places)
        ends = np.array(list(self.places), dtype=np.int64).reshape(-1, 2)
        self._rows, self._columns = ends[:, 0], ends[:, 1]

    def _place(self, a: int, b: int) -> int:
        return self.places.setdefault((min(a, b), max(a, b)), len(self.places))

    def _eliminate(self, node: int, near: list[set[int]]) -> _Pivot:
        others = sorted(near[node])
        for other in others:
            near[other] |= near[node]
            near[other] -= {other, node}
        pairs = [(i, j) for i in range(len(others)) for j in range(i, len(others))]
        return _Pivot(
            node=node,
            near=np.array(others, dtype=np.int64),
            entry=np.array([self._place(node, other) for other in others], dtype=np.int64),
            left=np.array([i for i, _ in pairs], dtype=np.int64),
            right=np.array([j for _, j in pairs], dtype=np.int64),
            target=np.array([self._place(others[i], others[j]) for i, j in pairs], dtype=np.int64),
        )

    def solve(self, entries: Numbers, rhs: Numbers) -> Numbers:
        """The unknowns.

        entries: (entries, variants); rhs: (size, columns, variants), overwritten and returned. Both real or complex.
        """
        if entries.shape[1] <= FEW:
            return self._dense(entries, rhs)
        values = np.zeros((self.entries, entries.shape[1]), dtype=entries.dtype)
        values[: len(entries)] = entries
        for pivot in self.pivots:
            if not len(pivot.near):
                continue
            row = values[pivot.entry]
            scaled = row / values[pivot.node]
            values[pivot.target] -= scaled[pivot.left] * row[pivot.right]
            values[pivot.entry] = scaled
            rhs[pivot.near] -= scaled[:, None, :] * rhs[pivot.node][None]
        for pivot in reversed(self.pivots):
            rhs[pivot.node] /= values[pivot.node]
            if len(pivot.near):
                rhs[pivot.node] -= np.einsum("nv,ncv->cv", values[pivot.entry], rhs[pivot.near])
        return rhs

    def _dense(self, entries: Numbers, rhs: Numbers) -> Numbers:
        """A full solution for each variant: quicker while they are few."""
        matrix = np.zeros((self.size, self.size), dtype=entries.dtype)
        for variant in range(entries.shape[1]):
            values = np.zeros(self.entries, dtype=entries.dtype)
            values[: len(entries)] = entries[:, variant]
            matrix[self._rows, self._columns] = values
            matrix[self._columns, self._rows] = values
            rhs[:, :, variant] = np.linalg.solve(matrix, rhs[:, :, variant])
        return rhs


def _least_degree(near: list[set[int]]) -> list[int]:
    """An order of elimination that keeps the fill small."""
    graph = [set(nodes) for nodes in near]
    left, order = set(range(len(graph))), []
    while left:
        node = min(left, key=lambda item: (len(graph[item]), item))
        left.discard(node)
        order.append(node)
        for other in graph[node]:
            graph[other] |= graph[node]
            graph[other] -= {other, node}
    return order
