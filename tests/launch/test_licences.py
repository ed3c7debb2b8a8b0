"""Which licences a part may have."""

from __future__ import annotations

import pytest

from scripts.licences import Part


@pytest.mark.parametrize(
    ("licences", "may"),
    [
        (["MIT"], True), (["MPL-2.0 AND (Apache-2.0 OR MIT)"], True), (["GPL-3.0-only"], False),
        (["MIT OR GPL-3.0"], True),
        (["MIT AND GPL-3.0"], False), (["GNU General Public License v2", "Mozilla Public License 1.1"], True),
        (["AGPL-3.0"], False), ([""], False), ([], False), (["Commercial"], False),
    ],
)  # fmt: skip
def test_a_licence_that_binds_all_beside_it_is_refused(licences: list[str], may: bool) -> None:
    assert Part("part", "1.0", licences).may == may
