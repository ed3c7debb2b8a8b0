"""What stands against the conductors of the run: size, grounding, drop."""

from __future__ import annotations

from collections.abc import Iterator
from decimal import Decimal

from leitung_core.circuits.choose import Choice, methods_known, protects
from leitung_core.circuits.conductor import Ampacity, limiting_article, segment_ambient_c
from leitung_core.circuits.drop import drop_current
from leitung_core.circuits.grounding import matching_size
from leitung_core.circuits.loads import Load, count, running_currents
from leitung_core.circuits.plate import plate_range
from leitung_core.circuits.resize import factory_egc_too_small, resize
from leitung_core.circuits.spec import Segment, Spec
from leitung_core.findings import Edit, Remark
from leitung_core.rulebook import Rulebook
from leitung_core.units import exact, say, say_size

FAHRENHEIT_A_DEGREE = Decimal("1.8")
NO_AIR_IS_SO_HOT_C = 70
# What asks for the ampacity, by the article that judges the load.
ASKED_BY = {"424": "424.4(B)", "430": "430.22", "210": "210.19(A)(1)", "215": "215.2(A)(1)"}


def judge_run(spec: Spec, load: Load, choice: Choice, book: Rulebook) -> list[Remark]:
    """Every finding about the run's conductors as proposed, or as chosen where nothing is proposed."""
    if not spec.run:
        message = "The run is not known: no conductor can be chosen. Add its first segment."
        return [Remark("run-missing", ("run",), message)]
    return [
        *_sizes(spec, load, choice, book),
        *_protected(spec, load, choice, book),
        *_grounding(spec, choice, book),
        *_drop(spec, load, choice, book),
    ]


def _sizes(spec: Spec, load: Load, choice: Choice, book: Rulebook) -> Iterator[Remark]:
    needed = load.min_ampacity_a
    if needed is None:
        return
    hot = [row for index, segment in enumerate(spec.run) if (row := _too_hot(index, segment, book)) is not None]
    yield from hot
    if choice.least is None and methods_known(spec) and not hot:
        message = f"No single conductor in the table carries {say(needed)} A on this run."
        yield Remark("no-conductor", ("run",), message)
    if choice.least and not all(segment.conductor for segment in spec.run):
        message = f"No conductor chosen yet: {say_size(choice.least)} would do."
        missing = [index for index, segment in enumerate(spec.run) if not segment.conductor]
        fix = resize(spec, choice, choice.least, book, missing)
        yield Remark("conductor-not-chosen", ("run",), message, _make(choice.least, fix), fix)
    for index, (segment, found) in enumerate(zip(spec.run, choice.found, strict=True)):
        if segment.conductor is None or segment.method is None:
            continue
        words = say_size(segment.conductor)
        if found is not None and found.ambient_factor is None:
            continue
        if found is None or found.amps < needed:
            if found is None:
                message = f"{words} {segment.material or 'Cu'} is not in the ampacity table."
            else:
                message = f"{words} carries {say(found.amps)} A here, {say(needed)} A is needed."
            fix = resize(spec, choice, choice.least, book, [index])
            at = ("run", index, "conductor")
            yield Remark("conductor-too-small", at, message, _make(choice.least, fix), fix, _decides(spec, load, found))


def _decides(spec: Spec, load: Load, found: Ampacity | None) -> str:
    """The rule that asks for the ampacity, and the one that limits it."""
    limits = limiting_article(found) if found is not None else "310.16"
    return f"{_asked_by(spec, load)}, {limits}"


def _asked_by(spec: Spec, load: Load) -> str:
    plate = spec.equipment.nameplate
    if load.article != "440":
        return ASKED_BY[load.article]
    if plate is None or plate.mca_a is not None:
        return "440.4(B)"
    return "440.32" if len(running_currents(plate)) * count(spec) == 1 else "440.33"


def _too_hot(index: int, segment: Segment, book: Rulebook) -> Remark | None:
    """An ambient at which a stretch's insulation is not permitted; a figure that was meant in °F is offered as such."""
    method = book.methods.get(segment.method or "")
    starts_c = 60 if segment.method == "cord" else method.starts_c if method else None
    ambient = segment_ambient_c(segment, book)
    if starts_c is None or book.ambient_factor(ambient, starts_c) is not None:
        return None
    message = f"{_degrees(ambient)} is hotter than the table goes for {starts_c} °C insulation."
    at = ("run", index, "ambient_c")
    typed = exact(segment.ambient_c or 0)
    meant = round((typed - 32) / FAHRENHEIT_A_DEGREE)
    sun = ambient - typed
    if typed < NO_AIR_IS_SO_HOT_C or book.ambient_factor(meant + sun, starts_c) is None:
        return Remark("ambient-too-hot", at, message)
    message += f" Was {say(typed)} °F meant?"
    return Remark("ambient-too-hot", at, message, f"It is {say(typed)} °F, {meant} °C", (Edit(at, float(meant)),))


def _degrees(celsius: Decimal) -> str:
    return f"{say(celsius)} °C ({say(celsius * FAHRENHEIT_A_DEGREE + 32, 0)} °F)"


def _protected(spec: Spec, load: Load, choice: Choice, book: Rulebook) -> Iterator[Remark]:
    """Whether the device protects each proposed conductor, and where it does so only by the exception for cooling."""
    device = exact(spec.proposed.ocpd_a) if spec.proposed.ocpd_a else None
    if device is None:
        return
    for index, (segment, found) in enumerate(zip(spec.run, choice.found, strict=True)):
        if segment.conductor is None or found is None:
            continue
        if not protects(spec, load, segment.conductor, found.amps, device, book, index):
            yield _not_protected(spec, choice, index, device, found.amps, book)
            continue
        limit = None if segment.method == "cord" else book.small_conductor(segment.material or "Cu", segment.conductor)
        if limit is not None and device > limit.max_ocpd_a:
            yield _excepted(spec, choice, index, device, limit.article, book)


