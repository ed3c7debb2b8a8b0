"""A unit in one sentence: `MS-1 mini-split 208/230 1ph MCA 22 max 35, 60 ft from Panel A, roof`.

What a word says is taken once; what nothing understands is left, in order. Nothing is guessed.
"""

from __future__ import annotations

import re
from collections.abc import Iterator
from dataclasses import dataclass, field
from typing import Any

from leitung_core.entry.fields import FIELDS, converted, unit_named
from leitung_core.entry.kinds import KINDS_BY_PREFIX, KINDS_BY_WORDS, NUMBER_WORDS, PLACES
from leitung_core.entry.numbers import NUMBER, Units, read_number, tidied
from leitung_core.errors import InputError, Problem

LONGEST = 2000
# What a circuit comes from: its own words in any case, the name behind them with a capital or a figure.
SOURCE = (
    r"(?i:(?:main |sub-?)?panel(?:board)?|subpanel|pedestal)(?: (?!roof|attic)[A-Z0-9][\w-]*| [a-z]\b)?"
    r"|(?i:mdp|msb|mcc)(?:[- ]?[A-Z0-9]{1,3}\b)?|[A-Za-z]{1,2}P-?\d\w*"
)
DEVICE = (
    r"(?:time delay |hacr |type |circuit |ckt\.? )*"
    r"(?:fuses?|breakers?|bkr|brkr|cb|ocpd?|overcurrent(?: device| protection)?)"
)
TAGS = "MS|RTU|RT|EUH|UH|AHU|AH|CU|HP|SH|DH|CP"
AMPS = r"(?: ?a(?:mps?)?\b)?"
NUM = r"(\d+(?:[.,]\d+)?)"
FILLER = r"(?:then|with|and|an?|the|units?|of|at|is|on|in|for|from|to|via|by|each|electrical|power|plate|nameplate|run)"
HEATED = ("unit_heater", "air_handler", "packaged_rooftop", "packaged_heat_pump")
METHODS = {
    "nm-?b": "NM-B",
    "uf-?b": "UF-B",
    "thwn(?:-?2)?": "THWN-2",
    "xhhw(?:-?2)?": "XHHW-2",
    "mc": "MC",
    "ser": "SER",
}
RACEWAYS = {"emt": "EMT", "pvc": "PVC", "lfnc": "LFNC", "lfmc": "LFMC", "fmc": "FMC"}


@dataclass
class UnitSaid:
    """A unit as it was said, in the words of the size document; `left` is what was not understood, in order."""

    id: str | None = None
    kind: str | None = None
    nameplate: dict[str, Any] = field(default_factory=dict)
    source: str | None = None
    run: list[dict[str, Any]] = field(default_factory=list)
    quantity: int | None = None
    cord_connected: bool | None = None
    left: list[str] = field(default_factory=list)
    understood: list[tuple[int, int]] = field(default_factory=list)


def read_unit(text: str, units: Units = "us") -> UnitSaid:
    """The unit in a sentence. Raises InputError where nothing of it is understood."""
    if len(text) > LONGEST:
        problem = Problem(
            "text", f"{len(text)} characters", "is too long for one unit", f"At most {LONGEST} characters."
        )
        raise InputError(problem)
    said = _Sentence(text, units)
    found = said.read()
    if not said.taken:
        remedy = "Write what the plate says: MS-1 mini-split 208/230 1ph MCA 22 max 35."
        raise InputError(Problem("text", text, "names no unit that could be understood", remedy))
    return found


