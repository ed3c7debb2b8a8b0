"""Size one circuit: a pure function from what is known of it to a frozen, explained result."""

from __future__ import annotations

from collections.abc import Callable, Iterator
from dataclasses import dataclass
from typing import Any

from leitung_core.circuits.air import judge_air
from leitung_core.circuits.alternatives import alternatives
from leitung_core.circuits.branch import judge_branch, least_cord, on_its_branch
from leitung_core.circuits.choose import Choice, choose
from leitung_core.circuits.conductor import ampacity_steps
from leitung_core.circuits.devices import Devices, lawful_devices
from leitung_core.circuits.drop import drop_steps, start_steps
from leitung_core.circuits.ends import Disconnect, judge_ends, least_disconnect
from leitung_core.circuits.fill import (
    Fill,
    circuit_conductors,
    fill_steps,
    judge_fill,
    needs_neutral,
    raceway_fill,
)
from leitung_core.circuits.ground_fault import judge_ground_fault
from leitung_core.circuits.impossible import refuse_impossible
from leitung_core.circuits.judge import judge_run
from leitung_core.circuits.loads import Load, load_of
from leitung_core.circuits.places import judge_place
from leitung_core.circuits.protection import judge_device
from leitung_core.circuits.result import CircuitResult, SegmentResult
from leitung_core.circuits.spec import Spec
from leitung_core.circuits.suitability import judge_supply
from leitung_core.explain import Step, step
from leitung_core.findings import SEVERITIES, Edit, Finding, Path, Remark
from leitung_core.rulebook import Rulebook, choose_schools, rulebook
from leitung_core.units import say, tidy
from leitung_core.validation import read


@dataclass(frozen=True)
class Address:
    """How paths of the size document read, and how edits are written, in the document that is being worked on."""

    about: Callable[[Path], str]
    patch: Callable[[tuple[Edit, ...]], dict[str, Any]]


def size_document(data: Any) -> CircuitResult:
    """Size the circuit of a size document as entered. Raises InputError, naming every field that does not fit."""
    return size(read(Spec, data))


@dataclass(frozen=True)
class _Worked:
    """Everything worked out on the way to a result."""

    spec: Spec
    book: Rulebook
    load: Load
    devices: Devices
    choice: Choice
    disconnect: Disconnect
    fills: tuple[Fill | None, ...]
    cord: str | None
    cord_steps: tuple[Step, ...]
    about_rules: tuple[Remark, ...]


def size(spec: Spec, address: Address | None = None) -> CircuitResult:
    """Size one circuit (domain 1). Raises InputError for data that is impossible, or an amendment not known."""
    refuse_impossible(spec.supply)
    worked = _work(spec)
    address = address or document_address(spec)
    load, devices, choice, book = worked.load, worked.devices, worked.choice, worked.book
    return CircuitResult(
        supply_v=spec.supply.volts,
        supply_phase=spec.supply.phase,
        sort=load.sort,
        running_a=tidy(load.running_a),
        min_ampacity_a=tidy(load.min_ampacity_a),
        max_ocpd_a=tidy(devices.max_a),
        ocpd_choices_a=[float(rating) for rating in devices.choices_a],
        ocpd_a=tidy(choice.device_a if devices.recommended_a is not None else None),
        conductor=choice.least,
        conductor_column_c=choice.least_worst.column_c if choice.least_worst else None,
        conductor_ampacity_a=tidy(choice.least_worst.amps) if choice.least_worst else None,
        conductor_before_drop=choice.before_drop,
        proposed_ampacity_a=tidy(choice.in_use_ampacity_a) if any(s.conductor for s in spec.run) else None,
        margin_a=_margin(choice, load),
        egc=choice.least_egc,
        proposed_egc=choice.grounding.least,
        cord=worked.cord,
        disconnect_min_a=tidy(worked.disconnect.min_a),
        disconnect_a=tidy(worked.disconnect.standard_a),
        voltage_drop_v=tidy(choice.drop.volts),
        voltage_drop_pct=tidy(choice.drop.pct),
        start_a=tidy(load.start_a),
        start_drop_v=tidy(choice.start_drop.volts),
        start_drop_pct=tidy(choice.start_drop.pct),
        segments=_segments(worked, address),
        alternatives=alternatives(spec, load, devices, choice, book, address.patch),
        findings=[_finding(remark, address, book) for remark in _by_severity(_remarks(worked))],
        steps=book.cited(_steps(worked)),
    )


def _work(spec: Spec) -> _Worked:
    chosen = choose_schools(spec.amendments or (), spec.permit_date)
    book = rulebook(spec.rulebook, chosen.local)
    load = on_its_branch(spec, load_of(spec, book), book)
    devices = lawful_devices(spec, load, book)
    choice = choose(spec, load, devices, book)
    egc = spec.proposed.egc or choice.grounding.least
    fills = tuple(
        raceway_fill(spec, segment, size_, egc, book) for segment, size_ in zip(spec.run, choice.sizes, strict=True)
    )
    cord, cord_steps = least_cord(spec, load, choice.device_a, book)
    fuse_a = choice.device_a if spec.proposed.disconnect_type == "fused" else None
    return _Worked(
        spec, book, load, devices, choice, least_disconnect(load, fuse_a, book), fills, cord, cord_steps,
        tuple(_about_rules(chosen.not_in_force, chosen.undated)),
    )  # fmt: skip


def least_size(spec: Spec) -> str | None:
    """The least conductor of a circuit, without all that explains it. Raises InputError as `size` does."""
    refuse_impossible(spec.supply)
    book = rulebook(spec.rulebook, choose_schools(spec.amendments or (), spec.permit_date).local)
    load = on_its_branch(spec, load_of(spec, book), book)
    return choose(spec, load, lawful_devices(spec, load, book), book).least


