"""How often what nothing holds any more is looked for."""

import gc


def rarely() -> None:
    """Results that are kept and pages that are laid out hold few cycles: going through them often only takes time."""
    gc.set_threshold(400_000, 10, 100)