def _not_protected(spec: Spec, choice: Choice, index: int, device: Decimal, amps: Decimal, book: Rulebook) -> Remark:
    size = spec.run[index].conductor or ""
    least = choice.least
    fix = resize(spec, choice, least, book, [index]) if least and book.not_thinner(least, than=size) else ()
    if spec.run[index].method == "cord":
        message = (
            f"A {say(device)} A device does not protect a {say_size(size)} cord that carries {say(amps)} A, "
            "unless it came with the listed unit."
        )
        return Remark(
            "conductor-not-protected", ("run", index, "conductor"), message, _make(least, fix), fix, "240.5(A)"
        )
    limit = book.small_conductor(spec.run[index].material or "Cu", size)
    most, article = book.next_standard_a(amps) or amps, "240.4(B)"
    if limit is not None and limit.max_ocpd_a <= most:
        most, article = limit.max_ocpd_a, limit.article
    message = f"A {say(device)} A device does not protect {say_size(size)} here: {say(most)} A is the most."
    return Remark("conductor-not-protected", ("run", index, "conductor"), message, _make(least, fix), fix, article)


def _excepted(spec: Spec, choice: Choice, index: int, device: Decimal, cited: str, book: Rulebook) -> Remark:
    """240.4(G): under Articles 440 and 430 a device may pass the limits of 240.4(D). Lawful; some refuse it."""
    segment = spec.run[index]
    matched = matching_size(segment.material or "Cu", device, book)
    message = (
        f"{say_size(segment.conductor or '')} on a {say(device)} A device is lawful for cooling equipment; "
        f"some authorities refuse it. {say_size(matched)} matches the device."
        if matched
        else f"{say_size(segment.conductor or '')} on a {say(device)} A device is lawful for cooling equipment."
    )
    fix = resize(spec, choice, matched, book, [index])
    label = _make(matched, fix)
    return Remark("small-conductor-440", ("run", index, "conductor"), message, label, fix, f"240.4(G), {cited}")


def _make(size: str | None, fix: tuple[Edit, ...]) -> str | None:
    return f"Make it {say_size(size)}" if size and fix else None


def _grounding(spec: Spec, choice: Choice, book: Rulebook) -> Iterator[Remark]:
    least, table = choice.grounding.least, choice.grounding.table
    if least is None:
        return
    at = ("proposed", "egc")
    if spec.proposed.egc and not book.not_thinner(spec.proposed.egc, than=least):
        message = f"A {say_size(spec.proposed.egc)} grounding conductor is too small: {say_size(least)} is asked for."
        yield Remark("egc-too-small", at, message, f"Make it {say_size(least)}", (Edit(at, least),))
    if all(choice.sizes):
        sizes = [size or "" for size in choice.sizes]
        grown_from = choice.grounding.in_proportion_from
        short_of_table = factory_egc_too_small(spec, sizes, grown_from or least, book)
        for index in factory_egc_too_small(spec, sizes, least, book):
            if spec.run[index].existing and index not in short_of_table:
                own = say_size(book.factory_egc(sizes[index]) or "")
                message = (
                    f"The cable that is there has a {own} grounding conductor: enough by the table, but "
                    f"{say_size(least)} in proportion to its conductors. Ask the authority."
                )
                yield Remark("egc-not-in-proportion", ("run", index, "method"), message)
                continue
            message = (
                f"The cable's own grounding conductor is {say_size(book.factory_egc(sizes[index]) or '')}; "
                f"{say_size(least)} is asked for: use a wiring method with a grounding conductor of its own."
            )
            yield Remark("egc-too-small", ("run", index, "method"), message)
    chosen = any(segment.conductor for segment in spec.run)
    if table and not book.not_thinner(least, than=table) and chosen and not spec.proposed.egc:
        message = f"{say_size(least)} is enough by the cap; the table's {say_size(table)} is advised."
        yield Remark("egc-table-recommended", at, message, f"Make it {say_size(table)}", (Edit(at, table),))


def _drop(spec: Spec, load: Load, choice: Choice, book: Rulebook) -> Iterator[Remark]:
    pct, volts = choice.drop.pct, choice.drop.volts
    if pct is None or volts is None:
        return
    words = f"{say(volts)} V, {say(pct)} % at {say(drop_current(load, book)[0] or 0)} A"
    if pct > choice.limit_pct:
        # No fix where not even the largest conductor in the tables keeps the limit.
        kept = choice.least_drop.pct is not None and choice.least_drop.pct <= choice.limit_pct
        fix = resize(spec, choice, choice.least, book) if kept else ()
        message = f"The drop is {words}; {say(choice.limit_pct)} % is advised."
        yield Remark("voltage-drop", ("run",), message, _make(choice.least, fix), fix)
    elif pct > choice.limit_pct * book.factor("drop-marginal"):
        yield Remark("drop-marginal", ("run",), f"The drop is {words}: marginal against {say(choice.limit_pct)} %.")
    allowed, supply = plate_range(spec.equipment.nameplate, book), exact(spec.supply.volts or 0)
    if allowed and supply >= allowed.low > supply - volts:
        message = (
            f"Running, the unit would see {say(supply - volts)} V; its plate asks for {say(allowed.low)} V or more."
        )
        least_v = choice.least_drop.volts
        fix = resize(spec, choice, choice.least, book) if least_v and supply - least_v >= allowed.low else ()
        yield Remark("volts-at-unit", ("run",), message, _make(choice.least, fix), fix)
