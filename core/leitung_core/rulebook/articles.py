"""Citations. Rules cite the 2023 edition; what an edition calls the same rule stands in its own articles.csv."""

from __future__ import annotations

import re
from functools import cache

from leitung_core.rulebook.editions import Edition
from leitung_core.rulebook.tables import table_of


def cite(citation: str, edition: Edition) -> str:
    """The citation in the numbers of `edition`: "Table 310.16" reads "Table 310.15(B)(16)" in 2017."""
    pattern, names = _names(edition)
    return pattern.sub(lambda found: names[found.group()], citation) if pattern else citation


@cache
def _names(edition: Edition) -> tuple[re.Pattern[str] | None, dict[str, str]]:
    names = {row["rule"]: row["article"] for row in table_of(edition, "articles").rows}
    if not names:
        return None, names
    longest_first = sorted(names, key=len, reverse=True)
    # An article ends where neither a digit nor a further paragraph follows: 310.16 is not 310.161.
    pattern = r"(?<![\d.])(?:" + "|".join(re.escape(name) + r"(?![\d(])" for name in longest_first) + ")"
    return re.compile(pattern), names
