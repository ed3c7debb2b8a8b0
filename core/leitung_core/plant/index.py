"""What belongs to what in a plan, looked up by name: devices of a unit, a line or a panel, cables at a device."""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Iterable, Iterator, Mapping
from functools import cached_property

from leitung_core.plan.model import Plan, feeders_above, feeding

Names = Mapping[str | None, list[str]]


class Index:
    """Each look-up gives names in the plan's order; what nothing belongs to is not in it."""

    def __init__(self, plan: Plan) -> None:
        self._plan = plan

    @cached_property
    def fed_by(self) -> Mapping[str, str]:
        """For each source that is fed, the line that feeds it."""
        return feeding(self._plan)

    def feeders_above(self, source_id: str | None) -> Iterator[str]:
        """The feeders between a source and the supply, nearest first."""
        return feeders_above(self._plan, source_id, self.fed_by)

    @cached_property
    def devices_of_unit(self) -> Names:
        return _grouped((device.equipment, key) for key, device in self._plan.devices.items())

    @cached_property
    def devices_of_line(self) -> Names:
        return _grouped((device.circuit, key) for key, device in self._plan.devices.items())

    @cached_property
    def devices_in_panel(self) -> Names:
        return _grouped((device.source, key) for key, device in self._plan.devices.items())

    @cached_property
    def cables_at(self) -> Names:
        """The cables that end at a device."""
        cables = self._plan.cables.items()
        return _grouped((device, key) for key, cable in cables for device in {cable.a.device, cable.b.device})

    @cached_property
    def cables_of_line(self) -> Names:
        return _grouped((cable.circuit, key) for key, cable in self._plan.cables.items())


def _grouped(pairs: Iterable[tuple[str | None, str]]) -> Names:
    found: defaultdict[str | None, list[str]] = defaultdict(list)
    for owner, name in pairs:
        if owner is not None:
            found[owner].append(name)
    return dict(found)
