"""Findings: what stands against a plan, in words, with its rule and the change that clears it.

`CODES` is the one list of codes; `docs/findings.md` is generated from it.
"""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass
from typing import Any, Literal

from pydantic import BaseModel, ConfigDict, computed_field

Severity = Literal["stop", "warning", "note"]
SEVERITIES: tuple[Severity, ...] = ("stop", "warning", "note")

Path = tuple[str | int, ...]


class Way(BaseModel):
    """A way out that is a choice: what it takes, and the change, where a change of the plan is enough."""

    model_config = ConfigDict(frozen=True)

    label: str
    message: str
    fix: dict[str, Any] | None = None


class Finding(BaseModel):
    """One finding. `about` names the thing; `fix`, where there is one, is a JSON merge patch (RFC 7386).

    `key` names the fact, the same whichever engine states it; `follows` says what comes of it elsewhere.
    """

    model_config = ConfigDict(frozen=True)

    key: str = ""
    code: str
    severity: Severity
    about: str
    message: str
    article: str
    fix_label: str | None = None
    fix: dict[str, Any] | None = None
    ways: list[Way] | None = None
    follows: list[str] = []

    @computed_field  # type: ignore[prop-decorator]
    @property
    def enter(self) -> str | None:
        """What is still to enter, in a word or two; None where something entered is wrong or a rule speaks."""
        return STILL_TO_ENTER.get(self.code)


@dataclass(frozen=True)
class Edit:
    """One change of a fix, before it is written as a merge patch on the document at hand."""

    path: Path
    value: Any


@dataclass(frozen=True)
class Remark:
    """A finding as a rule states it: on paths of the size document, whatever document is finally patched."""

    code: str
    about: Path
    message: str
    fix_label: str | None = None
    edits: tuple[Edit, ...] = ()
    article: str | None = None

    @property
    def severity(self) -> Severity:
        return CODES[self.code].severity

    @property
    def cited(self) -> str:
        return self.article or CODES[self.code].article


@dataclass(frozen=True)
class Code:
    """What a code stands for: its severity, its article and one sentence for the list of findings."""

    severity: Severity
    article: str
    text: str


