"""A plan of the week made better: some of its tasks are taken out and put down anew, and what is better stays."""

from __future__ import annotations

import random
import time
from collections.abc import Callable, Iterator, Sequence

from leitung_core.week.document import Week
from leitung_core.week.greedy import Taste, by_hand
from leitung_core.week.measure import Put, measured

VISIT_MIN = (0, 60, 240, 600, 1440, 2880)
SEED = 7
# So many times in a row nothing better: it is enough.
PATIENCE = 300


def better(week: Week, puts: list[Put], until: float, stop: Callable[[], bool]) -> Iterator[list[Put]]:
    """Each better plan as it is found, until an hour of the monotonic clock. `puts` keep every rule of the week."""
    chance, best = random.Random(SEED), goals(week, puts)  # noqa: S311  # no secret
    names = [*sorted({task.site for task in week.tasks}), *(person.id for person in week.people)]
    tries = 0
    while tries < PATIENCE and time.monotonic() < until and not stop():
        tries += 1
        fixed = _kept(week, puts, chance)
        taste = Taste(chance.choice(VISIT_MIN), {name: chance.random() for name in names})
        found = by_hand(week, fixed, taste)
        if found is None:
            continue
        reached = goals(week, found)
        if reached <= best:
            if reached < best:
                tries = 0
                yield found
            puts, best = found, reached


def goals(week: Week, puts: Sequence[Put]) -> tuple[int, int, int]:
    """What is wanted of a plan, in its order."""
    found = measured(week, puts)
    return found.visits, found.idle_min, found.end_sum_min


def _kept(week: Week, puts: list[Put], chance: random.Random) -> list[Put]:
    """What stays where it is: all but one or two sites, or all but some days of somebody, or all but some tasks."""
    site = {task.id: task.site for task in week.tasks}
    way = chance.randrange(4)
    if way == 0:
        out = set(chance.sample(sorted(set(site.values())), k=min(len(set(site.values())), chance.randint(1, 2))))
        return [put for put in puts if site[put.task] not in out]
    if way == 1:
        person, days = chance.choice(week.people).id, set(chance.sample(week.days, k=min(2, len(week.days))))
        return [put for put in puts if person not in put.people or put.day not in days]
    if way == 2:
        place, days = chance.choice(puts), set(chance.sample(week.days, k=min(2, len(week.days))))
        return [put for put in puts if site[put.task] != site[place.task] or put.day not in days]
    share = chance.uniform(0.1, 0.5)
    return [put for put in puts if chance.random() > share]