class _Sentence:
    def __init__(self, text: str, units: Units) -> None:
        self.text, self.units = tidied(text), units
        self.taken: list[tuple[int, int]] = []
        self.found = UnitSaid()

    def read(self) -> UnitSaid:
        found = self.found
        self._tag()
        self._left_alone()
        self._quantity()
        self._kind()
        self._currents()
        self._power()
        self._volts()
        if self.one(r"\b(?:continuous(?: load)?|on for three hours or more)\b"):
            found.nameplate["continuous"] = True
        self._source()
        self._run()
        self._plain_amps()
        found.left, found.understood = list(self._rest()), sorted(self.taken)
        return found

    def take(self, pattern: str, most: int = 20) -> Iterator[re.Match[str]]:
        """Every match of a pattern in what is not taken yet; taken with it."""
        for match in re.finditer(pattern, self.text, re.I):
            if most and not self._overlaps(match.span()):
                most -= 1
                self.taken.append(match.span())
                yield match

    def one(self, pattern: str) -> re.Match[str] | None:
        return next(self.take(pattern, 1), None)

    def _overlaps(self, span: tuple[int, int]) -> bool:
        return any(span[0] < end and start < span[1] for start, end in self.taken)

    def number(self, text: str) -> float:
        read = read_number(text, self.units)
        return read.value if read else 0.0

    def _tag(self) -> None:
        match = self.one(r"^ *([a-z]{1,4})-? ?(\d{1,3}[a-z]?)(?![\w/.])(?! ?(?:v|a|w|kw|ft|ph)\b)")
        match = match or self.one(rf"\b({TAGS})[- ]?(\d{{1,3}}[a-z]?)\b")
        if match:
            dash = "-" if re.search(r"[- ]", match[0].strip()) else ""
            self.found.id = f"{match[1].upper()}{dash}{match[2].upper()}"

    def _left_alone(self) -> None:
        """What reads like a figure of the plate and is none: an existing breaker, a height. It stays where it is."""
        self.alone: list[tuple[int, int]] = []
        patterns = (
            rf"(?:existing|old|present)(?: \w+)? {NUM}{AMPS}(?: \d ?p(?:ole)?)? ?(?:breaker|fuse|circuit)?",
            rf"(?:on|with)?(?: an?| the)?(?: existing)? ?{NUM}{AMPS}(?: \d ?-?p(?:ole)?)?"
            r" (?:breaker|circuit|feed(?:er)?)\b(?! ?max)",
            rf"(?:height|mounted(?: at)?|ceiling(?: at)?|hung at|elevation)(?: of)? {NUM} ?(?:ft|feet|'|m|in)\b\.?",
            rf"{NUM} ?(?:ft|feet|'|m|in)\.? (?:high|up|tall|above|ceiling|elevation|off the)(?: [a-z ]*?(?=,|;|$))?",
        )
        for pattern in patterns:
            for match in re.finditer(pattern, self.text, re.I):
                before = self.text[: match.start()].casefold()
                if not re.search(r"max(?:imum)?\.?(?: \w+){0,3} ?$", before):
                    self.alone.append(match.span())
        self.taken += self.alone

    def _quantity(self) -> None:
        words = "|".join(NUMBER_WORDS)
        not_parts = r"(?! ?(?:compressors?|fans?|motors?|stages?|heads?|zones?|poles?|ph|wire|tons?))"
        for pattern in (r"\b(?:qty|quantity|count)\.?:? ?(\d{1,3})\b", r"(?:^|(?<=[ ,]))[x×] ?(\d{1,3})\b" + not_parts,
                        r"\b(\d{1,3}) ?[x×](?= |,|$)" + not_parts, rf"\((\d{{1,3}})\){not_parts}",
                        rf"\b(\d{{1,2}}|{words}) (?:like |identical |such )?(?:units|of them)\b"):  # fmt: skip
            match = self.one(pattern)
            if match:
                said = match[1].casefold()
                self.found.quantity = NUMBER_WORDS.get(said) or int(said)
                return

    def _kind(self) -> None:
        for words, kind in KINDS_BY_WORDS:
            if self.one(rf"(?<![\w-])(?:{words})(?![\w-])"):
                self.found.kind = kind
                return
        letters = re.match(r"[A-Z]+", self.found.id or "")
        self.found.kind = KINDS_BY_PREFIX.get(letters[0]) if letters else None

    def _currents(self) -> None:
        plate = self.found.nameplate
        for name, words in (("mca_a", r"mca|min(?:imum|\.)? (?:circuit|ckt\.?) amp(?:acity|s)?\.?"),):
            match = self.one(rf"\b(?:{words})\b:?=? ?{NUM}{AMPS}") or self.one(rf"{NUM}{AMPS} ?(?:{words})\b")
            if match:
                plate[name] = self.number(match[1])
        self._device("max", "max_ocpd_a", r"mocp|mop[d]?|mfs|mofs")
        self._device("min", "min_ocpd_a", r"minocp")
        self._compressors()
        self._motors()
        match = self.one(rf"{NUM} ?cfm\b")
        if match:
            plate["supply_cfm"] = self.number(match[1])

    def _device(self, bound: str, name: str, short: str) -> None:
        what = rf"((?:{DEVICE})(?: ?(?:or|/|and) ?(?:{DEVICE}))*)(?: size| rating)?"
        word = rf"{bound}(?:imum|\.)?"
        no_length = r"(?! ?(?:ft|feet|'|m|in|%|kw|w|v|cfm|°|f|c)\b)"
        match = (
            self.one(rf"\b(?:{word}:? {what}|(?:{short}) ?{what}?):?=? ?{NUM}{AMPS}{no_length}")
            or self.one(rf"\b{NUM}{AMPS} ?{word} ?{what}")
            or self.one(rf"\b(?:{word}|{short})():?=? ?{NUM}{AMPS}(?: {what})?{no_length}")
            or self.one(rf"{NUM}{AMPS} ?(?:{short})\b")
            or self.one(rf"{NUM}{AMPS} {word}(?![\w.]| \d)")
        )
        if match is None:
            return
        figure = next(group for group in match.groups() if group and re.fullmatch(r"\d+(?:[.,]\d+)?", group))
        self.found.nameplate[name] = self.number(figure)
        if bound == "max":
            fuse = re.search(r"fuse|mfs|mofs", match[0], re.I)
            breaker = re.search(r"breaker|bkr|brkr|\bcb\b", match[0], re.I)
            if fuse or breaker:
                kind = "fuse_or_breaker" if fuse and breaker else "fuse" if fuse else "breaker"
                self.found.nameplate["max_ocpd_type"] = kind

    def _compressors(self) -> None:
        marks = {}
        for name in ("rla", "lra"):
            match = self.one(rf"\b{name}:?=? ?{NUM}{AMPS}") or self.one(rf"{NUM}{AMPS} ?{name}\b")
            if match:
                marks[f"{name}_a"] = self.number(match[1])
        words = "|".join(NUMBER_WORDS)
        many = self.one(rf"\(?\b(\d|{words})\)? ?[x×]? ?(?:scroll |rotary )?compressors?\b")
        self.one(r"\bcompressors?\b:?")
        if marks:
            said = many[1].casefold() if many else "1"
            number = NUMBER_WORDS.get(said) or int(said)
            self.found.nameplate["compressors"] = [dict(marks) for _ in range(min(number, 8))]

    def _motors(self) -> None:
        motors = []
        for words, use in ((r"blower|indoor fan|supply fan|evap(?:orator)? fan|ifm", "blower"),
                           (r"pump", "pump"), (r"(?:condenser |outdoor |od )?fan|ofm", "condenser_fan")):  # fmt: skip
            named = rf"(?:{words})(?: motor)?"
            for match in [*self.take(rf"\b{named}:? (?:fla|amps?):? ?{NUM}{AMPS}"),
                          *self.take(rf"\b{named}:? {NUM}{AMPS} ?fla\b"), *self.take(rf"\bfla {named}:? {NUM}{AMPS}"),
                          *self.take(rf"{NUM}{AMPS} ?fla {named}\b")]:  # fmt: skip
                motors.append({"fla_a": self.number(match[1]), "use": use})
        if motors:
            self.found.nameplate["motors"] = motors

    def _volts(self) -> None:
        plate = self.found.nameplate
        listed = r"(\d{3}(?:[/-]\d{3})*)"
        whole = self.one(
            rf"(?<![\w.]){listed} ?v?(?:ac|olts?)?[-/ ]+([13])(?: ?-?ph(?:ase)?| ?[øØφΦ~])?[-/ ]+(50|60)(?: ?hz)?\b"
        )
        if whole:
            plate["volts"], plate["phase"] = whole[1].replace("-", "/"), int(whole[2])
            return
        volts = (
            self.one(rf"(?<![\w.]){listed} ?v(?:ac|olts?)?\b\.?(?![- ]*(?:control|coil|signal))")
            or self.one(r"(?<![\w.])(\d{3}(?:/\d{3})+)(?![\w.])")
            or self.one(rf"(?<![\w.]){listed}(?=[-/ ]+(?:[13] ?-?ph|single|three))")
        )
        phase = self.one(r"[-/]?(?<![\w.])([13]) ?-?(?:ph(?:ase)?s?\b\.?|[øØφΦ~])") or self.one(
            r"\b(single|three)[- ]?ph(?:ase)?\b"
        )
        self.one(r"[-/]?(?<![\w.])(?:50|60) ?(?:hz|hertz|cycle)\b")
        if volts:
            plate["volts"] = volts[1].replace("-", "/")
        if phase:
            plate["phase"] = {"single": 1, "three": 3}.get(phase[1].casefold()) or int(phase[1])

    def _power(self) -> None:
        unit = r"(kw|kilowatts?|watts?|w|mbh|btu/?h(?:r)?)"
        sort = r"(?:electric |strip |aux(?:iliary)? )?"
        figure = (
            rf"{NUM} ?{unit}\b(?: (?:of )?{sort}(?:heat(?:er)?|strips?)\b)?(?: (?:at|@) ?(\d{{3}}) ?v(?:olts?)?\b)?"
        )
        match = self.one(rf"\b{sort}heat(?:er|ers|ing)?:? {figure}") or self.one(rf"(?<![\w.]){figure}")
        if match is None:
            return
        watts = round(converted(self.number(match[1]), unit_named(match[2]) or "W", "W"), 2)
        if self.found.kind in HEATED:
            heat: dict[str, Any] = {"watts": watts}
            if match[3]:
                heat["rated_volts"] = float(match[3])
            self.found.nameplate["heat"] = heat
        elif self.found.kind is not None and not match[3]:
            self.found.nameplate["watts"] = watts
        else:
            self.taken.remove(match.span())

    def _source(self) -> None:
        for lead in (r"(?:fed )?(?:from|off|out of) (?:the )?", r"(?:on|in|at) (?:the )?", r"(?:panel|source):? "):
            for match in re.finditer(rf"(?i:\b{lead})({SOURCE})", self.text):
                if not self._overlaps(match.span()):
                    self.taken.append(match.span())
                    self.found.source = match[1].strip()
                    return

    def _run(self) -> None:
        lengths = [(match.start(), self._feet(match)) for match in self._lengths()]
        facts: list[tuple[int, str, Any]] = []
        for words, place in PLACES:
            facts += [
                (m.start(), "place", place) for m in self.take(rf"\b(?:on |in |over |through )?(?:the )?(?:{words})\b")
            ]
        for match in self.take(
            r"(?<![\w/.#-])#?(\d{1,2}|[1-4]/0)(?: awg)?(?:[-/](\d))? ?(?=(?:nm|uf|mc|ser|thwn|xhhw)\b)"
        ):
            facts.append((match.start(), "conductor", match[1]))
        for words, method in METHODS.items():
            facts += [(match.start(), "method", method) for match in self.take(rf"\b(?:in )?{words}\b(?: cable)?")]
        for words, raceway in RACEWAYS.items():
            facts += [(m.start(), "raceway", raceway) for m in self.take(rf"\b(?:in )?{words}\b(?: conduit)?")]
        for match in self.take(r"(-?\d{1,3}(?:[.,]\d+)?) ?(?:deg(?:rees)? ?|[°º] ?)?([fc])\b(?: ambient)?"):
            celsius = converted(self.number(match[1]), f"°{match[2].upper()}", "°C")
            facts.append((match.start(), "ambient_c", round(celsius, 2)))
        if re.search(r"\b(?:run|cord and plug)\b", self.text, re.I) or facts:
            self.found.run = _segments(lengths, facts)
        else:
            for start, _ in lengths:
                self.taken = [span for span in self.taken if span[0] != start]
        if self.one(r"\b(?:cord[- ](?:and[- ]plug|connected)|plug[- ]in)\b"):
            self.found.cord_connected = True

    def _lengths(self) -> Iterator[re.Match[str]]:
        return self.take(
            rf"(?<![\w.-])({NUMBER}) ?(ft\b\.?|feet\b|foot\b|'|′|’|m\b|meters?\b|metres?\b)(?: run\b| of run\b)?"
        )

    def _feet(self, match: re.Match[str]) -> float:
        unit = unit_named(match[2]) or FIELDS["length"].shown[self.units]
        return round(converted(self.number(match[1]), unit, "ft"), 4)

    def _plain_amps(self) -> None:
        """A current by itself is the plate's of what has no other: humidifiers, dehumidifiers, pumps, heaters."""
        if self.found.kind in ("steam_humidifier", "dehumidifier", "condensate_pump", "unit_heater") and (
            "mca_a" not in self.found.nameplate
        ):
            match = self.one(rf"(?<![\w.-]){NUM} ?(?:a|amps?)\b(?! ?(?:breaker|fuse|circuit|plug|receptacle|outlet))")
            if match:
                self.found.nameplate["amps"] = self.number(match[1])

    def _rest(self) -> Iterator[str]:
        """What was not taken, piece by piece; what was left alone stands where it was."""
        taken = sorted(span for span in self.taken if span not in self.alone)
        at = 0
        for start, end in [*taken, (len(self.text), len(self.text))]:
            for piece in re.split(r"[,;\n]", self.text[at:start]):
                plain = _without_filler(piece)
                if plain:
                    yield plain
            at = max(at, end)


