"""Areas of a picture: a map of labels that says to which zone each place belongs; proposed, measured, changed.

A map is one byte for each pixel of a picture brought down to `LONGEST`; 0 belongs to no zone. Every function that
changes a map gives a new one.
"""

from collections.abc import Sequence
from dataclasses import dataclass

import cv2
import numpy as np
from numpy.typing import NDArray

from caltin_core.colour.difference import chroma, delta_e_2000, hue_apart
from caltin_core.colour.tables import Floats
from caltin_core.errors import BadRequest
from caltin_core.reference.beyond import gaps_of, hair_of, hair_parts, worth
from caltin_core.skin.complexion import blood_map
from caltin_core.skin.find import LONGEST as FIND_LONGEST
from caltin_core.skin.find import Mask, Skin, blurred, find_skin, opened, smoothed

Labels = NDArray[np.uint8]

LONGEST = 640
MOST_AREAS = 60
SKIN_ROLES = ("highlight", "light", "base", "half_tone", "shadow", "deepest_accent")
OTHER_LIGHT = "reflected_light"
_FEW_ROLES = ("light", "base", "half_tone", "shadow")
_FLAT = 16.0
# What turns so many degrees of hue from what is lit, both stronger than this C*, has its light from something else.
_TURNED, _HUED = 60.0, 8.0
_SPECK, _FLUSH = 0.003, 0.006
_MOST_FLUSH = 0.4
# What L*, a* and b* count where zones are parted.
_VALUE_FIRST = np.array([1, 0.6, 0.6], dtype=np.float32)
# Clusters are sought from so many beginnings, or a picture that is hardly another is parted elsewhere.
_BEGUN = 16
_SURE = 0.45


@dataclass(frozen=True)
class Area:
    """One proposed zone: its label in the map, its role, and why it wants a look (empty when it does not)."""

    label: int
    role: str
    flagged: str = ""


@dataclass(frozen=True)
class Proposal:
    """The map and its areas."""

    labels: Labels
    areas: tuple[Area, ...]


@dataclass(frozen=True)
class Measured:
    """What is read of one area: mean colour (3,) in CIELAB, spread (median ΔE00 to it), share of all zones' area and of the
    whole map, a place well inside it (map pixels), and the labels it touches with the length of the border (map pixels)."""

    label: int
    lab: Floats
    spread: float
    share: float
    covers: float
    x: int
    y: int
    parts: int
    neighbours: dict[int, int]


def map_size(width: int, height: int) -> tuple[int, int]:
    """Width and height of the map of a picture."""
    scale = min(1.0, LONGEST / max(width, height))
    return max(1, round(width * scale)), max(1, round(height * scale))


def fitted(lab: Floats, size: tuple[int, int]) -> Floats:
    """A picture averaged down (or up) to `size` (width, height)."""
    return np.asarray(cv2.resize(np.asarray(lab, dtype=np.float32), size, interpolation=cv2.INTER_AREA), dtype=np.float32)


def skin_of(lab: Floats, touched: tuple[float, float] | None = None) -> Skin:
    """The skin of a picture (h, w, 3), looked for in a smaller copy and brought to the picture's own size."""
    height, width = lab.shape[:2]
    scale = min(1.0, FIND_LONGEST / max(height, width))
    small = fitted(lab, (max(8, round(width * scale)), max(8, round(height * scale))))
    found = find_skin(small, touched)

    def grown(mask: Mask) -> Mask:
        out: Mask = cv2.resize(mask.astype(np.float32), (width, height), interpolation=cv2.INTER_LINEAR) > 0.5
        return out

    return Skin(grown(found.mask), grown(found.rough), None if found.figure is None else grown(found.figure), found.confidence)


def doubt(skin: Skin) -> str:
    """What the artist is asked about the skin that was found; empty where it is sure."""
    if skin.confidence == 0.0:
        return "No skin was found by its colour. Touch it once; until then zones go by value alone."
    return "" if skin.confidence >= _SURE else "Is this all of the skin, and nothing else? If not, touch the skin once."


