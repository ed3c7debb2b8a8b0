"""Code tables as cited data, and the rulebook that answers from them."""

from leitung_core.rulebook.book import Rulebook, rulebook
from leitung_core.rulebook.editions import editions
from leitung_core.rulebook.schools import Amendment, choose_schools, known_amendments, schools

__all__ = ["Amendment", "Rulebook", "choose_schools", "editions", "known_amendments", "rulebook", "schools"]
