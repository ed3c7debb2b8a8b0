"""Changes to a company's catalogue as named actions: add, bring a list, take out."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from decimal import Decimal
from uuid import UUID

from accounts.models import Company, User
from django.db import transaction
from leitung_core.catalogue import Model, read_plates, shipped_models
from leitung_core.errors import InputError, Problem
from leitung_core.loadout.prices import read_prices
from problems import Refused, not_found

from catalogue.models import OwnModel, OwnPrice

MOST = 5000


def _key(maker: str, model: str) -> tuple[str, str]:
    return maker.lower(), model.lower()


def taken(user: User) -> set[tuple[str, str]]:
    """The names that the catalogue has already, shipped and own."""
    own = OwnModel.objects.filter(company_id=user.company_id).values_list("maker", "model")
    return {_key(model.maker, model.model) for model in shipped_models()} | {_key(*names) for names in own}


@transaction.atomic
def add(user: User, models: Sequence[Model]) -> list[OwnModel]:
    """Add models. Raises InputError naming every one that the catalogue has already; nothing is half taken."""
    known = taken(user)
    twice = [model for model in models if _key(model.maker, model.model) in known]
    if twice:
        remedy = "Give it another model name, or take the old one out first."
        raise InputError(
            *(
                Problem("model", f"{model.maker} {model.model}", "is in the catalogue already", remedy)
                for model in twice
            )
        )
    if OwnModel.objects.filter(company_id=user.company_id).count() + len(models) > MOST:
        raise Refused(409, "full", f"The catalogue holds {MOST} models of your own at most. Take some out first.")
    rows = [
        OwnModel(
            company_id=user.company_id,
            maker=model.maker,
            model=model.model,
            data=model.model_dump(mode="json", exclude_none=True),
            added_by=user,
        )
        for model in models
    ]
    return OwnModel.objects.bulk_create(rows)


def bring(user: User, text: str) -> list[OwnModel]:
    """Add every model of a CSV list, or none."""
    return add(user, read_plates(text))


@transaction.atomic
def take_out(user: User, model_id: UUID) -> None:
    """Take an own model out. Units that were planned with it keep their plates."""
    done, _ = OwnModel.objects.filter(company_id=user.company_id, id=model_id).delete()
    if not done:
        raise not_found()


def prices_of(company: Company) -> Mapping[str, Decimal]:
    """The prices of a company, by the key of the item."""
    return dict(OwnPrice.objects.filter(company=company).values_list("key", "price"))


@transaction.atomic
def bring_prices(user: User, text: str) -> int:
    """Keep the prices of a CSV list; how many. Those of other items stay. Raises InputError for every wrong line."""
    rows = [OwnPrice(company_id=user.company_id, key=price.key, item=price.item, price=price.price)
            for price in read_prices(text)]  # fmt: skip
    Company.objects.select_for_update().get(id=user.company_id)
    mine = OwnPrice.objects.filter(company_id=user.company_id)
    if mine.exclude(key__in=[row.key for row in rows]).count() + len(rows) > MOST:
        raise Refused(409, "full", f"{MOST} prices are kept at most. Bring fewer.")
    OwnPrice.objects.bulk_create(rows, update_conflicts=True, unique_fields=["company", "key"],
                                 update_fields=["item", "price", "at"])  # fmt: skip
    return len(rows)
