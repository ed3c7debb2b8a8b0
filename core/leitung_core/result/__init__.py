"""The result of a plan: everything computed from it, once. Screens, prints and commands draw what it says."""

from leitung_core.result.brief import Brief, check_and_brief
from leitung_core.result.check import PlanResult, SourceLines, check_plan, check_plant, heater_watts
from leitung_core.result.lines import DrawnLine, PartOfLine

__all__ = [
    "Brief",
    "DrawnLine",
    "PartOfLine",
    "PlanResult",
    "SourceLines",
    "check_and_brief",
    "check_plan",
    "check_plant",
    "heater_watts",
]
