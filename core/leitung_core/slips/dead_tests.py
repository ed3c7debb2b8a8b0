"""What an ohmmeter shows of a mistake while everything is dead, and the fewest tests for what power would not forgive.

The state: breakers off, control fuses out, each line's neutral off its bar, contacts at rest, everything else landed.
Two terminals are joined by copper alone, or they are not. A transformer's secondary or a large motor's winding reads
nearly as low as a short: no test goes across one.
"""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from dataclasses import dataclass
from functools import cached_property
from itertools import combinations
from typing import Literal

import numpy as np

from leitung_core.control.kept import kept
from leitung_core.control.probes import Pair, not_live, pairs_of
from leitung_core.control.system import System, system_with
from leitung_core.elements.vocabulary import Contact, Fuse
from leitung_core.plant.plant import Post
from leitung_core.slips.fewest_tests import cover
from leitung_core.slips.harm import GROUP, grounds_of
from leitung_core.slips.mistakes import Mistake, mistakes
from leitung_core.solver.arrays import Bools, Floats, Ints
from leitung_core.solver.compiled import Compiled, Extra
from leitung_core.solver.components import groups
from leitung_core.solver.contacts import contacts_of, usual

JOINED_OHMS = 1.0  # copper, and the meter's leads with it, reads less
SHORT_OHMS = 2.0  # what is no short reads more
MOST_ENDS = 300


@dataclass(frozen=True)
class DeadTest:
    """Ohms between two terminals: whether they are to be joined, and where not, whether nothing at all is between.

    exposes: the mistakes that it shows, by their place in `mistakes(system)`.
    """

    a: str
    b: str
    joined: bool
    apart: bool
    exposes: tuple[int, ...]


def dead_tests(system: System) -> tuple[DeadTest, ...] | None:
    """The fewest tests that show every mistake which copper shows and power would not forgive; kept by network.

    None where the system has too many terminals for them to be chosen while somebody waits.
    """
    if len(system.built_ends) > MOST_ENDS:
        return None
    return kept("dead tests", system, lambda: _dead_tests(system))


def _dead_tests(system: System) -> tuple[DeadTest, ...]:
    pairs, what = dead_pairs(system), mistakes(system)
    if not pairs or not what:
        return ()
    told, count = _telling(system), len(pairs)
    sound, every = Dead(system, [None]), [*pairs, *told]
    there, paths, low = (sound.same(kind, every)[:, 0] for kind in ("points", "paths", "low"))
    only_joined = np.array(list(told.values()), dtype=bool)[:, None]
    grave = _grave_otherwise(system, what)
    shown = np.zeros((count, len(what)), dtype=bool)
    for numbers, now in _by_group(system, every, what):
        changed = now != there[:, None]
        shown[:, numbers] = changed[:count] & (there | ~low)[:count, None]
        grave[numbers] |= (changed[count:] & ~(only_joined & there[count:, None])).any(axis=0)
    wanted = shown[:, grave]
    rows, _ = cover(wanted[:, wanted.any(axis=0)], np.array([_device(a) != _device(b) for a, b in pairs]))
    return tuple(
        DeadTest(*pairs[row], bool(there[row]), bool(~paths[row]), tuple(np.flatnonzero(shown[row]).tolist()))
        for row in sorted(rows)
    )


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


def _by_group(
    system: System, pairs: Sequence[Pair], what: Sequence[Mistake], closed: bool = False
) -> Iterator[tuple[list[int], Bools]]:
    """Some mistakes after others, by their places, and whether each pair is joined by copper under each of them.

    closed: with every contact closed that a call or a cause can close.
    """
    plain = [number for number, mistake in enumerate(what) if not mistake.anew]
    for at in range(0, len(plain), GROUP):
        group = plain[at : at + GROUP]
        yield group, Dead(system, [what[number] for number in group], closed).same("points", pairs)
    for number, mistake in enumerate(what):
        if mistake.anew:
            yield [number], Dead(system_with(system, mistake.patch or {}), [None], closed).same("points", pairs)


def _device(node: str) -> str:
    return node.partition(".")[0]


Carries = Literal["ground", "line", "neutral", "winding", "control"]


def _carries(post: Post) -> Carries:
    """What a terminal carries, as far as power forgives no mistake on it."""
    function = post.function or ""
    if post.kind == "ground":
        return "ground"
    if function.startswith("motor") or not_live(post):
        return "winding"
    if function == "neutral":
        return "neutral"
    return "line" if post.kind in ("line", "load") else "control"


def _telling(system: System) -> dict[Pair, bool]:
    """The pairs of terminals of which power forgives no change; whether only where they are joined and should not be.

    A ground joined to anything or taken away, a motor's windings otherwise than meant; line on what is no line, two
    poles of a device together.
    """
    ends = _ends(system)
    carries = {ref: _carries(system.plant.posts[ref]) for ref in ends}
    found: dict[Pair, bool] = {}
    for one, two in combinations(ends, 2):
        kinds = {carries[one], carries[two]}
        if kinds & {"ground", "winding"}:
            found[one, two] = False
        elif len(kinds) > 1 or (kinds == {"line"} and _device(one) == _device(two)):
            found[one, two] = True
    return found


