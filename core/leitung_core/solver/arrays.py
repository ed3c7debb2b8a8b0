"""The arrays of the solver, and up to how many variants each is better taken by itself than all at once."""

from __future__ import annotations

import numpy as np
import numpy.typing as npt

Floats = npt.NDArray[np.float64]
Complex = npt.NDArray[np.complex128]
Bools = npt.NDArray[np.bool_]
Ints = npt.NDArray[np.int64]

FEW = 6
