"""The plans of the demo, and of many tests: a museum's plant and three small installs. All names are invented.

They hold a few honest mistakes for Leitung to find.
"""

from leitung_demo.museum import museum
from leitung_demo.small import kiosk, loft, workshop

__all__ = ["kiosk", "loft", "museum", "workshop"]
