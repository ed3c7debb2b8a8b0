"""Code tables as cited data, and the rulebook that answers from them."""

from leitung_core.rulebook.book import EDITIONS, Rulebook, rulebook
from leitung_core.rulebook.schools import Amendment, choose_schools, known_amendments, schools

__all__ = ["EDITIONS", "Amendment", "Rulebook", "choose_schools", "known_amendments", "rulebook", "schools"]