def propose(lab: Floats, touched: tuple[float, float] | None = None, skin: Skin | None = None) -> Proposal:
    """Zones of the skin by value and hue, following the form, and the places beyond the skin that can be told.

    `lab` (h, w, 3) has the size of the map; `skin` is its skin where that is known already. Without any skin the whole
    picture is parted by value, and the artist is asked for one touch.
    """
    skin = skin or skin_of(lab, touched)
    soft = smoothed(smoothed(lab))
    labels: Labels = np.zeros(lab.shape[:2], dtype=np.uint8)
    unsure = doubt(skin) if touched is None else ""
    if skin.confidence == 0.0:
        areas = _by_value(soft, np.ones(labels.shape, dtype=bool), labels)
        return Proposal(labels, tuple(Area(a.label, a.role, "only by value") for a in areas))
    hair = hair_of(lab, skin)
    bare = skin.mask & ~hair
    flush = _flush(lab, bare)
    areas = [Area(a.label, a.role, unsure if a.role == "base" else "") for a in _by_value(soft, bare & ~flush, labels)]
    if flush.any():
        areas.append(Area(max(a.label for a in areas) + 1, "flush"))
        labels[flush] = areas[-1].label
    taken: Mask = np.zeros(labels.shape, dtype=bool)
    for feature in (*hair_parts(lab, hair), *gaps_of(lab, bare)):
        free = feature.mask & ~taken
        if len(areas) < MOST_AREAS and worth(free, bare):
            areas.append(Area(int(labels.max()) + 1, feature.role, feature.asks))
            labels[free] = areas[-1].label
            taken |= free
    # Lips may be all that a flush was.
    return Proposal(labels, tuple(a for a in areas if (labels == a.label).any()))


