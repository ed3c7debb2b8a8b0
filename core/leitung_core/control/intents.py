"""When each load is to be on, worked out from what devices say of themselves and never from how they are wired.

A coil on a terminal for cooling is to be on when something in the system calls for cooling; a motor behind that
coil's contact when the coil is; a dehumidifier whose fan contact is landed is one more reason for the fan.
"""

from __future__ import annotations

import re
from collections.abc import Iterable, Sequence
from functools import cached_property

from leitung_core.catalogue.device import DeviceType
from leitung_core.catalogue.functions import functions
from leitung_core.control.network import operator_of
from leitung_core.elements.vocabulary import Coil, Contact, Fuse, Jumper, Load
from leitung_core.plant.plant import Plant, jumper_in

_FUNCTION = re.compile(r"function:([a-z0-9-]+)")
OWN_AFFAIR = "any"
FURTHER_STAGES = {"heat-2", "cool-2", "emergency"}
SUPPLY = {"hot", "common", "line-1", "line-2", "line-3", "neutral", "pair-1", "pair-2"}


class Intents:
    """The intents of a system's loads, as conditions of the open form."""

    def __init__(self, plant: Plant, devices: Iterable[str]) -> None:
        self._plant, self._devices = plant, sorted(devices)
        self._open: set[tuple[str, str]] = set()

    def all(self) -> dict[str, str]:
        """Each load's condition as `DEV.ID`; a load of which nothing is known is not in it."""
        found = {}
        for key in self._devices:
            for element in self._kind(key).inside:
                if isinstance(element, Coil | Load):
                    text = self.of(key, element)
                    if text is not None and text != OWN_AFFAIR:
                        found[f"{key}.{element.id}"] = text
        return found

    def function(self, name: str) -> str | None:
        """What calls for a function in this system; None where nothing does."""
        return self._called_by.get(name)

    def of(self, key: str, element: Coil | Load) -> str | None:
        """When a load is to be on; None: not known, or its device's own affair."""
        if (key, element.id) in self._open:
            return None
        self._open.add((key, element.id))
        try:
            return self._of(key, element)
        finally:
            self._open.discard((key, element.id))

    def _of(self, key: str, element: Coil | Load) -> str | None:
        if element.intent == OWN_AFFAIR:
            return None
        if isinstance(element, Load) and element.takes != "ac":
            return self._heard(key, element)
        if element.intent is not None:
            return self._said(element.intent)
        named = {f for node in (element.a, element.b) if (f := self._call_at(key, node))}
        if len(named) == 1:
            function = named.pop()
            return self.function(function) if self._in_use(key, function) else "false"
        inner = [node for node in (element.a, element.b) if node.startswith("_")]
        if inner:
            return _all([self._reached(key, node, frozenset()) for node in inner])
        return "true" if self._on_supply(key, element) else None

    def _heard(self, key: str, element: Load) -> str | None:
        """A signal input hears its unit all the time once it is wired; what drives a data pair is not modelled."""
        wired = bool(self._plant.on.get(f"{key}.{element.a}"))
        return "true" if element.takes == "dc_signal" and wired else None

    def _said(self, text: str) -> str | None:
        """A device's own condition with its functions put in; a function that nothing calls does not limit."""
        return _FUNCTION.sub(lambda match: f"({self.function(match[1]) or 'true'})", text)

    def _kind(self, key: str) -> DeviceType:
        return self._plant.types[key]

    def _call_at(self, key: str, node: str) -> str | None:
        """The call for which a terminal is meant: its own function, or that of what it is joined to."""
        ref = f"{key}.{node}"
        post = self._plant.posts.get(ref)
        if post is None:
            return None
        if post.function is not None:
            return post.function if functions()[post.function].call else None
        meant = self._plant.nets[ref].meanings if ref in self._plant.nets else frozenset()
        calls = {name for name in meant if functions()[name].call and name in post.terminal.accepts}
        return next(iter(calls)) if len(calls) == 1 else None

    def _in_use(self, key: str, function: str) -> bool:
        """Whether a second stage is used here: nothing on its terminal, and it is not to be on."""
        if function not in FURTHER_STAGES:
            return True
        posts = [post for post in self._plant.posts_of(key) if post.function == function]
        return any(self._plant.on.get(post.ref) for post in posts)

    def _on_supply(self, key: str, element: Coil | Load) -> bool:
        """Whether both ends are supply terminals: then it is to be on whenever there is a supply."""
        ends = [self._plant.posts.get(f"{key}.{node}") for node in (element.a, element.b)]
        return all(post is not None and post.function in SUPPLY for post in ends)

    def _reached(self, key: str, node: str, seen: frozenset[str]) -> str | None:
        """When a node inside a device is live: through any of its contacts whose far side is."""
        if not node.startswith("_"):
            return "true"
        kind, ways = self._kind(key), []
        settings = self._plant.plan.devices[key].settings
        for part in kind.inside:
            if not isinstance(part, Contact | Jumper | Fuse) or node not in (part.a, part.b):
                continue
            if isinstance(part, Jumper) and part.setting and not jumper_in(part, kind, settings):
                continue
            far = part.b if part.a == node else part.a
            if far in seen:
                continue
            moved = self._moved(key, part) if isinstance(part, Contact) else "true"
            ways.append(_all([moved, self._reached(key, far, seen | {node})]))
        return _any(ways) if ways else "true"

    def _moved(self, key: str, contact: Contact) -> str | None:
        """When a contact is closed."""
        by = operator_of(contact, self._kind(key), self._plant.plan.devices[key].settings)
        if by is None:
            return "true" if contact.normally == "closed" else "false"
        if by == "hand":
            text: str | None = f"hand:{key}"
        elif by.startswith("coil:"):
            text = self._coil(key, by.removeprefix("coil:"))
        else:
            text = by
        return f"not ({text})" if text is not None and contact.normally == "closed" else text

    def _coil(self, key: str, name: str) -> str | None:
        coil = next(
            (part for part in self._kind(key).inside if isinstance(part, Coil | Load) and part.id == name), None
        )
        return self.of(key, coil) if coil is not None else None

    @cached_property
    def _called_by(self) -> dict[str, str]:
        """For each function, the conditions under which some device of the system calls for it."""
        found: dict[str, list[str]] = {}
        for key in self._devices:
            kind, settings = self._kind(key), self._plant.plan.devices[key].settings
            for part in kind.inside:
                by = operator_of(part, kind, settings) if isinstance(part, Contact) else None
                if not isinstance(part, Contact) or by is None or by.startswith("hand"):
                    continue
                # A cause that closes a contact calls, as defrost does; one that opens it only breaks.
                if by.startswith("cause:") and part.normally == "closed":
                    continue
                for name in self._called_at(key, part):
                    text = self._moved(key, part)
                    if text is not None and text not in found.setdefault(name, []):
                        found[name].append(text)
        return {name: _any(texts) or "" for name, texts in found.items() if texts}

    def _called_at(self, key: str, contact: Contact) -> set[str]:
        """The calls that a contact gives: of a terminal's function, or of one that it accepts where it is landed."""
        found = set()
        for node in (contact.a, contact.b):
            post = self._plant.posts.get(f"{key}.{node}")
            if post is None:
                continue
            if post.function is not None:
                found |= {post.function}
            elif post.ref in self._plant.nets:
                # What it accepts, where what it is joined to is for that: a damper's contact calls no fan.
                found |= set(post.terminal.accepts) & self._plant.nets[post.ref].meanings
        return {name for name in found if functions()[name].call}


def _all(texts: Sequence[str | None]) -> str | None:
    """All of the conditions; one that is not known does not limit."""
    known = list(dict.fromkeys(text for text in texts if text not in (None, "true")))
    if not known:
        return "true" if "true" in texts else None
    return known[0] if len(known) == 1 else " and ".join(f"({text})" for text in known)


def _any(texts: Sequence[str | None]) -> str | None:
    """Any of the conditions."""
    if "true" in texts:
        return "true"
    known = list(dict.fromkeys(text for text in texts if text is not None))
    return known[0] if len(known) == 1 else " or ".join(f"({text})" for text in known) if known else None
