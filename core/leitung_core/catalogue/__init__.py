"""Models of units: those that ship, and the open CSV list in which plates are brought in."""

from leitung_core.catalogue.models import Model, shipped_models
from leitung_core.catalogue.plates import COLUMNS, read_plates, write_plates

__all__ = ["COLUMNS", "Model", "read_plates", "shipped_models", "write_plates"]
