"""A network as arrays: nodes, branches, windings; ready to be solved for many variants at once."""

from __future__ import annotations

import math
from dataclasses import dataclass
from functools import cached_property
from itertools import combinations_with_replacement
from typing import Any

import numpy as np
from scipy import sparse

from leitung_core.circuits.wire_ohms import ohm_per_kft
from leitung_core.elements.vocabulary import (
    HERTZ,
    AcSource,
    Capacitor,
    Coil,
    Contact,
    DcSource,
    DcSupply,
    Element,
    Fuse,
    Jumper,
    Load,
    MotorWinding,
    Transformer,
    nodes_of,
)
from leitung_core.solver.arrays import Bools, Complex, Floats, Ints
from leitung_core.solver.assumed import Side, regulation_of, va_of
from leitung_core.solver.components import fixed_groups, groups
from leitung_core.solver.elimination import Elimination
from leitung_core.solver.network import Conductor, Network, node_names

CLOSED_OHMS = 0.01
LEAST_OHMS = 1e-4  # nothing real joins better; keeps every branch a conductance
MAGNETISING_S = 1e-6  # at the secondary: keeps an unconnected transformer's flux at nought
PRIMARY_SHARE = 1e-6  # of the series resistance, on each primary winding, where the contract has none
DEFAULT_KFT_OHMS = 0.001


@dataclass(frozen=True)
class Extra:
    """A branch that is there in some variants only: a bridge, a conductor landed elsewhere."""

    name: str
    a: str
    b: str
    ohms: float


@dataclass(frozen=True)
class Winding:
    """One winding: between a and b, of `ratio` volts for each volt of the secondary."""

    transformer: int
    a: int
    b: int
    ratio: float
    siemens: float


@dataclass(frozen=True)
class Core:
    """A transformer: its flux node and its windings, the secondary last."""

    name: str
    element: Transformer
    flux: int
    windings: tuple[int, ...]
    va: float
    va_known: bool

    @property
    def primaries(self) -> tuple[int, ...]:
        return self.windings[:-1]

    @property
    def secondary(self) -> int:
        return self.windings[-1]


