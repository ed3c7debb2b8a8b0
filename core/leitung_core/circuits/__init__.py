"""One dedicated circuit per unit: load, device, conductors, ends."""

from leitung_core.circuits.result import CircuitResult
from leitung_core.circuits.size import size, size_document

__all__ = ["CircuitResult", "size", "size_document"]
