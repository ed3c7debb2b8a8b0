"""A photo made readable: opened, turned as it was held, its light evened out, set straight, and brought to a size."""

from __future__ import annotations

from dataclasses import dataclass

import cv2
import numpy as np
import numpy.typing as npt
from PIL import ImageOps

from leitung_core.errors import Problem
from leitung_core.pictures import opened, refuse_above

Pixels = npt.NDArray[np.uint8]
LARGEST_BYTES = 25_000_000
KINDS = ("PNG", "JPEG", "HEIF", "MPO")
WIDE = 1900  # to which a picture's longer side is brought: text of a plate is then 25 to 40 pixels tall
STEEPEST = 8.0  # degrees


@dataclass(frozen=True)
class Treated:
    """Grey values ready to be read, and the way back: from a point in them to the picture as it is seen."""

    grey: Pixels
    back: npt.NDArray[np.float64]

    def box(self, left: float, top: float, width: float, height: float) -> list[int]:
        """A box of these as a box [x, y, w, h] of the picture as it is seen."""
        corners = np.array([[left, top], [left + width, top], [left, top + height], [left + width, top + height]])
        seen = corners @ self.back[:, :2].T + self.back[:, 2]
        (x, y), (far_x, far_y) = seen.min(axis=0), seen.max(axis=0)
        return [max(0, round(float(x))), max(0, round(float(y))), round(float(far_x - x)), round(float(far_y - y))]


def open_picture(raw: bytes, name: str = "picture") -> Pixels:
    """The grey values of a PNG, JPEG or HEIC, turned as it was held. Raises InputError for anything else."""
    refuse_above(LARGEST_BYTES, raw, "picture")
    refusal = Problem("picture", name, "is no picture that can be opened", "Send a PNG, a JPEG or a HEIC.")
    with opened(raw, KINDS, refusal) as image:
        turned = ImageOps.exif_transpose(image).convert("L")
    return np.asarray(turned)


def treated(seen: Pixels, turns: int = 0) -> Treated:
    """The picture after a number of quarter turns (to the left): evened out, straight, of a size to be read."""
    height, width = seen.shape
    to_turned = [
        np.array([[1, 0, 0], [0, 1, 0]]), np.array([[0, 1, 0], [-1, 0, width - 1]]),
        np.array([[-1, 0, width - 1], [0, -1, height - 1]]), np.array([[0, -1, height - 1], [1, 0, 0]]),
    ][turns].astype(float)  # fmt: skip
    turned = np.ascontiguousarray(np.rot90(seen, turns))
    scale = WIDE / max(turned.shape)
    way = cv2.INTER_CUBIC if scale > 1 else cv2.INTER_AREA
    sized = cv2.resize(turned, None, fx=scale, fy=scale, interpolation=way)
    even = _evened(np.asarray(sized, np.uint8))
    angle = _slant(even)
    centre = (sized.shape[1] / 2, sized.shape[0] / 2)
    rotate = cv2.getRotationMatrix2D(centre, angle, 1.0)
    straight = cv2.warpAffine(
        even, rotate, (sized.shape[1], sized.shape[0]), flags=cv2.INTER_CUBIC, borderMode=cv2.BORDER_REPLICATE
    )
    straight = _without_frames(straight.astype(np.uint8))
    forward = _joined(np.asarray(rotate, float), _joined(np.array([[scale, 0, 0], [0, scale, 0]]), to_turned))
    return Treated(straight, np.asarray(cv2.invertAffineTransform(forward), float))


def black_and_white(even: Pixels) -> Pixels:
    """Ink and metal, each part of the plate by its own light: another way of looking than the grey values."""
    quiet = cv2.medianBlur(even, 3)
    return cv2.adaptiveThreshold(quiet, 255, cv2.ADAPTIVE_THRESH_GAUSSIAN_C, cv2.THRESH_BINARY, 41, 14).astype(np.uint8)


def _joined(second: npt.NDArray[np.float64], first: npt.NDArray[np.float64]) -> npt.NDArray[np.float64]:
    whole = np.vstack([second, [0, 0, 1]]) @ np.vstack([first, [0, 0, 1]])
    found: npt.NDArray[np.float64] = whole[:2]
    return found


def _evened(grey: Pixels) -> Pixels:
    """Noise taken out, and shadow and glare divided by the light around each point."""
    noise = _noise(grey)
    quiet = cv2.fastNlMeansDenoising(grey, None, float(np.clip(2 * noise, 6, 40)), 5, 13) if noise > 3 else grey
    light = cv2.GaussianBlur(cv2.dilate(quiet, np.ones((9, 9), np.uint8)), (0, 0), 25)
    flat = cv2.divide(quiet, light, scale=235)
    low, high = float(flat.min()), float(flat.max())
    return np.asarray((flat - low) * (255 / max(high - low, 1.0)), dtype=np.uint8)


def _without_frames(grey: Pixels) -> Pixels:
    """Long straight lines painted out: frames and rules of a table hide the words in them."""
    ink = (grey < 130).astype(np.uint8) * 255
    long = WIDE // 14
    lines = cv2.bitwise_or(
        cv2.morphologyEx(ink, cv2.MORPH_OPEN, np.ones((1, long), np.uint8)),
        cv2.morphologyEx(ink, cv2.MORPH_OPEN, np.ones((long, 1), np.uint8)),
    )
    thick = cv2.dilate(lines, np.ones((5, 5), np.uint8))
    return np.where(thick > 0, np.uint8(235), grey)


def _noise(grey: Pixels) -> float:
    """The spread of what differs from its neighbours by chance, grey values."""
    rough = cv2.Laplacian(grey, cv2.CV_64F)
    return float(np.median(np.abs(rough))) / 0.6745 / 4.47


def _slant(grey: Pixels) -> float:
    """The angle by which lines of text are off the level, degrees: at it the rows of ink are sharpest."""
    small = cv2.resize(grey, None, fx=0.4, fy=0.4, interpolation=cv2.INTER_AREA)
    ink = (small < 110).astype(np.float32)
    centre = (small.shape[1] / 2, small.shape[0] / 2)

    def sharpness(angle: float) -> float:
        turn = cv2.getRotationMatrix2D(centre, angle, 1.0)
        rows = cv2.warpAffine(ink, turn, (small.shape[1], small.shape[0])).sum(axis=1)
        return float(np.square(np.diff(rows)).sum())

    coarse = max(np.arange(-STEEPEST, STEEPEST + 0.1, 1.0), key=sharpness)
    return float(max(np.arange(coarse - 0.8, coarse + 0.9, 0.2), key=sharpness))