CODES: dict[str, Code] = {
    "plate-mca-missing": Code(
        "warning", "440.4(B)", "The plate's minimum circuit ampacity is not known; nothing can be sized."
    ),
    "plate-max-missing": Code(
        "warning", "110.3(B)", "The plate's maximum fuse or breaker is not known; no device can be chosen."
    ),
    "plate-max-type-missing": Code(
        "warning", "110.3(B)", "The plate's maximum is known, but not whether it is for a fuse, a breaker or either."
    ),
    "plate-contradiction": Code(
        "stop", "110.3(B)", "The plate contradicts itself; read it again or ask the maker before buying anything."
    ),
    "supply-missing": Code("warning", "110.4", "The supply's voltage or phase is not known; fitness cannot be judged."),
    "plate-volts-missing": Code("warning", "110.4", "The plate's voltage is not known; fitness cannot be judged."),
    "supply-volts": Code("stop", "110.4", "The supply's voltage is outside what the plate allows."),
    "plate-load-missing": Code(
        "warning", "110.3(B)", "The plate gives nothing from which the load could be worked out."
    ),
    "heat-volts-missing": Code("warning", "424.4(B)", "The heat's current cannot be worked out: a voltage is missing."),
    "heat-interlock-missing": Code(
        "warning", "424.4(B), 440.33", "Whether heat and cooling can run together is not known; together was taken."
    ),
    "heat-above-cooling-limit": Code(
        "warning", "440.22(B), 424.4(B)", "The heating load asks for a larger device than the cooling side allows."
    ),
    "heat-reduced": Code("warning", "424.4(B)", "On this supply the heater gives less than its rated power."),
    "continuous-missing": Code(
        "warning", "210.19(A)(1)", "Whether the load is continuous is not known; continuous was taken."
    ),
    "duct-detectors": Code(
        "note", "mechanical code 606.2, local fire code", "More than 2000 cfm: duct smoke detectors are to be planned."
    ),
    "duct-detectors-refused": Code(
        "warning",
        "mechanical code 606.2, local fire code",
        "More than 2000 cfm and no duct smoke detector planned.",
    ),
    "several-marked": Code(
        "stop", "110.3(B)", "Several marked units share one circuit; a plate's figures hold for one unit alone."
    ),
    "transformer-tap": Code(
        "note", "110.3(B)", "A 208/230 V unit on 208 V: its control transformer is to be re-tapped."
    ),
    "supply-phase": Code("stop", "110.4", "The unit needs three phases and the supply has one."),
    "poles-too-many": Code("stop", "110.4", "A single-phase unit on a device with three poles."),
    "single-phase-on-wye": Code(
        "note", "110.4", "A single-phase unit on two legs of a three-phase supply: check its transformer tap."
    ),
    "ocpd-not-chosen": Code("note", "240.4", "No breaker or fuse has been chosen yet."),
    "ocpd-type-missing": Code("warning", "110.3(B)", "Whether the device is a fuse or a breaker is not known."),
    "ocpd-not-standard": Code("stop", "240.6(A)", "The rating is not a standard one."),
    "ocpd-above-max": Code("stop", "110.3(B), 440.22(C)", "The device is above the maximum that the plate allows."),
    "ocpd-below-min": Code("stop", "110.3(B)", "The device is below the minimum that the plate asks for."),
    "ocpd-below-mca": Code("warning", "440.22(C)", "The device is below the current that the circuit must carry."),
    "ocpd-above-ceiling": Code(
        "stop", "440.22(A), 430.52", "The device is above what the rule allows for a computed motor circuit."
    ),
    "ocpd-larger-than-needed": Code(
        "warning", "110.3(B)", "The device is larger than the load needs, and no maximum is known from the plate."
    ),
    "ocpd-below-load": Code("stop", "424.4(B), 210.20(A)", "The device is below what the load asks of it."),
    "no-standard-device": Code(
        "stop", "240.6(A), 440.22(C)", "No standard rating lies between what is needed and what is allowed."
    ),
    "fuse-only": Code("stop", "110.3(B)", "The plate asks for fuses and a breaker alone is planned."),
    "breaker-only": Code("stop", "110.3(B)", "The plate asks for a breaker and fuses are planned."),
    "run-missing": Code("warning", "310.14", "The run is not known; no conductor can be chosen."),
    "method-missing": Code("warning", "310.14", "The wiring method of a segment is not known."),
    "place-missing": Code("warning", "300.9", "The place of a segment is not known: fitness for it cannot be judged."),
    "ambient-missing": Code(
        "warning", "310.15(B)", "The ambient temperature of a segment is not known; 30 °C was used."
    ),
    "roof-sun-missing": Code(
        "warning", "310.15(B)(2)", "Sun or height above the roof is not known; full sun close above it was taken."
    ),
    "current-carrying-missing": Code(
        "warning", "310.15(C)(1)", "How many current-carrying conductors share the raceway is not known."
    ),
    "length-missing": Code("warning", "215.2, 210.19", "A length is not known; the voltage drop cannot be judged."),
    "ambient-too-hot": Code("stop", "310.15(B)(1)", "The conductor's insulation is not permitted at that temperature."),
    "conductor-not-chosen": Code("note", "310.14", "No conductor has been chosen yet."),
    "conductor-too-small": Code("stop", "440.4(B), 310.14", "A conductor carries less than the plate asks for."),
    "no-conductor": Code("stop", "310.16", "No single conductor in the table is large enough for this run."),
    "small-conductor-440": Code(
        "note", "240.4(G)", "The device is above the small-conductor limit, as Article 440 allows; some refuse it."
    ),
    "conductor-not-protected": Code("stop", "240.4(B), (D)", "The device does not protect the conductor behind it."),
    "egc-too-small": Code("stop", "250.122", "The grounding conductor is smaller than the rule asks."),
    "egc-not-in-proportion": Code(
        "warning", "250.122(B)", "An existing cable's grounding conductor did not grow with its conductors."
    ),
    "egc-table-recommended": Code(
        "note", "250.122(A)", "The grounding conductor is capped at the circuit conductor; the table size is advised."
    ),
    "voltage-drop": Code("note", "210.19, informational note", "The voltage drop is above the advised limit."),
    "drop-marginal": Code("note", "210.19, informational note", "The voltage drop is close to the advised limit."),
    "volts-at-unit": Code("warning", "110.3(B)", "The drop leaves the unit less than its plate allows."),
    "nm-wet": Code("stop", "334.12(B)(4)", "Non-metallic cable may not be in wet or outdoor places."),
    "mc-wet": Code("warning", "330.10(A)(11)", "Metal-clad cable outdoors must be marked for wet places."),
    "raceway-missing": Code("warning", "300.3(A)", "Single conductors need a raceway, and none is named."),
    "raceway-wet": Code("stop", "348.12(1)", "Flexible metal conduit may not be in wet places."),
    "whip-long": Code("note", "356.12, workmanship", "The flexible whip is longer than 6 ft."),
    "raceway-full": Code("stop", "Chapter 9 Table 1", "The conductors fill more of the raceway than is allowed."),
    "raceway-out-of-table": Code(
        "warning", "Chapter 9 Tables 4, 5", "The raceway's fill cannot be judged: a size is outside the tables."
    ),
    "cord-concealed": Code("stop", "400.12", "A flexible cord runs where it may not be."),
    "cord-wet": Code("warning", "400.4", "A flexible cord outdoors must be marked for it."),
    "cord-heater": Code("warning", "424.9, 110.3(B)", "An electric heater on cord and plug: hard wiring is advised."),
    "cord-too-small": Code("stop", "400.5(A)(1)", "No cord of the table carries the load."),
    "branch-share": Code("stop", "210.23, 440.62", "The unit takes more of its branch circuit than it may."),
    "branch-shared": Code("note", "210.23", "Other outlets share the branch circuit: one large load at a time."),
    "receptacle-rating-missing": Code("warning", "210.21(B)", "The rating of the unit's receptacle is not known."),
    "receptacle-not-for-branch": Code(
        "stop", "210.21(B)(3)", "A receptacle of that rating may not be on a branch of this one with other outlets."
    ),
    "receptacle-overloaded": Code(
        "stop", "210.21(B)(2)", "One plug draws more than it may from a receptacle on a branch with others."
    ),
    "heaters-together": Code("stop", "424.4(A)", "More than one fixed heater on a branch that is rated above 30 A."),
    "heat-subdivided": Code(
        "warning", "424.22(B)", "More than 48 A of heat in one unit: whether its elements are subdivided is not known."
    ),
    "receptacle-volts": Code("stop", "406.4(F)", "A receptacle that is meant for another voltage than its circuit's."),
    "receptacle-neutral": Code("stop", "406.4(F)", "A unit that takes a neutral on a receptacle without one."),
    "receptacle-small": Code("stop", "210.21(B)(1)", "The receptacle is rated below its branch circuit."),
    "white-reidentify": Code(
        "note", "200.7(C)(1)", "White is used as an ungrounded conductor: re-identify it at every termination."
    ),
    "disconnect-missing": Code("note", "440.14", "A disconnect within sight of the unit is to be provided."),
    "disconnect-small": Code("stop", "440.12", "The disconnect is rated below 115 % of the load."),
    "disconnect-below-fuse": Code("stop", "110.3(B)", "A fused switch is rated below its fuses."),
    "disconnect-out-of-sight": Code("stop", "440.14", "The disconnect is not within sight of the unit."),
    "disconnect-sight-unknown": Code("note", "440.14", "Whether the disconnect is within sight is not recorded."),
    "working-space": Code("stop", "110.26(A)", "The working space at the disconnect is too small."),
    "receptacle-missing": Code("note", "210.63", "A receptacle within 25 ft for service is to be confirmed."),
    "receptacle-far": Code("stop", "210.63(A)", "No receptacle within 25 ft for service."),
    "gfci-outdoor": Code(
        "warning", "210.8(F)", "Ground-fault protection of a dwelling's outdoor outlet: ask the authority."
    ),
    "gfci-room": Code("stop", "210.8(A), (B)", "A receptacle in this room without ground-fault protection."),
    "gfci-room-unknown": Code(
        "warning", "210.8(A), (B)", "Whether a receptacle in this room has ground-fault protection is not known."
    ),
    "gfci-required": Code("stop", "210.8(F), local amendment", "Ground-fault protection is required here."),
    "amendment-not-in-force": Code(
        "note", "local amendment", "A local amendment does not hold on the permit's date and was not applied."
    ),
    "amendment-undated": Code(
        "warning", "local amendment", "Whether a local amendment holds hangs on the permit date, which is not known."
    ),
    "spaces-missing": Code("note", "408.4", "The circuit has no spaces in the panel yet."),
    "spaces-count": Code("stop", "240.15(B)", "The number of spaces does not fit the number of poles."),
    "spaces-legs": Code("stop", "240.15(B)", "The poles are not on neighbouring spaces of different legs."),
    "space-taken": Code("stop", "408.4", "Another circuit has that space."),
    "space-outside": Code("stop", "408.36", "The panel has no such space."),
    "bus-missing": Code("warning", "408.30", "The panel's bus rating is not known."),
    "main-above-bus": Code("stop", "408.36", "The main is rated above the panel's bus."),
    "peak-missing": Code("warning", "220.87", "The panel's existing demand is not known; its load is not judged."),
    "peak-short": Code("warning", "220.87", "The panel's existing demand was measured over too short a time."),
    "feeder-missing": Code("warning", "215.2", "No feeder leads to the subpanel yet."),
    "load-incomplete": Code("warning", "220.87", "A load on the panel is not known; the sum is not judged."),
    "panel-overloaded": Code("stop", "220.87, 408.30", "More would be asked of the panel than it may carry."),
    "legs-unbalanced": Code("note", "210.11(B)", "The panel's legs are loaded unevenly."),
    "tap-not-protected": Code(
        "stop", "240.4, 240.21(B)", "A conductor tapped off a line is thinner than its device protects."
    ),
    "tap-unknown": Code("warning", "240.21(B)", "Whether a tapped conductor is protected cannot be judged."),
    "tap-by-length": Code("note", "240.21(B)", "A short tap ahead of its own protection, allowed by its length."),
    "drop-with-feeder": Code(
        "note", "215.2, informational note", "Feeder and branch together drop more than the advised 5 %."
    ),
    "does-not-suit": Code("warning", "design", "A unit does not suit what is asked of it."),
    "suit-unknown": Code("note", "design", "Whether a unit suits the job is not known yet."),
    "source-missing": Code("warning", "210.11", "The circuit has no source yet."),
    "equipment-missing": Code("warning", "440.4(B)", "The circuit has no unit yet."),
    "drawn-differently": Code(
        "warning", "310.14", "A stretch has one gauge on its line and another where it is landed."
    ),
    "fed-otherwise": Code(
        "stop", "110.22", "A unit's cable comes from another breaker than the one that its line names."
    ),
    "start-fails": Code("stop", "110.3(B)", "By the figures a start trips, stalls or overloads what feeds it."),
    "start-may-trip": Code("warning", "110.3(B)", "A start lies between what a breaker holds and what it trips on."),
    "start-unknown": Code("warning", "110.3(B)", "A figure that decides a start is not known."),
    "start-range": Code("note", "110.3(B)", "A figure is known as a range; the verdict is its worst."),
    "start-factor-taken": Code("note", "110.3(B)", "A power factor is not known; the worst, 1, was taken."),
    "start-managed": Code("note", "110.3(B)", "A start leans on a device that sheds or alternates loads."),
    "start-aid-not-landed": Code(
        "warning", "110.3(B)", "A start aid is drawn and not landed on all of its leads: it helps nothing yet."
    ),
    "start-aid-not-drawn": Code("warning", "110.3(B)", "A start counts on an aid that is not on the drawing yet."),
    "manager-not-landed": Code(
        "warning", "750.30", "A load manager is drawn and not landed on all of its terminals: it sheds nothing yet."
    ),
    "manager-not-drawn": Code("warning", "750.30", "A start counts on a load manager that is not drawn yet."),
    "manager-set-otherwise": Code("warning", "750.30", "A load manager is set to another figure than was planned."),
    "manager-not-counted": Code("note", "750.30", "A load manager is drawn, and no source's plan counts on it."),
    "source-lacks-leg": Code("stop", "110.4", "A line lies between two legs, and the source in place has one."),
    "log-changed-in-gap": Code("note", "design", "A current changed while nothing was logged."),
    "log-trip-unknown": Code("note", "design", "Without the breaker's rating a stop cannot be told from a trip."),
    "log-peak-least": Code("note", "design", "A logger slower than a start has seen less than its true peak."),
    "log-clipped": Code("note", "design", "Samples lie flat at the highest figure: the instrument may end there."),
    "log-starts-close": Code("note", "design", "Two starts lie closer than the logger can tell apart."),
    "continuous-load": Code(
        "warning", "210.20(A), 215.3", "More than 80 % of a breaker's rating is carried for three hours or more."
    ),
    "device-type-missing": Code(
        "warning", "110.3(B)", "Which device stands there is not known; its terminals are not checked."
    ),
    "device-not-wired": Code("note", "design", "No cable leads to the device yet."),
    "power-not-drawn": Code(
        "note", "design", "A unit's power cable is planned on its line and not drawn on its terminals yet."
    ),
    "terminal-absent": Code("stop", "110.3(B)", "A conductor lands on a terminal that the device does not have."),
    "cable-make-missing": Code("warning", "110.3(B)", "What the cable is built of is not known."),
    "cable-length-missing": Code("warning", "110.3(B)", "The cable's length is not known; it is not judged."),
    "cable-route-missing": Code("warning", "725.136, 310.10", "Where the cable runs is not known; it is not judged."),
    "control-load-missing": Code(
        "note", "design", "What a device draws from its 24 V is not known; the drop on its cable is not judged."
    ),
    "cable-not-landed": Code("note", "design", "Nothing of the cable is landed yet."),
    "cable-wrong-kind": Code("stop", "110.3(B)", "The cable's construction is not one that the device takes."),
    "cable-too-thin": Code("stop", "110.3(B)", "The cable's conductors are thinner than the device takes."),
    "cable-solid": Code("warning", "110.3(B)", "Solid conductors where stranded ones are asked for."),
    "cable-too-few": Code("stop", "110.3(B)", "The cable has fewer conductors than the job takes."),
    "cable-class": Code("stop", "725.127, 725.136", "A Class 2 cable carries line voltage."),
    "cable-not-wet": Code("stop", "310.10(C)", "The cable is in a wet place and is not marked for it."),
    "cable-sunlight": Code("warning", "310.10(D)", "The cable lies in the sun and is not marked for it."),
    "cable-too-long": Code("stop", "110.3(B)", "The cable is longer than the device allows for its gauge."),
    "cable-length-unjudged": Code(
        "warning", "110.3(B)", "The device gives no longest length for the cable's gauge; it is not judged."
    ),
    "control-drop": Code("warning", "design", "The control cable drops more than a tenth of its 24 V."),
    "control-exposed": Code(
        "note", "workmanship; no article asks for it", "Control cable lies exposed outdoors: a raceway is advised."
    ),
    "control-with-power": Code("stop", "725.136", "Control and power conductors lie in one raceway or box."),
    "joint-forbidden": Code("stop", "110.3(B)", "The cable is joined on its way, where it may not be."),
    "joint-connector": Code("warning", "110.14(B), workmanship", "The connector does not suit the place of the joint."),
    "joint-unknown": Code("warning", "110.14(B)", "How or where a joint is made is not known."),
    "two-meanings": Code("stop", "110.3(B)", "A conductor means two things along its way."),
    "signal-crossed": Code("stop", "110.3(B)", "Line voltage and signal are crossed between the units."),
    "line-on-low": Code("stop", "725.136, 110.3(B)", "Line voltage reaches a 24 V, signal or data terminal."),
    "data-crossed": Code("stop", "110.3(B)", "A pair that has a polarity is crossed."),
    "valve-on-common": Code(
        "stop",
        "110.3(B)",
        "A reversing-valve conductor reaches a terminal that is a common on the other maker's board.",
    ),
    "valve-sense": Code("stop", "110.3(B)", "The reversing valve is driven in the wrong sense."),
    "pole-crossed": Code("warning", "110.3(B), workmanship", "A leg changes its pole along its way."),
    "pole-colour": Code("note", "workmanship", "A leg changes its colour through a disconnect."),
    "terminal-overfull": Code("stop", "110.14(A)", "More conductors on a terminal than it takes."),
    "terminal-gauge": Code("warning", "110.14(A)", "The conductor's gauge does not fit the terminal."),
    "common-missing": Code("stop", "110.3(B)", "A device that needs a common has none."),
    "device-unfed": Code("stop", "110.3(B)", "A device is left without its supply."),
    "ground-missing": Code("stop", "250.114, 250.118", "A device is left without its ground."),
    "terminal-open": Code("stop", "110.3(B)", "A terminal without which the device does not work is open."),
    "call-not-carried": Code(
        "warning", "design", "A call that both ends have reaches nothing: no conductor carries it."
    ),
    "colour-misleads": Code("warning", "workmanship", "A colour stands for something else than the convention says."),
    "colour-two-meanings": Code("note", "workmanship", "One colour means two things at one device."),
    "white-not-marked": Code(
        "warning", "200.7(C)(1)", "A white conductor is ungrounded and is not re-identified at an end."
    ),
    "ground-colour": Code("stop", "250.119", "A ground on a conductor that is neither green, green-yellow nor bare."),
    "green-ungrounded": Code("stop", "250.119", "A green or bare conductor is used for something else than ground."),
    "existing-not-captured": Code(
        "note", "workmanship", "A cable is there already and how it was landed has not been captured."
    ),
    "jumper-for-test": Code("warning", "workmanship", "A jumper that was put in for a test is still in."),
    "half-landed": Code("warning", "workmanship", "A conductor lands at one end and is capped at the other."),
    "accessory-not-landed": Code(
        "warning", "design", "A device is set to switch an accessory and no conductor carries it."
    ),
    "spare-not-capped": Code("warning", "110.14(B), workmanship", "A spare conductor or lead is not capped."),
    "abandoned-not-capped": Code("warning", "725.25, workmanship", "A conductor out of use is not capped."),
    "secondary-shorted": Code("stop", "110.3(B), solved on the bench", "A transformer's secondary is shorted."),
    "supplies-tied": Code("stop", "110.3(B), solved on the bench", "Two supplies are tied together."),
    "runs-without-call": Code("stop", "design, solved on the bench", "Something runs without a call."),
    "call-does-nothing": Code("warning", "design, solved on the bench", "A call does not reach what it is for."),
    "heat-and-cool": Code("stop", "design, solved on the bench", "Heat and cooling run at once."),
    "no-return": Code("stop", "110.3(B), solved on the bench", "A load has a live feed and no return."),
    "transformer-overloaded": Code(
        "stop", "110.3(B), solved on the bench", "A transformer gives more than its rating."
    ),
    "coil-low": Code("warning", "110.3(B), solved on the bench", "A load gets too little voltage to work."),
    "motor-stalls": Code(
        "stop",
        "110.3(B), solved on the bench",
        "A motor has its volts and does not turn.",
    ),
    "tap-wrong": Code("stop", "110.3(B), solved on the bench", "A transformer is fed on the wrong tap."),
    "line-on-control": Code("stop", "725.136, solved on the bench", "Line voltage reaches something made for less."),
    "too-many-volts": Code("stop", "110.3(B), solved on the bench", "Something gets more volts than it is made for."),
    "heat-without-air": Code("stop", "110.3(B), solved on the bench", "Heat is on and the fan moves no air."),
    "safety-dead": Code(
        "stop", "the rule of its cause, solved on the bench", "A safety device has no supply when it is to act."
    ),
    "data-turned": Code("stop", "110.3(B), solved on the bench", "A data pair is crossed."),
    "dry-contact-fed-twice": Code("stop", "110.3(B), solved on the bench", "A dry contact is fed from two supplies."),
    "loads-in-series": Code("stop", "110.3(B), solved on the bench", "Two loads lie in series and share the volts."),
    "chatters": Code("stop", "design, solved on the bench", "A relay never comes to rest."),
    "interlock-ineffective": Code("stop", "the rule of its cause", "A safety contact does not stop what it must."),
    "interlock-untried": Code(
        "note", "design, solved on the bench", "Nothing that can be called here runs what a cause must stop."
    ),
    "interlock-waived": Code(
        "warning", "the rule of its cause", "The plan leaves out an interlock that a rule asks for."
    ),
    "bench-assumed": Code("note", "110.3(B)", "A figure inside a device is not known; the bench solved its range."),
    "bench-unfed": Code("warning", "design", "The bench finds no supply for a device, or not all of its volts."),
}


