"""The result of a plan: everything computed from it, once. Screens, prints and commands draw what it says."""

from leitung_core.result.check import PlanResult, SourceLines, check_plan, heater_watts
from leitung_core.result.lines import DrawnLine, PartOfLine

__all__ = ["DrawnLine", "PartOfLine", "PlanResult", "SourceLines", "check_plan", "heater_watts"]
