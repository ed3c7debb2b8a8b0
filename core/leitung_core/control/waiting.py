"""Which loads wait for a delay that was planned: what a contact that is still to move will join to them, or cut off."""

from __future__ import annotations

import numpy as np

from leitung_core.solver.arrays import Bools, Ints
from leitung_core.solver.compiled import Compiled
from leitung_core.solver.contacts import Solution, contacts_of, loads_of


def waiting(run: Solution) -> Bools:
    """Whether each load waits, (loads, variants): directly, or behind the contacts of a coil that does."""
    net, contacts, loads = run.net, contacts_of(run.net), loads_of(run.net)
    found = np.zeros((len(loads.names), len(run.at)), dtype=bool)
    moving = np.isfinite(run.due)
    if not moving.any():
        return found
    before = _around(net, run.present)
    ends = net.a[loads.branches], net.b[loads.branches]
    driven = contacts.coil >= 0
    while True:
        after = run.present.copy()
        after[contacts.branches] ^= moving
        changed = _differ(before, _around(net, after))
        found |= changed[ends[0]] | changed[ends[1]]
        further = moving.copy()
        further[driven] |= found[contacts.coil[driven]]
        if (further == moving).all():
            return found
        moving = further


def _around(net: Compiled, present: Bools) -> tuple[Ints, Ints]:
    """The point of each node, and how many nodes lie on it."""
    points = net.points(present)
    counts = np.stack([np.bincount(column, minlength=net.nodes)[column] for column in points.T], axis=1)
    return points, counts


def _differ(one: tuple[Ints, Ints], two: tuple[Ints, Ints]) -> Bools:
    """Whether a node lies on another point than before, or on one that grew or shrank."""
    found: Bools = (one[0] != two[0]) | (one[1] != two[1])
    return found
