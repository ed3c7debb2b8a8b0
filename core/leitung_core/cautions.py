"""The sentence that stands wherever the work can hurt someone, on every screen, sheet and command."""

from __future__ import annotations

WHO = "Qualified and licensed persons only."
QUALIFIED = f"{WHO} The adopted code, its local amendments and the local authority decide."
