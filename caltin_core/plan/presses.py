"""From recipes to presses: one colour in the hand, one stroke, all the places it serves now."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass

from caltin_core.errors import BadRequest
from caltin_core.media.layers import Lay

# A place's n-th layer: (place, n).
Token = tuple[str, int]


@dataclass(frozen=True)
class Press:
    """One step: the layer to lay and the places it serves, each with the number of its own layer."""

    layer: Lay
    tokens: tuple[Token, ...]


def presses(recipes: Mapping[str, Sequence[Lay]], lightness: Sequence[float], order: Sequence[Token] = ()) -> list[Press]:
    """The recipes as one list of presses, every recipe's own order kept, every layer once.

    Dark colours come first and burnishing waits (the dark-first school, common practice). Layers that are
    alike and due at the same time become one press. `lightness` is L* of every colour of the kit; `order`
    is the artist's own order of layers: it goes first where it is given, and layers it does not know take
    their place by darkness.
    """
    rank = {token: index for index, token in enumerate(order)}
    due = {place: 0 for place, layers in recipes.items() if layers}
    out: list[Press] = []
    while due:
        fronts = {place: recipes[place][index] for place, index in due.items()}

        def urgency(place: str, fronts: dict[str, Lay] = fronts) -> tuple[int, int, float, int, int]:
            layer = fronts[place]
            own = rank.get((place, due[place]), -1)
            if own >= 0:
                return (0, own, 0.0, 0, 0)
            late = int(layer.stroke.pressure == "burnish")
            return (-1 if not rank else 1, late, lightness[layer.colour], layer.colour, -layer.stroke.passes)

        first = fronts[min(fronts, key=lambda place: (urgency(place), place))]
        serves = tuple((place, due[place]) for place, layer in fronts.items() if layer == first)
        out.append(Press(first, serves))
        for place, index in serves:
            if index + 1 < len(recipes[place]):
                due[place] = index + 1
            else:
                del due[place]
    return out


def checked_order(recipes: Mapping[str, Sequence[Lay]], steps: Sequence[Sequence[Token]], names: Mapping[str, str]) -> list[Token]:
    """The artist's order of presses as layers, if every place's own layers still come in their own order.

    Raises BadRequest, at the step, when a layer would come before one that it lies on, or does not exist.
    """
    done = dict.fromkeys(recipes, 0)
    flat: list[Token] = []
    for number, step in enumerate(steps):
        for place, index in step:
            if place not in recipes or index >= len(recipes[place]):
                raise BadRequest(f"steps[{number}]", "this step is no longer part of the recipes")
            if index != done[place]:
                raise BadRequest(
                    f"steps[{number}]", f"on {names[place]} this layer lies over another one that would now come after it"
                )
            done[place] += 1
            flat.append((place, index))
    return flat


def mended_order(recipes: Mapping[str, Sequence[Lay]], steps: Sequence[Sequence[Token]]) -> list[list[Token]]:
    """The order nearest to the one asked in which no layer comes before one that it lies on.

    A layer that comes too early waits until what it lies on is laid, and no longer. Layers that are no longer part of the
    recipes are left out.
    """
    done = dict.fromkeys(recipes, 0)
    waiting: list[Token] = []
    out: list[list[Token]] = []

    def ready(tokens: Sequence[Token]) -> list[Token]:
        here = [(place, index) for place, index in tokens if done[place] == index]
        for place, _ in here:
            done[place] += 1
        return here

    for step in steps:
        asked = [(place, index) for place, index in step if place in recipes and index < len(recipes[place])]
        laid = ready(asked)
        waiting += [token for token in asked if token not in laid and token[1] >= done[token[0]]]
        out += [laid] if laid else []
        while due := ready(waiting):
            waiting = [token for token in waiting if token not in due]
            out += [[token] for token in due]
    return out
