"""A catalogue model: a unit's kind and plate under a maker's and a model's name. Makers and models are invented."""

from __future__ import annotations

from functools import cache
from importlib.resources import files

from leitung_core.circuits.spec import Kind, Nameplate
from leitung_core.validation import Entered, Text


class Model(Entered):
    """One model. `cord_connected` and `heat_with_cooling` are those of the model as it is sold."""

    maker: Text
    model: Text
    kind: Kind
    name: Text | None = None
    cord_connected: bool | None = None
    heat_with_cooling: bool | None = None
    nameplate: Nameplate


@cache
def shipped_models() -> tuple[Model, ...]:
    """The models that come with Leitung: the same list format that anyone can bring in."""
    from leitung_core.catalogue.plates import read_plates

    return tuple(read_plates(files("leitung_core.catalogue").joinpath("models.csv").read_text("utf-8")))
