"""Size one circuit: a pure function from what is known of it to a frozen, explained result."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from typing import Any

from leitung_core.circuits.alternatives import alternatives
from leitung_core.circuits.choose import Choice, choose
from leitung_core.circuits.conductor import ampacity_steps
from leitung_core.circuits.drop import drop_steps
from leitung_core.circuits.ends import Disconnect, judge_ends, least_disconnect
from leitung_core.circuits.family import refuse_unhandled
from leitung_core.circuits.judge import judge_run
from leitung_core.circuits.load import Load, marked_load
from leitung_core.circuits.places import judge_place
from leitung_core.circuits.protection import Devices, judge_device, marked_devices
from leitung_core.circuits.result import CircuitResult, SegmentResult
from leitung_core.circuits.spec import Spec
from leitung_core.circuits.suitability import judge_supply
from leitung_core.explain import Step
from leitung_core.findings import SEVERITIES, Edit, Finding, Path, Remark
from leitung_core.rulebook import Rulebook, rulebook
from leitung_core.units import tidy
from leitung_core.validation import read


@dataclass(frozen=True)
class Address:
    """How paths of the size document read, and how edits are written, in the document that is being worked on."""

    about: Callable[[Path], str]
    patch: Callable[[tuple[Edit, ...]], dict[str, Any]]


def size_document(data: Any) -> CircuitResult:
    """Size the circuit of a size document as entered. Raises InputError or NotHandledYet, naming every field."""
    return size(read(Spec, data))


def size(spec: Spec, address: Address | None = None) -> CircuitResult:
    """Size one circuit (domain 1). Raises NotHandledYet for fields that this version does not compute with."""
    refuse_unhandled(spec)
    address = address or document_address(spec)
    book = rulebook(spec.rulebook)
    load = marked_load(spec.equipment.nameplate)
    devices = marked_devices(spec.equipment.nameplate, load, book)
    choice = choose(spec, load, devices, book)
    disconnect = least_disconnect(spec, load, book)
    remarks = _remarks(spec, load, devices, choice, disconnect, book)
    return CircuitResult(
        running_a=tidy(load.running_a),
        min_ampacity_a=tidy(load.min_ampacity_a),
        max_ocpd_a=tidy(devices.max_a),
        ocpd_choices_a=[float(rating) for rating in devices.choices_a],
        ocpd_a=tidy(devices.recommended_a),
        conductor=choice.least,
        conductor_column_c=choice.least_worst.column_c if choice.least_worst else None,
        conductor_ampacity_a=tidy(choice.least_worst.amps) if choice.least_worst else None,
        conductor_before_drop=choice.before_drop,
        proposed_ampacity_a=tidy(choice.in_use_ampacity_a) if any(s.conductor for s in spec.run) else None,
        margin_a=_margin(choice, load),
        egc=choice.least_egc,
        proposed_egc=choice.grounding.least,
        disconnect_min_a=tidy(disconnect.min_a),
        disconnect_a=tidy(disconnect.standard_a),
        voltage_drop_v=tidy(choice.drop.volts),
        voltage_drop_pct=tidy(choice.drop.pct),
        segments=_segments(choice, address, book),
        alternatives=alternatives(spec, load, devices, choice, book, address.patch),
        findings=[_finding(remark, address) for remark in _by_severity(remarks)],
        steps=_steps(spec, load, devices, choice, disconnect, book),
    )


def _remarks(
    spec: Spec, load: Load, devices: Devices, choice: Choice, disconnect: Disconnect, book: Rulebook
) -> list[Remark]:
    return [
        *load.remarks,
        *devices.remarks,
        *judge_supply(spec.supply, spec.equipment.nameplate),
        *judge_device(spec.equipment.nameplate, spec.proposed, load, devices, book),
        *judge_run(spec, load, choice, book),
        *(remark for i, segment in enumerate(spec.run) for remark in judge_place(segment, ("run", i), book)),
        *judge_ends(spec, disconnect),
    ]


def _by_severity(remarks: list[Remark]) -> list[Remark]:
    return sorted(remarks, key=lambda remark: SEVERITIES.index(remark.severity))


def _finding(remark: Remark, address: Address) -> Finding:
    return Finding(
        code=remark.code,
        severity=remark.severity,
        about=address.about(remark.about),
        message=remark.message,
        article=remark.cited,
        fix_label=remark.fix_label,
        fix=address.patch(remark.edits) if remark.edits else None,
    )


def _margin(choice: Choice, load: Load) -> float | None:
    if choice.in_use_ampacity_a is None or load.min_ampacity_a is None:
        return None
    return tidy(choice.in_use_ampacity_a - load.min_ampacity_a)


def _segments(choice: Choice, address: Address, book: Rulebook) -> list[SegmentResult]:
    rows = []
    for index, (size_, found) in enumerate(zip(choice.sizes, choice.found, strict=True)):
        factors = {"ambient": float(found.ambient_factor or 0), "adjustment": float(found.adjustment)} if found else {}
        rows.append(
            SegmentResult(
                about=address.about(("run", index)),
                conductor=size_,
                column_c=found.column_c if found else None,
                ampacity_a=tidy(found.amps) if found else None,
                factors=factors,
                drop_v=tidy(choice.drop.segments_v[index]) if choice.drop.segments_v else None,
                area_cmil=tidy(book.area_cmil(size_)) if size_ else None,
                decides=index == choice.decides,
            )
        )
    return rows


def _steps(
    spec: Spec, load: Load, devices: Devices, choice: Choice, disconnect: Disconnect, book: Rulebook
) -> list[Step]:
    steps = [*load.steps, *devices.steps]
    for index, (size_, found) in enumerate(zip(choice.sizes, choice.found, strict=True)):
        if found is not None and size_ is not None:
            steps += ampacity_steps(index, size_, found, spec.run[index].material or "Cu")
    steps += choice.steps
    steps += choice.grounding.steps
    steps += disconnect.steps
    if all(size_ is not None for size_ in choice.sizes):
        steps += drop_steps(spec, [size_ or "" for size_ in choice.sizes], load, choice.drop, book)
    return steps


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
