"""A unit on a branch with others, or on a cord and plug: how much of the branch it may take (210.23, 440.62)."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import replace
from decimal import Decimal

from leitung_core.circuits.fill import needs_neutral
from leitung_core.circuits.loads import Load, count
from leitung_core.circuits.spec import Spec
from leitung_core.explain import Step, step
from leitung_core.findings import Edit, Path, Remark
from leitung_core.rulebook import Rulebook
from leitung_core.rulebook.book import Configuration
from leitung_core.units import exact, say

RECEPTACLE: Path = ("proposed", "receptacle_a")
KIND: Path = ("proposed", "receptacle")


def share_of_branch(spec: Spec, load: Load) -> str | None:
    """The factor that says which part of the branch's rating the unit may take; None where it has the branch alone."""
    others = bool(spec.proposed.other_outlets_on_branch)
    if not spec.equipment.cord_connected:
        return "fixed-share" if others else None
    if load.article != "440":
        return "cord-share"
    return "cooling-share-shared" if others else "cooling-share"


def on_its_branch(spec: Spec, load: Load, book: Rulebook) -> Load:
    """The load with the branch rating that its share asks for as the device's floor."""
    share = share_of_branch(spec, load)
    if share is None or load.running_a is None:
        return load
    floor = load.running_a / book.factor(share)
    ceiling = load.device_ceiling_a
    row = step("ocpd", "Branch rated at least", f"running current / {book.percent(share)}", floor, "A",
               book.article_of(share), running_a=load.running_a)  # fmt: skip
    return replace(
        load,
        device_floor_a=max(floor, load.device_floor_a or Decimal(0)),
        device_ceiling_a=max(floor, ceiling) if ceiling is not None else None,
        steps=(*load.steps, row),
    )


def least_cord(spec: Spec, load: Load, device_a: Decimal | None, book: Rulebook) -> tuple[str | None, tuple[Step, ...]]:
    """The thinnest cord for a cord-connected unit, and how it came about; None where there is no cord.

    It carries the load (400.5) and is protected by the device (240.5(A)), unless it came with the listed unit.
    """
    if not spec.equipment.cord_connected or load.min_ampacity_a is None:
        return None, ()
    conductors = cord_conductors(spec)
    listed = any(segment.factory_cord for segment in spec.run)
    least_a = load.min_ampacity_a if listed else max(load.min_ampacity_a, device_a or Decimal(0))
    for size in book.cord_sizes:
        amps = book.cord_ampacity_a(size, conductors)
        if amps is not None and amps >= least_a:
            formula = (
                f"thinnest with {conductors} current-carrying conductors that carries {say(load.min_ampacity_a)} A"
            )
            if least_a > load.min_ampacity_a:
                formula += f" and is protected by {say(least_a)} A"
            article = "400.5(A)(1), 240.5(A)"
            return size, (step("cord", "Cord at least", formula, f"{size} AWG", "", article, ampacity_a=amps),)
    return None, ()


def cord_conductors(spec: Spec) -> int:
    """Current-carrying conductors of the cord: three on three phases, else two (a neutral of a 240 V unit is none)."""
    stated = next((s.current_carrying for s in spec.run if s.method == "cord" and s.current_carrying), None)
    return stated or (3 if spec.supply.phase == 3 else 2)


def judge_branch(
    spec: Spec, load: Load, device_a: Decimal | None, cord: str | None, book: Rulebook
) -> Iterator[Remark]:
    """What stands against the unit's place on its branch, its receptacle and its cord."""
    yield from _share(spec, load, book)
    yield from _several_heaters(spec, load, device_a, book)
    if not spec.equipment.cord_connected:
        return
    yield from _receptacle(spec, load, book)
    heats = load.article == "424" and spec.equipment.kind in ("unit_heater", "air_handler")
    if heats and book.school("cord-heater") == "advise-hard-wiring":
        message = (
            "An electric heater on cord and plug is accepted only as listed, on a circuit of its own: hard-wire it."
        )
        edits = (Edit(("equipment", "cord_connected"), False),)
        yield Remark("cord-heater", ("equipment", "cord_connected"), message, "Hard-wire it", edits)
    if cord is None and load.min_ampacity_a is not None:
        message = f"No cord of the table carries {say(load.min_ampacity_a)} A: hard-wire the unit."
        yield Remark("cord-too-small", ("equipment", "cord_connected"), message)


def _share(spec: Spec, load: Load, book: Rulebook) -> Iterator[Remark]:
    share, device = share_of_branch(spec, load), spec.proposed.ocpd_a
    if share is None or load.running_a is None or device is None:
        return
    article = book.article_of(share)
    most = exact(device) * book.factor(share)
    if load.running_a > most:
        message = (
            f"{say(load.running_a)} A is more than {book.percent(share)} of the {say(exact(device))} A branch "
            f"({say(most)} A): give it a branch of its own or a larger one."
        )
        yield Remark("branch-share", ("proposed", "ocpd_a"), message, article=article)
    elif spec.proposed.other_outlets_on_branch and spec.equipment.cord_connected:
        message = "Other outlets share this branch: what else is plugged in counts. Use one large load at a time."
        yield Remark("branch-shared", ("proposed", "other_outlets_on_branch"), message, article=article)


