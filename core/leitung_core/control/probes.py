"""Where a meter's two leads go: the terminals of a device against its common, its line against its return."""

from __future__ import annotations

from leitung_core.catalogue.functions import functions
from leitung_core.control.system import System
from leitung_core.elements.vocabulary import Load
from leitung_core.plant.plant import Post

Pair = tuple[str, str]
LINES = ("line-1", "line-2", "line-3")
CONTROL = ("low", "dry", "sense", "data", "signal")


def pairs_of(system: System) -> tuple[Pair, ...]:
    """Every pair of terminals that is worth a reading, device by device, as the strips hang."""
    found: list[Pair] = []
    for key in system.devices:
        if system.plant.types[key].group in ("panel", "joint"):
            continue
        posts = [post for post in system.plant.posts_of(key) if _in_use(system, post)]
        found += _control(posts)
        found += _line(posts)
    return tuple(dict.fromkeys([*found, *signal_pairs(system)]))


def signal_pairs(system: System) -> tuple[Pair, ...]:
    """Where a meter reads direct current, plus first: the inputs that hear a signal of one polarity."""
    return tuple(
        pair for key in system.devices for part in system.plant.types[key].inside
        if isinstance(part, Load) and part.is_polar
        and system.built_ends.issuperset(pair := (f"{key}.{part.a}", f"{key}.{part.b}"))
    )  # fmt: skip


def not_live(post: Post) -> str | None:
    """Why no reading is taken at a terminal with the power on; None where it may be."""
    return functions()[post.function].not_live if post.function else None


def _in_use(system: System, post: Post) -> bool:
    return bool(system.plant.on.get(post.ref)) or post.ref in system.built_ends


def _control(posts: list[Post]) -> list[Pair]:
    """Each control terminal of a strip against the device's common; without one, against the strip's first."""
    control = [post for post in posts if post.kind in CONTROL]
    common = next((post for post in control if post.function == "common"), None)
    found: list[Pair] = []
    for strip in dict.fromkeys(post.strip.id for post in control):
        here = [post for post in control if post.strip.id == strip]
        against = common or here[0]
        found += [(post.ref, against.ref) for post in here if post is not against]
        if common is not None and common not in here:
            found += [(post.ref, here[0].ref) for post in here[1:]]
    return found


def _line(posts: list[Post]) -> list[Pair]:
    """The line terminals against the return, the other legs, and ground."""
    found: list[Pair] = []
    for strip in dict.fromkeys(post.strip.id for post in posts if post.kind == "line"):
        here = [post for post in posts if post.kind == "line" and post.strip.id == strip and not not_live(post)]
        ground = next((post for post in posts if post.kind == "ground"), None)
        found += [(one.ref, two.ref) for i, one in enumerate(here) for two in here[i + 1 :]]
        if ground is not None:
            found += [(one.ref, ground.ref) for one in here if one.function in (*LINES, None)]
    return found