# What nobody has said yet is no warning: it is asked for, all of it in one line.
STILL_TO_ENTER: dict[str, str] = {
    "plate-mca-missing": "MCA", "plate-max-missing": "maximum fuse or breaker",
    "plate-max-type-missing": "fuse or breaker",
    "supply-missing": "volts and phases of the supply", "plate-volts-missing": "volts of the plate",
    "plate-load-missing": "what the plate says", "heat-volts-missing": "volts of the heat",
    "heat-interlock-missing": "heat with cooling or not", "continuous-missing": "for how long it is on",
    "ocpd-not-chosen": "breaker or fuse", "ocpd-type-missing": "breaker or fuse", "run-missing": "the run",
    "method-missing": "method", "place-missing": "place", "ambient-missing": "ambient",
    "roof-sun-missing": "sun on the roof",
    "current-carrying-missing": "conductors together", "length-missing": "length", "conductor-not-chosen": "conductor",
    "raceway-missing": "raceway", "receptacle-rating-missing": "receptacle", "disconnect-missing": "disconnect",
    "disconnect-sight-unknown": "disconnect in sight", "receptacle-missing": "receptacle for service",
    "spaces-missing": "spaces", "bus-missing": "bus of the panel", "peak-missing": "demand of the panel",
    "source-missing": "panel", "equipment-missing": "unit", "gfci-room-unknown": "ground-fault protection",
    "load-incomplete": "loads of the panel", "feeder-missing": "feeder",
    "cable-make-missing": "make of the cable", "cable-length-missing": "length of the cable",
    "cable-route-missing": "way of the cable", "start-unknown": "what decides a start",
}  # fmt: skip
# Of those, what a computed proposal can fill.
PROPOSED = ("ocpd-type-missing", "ocpd-not-chosen", "conductor-not-chosen", "disconnect-missing", "spaces-missing")


