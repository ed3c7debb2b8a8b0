"""Citations. Rules cite the 2023 edition; what the same rule is called in an older one stands in one table."""

from __future__ import annotations

import re
from functools import cache

from leitung_core.rulebook.tables import read_table


def cite(citation: str, edition: str) -> str:
    """The citation in the numbers of `edition`: "Table 310.16" reads "Table 310.15(B)(16)" in 2017."""
    if edition == "us-2023":
        return citation
    pattern, names = _names(edition)
    return pattern.sub(lambda found: names[found.group()], citation)


@cache
def _names(edition: str) -> tuple[re.Pattern[str], dict[str, str]]:
    names = {row["us-2023"]: row[edition] for row in read_table("articles").rows}
    longest_first = sorted(names, key=len, reverse=True)
    # An article ends where neither a digit nor a further paragraph follows: 310.16 is not 310.161.
    return re.compile("|".join(re.escape(name) + r"(?![\d(])" for name in longest_first)), names