class Compiled:
    """A network's arrays. Branches stand in the order: conductors, then elements as in the file, then extras."""

    def __init__(self, network: Network, side: Side = "between", extras: tuple[Extra, ...] = ()) -> None:
        self.network = network
        self.names = node_names(network)
        self.index = {name: number for number, name in enumerate(self.names)}
        self.nodes = len(self.names)
        self.branch: dict[str, int] = {}
        self.element: dict[str, Element | Conductor] = {}
        self.cores: list[Core] = []
        self.windings: list[Winding] = []
        self._a: list[int] = []
        self._b: list[int] = []
        self._y: list[complex] = []
        self._g_dc: list[float] = []
        self._side = side
        self.cache: dict[str, Any] = {}
        for conductor in network.conductors:
            ends = self.index[conductor.a], self.index[conductor.b]
            self._add(conductor.id, conductor, *ends, complex(_ohms_of(conductor)))
        for device in network.devices:
            for element in device.inside:
                self._take(device.id, element)
        for extra in extras:
            self._add(extra.name, None, self.index[extra.a], self.index[extra.b], complex(extra.ohms))
        self.extras = tuple(self.branch[extra.name] for extra in extras)
        self.size = self.nodes + len(self.cores)
        self.a, self.b = np.array(self._a, dtype=np.int64), np.array(self._b, dtype=np.int64)
        # A network of resistances alone stays real: twice as quick.
        self.reactive = any(y.imag for y in self._y)
        self.y: Floats | Complex = np.array(self._y) if self.reactive else np.array([y.real for y in self._y])
        self.g_dc = np.array(self._g_dc)
        self._sources()

    def _add(self, name: str, element: Element | Conductor | None, a: int, b: int, ohms: complex) -> None:
        """A branch of that impedance at 60 Hz; a capacitor's passes no direct current."""
        self.branch[name] = len(self._y)
        if element is not None:
            self.element[name] = element
        self._a.append(a)
        self._b.append(b)
        self._y.append(1 / (ohms if abs(ohms) > LEAST_OHMS else complex(LEAST_OHMS)))
        self._g_dc.append(0.0 if ohms.imag < 0 else 1 / max(ohms.real, LEAST_OHMS))

    def _take(self, device: str, element: Element) -> None:
        name = f"{device}.{element.id}"
        if isinstance(element, Transformer):
            self._wind(device, name, element)
            return
        a, b = (self.index[f"{device}.{node}"] for node in nodes_of(element))
        self._add(name, element, a, b, _impedance(element, self._side))

    def _wind(self, device: str, name: str, element: Transformer) -> None:
        va = va_of(element, self._side)
        series = element.secondary_volts**2 / va * regulation_of(element, self._side) / 100
        series = max(series, LEAST_OHMS)
        number, first = len(self.cores), len(self.windings)
        common = self.index[f"{device}.{element.primary_common}"]
        for entry in element.primary_taps:
            ratio = entry.volts / element.secondary_volts
            siemens = 1 / max(series * PRIMARY_SHARE * ratio**2, LEAST_OHMS)
            here = self.index[f"{device}.{entry.terminal}"]
            self.windings.append(Winding(number, here, common, ratio, siemens))
        plus, minus = (self.index[f"{device}.{end}"] for end in (element.secondary_plus, element.secondary_minus))
        self.windings.append(Winding(number, plus, minus, 1.0, 1 / series))
        windings = tuple(range(first, len(self.windings)))
        self.cores.append(Core(name, element, self.nodes + number, windings, va, element.va is not None))

    def _sources(self) -> None:
        """Line sources as phasors and signal sources as volts, each with its branch."""
        self.ac = [branch for _, branch in self.of(AcSource)]
        self.dc = [branch for _, branch in self.of(DcSource, DcSupply)]
        self.emf_ac = np.zeros(len(self._y), dtype=np.complex128)
        self.emf_dc = np.zeros(len(self._y))
        for name, element in self.element.items():
            if isinstance(element, AcSource):
                self.emf_ac[self.branch[name]] = element.volts * np.exp(1j * np.radians(element.phase_deg))
            elif isinstance(element, DcSource | DcSupply):
                self.emf_dc[self.branch[name]] = element.volts

    def of(self, *kinds: type) -> list[tuple[str, int]]:
        """Names and branches of the elements of some kinds."""
        return [(name, self.branch[name]) for name, element in self.element.items() if isinstance(element, kinds)]

    @cached_property
    def varying(self) -> Ints:
        """Branches that are not there in every variant: contacts, fuses, conductors, jumpers, extras."""
        kinds = (Contact, Fuse, Conductor, Jumper)
        found = [branch for _, branch in self.of(*kinds)] + list(self.extras)
        return np.array(found, dtype=np.int64)

    @cached_property
    def _winding_ends(self) -> list[tuple[int, int]]:
        return [(winding.a, winding.b) for winding in self.windings]

    def paths(self, present: Bools) -> Ints:
        """The part of the network in which each node lies, (nodes, variants): joined by anything that carries."""
        return groups(self._fixed_paths, self.a[self.varying], self.b[self.varying], present[self.varying])

    @cached_property
    def _fixed_paths(self) -> Ints:
        varying = set(self.varying.tolist())
        ends = zip(self._a, self._b, strict=True)
        pairs = [pair for number, pair in enumerate(ends) if number not in varying]
        return fixed_groups(self.nodes, pairs + self._winding_ends)

    def points(self, present: Bools) -> Ints:
        """The point of each node, (nodes, variants): joined by conductors, closed contacts, jumpers and fuses.

        These are just the branches that vary.
        """
        fixed = np.arange(self.nodes, dtype=np.int64)
        return groups(fixed, self.a[self.varying], self.b[self.varying], present[self.varying])

    @cached_property
    def elimination(self) -> Elimination:
        return Elimination(self.size, self._pairs())

    def _pairs(self) -> list[tuple[int, int]]:
        pairs = list(zip(self._a, self._b, strict=True)) + self._winding_ends
        for winding in self.windings:
            flux = self.nodes + winding.transformer
            pairs += [(winding.a, flux), (winding.b, flux)]
        return pairs

    @cached_property
    def stamp(self) -> sparse.csr_matrix:
        """Entries of the matrix for one siemens on each branch: (entries, branches)."""
        return self._stamp([[(a, 1.0), (b, -1.0)] for a, b in zip(self._a, self._b, strict=True)])

    def _stamp(self, forms: list[list[tuple[int, float]]]) -> sparse.csr_matrix:
        """Entries of `g (sum of c_i v_i)²` for each form, its terms on one node taken together."""
        rows, columns, values = [], [], []
        for number, form in enumerate(forms):
            terms: dict[int, float] = {}
            for node, weight in form:
                terms[node] = terms.get(node, 0.0) + weight
            for (one, first), (two, second) in combinations_with_replacement(terms.items(), 2):
                rows.append(self.elimination.places[(min(one, two), max(one, two))])
                columns.append(number)
                values.append(first * second)
        return sparse.csr_matrix((values, (rows, columns)), shape=(self.elimination.entries, len(forms)))

    @cached_property
    def coupling(self) -> Floats:
        """Entries of the windings on alternating current, and of the cores' magnetising: (entries,)."""
        forms = [
            [(winding.a, 1.0), (winding.b, -1.0), (self.nodes + winding.transformer, -winding.ratio)]
            for winding in self.windings
        ]
        entries = np.zeros(self.elimination.entries)
        if forms:
            entries += self._stamp(forms) @ np.array([winding.siemens for winding in self.windings])
        for core in self.cores:
            entries[self.elimination.places[(core.flux, core.flux)]] += MAGNETISING_S
        return entries

    @cached_property
    def copper(self) -> Floats:
        """Entries of the windings on direct current: their resistance alone, flux pinned: (entries,)."""
        entries = np.zeros(self.elimination.entries)
        forms = [[(winding.a, 1.0), (winding.b, -1.0)] for winding in self.windings]
        if forms:
            entries += self._stamp(forms) @ np.array([winding.siemens for winding in self.windings])
        for core in self.cores:
            entries[self.elimination.places[(core.flux, core.flux)]] = 1.0
        return entries


def _ohms_of(conductor: Conductor) -> float:
    """A conductor's ohms: as given, else by gauge and length."""
    if conductor.ohms is not None:
        return conductor.ohms
    if conductor.awg is None or conductor.length_ft is None:
        return DEFAULT_KFT_OHMS
    per_kft = ohm_per_kft(str(conductor.awg), None)
    return float(per_kft) * conductor.length_ft / 1000 if per_kft is not None else DEFAULT_KFT_OHMS


def _impedance(element: Element, side: Side) -> complex:
    """Ohms at 60 Hz: V²/VA of a load, turned by its power factor; R + jX of a winding; -j / ωC of a capacitor."""
    assert not isinstance(element, Transformer)
    if isinstance(element, Coil | Load):
        ohms = (element.rated_volts or 24) ** 2 / va_of(element, side)
        cos = element.power_factor if isinstance(element, Load) else 1.0
        return ohms * complex(cos, math.sqrt(1 - cos**2))
    if isinstance(element, MotorWinding):
        return complex(element.ohms, element.reactance_ohms)
    if isinstance(element, Capacitor):
        return -1j / (2 * math.pi * HERTZ * element.microfarads * 1e-6)
    return complex(CLOSED_OHMS if isinstance(element, Contact) else element.ohms)