def _about_rules(not_in_force: tuple[str, ...], undated: tuple[str, ...]) -> Iterator[Remark]:
    for title in not_in_force:
        message = f"“{title}” does not hold on the permit's date: it was not applied."
        yield Remark("amendment-not-in-force", ("amendments",), message)
    for title in undated:
        message = f"“{title}” holds between certain days only, and the permit date is not known: it was applied."
        yield Remark("amendment-undated", ("permit_date",), message)


def _remarks(worked: _Worked) -> list[Remark]:
    spec, book, load, choice = worked.spec, worked.book, worked.load, worked.choice
    return [
        *worked.about_rules,
        *load.remarks,
        *worked.devices.remarks,
        *judge_supply(spec, book),
        *judge_device(spec, load, worked.devices, choice, book),
        *judge_branch(spec, load, choice.device_a, worked.cord, book),
        *judge_run(spec, load, choice, book),
        *(remark for i in range(len(spec.run)) for remark in _place(spec, i, book)),
        *(remark for i, fill in enumerate(worked.fills) for remark in judge_fill(i, spec.run[i], fill)),
        *judge_ends(spec, load, worked.disconnect, book),
        *judge_ground_fault(spec, choice.device_a, book),
        *judge_air(spec, book),
    ]


def _place(spec: Spec, index: int, book: Rulebook) -> list[Remark]:
    last = index == len(spec.run) - 1
    return judge_place(spec.run[index], ("run", index), last and bool(spec.equipment.cord_connected), book)


def _by_severity(remarks: list[Remark]) -> list[Remark]:
    return sorted(remarks, key=lambda remark: SEVERITIES.index(remark.severity))


def _finding(remark: Remark, address: Address, book: Rulebook) -> Finding:
    fix = (address.patch(remark.edits) if remark.edits else None) or None
    return Finding(
        code=remark.code,
        severity=remark.severity,
        about=address.about(remark.about),
        message=remark.message,
        article=book.cite(remark.cited),
        fix_label=remark.fix_label if fix or not remark.edits else None,
        fix=fix,
    )


def _margin(choice: Choice, load: Load) -> float | None:
    if choice.in_use_ampacity_a is None or load.min_ampacity_a is None:
        return None
    return tidy(choice.in_use_ampacity_a - load.min_ampacity_a)


def _segments(worked: _Worked, address: Address) -> list[SegmentResult]:
    rows = []
    choice = worked.choice
    for index, (size_, found, fill) in enumerate(zip(choice.sizes, choice.found, worked.fills, strict=True)):
        factors = {"ambient": float(found.ambient_factor or 0), "adjustment": float(found.adjustment)} if found else {}
        rows.append(
            SegmentResult(
                about=address.about(("run", index)),
                conductor=size_,
                column_c=found.column_c if found else None,
                ampacity_a=tidy(found.amps) if found else None,
                factors=factors,
                drop_v=tidy(choice.drop.segments_v[index]) if choice.drop.segments_v else None,
                raceway_size=fill.size if fill else None,
                fill_pct=tidy(fill.pct, 1) if fill else None,
                area_cmil=tidy(worked.book.area_cmil(size_)) if size_ else None,
                decides=index == choice.decides,
            )
        )
    return rows


def _steps(worked: _Worked) -> list[Step]:
    spec, choice, load, book = worked.spec, worked.choice, worked.load, worked.book
    steps = [*load.steps, *worked.devices.steps]
    for index, (size_, found, fill) in enumerate(zip(choice.sizes, choice.found, worked.fills, strict=True)):
        if found is not None and size_ is not None:
            steps += ampacity_steps(index, size_, found, spec.run[index].material or "Cu")
        if fill is not None:
            steps += fill_steps(index, spec.run[index], fill)
    steps += [*choice.steps, *conductor_count(spec), *choice.grounding.steps, *worked.cord_steps]
    steps += worked.disconnect.steps
    if all(size_ is not None for size_ in choice.sizes):
        steps += drop_steps(spec, [size_ or "" for size_ in choice.sizes], load, choice.drop, book)
        steps += start_steps(spec, load, choice.start_drop)
    return steps


def conductor_count(spec: Spec) -> list[Step]:
    """How many conductors the load takes, and whether one of them is a neutral."""
    number = circuit_conductors(spec)
    if number is None or spec.equipment.nameplate is None or not spec.run:
        return []
    if needs_neutral(spec):
        formula = "a 120/240 V load takes a neutral beside its line conductors"
    elif spec.supply.volts is not None and spec.supply.volts == spec.supply.volts_to_ground:
        formula = "one line conductor and the neutral"
    else:
        formula = f"a {say(spec.supply.volts or 0)} V load takes its line conductors and no neutral"
    return [step("run", "Conductors", formula, f"{number} plus ground", "", "210.4, 200.3")]


def document_address(spec: Spec) -> Address:
    """Paths as they read in the size document itself; a patch on `run` carries the whole list (RFC 7386)."""

    def about(path: Path) -> str:
        text = ""
        for part in path:
            text += f"[{part}]" if isinstance(part, int) else f".{part}"
        return text.removeprefix(".")

    def patch(edits: tuple[Edit, ...]) -> dict[str, Any]:
        merged: dict[str, Any] = {}
        for edit in edits:
            head, *rest = edit.path
            if head == "run":
                run = merged.setdefault("run", [s.model_dump(mode="json", exclude_none=True) for s in spec.run])
                run[rest[0]][rest[1]] = edit.value
                continue
            target = merged
            for part in edit.path[:-1]:
                target = target.setdefault(str(part), {})
            target[str(edit.path[-1])] = edit.value
        return merged

    return Address(about, patch)
