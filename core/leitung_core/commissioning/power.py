"""Before power, and power: what is landed and closed, sources and breakers on, volts read before the unit has them."""

from __future__ import annotations

from collections.abc import Iterator, Sequence

from leitung_core.commissioning.dead import breaker_words, disconnect_of, main_of
from leitung_core.commissioning.steps import Asked, StartStep
from leitung_core.commissioning.waits import wait
from leitung_core.plant.lines import breaker_of
from leitung_core.plant.order import lines_of
from leitung_core.plant.plant import Plant
from leitung_core.units import say

GROUND_OHM = 1.0
CORD = "Cord: strain relief holds, cut to length, no blade forced; the neutral left empty where the unit takes none."
LIVE_DANGERS = {
    "steam": "Steam and a hot pipe: hands off hose and cylinder until they have cooled.",
    "ultraviolet": "Ultraviolet light harms eyes and skin: doors shut and panels on before it is lit.",
}
BY_ITSELF = "The unit may start by itself once it has power."
ASIDE = "Stand to the side of the panel."


def before_power(
    plant: Plant, line: str, after: str, landings: Sequence[str], devices: Sequence[str]
) -> Iterator[StartStep]:
    """What is done at a line with it dead: `after` is the last step of its lock-out, `devices` are its own."""
    circuit, about = plant.plan.circuits[line], f"circuits/{line}"

    def step(name: str, text: str, **more: object) -> StartStep:
        return StartStep.model_validate(
            {"key": f"{line}.{name}", "about": about, "phase": "before_power", "text": text, "needs": [after], **more}
        )

    if landings:
        yield step("landings", "Every conductor landed and tugged by the landing sheet, terminal by terminal.",
                   landings=list(landings), minutes=max(1.0, len(landings) / 2))  # fmt: skip
    marked = _torques(plant, devices)
    yield step("torque", f"Tighten every terminal with a calibrated tool to its marked value.{marked}", minutes=3)
    if any(segment.white_reidentified for _, segment in circuit.segments()):
        yield step("white", "White conductors re-identified at every termination.")
    if plant.plan.equipment[circuit.equipment or ""].cord_connected:
        yield step("cord", CORD)
    yield step("ground", "Grounding conductor continuous from panel to unit. Write down its ohms, leads taken off.",
               hold=True, does="hold", asks=Asked(unit="Ω", most=GROUND_OHM), minutes=2)  # fmt: skip
    if not plant.lines[line].shares_device:
        main_off = f"sources/{circuit.source}.main-off"
        at = _name(plant, circuit.source)
        yield step("panel", f"At {at}: its breaker seated, its conductors landed and tightened.",
                   needs=[after, main_off], minutes=3)  # fmt: skip


def covered(line: str, needs: Sequence[str]) -> StartStep:
    """The covers of a line on, after all that needs them off."""
    return StartStep(key=f"{line}.covers", about=f"circuits/{line}", phase="before_power",
                     text="Covers on: disconnect and unit.", needs=list(needs), minutes=2)  # fmt: skip


def source_closed(
    plant: Plant, source_id: str, lines: Sequence[str], below: Sequence[str], tested: Sequence[str]
) -> StartStep:
    """The cover of a source, after its lines and the feeders to the sources `below` are landed in it; `tested`: what
    has it open beside them.
    """
    key = f"sources/{source_id}"
    fed = [source_id, *below] if source_id in plant.index.fed_by else below
    needs = [f"{line}.panel" for line in lines] + [f"sources/{one}.feeder" for one in fed]
    needs += tested
    return StartStep(
        key=f"{key}.cover", about=key, phase="before_power", text=f"Cover of {_name(plant, source_id)} on, every space "
        "filled or closed.", needs=needs or [f"{key}.main-off"], minutes=2,
    )  # fmt: skip


def feeder_landed(plant: Plant, source_id: str, feeder: str) -> StartStep:
    """The feeder of a source landed, with both ends dead."""
    key, above = f"sources/{source_id}", plant.plan.circuits[feeder].source
    return StartStep(
        key=f"{key}.feeder", about=key, phase="before_power", minutes=5,
        needs=[f"{key}.main-off", *([f"sources/{above}.main-off"] if above else [])],
        text=f"Feeder {feeder} landed at both ends, tightened with a calibrated tool to the marked values.",
    )  # fmt: skip


