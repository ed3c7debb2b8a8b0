"""Tests before power: what an ohmmeter shows of a mistake while everything is dead, so that no call need show it.

The state: breakers off, control fuses out, each line's neutral off its bar, contacts at rest, everything else landed.
Two terminals are joined by copper alone, or they are not. A transformer's secondary or a large motor's winding reads
nearly as low as a short: no test goes across one.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from itertools import combinations

import numpy as np

from leitung_core.control.probes import Pair, not_live, pairs_of
from leitung_core.control.system import System, system_with
from leitung_core.elements.vocabulary import Contact, Fuse
from leitung_core.slips.fewest_tests import cover
from leitung_core.slips.harm import GROUP, Slips, grounds_of
from leitung_core.slips.mistakes import Mistake
from leitung_core.solver.arrays import Bools, Ints
from leitung_core.solver.compiled import Compiled, Extra
from leitung_core.solver.components import groups
from leitung_core.solver.contacts import contacts_of, usual

JOINED_OHMS = 1.0  # copper, and the meter's leads with it, reads less
SHORT_OHMS = 2.0  # what is no short reads more
GRAVE = ("shock", "destroys")


@dataclass(frozen=True)
class DeadTest:
    """Ohms between two terminals: whether they are to be joined, and where not, whether nothing at all is between."""

    a: str
    b: str
    joined: bool
    apart: bool
    exposes: tuple[int, ...]


@dataclass(frozen=True)
class BeforePower:
    """The fewest tests before power, and the grave mistakes (their number in `slips`) that none of them shows."""

    tests: tuple[DeadTest, ...]
    left: tuple[int, ...]


def before_power(system: System, found: Slips, hidden: Sequence[int]) -> BeforePower:
    """The fewest for whatever shocks or destroys, and for what harms and shows in no live test (`hidden`)."""
    unseen = set(hidden)
    wanted = [
        number for number, slip in enumerate(found.slips)
        if slip.harm in GRAVE or (number in unseen and slip.harm != "none")
    ]  # fmt: skip
    pairs = dead_pairs(system)
    if not wanted or not pairs:
        return BeforePower((), tuple(wanted))
    sound = _Dead(system, [None])
    there, apart, low = (sound.same(kind, pairs)[:, 0] for kind in ("points", "paths", "low"))
    apart = ~apart
    fit = there | ~low
    changed = joined(system, pairs, [found.slips[number].mistake for number in wanted])
    exposes = (changed != there[:, None]) & fit[:, None]
    rows, _ = cover(exposes[:, exposes.any(axis=0)], np.array([_device(a) != _device(b) for a, b in pairs]))
    tests = tuple(
        DeadTest(*pairs[row], bool(there[row]), bool(apart[row]),
                 tuple(wanted[column] for column in np.flatnonzero(exposes[row])))
        for row in sorted(rows)
    )  # fmt: skip
    left = tuple(number for number, shown in zip(wanted, exposes.any(axis=0), strict=True) if not shown)
    return BeforePower(tests, left)


def dead_pairs(system: System) -> list[Pair]:
    """Each device's ground against its panel's bar, its other terminals against ground and its common, a motor's
    against each other; each conductor from end to end."""
    found: list[Pair] = []
    bars = [f"{piece['id']}.G" for piece in system.built.pieces if piece["kind"] == "panel"]
    for key, ground in grounds_of(system):
        found += [(ground, bar) for bar in bars]
        found += [
            (post.ref, ground) for post in system.plant.posts_of(key)
            if post.ref in system.built_ends and post.kind != "ground"
        ]  # fmt: skip
    found += pairs_of(system)
    found += _windings(system)
    found += [(a.ref, b.ref) for _, a, b in system.plant.joined if {a.ref, b.ref} <= system.built_ends]
    return list(dict.fromkeys(found))


def _windings(system: System) -> list[Pair]:
    """Where nothing is read live, the terminals of a strip against each other: a motor's windings, a capacitor."""
    found: list[Pair] = []
    for key in system.devices:
        used = [post for post in system.plant.posts_of(key) if post.ref in system.built_ends]
        quiet = {post.strip.id for post in used if not_live(post)}
        for strip in sorted(quiet):
            found += combinations([post.ref for post in used if post.strip.id == strip], 2)
    return found


