"""What somebody practises today: first what is due again, then something new, a few minutes in all."""

from __future__ import annotations

from collections import Counter, defaultdict
from collections.abc import Iterable, Iterator, Sequence
from dataclasses import dataclass
from datetime import timedelta
from itertools import islice
from random import Random

from accounts.models import User
from django.db.models import Count
from django.utils import timezone
from leitung_core.practice.model import LEVELS
from leitung_core.practice.rounds import Offer, offers
from leitung_core.practice.weights import weights
from records.models import Reading, TestEntry

from practice.grounds import ground, plans_of
from practice.making import have_made
from practice.models import PracticeAnswer, PracticeCard, PracticeRound

# Some eight rounds are ten minutes.
ROUNDS, NEW = 8, 4
LATELY = timedelta(days=365)
# Another round of a topic where the first that is drawn cannot be asked.
TRIES = 6


@dataclass(frozen=True)
class Wanted:
    """A round that somebody is to have: of which plan, what, which one."""

    plan: str
    offer: Offer
    seed: int


def today(user: User) -> list[PracticeRound]:
    """The rounds of today, made or being made, the most pressing first; those answered today are not among them."""
    return [row for wanted in _wanted(user) if (row := _round(user, wanted)).status != PracticeRound.Status.NONE]


def _round(user: User, wanted: Wanted) -> PracticeRound:
    row, created = PracticeRound.objects.get_or_create(
        company_id=user.company_id, plan=wanted.plan, level=wanted.offer.level, about=wanted.offer.about,
        seed=wanted.seed, defaults={"topic": wanted.offer.topic},
    )  # fmt: skip
    if created:
        have_made(row)
    return row


def _wanted(user: User) -> Iterator[Wanted]:
    by_topic = _offered(user)
    cards = {card.topic: card for card in PracticeCard.objects.filter(user=user) if card.topic in by_topic}
    now = timezone.now()
    due = sorted((card for card in cards.values() if card.due <= now), key=lambda card: card.due)
    again = [card.topic for card in due][:ROUNDS]
    answered = PracticeAnswer.objects.filter(user=user, at__date=timezone.localdate()).values("topic").distinct()
    room = max(0, min(NEW, ROUNDS - len(again)) - answered.count())
    for topic in again:
        wanted = _drawn(user, by_topic[topic], topic, cards[topic].rounds)
        if wanted is not None:
            yield wanted
    fresh = _new(user, [topic for topic in by_topic if topic not in cards], cards)
    drawn = (_drawn(user, by_topic[topic], topic, 0) for topic in fresh)
    yield from islice((wanted for wanted in drawn if wanted is not None), room)


def _offered(user: User) -> dict[str, list[tuple[str, Offer]]]:
    found: dict[str, list[tuple[str, Offer]]] = defaultdict(list)
    for plan in plans_of(user):
        for offer in offers(ground(plan)):
            found[offer.topic].append((plan, offer))
    return found


def _new(user: User, topics: Sequence[str], known: Iterable[str]) -> Iterator[str]:
    """Topics new to somebody: of the level least begun first; within one what goes wrong most in the crew's work."""
    worth = weights(went_wrong(user))
    begun = Counter(level_of(topic) for topic in known)
    left: dict[str, list[str]] = defaultdict(list)
    for topic in sorted(topics, key=lambda topic: -worth.get(topic.partition("/")[2], 1.0)):
        left[level_of(topic)].append(topic)
    while any(left.values()):
        level = min((level for level in LEVELS if left[level]), key=lambda level: begun[level])
        begun[level] += 1
        yield left[level].pop(0)


def level_of(topic: str) -> str:
    """The level at which a topic is practised."""
    return topic.partition("/")[0]


def went_wrong(user: User) -> dict[str, int]:
    """How many records of the company went wrong of late, by what they are."""
    since = timezone.now() - LATELY
    read = Reading.objects.filter(company_id=user.company_id, verdict="outside", at__gte=since)
    found = {f"reading {row['unit']}": row["count"] for row in read.values("unit").annotate(count=Count("id"))}
    failed = TestEntry.objects.filter(company_id=user.company_id, outcome=TestEntry.Outcome.FAILED, at__gte=since)
    return {**found, "test": failed.count()}


def _drawn(user: User, able: Sequence[tuple[str, Offer]], topic: str, rounds: int) -> Wanted | None:
    """A plan and a round of a topic, by lot; another one where that cannot be asked, and none after some tries."""
    for tried in range(TRIES):
        random = Random(f"{user.id} {topic} {rounds} {tried}")  # noqa: S311 a lot
        plan, offer = random.choice(able)
        wanted = Wanted(plan, offer, rounds * TRIES + tried)
        none = PracticeRound.objects.filter(
            company_id=user.company_id, plan=plan, level=offer.level, about=offer.about, seed=wanted.seed,
            status=PracticeRound.Status.NONE,
        )  # fmt: skip
        if not none.exists():
            return wanted
    return None