def source_on(plant: Plant, source_id: str) -> StartStep:
    """A source alive again."""
    key, feeder = f"sources/{source_id}", plant.index.fed_by.get(source_id)
    above = plant.plan.circuits[feeder].source if feeder else None
    main = main_of(plant, source_id)
    return StartStep(
        key=f"{key}.main-on", about=key, phase="energise", text=f"Locks off by those who set them. {main.on}",
        caution=ASIDE, needs=[f"{key}.cover", *([f"sources/{above}.main-on"] if above else [])], hold=True,
        does="close", device=main.device, minutes=2, wait_s=wait("trip"),
    )  # fmt: skip


def source_read(source_id: str, reads: Sequence[str]) -> StartStep:
    """The volts of a source that a feeder brings."""
    key = f"sources/{source_id}"
    return StartStep(
        key=f"{key}.read", about=key, phase="energise", text="Read the volts at its lugs, every breaker in it off.",
        hold=True, needs=[f"{key}.main-on"], does="read", reads=list(reads), minutes=3,
    )  # fmt: skip


def line_on(
    plant: Plant, line: str, reads: Sequence[str], source_reads: bool, dangers: Sequence[str]
) -> Iterator[StartStep]:
    """First energising: the breaker with the disconnect open, the volts read there, then the disconnect."""
    circuit, about = plant.plan.circuits[line], f"circuits/{line}"
    source = f"sources/{circuit.source}"
    plug = plant.plan.equipment[circuit.equipment or ""].cord_connected
    shared = plant.lines[line].shares_device
    alive = [] if shared else [f"{source}.read" if source_reads else f"{source}.main-on"]
    yield StartStep(
        key=f"{line}.thermostat", about=about, phase="energise", text="Thermostat off or at its minimum; nobody at the "
        "unit.", caution=BY_ITSELF, needs=[f"{line}.covers"],
    )  # fmt: skip
    yield StartStep(
        key=f"{line}.breaker-on", about=about, phase="energise", caution=ASIDE,
        text=f"The {breaker_words(plant, line)} on, the {'plug still out' if plug else 'disconnect still open'}. Wait "
        "a minute: it does not trip.", needs=[f"{line}.thermostat", *alive], hold=True, does="close",
        device=breaker_of(plant, line), wait_s=wait("trip"),
    )  # fmt: skip
    yield StartStep(
        key=f"{line}.line-side", about=about, phase="energise", text=f"Read the volts at the "
        f"{'receptacle' if plug else 'open disconnect'}, on its line side.", needs=[f"{line}.breaker-on"], hold=True,
        does="read", reads=list(reads), minutes=max(1.0, len(reads)),
    )  # fmt: skip
    yield StartStep(
        key=f"{line}.disconnect-on", about=about, phase="energise",
        text=f"{'The plug in' if plug else 'The disconnect on'}. Wait a minute: nothing trips, hums or smells.",
        caution=" ".join(LIVE_DANGERS[name] for name in LIVE_DANGERS if name in dangers) or None,
        needs=[f"{line}.line-side"], hold=True, does="close", device=disconnect_of(plant, line), wait_s=wait("trip"),
    )  # fmt: skip


def _torques(plant: Plant, devices: Sequence[str]) -> str:
    """The marked values that are known, device by device."""
    found: dict[str, list[str]] = {}
    for device in devices:
        posts = [post for post in plant.posts_of(device) if plant.on.get(post.ref) and post.terminal.torque_in_lb]
        for post in posts:
            words = f"{post.strip.name or post.strip.id} {say(post.terminal.torque_in_lb or 0)}"
            if words not in found.setdefault(device, []):
                found[device].append(words)
    said = "; ".join(f"{device} {', '.join(values)}" for device, values in found.items())
    return f" Marked, lb-in: {said}." if said else ""


def _name(plant: Plant, source_id: str | None) -> str:
    source = plant.plan.sources.get(source_id or "")
    return source.name if source and source.name else source_id or "the panel"


def lines_with_units(plant: Plant, source_id: str) -> list[str]:
    """The lines of a source that end at a unit."""
    return [
        key for key in lines_of(plant.plan, source_id) if plant.plan.circuits[key].equipment in plant.plan.equipment
    ]