# Where no change of the plan is sure to be right, what a hand can do: named in words, never left unsaid.
WAYS: dict[str, Way] = {
    code: Way(label=label, message=message) for code, label, message in (
        ("device-unfed", "Draw its supply", "its line on Lines, or a cable from what feeds it"),
        ("ground-missing", "Bring it a ground", "the cable's green or bare, else a cable that has one"),
        ("terminal-open", "Land what belongs there", "a conductor from the terminal that means the same"),
        ("green-ungrounded", "Use another conductor", "or a cable with one more; green goes to ground or is capped"),
        ("ground-colour", "Take a cable with a ground", "a conductor is not made green by marking it below 4 AWG"),
        ("secondary-shorted", "Find what joins the two", "power off: a landing, a staple, bared copper; then its fuse"),
        ("supplies-tied", "Keep the two apart", "an isolation relay between them, or the jumper between their R out"),
        ("runs-without-call", "Follow its feed", "back to the conductor that brings it another's call"),
        ("heat-and-cool", "Follow the call that is not made", "one conductor brings it: land it where its own call is"),
        ("no-return", "Bring it its common", "a conductor from its common to that of the supply that feeds it"),
        ("transformer-overloaded", "See its tap first", "then take a load off it, or a larger transformer"),
        ("coil-low", "Shorten or thicken its way", "a thicker conductor, or nearer its supply; see the tap too"),
        ("motor-stalls", "Follow its start lead", "power off: start terminal to capacitor or soft starter"),
        ("tap-wrong", "Move it to the tap of its volts", "the supply on the tap that matches, the others capped"),
        ("line-on-control", "No power before it is mended", "take it off at both ends and prove where it leads"),
        ("too-many-volts", "Find the second supply", "two in series add up; or the tap that lifts the one"),
        ("data-turned", "Turn the pair at one end", "plus to plus, minus to minus"),
        ("dry-contact-fed-twice", "Feed it from one supply", "the other side goes through a relay of its own"),
        ("loads-in-series", "Give each its own return", "from its common to that of its supply"),
        ("chatters", "Break the ring", "no coil is fed over a contact that it opens itself"),
        ("start-fails", "Try the ways out at Supply", "each was run before it is offered"),
        ("source-lacks-leg", "Leave that line on the other source", "or take one with two hot legs"),
        ("panel-overloaded", "Take load off, or feed it from more", "what runs at once, or the supply itself"),
        ("call-does-nothing", "Follow its call", "from the thermostat to its terminal, conductor by conductor"),
        ("call-not-carried", "Take a cable with one more", "or leave the call unused and say what system it is"),
        ("control-drop", "Shorten or thicken it", "a thicker conductor, or a relay near the load"),
        ("terminal-gauge", "Take a gauge that fits", "or a pigtail of one that does"),
    )
}  # fmt: skip


def finding(
    code: str,
    about: str,
    message: str,
    fix_label: str | None = None,
    fix: dict[str, Any] | None = None,
    *,
    ways: list[Way] | None = None,
    article: str | None = None,
    severity: Severity | None = None,
    fact: str | None = None,
) -> Finding:
    """A finding on an element of a plan, with its code's severity and article unless the case has its own.

    fact: which of several facts of that code about one thing this is, where there can be several.
    """
    entry = CODES[code]
    if not fix and not ways and code in WAYS:
        ways = [WAYS[code]]
    return Finding(
        key=f"{code}:{about}:{fact}" if fact else "",
        code=code, severity=severity or entry.severity, about=about, message=message, article=article or entry.article,
        fix_label=fix_label if fix else None, fix=fix or None, ways=ways or None,
    )  # fmt: skip


def worst(findings: Iterable[Finding]) -> Severity | None:
    """The gravest severity among the findings, or None where there are none."""
    present = {finding.severity for finding in findings}
    return next((severity for severity in SEVERITIES if severity in present), None)
