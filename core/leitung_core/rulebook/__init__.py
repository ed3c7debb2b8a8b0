"""Code tables as cited data, and the rulebook that answers from them."""

from leitung_core.rulebook.book import Rulebook, rulebook

__all__ = ["Rulebook", "rulebook"]
