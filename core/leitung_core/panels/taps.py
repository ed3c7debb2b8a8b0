"""Power tapped off a line: a conductor that the line's device does not protect by itself (240.4, 240.21(B)).

A tap is judged by what stands ahead of it: the line's device, or fuses of its own. Within 10 ft it may end in its own
protection when it carries a tenth of the device ahead, within 25 ft a third.
"""

from __future__ import annotations

from collections.abc import Iterator
from decimal import Decimal

from leitung_core.circuits.conductor import ampacity
from leitung_core.elements.vocabulary import CONTROL_VOLTS, Coil, Fuse, Load, Transformer
from leitung_core.findings import Finding, Way, finding
from leitung_core.plant.lines import Line, TapCable
from leitung_core.plant.plant import Plant
from leitung_core.rulebook import Rulebook
from leitung_core.units import exact, say, say_size


def judge_taps(plant: Plant) -> Iterator[Finding]:
    """What stands against every tap of the plant."""
    for line in plant.lines.values():
        for tap in line.taps:
            yield from _judge(plant, line, tap, plant.book)


def _judge(plant: Plant, line: Line, tap: TapCable, book: Rulebook) -> Iterator[Finding]:
    device_a = line.device.rating_a if line.device else None
    ahead = exact(tap.fuse_a) if tap.fuse_a else exact(device_a) if device_a else None
    segment, about = tap.stretch.segment, f"cables/{tap.cable}"
    size = segment.conductor
    carries = ampacity(segment, size, book) if size is not None else None
    if ahead is None or size is None or carries is None:
        lacking = "the device ahead of it" if ahead is None else "its gauge or construction"
        message = f"{tap.cable} is tapped off {line.id} and {lacking} is not known: its protection is not judged."
        yield finding("tap-unknown", f"{about}/awg", message)
        return
    asked = _asked_a(plant, tap)
    if asked is not None and carries.amps < asked:
        message = (
            f"{tap.cable}, tapped off {line.id}: {say_size(size)} carries {say(carries.amps)} A, "
            f"{say(asked)} A is drawn behind it."
        )
        yield finding("conductor-too-small", f"{about}/awg", message, article="210.19(A)(1), 310.14")
    if _protected(segment.material or "Cu", size, carries.amps, ahead, book):
        return
    most = _most(segment.material or "Cu", size, carries.amps, book)
    within = _by_length(tap, carries.amps, ahead, book)
    if within is not None and _ends_in_protection(plant, tap):
        message = (
            f"{tap.cable} is tapped ahead of its own protection: {say_size(size)} within {say(within)} ft of {line.id}."
        )
        yield finding("tap-by-length", about, message)
        return
    larger, short = _large_enough(plant, tap, ahead, book), say(book.factor("tap-short"))
    message = (
        f"{tap.cable} is tapped off {line.id} behind {say(ahead)} A: {say_size(size)} may stand behind {say(most)} A "
        "at most, and nothing of its own protects it."
    )
    fix = {"cables": {tap.cable: {"awg": larger}}} if larger else None
    ways = [
        Way(label="Fuse it where it begins", message=f"fuses of at most {say(most)} A within {short} ft of the line"),
        Way(label="Give it a circuit of its own", message=f"a breaker of at most {say(most)} A in the panel"),
    ]  # fmt: skip
    label = f"Make it {say_size(larger)}" if larger else None
    yield finding("tap-not-protected", f"{about}/awg", message, label, fix, ways=ways)


def _most(material: str, size: str, amps: Decimal, book: Rulebook) -> Decimal:
    """The largest device that protects a conductor (240.4(B), (D))."""
    limit = book.small_conductor(material, size)  # type: ignore[arg-type]
    return limit.max_ocpd_a if limit is not None else book.next_standard_a(amps) or amps


def _protected(material: str, size: str, amps: Decimal, device_a: Decimal, book: Rulebook) -> bool:
    return device_a <= _most(material, size, amps, book)


def _by_length(tap: TapCable, amps: Decimal, ahead: Decimal, book: Rulebook) -> Decimal | None:
    """Within which length a tap by rule is allowed here, ft; None where it is not, or its length is not known."""
    length = tap.stretch.segment.length_ft
    if length is None:
        return None
    rules = (("tap-short", "tap-short-share"), ("tap-long", "tap-long-share"))
    for most, share in rules:
        if exact(length) <= book.factor(most) and amps >= ahead * book.factor(share):
            return book.factor(most)
    return None


def _ends_in_protection(plant: Plant, tap: TapCable) -> bool:
    """Whether the tap ends in fuses or a breaker of its own."""
    return any(isinstance(part, Fuse) for part in plant.types[tap.behind].inside)


def _asked_a(plant: Plant, tap: TapCable) -> Decimal | None:
    """What is drawn behind a tap, A: its device's line-voltage loads and transformers at their ratings."""
    asked = []
    for part in plant.types[tap.behind].inside:
        if isinstance(part, Transformer) and part.va is not None:
            asked.append((part.va, min(entry.volts for entry in part.primary_taps)))
        elif isinstance(part, Load | Coil) and part.va is not None and part.rated_volts is not None:
            asked += [(part.va, part.rated_volts)] if part.rated_volts > CONTROL_VOLTS else []
    return sum((exact(va) / exact(volts) for va, volts in asked), Decimal(0)) if asked else None


def _large_enough(plant: Plant, tap: TapCable, ahead: Decimal, book: Rulebook) -> str | None:
    """The thinnest gauge of its make that the device ahead protects."""
    family = plant.makes[tap.cable].family
    segment = tap.stretch.segment
    for size in book.sizes_from(segment.material or "Cu", segment.conductor):
        found = ampacity(segment, size, book)
        if (
            family
            and size in family.awg
            and found
            and _protected(segment.material or "Cu", size, found.amps, ahead, book)
        ):
            return size
    return None