def joined(system: System, pairs: Sequence[Pair], mistakes: Sequence[Mistake]) -> Bools:
    """Whether each pair is joined by copper under each mistake, (pairs, mistakes)."""
    found = np.zeros((len(pairs), len(mistakes)), dtype=bool)
    plain = [number for number, mistake in enumerate(mistakes) if not mistake.anew]
    for at in range(0, len(plain), GROUP):
        group = plain[at : at + GROUP]
        found[:, group] = _Dead(system, [mistakes[number] for number in group]).same("points", pairs)
    for number, mistake in enumerate(mistakes):
        if mistake.anew:
            changed = system_with(system, mistake.patch or {})
            found[:, number] = _Dead(changed, [None]).same("points", pairs)[:, 0]
    return found


def _device(node: str) -> str:
    return node.partition(".")[0]


class _Dead:
    """A network with everything off, a column for each mistake; None is the plan as it is."""

    def __init__(self, system: System, mistakes: Sequence[Mistake | None]) -> None:
        extras: dict[str, Extra] = {extra.name: extra for m in mistakes if m is not None for extra in m.extra}
        self.net = Compiled(system.network, extras=tuple(extras.values()))
        self.present = usual(self.net, len(mistakes))
        for column, mistake in enumerate(mistakes):
            if mistake is not None:
                self.present[[self.net.branch[name] for name in mistake.gone], column] = False
                self.present[[self.net.branch[extra.name] for extra in mistake.extra], column] = True
        contacts = contacts_of(self.net)
        self.present[contacts.branches] &= contacts.closed_at_rest[:, None]
        self.present[_taken_out(system, self.net)] = False

    def same(self, kind: str, pairs: Sequence[Pair]) -> Bools:
        """Whether each pair lies on one point, on one path, or has less than a short's ohms between, by column."""
        group = {"points": self.net.points, "paths": self.net.paths, "low": self._low}[kind](self.present)
        a, b = (np.array([self.net.index[end] for end in ends]) for ends in zip(*pairs, strict=True))
        found: Bools = group[a] == group[b]
        return found

    def _low(self, present: Bools) -> Ints:
        """As points, with the windings of secondaries and whatever else reads like a short."""
        net = self.net
        varying = set(net.varying.tolist())
        few = [n for n in range(len(net.y)) if n not in varying and 1 / abs(net.y[n]) < SHORT_OHMS]
        wound = [net.windings[core.secondary] for core in net.cores]
        a = np.array([*net.a[net.varying], *net.a[few], *(w.a for w in wound)], dtype=np.int64)
        b = np.array([*net.b[net.varying], *net.b[few], *(w.b for w in wound)], dtype=np.int64)
        always = np.ones((len(few) + len(wound), present.shape[1]), dtype=bool)
        return groups(np.arange(net.nodes, dtype=np.int64), a, b, np.concatenate([present[net.varying], always]))


def _taken_out(system: System, net: Compiled) -> list[int]:
    """Breakers off, control fuses out, neutrals off their bars: a neutral is the conductor meant, wherever it lies."""
    panels = [key for key in system.devices if system.plant.types[key].group == "panel"]
    handles, buses = {f"hand:{key}" for key in panels}, [p["id"] for p in system.built.pieces if p["kind"] == "panel"]
    bars = {f"{key}.bar.N" for key in panels} | {f"{bus}.N" for bus in buses}
    neutrals = [
        wire["id"] for wire in system.built.conductors
        if len(bars & {wire["from"], wire["to"]}) == 1
    ]  # fmt: skip
    found = [branch for name, branch in net.branch.items() if name.partition("@")[0] in neutrals]
    for name, branch in net.of(Fuse, Contact):
        part = net.element[name]
        if (isinstance(part, Fuse) and name.rpartition(".")[0] not in panels) or (
            isinstance(part, Contact) and part.operated_by in handles
        ):
            found.append(branch)
    return found