def _by_value(soft: Floats, mask: Mask, labels: Labels) -> list[Area]:
    """Part a mask into zones of unlike value and hue, from light to dark, and write them into `labels`."""
    rows = np.nonzero(mask)
    colours = soft[rows].astype(np.float32)
    low, high = np.quantile(colours[:, 0], [0.02, 0.98])
    roles = SKIN_ROLES if high - low >= _FLAT else _FEW_ROLES
    cv2.setRNGSeed(1)
    some = colours[:: max(1, len(colours) // 20_000)] * _VALUE_FIRST
    _, _, middles = cv2.kmeans(some, len(roles), None, (3, 30, 0.2), _BEGUN, cv2.KMEANS_PP_CENTERS)  # type: ignore[call-overload]
    middles = middles[np.argsort(-middles[:, 0])]
    apart = ((colours[:, None, :] * _VALUE_FIRST - middles[None]) ** 2).sum(axis=2)
    labels[rows] = apart.argmin(axis=1) + 1
    _settle(labels, mask)
    named = _named(middles / _VALUE_FIRST, roles)
    return [Area(index + 1, role) for index, role in enumerate(named) if (labels == index + 1).any()]


def _named(tones: Floats, roles: Sequence[str]) -> list[str]:
    """The roles of zones of these tones (n, 3), from light to dark. Between two lights of unlike hue the base is the zone that has
    the hue of what is lit, though one that the other light reaches be lighter: that one is reflected light (common practice)."""
    out, at = list(roles), roles.index("base")
    lit = tones[:at].mean(axis=0)

    def turned(tone: Floats) -> bool:
        hued = min(float(chroma(lit)), float(chroma(tone))) > _HUED
        return hued and float(hue_apart(lit, tone)) > _TURNED

    if turned(tones[at]) and not turned(tones[at + 1]):
        out[at : at + 2] = OTHER_LIGHT, "base"
    return out


def _settle(labels: Labels, mask: Mask) -> None:
    """Smooth the borders and give specks to what lies around them."""
    size = max(3, round(0.008 * max(mask.shape)) | 1)
    votes = [blurred(labels == label, size / 2) for label in range(1, int(labels.max()) + 1)]
    labels[mask] = (np.argmax(votes, axis=0) + 1).astype(np.uint8)[mask]
    least = _SPECK * mask.sum()
    for label in range(1, len(votes) + 1):
        many, part, sizes, _ = cv2.connectedComponentsWithStats((labels == label).astype(np.uint8))
        for index in range(1, many):
            if sizes[index, cv2.CC_STAT_AREA] < least:
                here = part == index
                around = (cv2.dilate(here.astype(np.uint8), np.ones((3, 3), np.uint8)) > 0) & ~here
                near = labels[around]
                near = near[near > 0]
                labels[here] = int(np.bincount(near).argmax()) if near.size else label


def _flush(lab: Floats, mask: Mask) -> Mask:
    """The flush places of a skin (h, w): clearly more blood than the skin of that lightness, in light and mid-tone."""
    nowhere: Mask = np.zeros(mask.shape, dtype=bool)
    size = max(3, round(0.02 * max(mask.shape)))
    more = blurred(blood_map(lab, mask), size / 2)
    inner = cv2.erode(mask.astype(np.uint8), np.ones((size // 2, size // 2), np.uint8)) > 0
    if not inner.any():
        return nowhere
    bound = max(0.10, 1.2 * float(np.std(more[inner])))
    lit = lab[..., 0] > float(np.quantile(lab[..., 0][mask], 0.3))
    many, part, sizes, _ = cv2.connectedComponentsWithStats(opened(inner & lit & (more > bound), 5).astype(np.uint8))
    keep = [i for i in range(1, many) if sizes[i, cv2.CC_STAT_AREA] > _FLUSH * mask.sum()]
    found: Mask = np.isin(part, keep)
    # Blood over most of the lit skin is its complexion, not a flush.
    return found if keep and found.sum() < _MOST_FLUSH * (mask & lit).sum() else nowhere


def measure(labels: Labels, lab: Floats) -> list[Measured]:
    """Read every area of a map from a picture of its size, D50 CIELAB (h, w, 3), in the order of labels."""
    present = [int(v) for v in np.unique(labels) if v]
    whole = max(int((labels > 0).sum()), 1)
    borders = _borders(labels)
    out = []
    for label in present:
        mask = labels == label
        pixels = lab[mask].astype(float)
        mean = pixels.mean(axis=0)
        some = pixels[:: max(1, len(pixels) // 4000)]
        x, y = inside_of(mask)
        touching = {(b if a == label else a): count for (a, b), count in borders.items() if label in (a, b)}
        out.append(
            Measured(
                label, mean, float(np.median(delta_e_2000(mean, some))), float(mask.sum()) / whole, float(mask.mean()), x, y,
                cv2.connectedComponents(mask.astype(np.uint8))[0] - 1, touching,
            )
        )  # fmt: skip
    return out


def inside_of(mask: Mask) -> tuple[int, int]:
    """The pixel (x, y) of a mask that lies furthest from its border."""
    padded = np.pad(mask.astype(np.uint8), 1)
    depth = cv2.distanceTransform(padded, cv2.DIST_L2, 3)[1:-1, 1:-1]
    y, x = np.unravel_index(int(depth.argmax()), depth.shape)
    return int(x), int(y)


def _borders(labels: Labels) -> dict[tuple[int, int], int]:
    """Length of the border, in pixel sides, between each two labels that touch; 0 is no label."""
    out: dict[tuple[int, int], int] = {}
    for one, other in ((labels[:, :-1], labels[:, 1:]), (labels[:-1], labels[1:])):
        unlike = (one != other) & (one > 0) & (other > 0)
        low, high = np.minimum(one[unlike], other[unlike]), np.maximum(one[unlike], other[unlike])
        pairs, counts = np.unique(low.astype(np.int32) * 256 + high, return_counts=True)
        for pair, count in zip(pairs.tolist(), counts.tolist(), strict=True):
            key = (pair // 256, pair % 256)
            out[key] = out.get(key, 0) + count
    return out


def merged(labels: Labels, into: int, others: Sequence[int]) -> Labels:
    """`others` become part of the area `into`."""
    out = labels.copy()
    out[np.isin(labels, list(others))] = into
    return out


def split(labels: Labels, label: int, lab: Floats) -> tuple[Labels, int]:
    """Part one area in two: its separate pieces, where it has several, or else the lighter and the darker half.

    Gives the new map and the label of the new area. Raises BadRequest where there is nothing to part.
    """
    mask = labels == label
    new = next((v for v in range(1, 256) if not (labels == v).any()), 0)
    if int(mask.sum()) < 8:
        raise BadRequest("label", "this area is too small to be parted")
    if new == 0 or len(np.unique(labels)) > MOST_AREAS:
        raise BadRequest("label", f"a picture can have {MOST_AREAS} areas; merge some first")
    out = labels.copy()
    many, part, sizes, _ = cv2.connectedComponentsWithStats(mask.astype(np.uint8))
    if many > 2:
        largest = 1 + int(sizes[1:, cv2.CC_STAT_AREA].argmax())
        out[mask & (part != largest)] = new
        return out, new
    lightness = blurred(lab[..., 0], 2)
    dark = mask & (lightness < float(np.median(lightness[mask])))
    if not dark.any() or bool((dark == mask).all()):
        raise BadRequest("label", "this area is of one tone; draw the part you want with the brush")
    out[dark] = new
    return out, new


def painted(labels: Labels, label: int, path: Sequence[tuple[float, float]], radius: float | None, add: bool = True) -> Labels:
    """An area drawn larger or smaller: along a brush's path of `radius` map pixels, or inside a lasso (radius None).

    With `add` what was painted belongs to `label` from now on; without it, to nothing, where it was of that area.
    """
    stroke = np.zeros(labels.shape, dtype=np.uint8)
    points = np.rint(np.array(path, dtype=float) * 16).astype(np.int32).reshape(-1, 1, 2)
    if radius is None:
        if len(points) < 3:
            raise BadRequest("path", "a lasso needs at least three points")
        cv2.fillPoly(stroke, [points], 1, shift=4)
    else:
        thick = max(1, round(2 * radius))
        cv2.polylines(stroke, [points], False, 1, thickness=thick, shift=4)
        for at in (path[0], path[-1]):
            cv2.circle(stroke, (round(at[0]), round(at[1])), max(0, round(radius)), 1, -1)
    out = labels.copy()
    if add:
        out[stroke > 0] = label
    else:
        out[(stroke > 0) & (labels == label)] = 0
    return out