def _several_heaters(spec: Spec, load: Load, device_a: Decimal | None, book: Rulebook) -> Iterator[Remark]:
    """Several fixed heaters on one branch: it is rated at most 30 A (424.4(A))."""
    most = book.factor("heaters-together")
    if load.article != "424" or count(spec) < 2 or device_a is None or device_a <= most:
        return
    message = (
        f"{count(spec)} heaters on one {say(device_a)} A circuit: a branch with more than one fixed heater is rated "
        f"at most {say(most)} A. Give each its own circuit."
    )
    yield Remark("heaters-together", ("equipment", "quantity"), message, article=book.article_of("heaters-together"))


def receptacle_behind(spec: Spec, device_a: Decimal, book: Rulebook) -> tuple[Edit, ...] | None:
    """What a device asks of the receptacle planned behind it; None where that one may not be there (210.21(B))."""
    kind = book.configurations().get(spec.proposed.receptacle or "")
    rating = _rating(spec, kind)
    if rating is None or not spec.equipment.cord_connected:
        return ()
    if spec.proposed.other_outlets_on_branch:
        found = book.receptacles().get(exact(rating))
        return () if found is not None and device_a in found.branches_a else None
    if device_a <= exact(rating):
        return ()
    larger = _alone_behind(device_a, book)
    return (Edit(RECEPTACLE, float(larger)),) if kind is None and larger is not None else None


def _alone_behind(device_a: Decimal, book: Rulebook) -> Decimal | None:
    """The least receptacle that may stand alone behind a device (210.21(B)(1))."""
    return min((rating for rating in book.receptacles() if rating >= device_a), default=None)


def _rating(spec: Spec, kind: Configuration | None) -> float | None:
    return spec.proposed.receptacle_a if kind is None else float(kind.rating_a)


def _receptacle(spec: Spec, load: Load, book: Rulebook) -> Iterator[Remark]:
    kind = book.configurations().get(spec.proposed.receptacle or "")
    rating = _rating(spec, kind)
    device = spec.proposed.ocpd_a
    if kind is not None:
        yield from _configuration(spec, kind)
    if rating is None:
        yield Remark("receptacle-rating-missing", RECEPTACLE, "The receptacle's rating is not known.")
    elif spec.proposed.other_outlets_on_branch:
        yield from _among_others(exact(rating), exact(device) if device else None, load, book)
    elif device is not None and rating < device:
        message = f"A {say(exact(rating))} A receptacle alone on a {say(exact(device))} A branch is rated too low."
        larger = None if kind else _alone_behind(exact(device), book)
        if larger is None:
            yield Remark("receptacle-small", KIND if kind else RECEPTACLE, message)
        else:
            edits = (Edit(RECEPTACLE, float(larger)),)
            yield Remark("receptacle-small", RECEPTACLE, message, f"Make it {say(larger)} A", edits)


def _configuration(spec: Spec, kind: Configuration) -> Iterator[Remark]:
    """Whether the receptacle of that configuration is one for this circuit and this unit."""
    volts, name = spec.supply.volts, spec.proposed.receptacle
    if volts is not None and exact(volts) not in kind.volts:
        meant = " or ".join(say(figure) for figure in kind.volts)
        yield Remark(
            "receptacle-volts", KIND, f"A {name} receptacle is for {meant} V; this circuit has {say(volts)} V."
        )
    elif needs_neutral(spec) and not kind.neutral:
        yield Remark("receptacle-neutral", KIND, f"The unit takes a neutral, and a {name} receptacle has none.")


def _among_others(rating: Decimal, device: Decimal | None, load: Load, book: Rulebook) -> Iterator[Remark]:
    """A receptacle on a branch with other outlets (Tables 210.21(B)(2), (B)(3))."""
    found = book.receptacles().get(rating)
    if found is None or (device is not None and device not in found.branches_a):
        branch = f"{say(device)} A branch" if device is not None else "branch"
        message = f"A {say(rating)} A receptacle may not be on a {branch} with other outlets."
        yield Remark("receptacle-not-for-branch", RECEPTACLE, message)
    elif found.most_load_a is not None and load.running_a is not None and load.running_a > found.most_load_a:
        message = (
            f"{say(load.running_a)} A is more than the {say(found.most_load_a)} A that one plug may draw from a "
            f"{say(rating)} A receptacle on a branch with others: give the unit a branch of its own."
        )
        yield Remark("receptacle-overloaded", RECEPTACLE, message)
