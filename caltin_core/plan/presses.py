"""The artist's own order of steps: checked, mended, and taken up again when recipes have changed."""

from collections.abc import Mapping, Sequence

from caltin_core.errors import BadRequest
from caltin_core.media.layers import Layer

# A place's n-th layer: (place, n).
Token = tuple[str, int]


def presses(recipes: Mapping[str, Sequence[Layer]], order: Sequence[Token]) -> list[tuple[Token, ...]]:
    """The recipes as steps in the artist's `order`, every recipe's own order kept, every layer once.

    Layers that are alike and due at the same time become one step. Layers the order does not know come after the others.
    """
    rank = {token: index for index, token in enumerate(order)}
    due = {place: 0 for place, layers in recipes.items() if layers}
    out: list[tuple[Token, ...]] = []
    while due:
        fronts = sorted(due.items(), key=lambda token: rank.get(token, len(rank)))
        place, first = fronts[0]
        serves = tuple((other, index) for other, index in fronts if recipes[other][index] == recipes[place][first])
        out.append(serves)
        for other, index in serves:
            if index + 1 < len(recipes[other]):
                due[other] = index + 1
            else:
                del due[other]
    return out


def checked_order(
    recipes: Mapping[str, Sequence[Layer]], steps: Sequence[Sequence[Token]], names: Mapping[str, str]
) -> list[Token]:
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


def mended_order(recipes: Mapping[str, Sequence[Layer]], steps: Sequence[Sequence[Token]]) -> list[list[Token]]:
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
