"""Layers as a study keeps them, by the ids of its kit's colours, and as the core lays them."""

from collections.abc import Sequence

from caltin_core.contract.shapes import ActShape, BlendShape, CoatShape, LiftShape, act_of, act_shape, stroke_of
from caltin_core.errors import BadRequest
from caltin_core.media.layers import Lay, Layer
from caltin_core.media.workbench import Workbench


def layers_of(bench: Workbench, layers: Sequence[ActShape]) -> list[Layer]:
    """Layers by the kit's places. Raises BadRequest for a colour that is not in the kit."""
    place = {s.id: i for i, s in enumerate(bench.swatches)}
    out: list[Layer] = []
    for index, layer in enumerate(layers):
        if isinstance(layer, BlendShape | LiftShape):
            out.append(act_of(layer))
            continue
        if layer.colour not in place:
            raise BadRequest(f"layers[{index}].colour", "this colour is not in the study's kit")
        at = place[layer.colour]
        if isinstance(layer, CoatShape) != (bench.swatches[at].kind != "film"):
            how = "pressed" if bench.swatches[at].kind == "film" else "laid in coats"
            raise BadRequest(f"layers[{index}]", f"{bench.swatches[at].called} is {how}")
        out.append(Lay(at, stroke_of(layer)))
    return out


def in_kit(bench: Workbench, act: ActShape) -> bool:
    """Whether the kit has what this takes, of a medium that is laid so; a blend or a lift needs no colour."""
    if isinstance(act, BlendShape | LiftShape):
        return True
    return any(s.id == act.colour and isinstance(act, CoatShape) == (s.kind != "film") for s in bench.swatches)


def said(bench: Workbench, layers: Sequence[Layer]) -> list[ActShape]:
    """The other way about."""
    ids = [s.id for s in bench.swatches]
    return [act_shape(ids, x) for x in layers]