def _grave_otherwise(system: System, what: Sequence[Mistake]) -> Bools:
    """The mistakes that copper shows to be grave beside those of telling pairs: a supply shorted by some contact, a
    conductor beside a signal open, another tap.
    """
    found: Bools = np.array([mistake.kind == "tap" or _beside_a_signal(system, mistake) for mistake in what])
    supplies = [(hot, common) for hot in _with(system, "hot") for common in _with(system, "common")]
    if supplies:
        together = Dead(system, [None], closed=True).same("points", supplies)
        for numbers, now in _by_group(system, supplies, what, closed=True):
            found[numbers] |= (now & ~together).any(axis=0)
    return found


def _ends(system: System) -> list[str]:
    """The terminals of the plan in a system's network, in an order of their own."""
    return sorted(ref for ref in system.built_ends if ref in system.plant.posts)


def _with(system: System, function: str) -> list[str]:
    return [ref for ref in _ends(system) if system.plant.posts[ref].function == function]


def _beside_a_signal(system: System, mistake: Mistake) -> bool:
    """A line conductor open in a cable that carries a signal too: the line then goes back through the signal."""
    if mistake.kind != "open":
        return False
    posts = [post for wire in system.plant.wires[mistake.about.removeprefix("cables/")]
             if (post := system.plant.post(wire, "a")) is not None]  # fmt: skip
    return any(post.function == "signal" for post in posts) and any(_carries(post) == "line" for post in posts)


@dataclass(frozen=True)
class Dead:
    """A network with everything off, a column for each mistake; None is the plan as it is.

    closed: with every contact closed that a call or a cause can close.
    """

    system: System
    what: Sequence[Mistake | None]
    closed: bool = False

    @cached_property
    def net(self) -> Compiled:
        extras: dict[str, Extra] = {extra.name: extra for m in self.what if m is not None for extra in m.extra}
        return Compiled(self.system.network, extras=tuple(extras.values()))

    @cached_property
    def present(self) -> Bools:
        present = usual(self.net, len(self.what))
        for column, mistake in enumerate(self.what):
            if mistake is not None:
                present[[self.net.branch[name] for name in mistake.gone], column] = False
                present[[self.net.branch[extra.name] for extra in mistake.extra], column] = True
        if self.closed:
            return present
        contacts = contacts_of(self.net)
        present[contacts.branches] &= contacts.closed_at_rest[:, None]
        present[_taken_out(self.system, self.net)] = False
        return present

    def same(self, kind: Literal["points", "paths", "low"], pairs: Sequence[Pair]) -> Bools:
        """Whether each pair lies on one point, on one path, or has less than a short's ohms between, by column."""
        group = {"points": self.net.points, "paths": self.net.paths, "low": self._low}[kind](self.present)
        a, b = (np.array([self.net.index[end] for end in ends]) for ends in zip(*pairs, strict=True))
        found: Bools = group[a] == group[b]
        return found

    def ohms(self, a: str, b: str) -> float:
        """Ohms from a to b in the first column, what is between by its impedance; infinite where nothing is."""
        if not self.same("paths", [(a, b)])[0, 0]:
            return float("inf")
        drive = np.zeros(self.net.nodes)
        drive[self.net.index[a]], drive[self.net.index[b]] = 1.0, -1.0
        return float(drive @ self._volts_per_amp @ drive)

    @cached_property
    def _volts_per_amp(self) -> Floats:
        """What an ampere driven into one node and out of another raises each node by, (nodes, nodes)."""
        net, keep = self.net, self.present[:, 0]
        between = [*zip(net.a[keep], net.b[keep], np.abs(net.y[keep]), strict=True)]
        for wound in net.windings:
            # The network has all of a transformer's resistance in its secondary; each winding has its share of turns.
            second = net.windings[net.cores[wound.transformer].secondary]
            between.append((wound.a, wound.b, second.siemens * (second.ratio / wound.ratio) ** 2))
        nodal = np.zeros((net.nodes, net.nodes))
        for one, two, siemens in between:
            nodal[[one, two], [one, two]] += siemens
            nodal[one, two] -= siemens
            nodal[two, one] -= siemens
        found: Floats = np.asarray(np.linalg.pinv(nodal, hermitian=True), dtype=np.float64)
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


def neutrals(system: System) -> list[str]:
    """The conductors that lie on a neutral bar, by their names in the network."""
    panels = [key for key in system.devices if system.plant.types[key].group == "panel"]
    buses = [piece["id"] for piece in system.built.pieces if piece["kind"] == "panel"]
    bars = {f"{key}.bar.N" for key in panels} | {f"{bus}.N" for bus in buses}
    return [wire["id"] for wire in system.built.conductors if len(bars & {wire["from"], wire["to"]}) == 1]


def _taken_out(system: System, net: Compiled) -> list[int]:
    """Breakers off, control fuses out, neutrals off their bars: a neutral is the conductor meant, wherever it lies."""
    panels = [key for key in system.devices if system.plant.types[key].group == "panel"]
    handles, meant = {f"hand:{key}" for key in panels}, set(neutrals(system))
    found = [branch for name, branch in net.branch.items() if name.partition("@")[0] in meant]
    for name, branch in net.of(Fuse, Contact):
        part = net.element[name]
        if (isinstance(part, Fuse) and name.rpartition(".")[0] not in panels) or (
            isinstance(part, Contact) and part.operated_by in handles
        ):
            found.append(branch)
    return found
