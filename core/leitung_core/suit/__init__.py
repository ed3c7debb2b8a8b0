"""Does the unit suit the job (domain 1.4): heater against room, steam against the air's need, loads on one branch."""

from leitung_core.suit.branch import BranchQuestion, branch_answer
from leitung_core.suit.heat import HeatQuestion, heat_answer
from leitung_core.suit.steam import SteamQuestion, steam_answer
from leitung_core.suit.verdict import Answer

__all__ = [
    "Answer",
    "BranchQuestion",
    "HeatQuestion",
    "SteamQuestion",
    "branch_answer",
    "heat_answer",
    "steam_answer",
]
