"""The light on a sheet, from its bare places: how it falls off, and where a shadow or a glare lies."""

from dataclasses import dataclass

import numpy as np

from caltin_core.colour.tables import Floats, Ints

_ROUNDS = 8
# What bare paper differs by from place to place, as a share.
_USUAL = 0.03
_NEIGHBOURS = 6
# Bare places nearer than this share of the page count alike.
_CLOSE = 0.014
# A place whose light is so many e-folds from its neighbours' is not bare, or lies half in a shadow.
_NOT_BARE = 0.35


@dataclass(frozen=True)
class Field:
    """The light of bare paper over a page: a smooth course, and what the bare places differ from it."""

    course: Floats
    size: Floats
    places: Floats
    left: Floats

    def at(self, mm: Floats) -> Floats:
        """Linear light (N, 3) that bare paper would show at places (N, 2) in millimetres."""
        out: Floats = np.exp(_terms(mm / self.size, self._width) @ self.course + self._local(mm))
        return out

    @property
    def _width(self) -> int:
        return len(self.course)

    def _local(self, mm: Floats) -> Floats:
        near, weight = self._near(mm)
        out: Floats = np.einsum("nk,nkc->nc", weight, self.left[near])
        return out

    def _near(self, mm: Floats) -> tuple[Ints, Floats]:
        away = np.linalg.norm(mm[:, None] - self.places[None], axis=-1)
        near: Ints = np.argsort(away, axis=1)[:, :_NEIGHBOURS]
        weight = 1 / (np.take_along_axis(away, near, axis=1) + _CLOSE * self.size.max()) ** 2
        return near, weight / weight.sum(axis=1, keepdims=True)

    def disagreement(self, mm: Floats) -> Floats:
        """By how much (N,) the bare places around each place differ from the smooth course among themselves, as a share."""
        near, _ = self._near(mm)
        luminance = self.left[near].mean(axis=-1)[:, :4]
        out: Floats = luminance.max(axis=1) - luminance.min(axis=1)
        return out


def _terms(at: Floats, many: int) -> Floats:
    x, y = at[:, 0] - 0.5, at[:, 1] - 0.5
    every = [np.ones_like(x), x, y, x * y, x * x, y * y, x**3, x * x * y, x * y * y, y**3]
    return np.stack(every[:many], axis=1)


def field_of(places: Floats, light: Floats, page: tuple[float, float]) -> Field:
    """The field of bare places (N, 2) in millimetres that showed `light` (N, 3); robust against some that are not bare."""
    many = 10 if len(places) >= 40 else 6 if len(places) >= 12 else 3 if len(places) >= 4 else 1
    size = np.array(page)
    terms, seen = _terms(places / size, many), np.log(np.maximum(light, 1e-5))
    say = np.ones(len(places))
    course = np.zeros((many, 3))
    for _ in range(_ROUNDS):
        ridge = 1e-3 * np.eye(many) * say.sum()
        ridge[0, 0] = 0
        course = np.linalg.solve(terms.T @ (say[:, None] * terms) + ridge, terms.T @ (say[:, None] * seen))
        away = np.abs(seen - terms @ course).max(axis=1)
        usual = max(1.5 * float(np.median(away)), _USUAL)
        say = 1 / (1 + (away / usual) ** 2)
    left = seen - terms @ course
    middle = np.median(left, axis=0)
    far = np.abs(left - middle).max(axis=1) > _NOT_BARE
    left = np.where(far[:, None], middle, left)
    return Field(course, size, places, left)
