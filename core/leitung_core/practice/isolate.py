"""What has to be open before a hand goes in, as a question: the isolators at hand, and each least set that will do."""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from functools import lru_cache
from itertools import combinations

from leitung_core.commissioning.live_ways import Isolator, Ways
from leitung_core.commissioning.lockout import lock_out
from leitung_core.plant.plant import Plant
from leitung_core.practice.model import Choice, Mend

MOST_OPTIONS, LARGEST_SET = 8, 4


@lru_cache(maxsize=256)
def mend_at(plant: Plant, device: str, hands: tuple[str, ...]) -> Mend | None:
    """The question for one device; `hands`: what else is near to be switched, `hand:DEVICE`.

    None where the plan does not say enough, or where something there stays live whatever is opened.
    """
    touched = [post.ref for post in plant.posts_of(device)] if device in plant.types else []
    if not touched:
        return None
    found = lock_out(plant, [device])
    if not found.proved or not found.open:
        return None
    ways = Ways(plant)
    named = [name.removeprefix("hand:") for name in hands] + [opened.device for opened in found.open]
    options = [key for key in ways.through if key.name in named]
    least = {opened.device for opened in found.open}
    options.sort(key=lambda key: (key.name not in least, named.index(key.name)))
    options = sorted(options[:MOST_OPTIONS], key=lambda key: key.name)
    safe = list(_least_sets(ways, touched, options))
    if not safe:
        return None
    return Mend(
        device=device,
        options=[Choice(id=key.name, says=_says(plant, key)) for key in options],
        safe=[[key.name for key in each] for each in safe],
        harm=_harm(plant, device, options),
    )


def _least_sets(ways: Ways, touched: Iterable[str], options: Sequence[Isolator]) -> Iterable[tuple[Isolator, ...]]:
    """The sets of isolators that part what is touched from every supply, none larger than it needs to be."""
    wanted = set(touched)
    found: list[tuple[Isolator, ...]] = []
    for size in range(1, LARGEST_SET + 1):
        for each in combinations(options, size):
            if not any(set(less) <= set(each) for less in found) and wanted.isdisjoint(ways.live(each)):
                found.append(each)
    return found


def _says(plant: Plant, key: Isolator) -> str:
    device = plant.plan.devices.get(key.name)
    source = plant.plan.sources.get(key.name)
    name = (device and device.name) or (source and source.name) or ""
    kind = {"breaker": "breaker", "disconnect": "disconnect", "plug": "plug", "source": "source"}[key.kind]
    called = f"{key.name}, {name}" if name and name != key.name else key.name
    return f"{called} ({kind})" if kind not in called else called


def _harm(plant: Plant, device: str, options: Iterable[Isolator]) -> str:
    """What is there with nothing open: the volts of the lines that end there, or are opened for it."""
    near = {device, *(key.name for key in options)}
    lines = [line for line, devices in plant.index.devices_of_line.items() if line and near.intersection(devices)]
    sources = (plant.plan.sources.get(plant.plan.circuits[line].source or "") for line in lines)
    volts = max((source.volts for source in sources if source and source.volts), default=None)
    most = f"up to {volts:g} V" if volts else "at line volts"
    return f"Something at {device} can still be live, {most}: it can kill."
