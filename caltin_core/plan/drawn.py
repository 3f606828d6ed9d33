"""The drawn log: what truly lies on the paper, told by its marks alone."""

from collections.abc import Iterable, Sequence
from dataclasses import dataclass
from typing import Generic, TypeVar

# Whatever a layer is told by; equal layers are equal.
L = TypeVar("L")


@dataclass(frozen=True)
class Mark(Generic[L]):
    """One mark: the layers laid, each with its place and the number it has there; or the mark it takes back."""

    id: str
    laid: tuple[tuple[str, int, L], ...] = ()
    undoes: str = ""


def standing(marks: Iterable[Mark[L]]) -> list[Mark[L]]:
    """The marks that hold, oldest first: each once, without those taken back."""
    every = list(marks)
    undone = {mark.undoes for mark in every if mark.undoes}
    held: dict[str, Mark[L]] = {}
    for mark in every:
        if not mark.undoes and mark.id not in undone:
            held.setdefault(mark.id, mark)
    return list(held.values())


def lies(marks: Iterable[Mark[L]]) -> dict[str, list[L]]:
    """What lies on each place, lowest first. A layer whose number lies there already was marked twice and counts once."""
    out: dict[str, list[L]] = {}
    for mark in standing(marks):
        for place, number, layer in mark.laid:
            there = out.setdefault(place, [])
            if number >= len(there):
                there.append(layer)
    return out


def goes_on(recipe: Sequence[L], there: Sequence[L]) -> bool:
    """Whether a recipe begins with what lies there, so that its other layers can follow."""
    return list(recipe[: len(there)]) == list(there)
