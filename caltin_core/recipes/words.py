"""A recipe as a sentence a person would say."""

from collections.abc import Sequence

from caltin_core.media.layers import Blend, Lay, Layer, Lift

_BLENDS = {"stump": "a stump", "finger": "a finger", "blender": "the colourless blender", "solvent": "solvent"}
_LIFTS = {"kneaded": "the kneaded eraser", "stick": "an eraser stick", "knife": "a knife"}


def listed(names: Sequence[str]) -> str:
    """Names in a row, such as “chin, nose and cheek”."""
    *most, last = dict.fromkeys(names)
    return f"{', '.join(most)} and {last}" if most else last


def layer_words(layer: Layer, names: Sequence[str]) -> str:
    """One layer, such as “Rope, two light passes, turned”."""
    if isinstance(layer, Lay):
        return f"{names[layer.colour]}, {layer.stroke.words()}"
    return act_words(layer)


def act_words(layer: Blend | Lift) -> str:
    """A blend or a lift, such as “blend with a stump”."""
    if isinstance(layer, Blend):
        return f"blend with {_BLENDS[layer.kind]}"
    return f"lift with {_LIFTS[layer.kind]}"


def recipe_words(layers: Sequence[Layer], names: Sequence[str]) -> str:
    """The whole recipe in order."""
    first, *rest = [layer_words(layer, names) for layer in layers]
    # A colour's name is said as it is written.
    said = first if isinstance(layers[0], Lay) else first[0].upper() + first[1:]
    for layer, words in zip(layers[1:], rest, strict=True):
        said += f"; over it {words}" if isinstance(layer, Lay) else f"; {words}"
    return said + "."