def _without_filler(piece: str) -> str:
    plain = piece.strip(" .:-()/")
    while True:
        shorter = re.sub(rf"^(?:{FILLER})\b ?|(?:^| ){FILLER}$", "", plain, flags=re.I).strip(" .:-()/")
        if shorter == plain:
            return plain
        plain = shorter


def _segments(lengths: list[tuple[int, float]], facts: list[tuple[int, str, Any]]) -> list[dict[str, Any]]:
    """The stretches of the run in order: each fact goes to its nearest length; with one length, all go to it."""
    if len(lengths) < 2:
        segment: dict[str, Any] = {"length_ft": lengths[0][1]} if lengths else {}
        places = [fact for fact in sorted(facts) if fact[1] == "place"]
        for _, name, value in sorted(facts):
            segment.setdefault(name, value)
        more = [{"place": value} for _, _, value in places[1:] if value != segment.get("place")]
        return [segment, *more] if segment else []
    rows: list[dict[str, Any]] = [{"length_ft": feet} for _, feet in sorted(lengths)]
    starts = [start for start, _ in sorted(lengths)]
    for at, name, value in sorted(facts):
        order = sorted(range(len(rows)), key=lambda i: (abs(starts[i] - at), i))
        before = [i for i in reversed(range(len(rows))) if starts[i] < at]
        pick = next((i for i in [*before[:1], *order] if name not in rows[i]), None)
        if pick is not None:
            rows[pick][name] = value
    return rows
