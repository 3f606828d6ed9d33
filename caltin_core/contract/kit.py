"""A request's surface, colours and hand on their way into the core's own values, and layers there and back."""

from collections.abc import Sequence
from dataclasses import replace
from typing import Any

from caltin_core.contract.shapes import (
    ActShape,
    CoatShape,
    ColourShape,
    HandShape,
    LayShape,
    RepeatShape,
    Surface,
    act_of,
    act_shape,
    laid_shape,
)
from caltin_core.errors import BadRequest, CaltinError
from caltin_core.media.colourants import Ground, Handling, Swatch, solids_from_lab
from caltin_core.media.fits import colour_from_fitted
from caltin_core.media.hand import Hand, hand_from_fitted
from caltin_core.media.kinds import MEDIA
from caltin_core.media.layers import COAT, MAX_EXPANDED, Lay, Layer, Stroke


class Kit:
    """The request's surface, colours and hand as the core knows them."""

    def __init__(self, surface: Surface, colours: list[ColourShape], hand: HandShape | None) -> None:
        self.ids = [c.id for c in colours]
        self.place: dict[str, int] = {}
        self._known: dict[tuple[Any, ...], Lay] = {}
        for index, colour in enumerate(colours):
            if colour.id in self.place:
                raise BadRequest(f"colours[{index}].id", f"“{colour.id}” is there twice")
            self.place[colour.id] = index
        self.ground = surface.ground("surface")
        self._sheets = [(surface, self.ground)]
        self.swatches = self._swatches(colours)
        try:
            self.hand = hand_from_fitted(hand.fitted) if hand else Hand()
        except CaltinError as fault:
            raise fault.inside("hand") from None

    def _on(self, shape: Surface | None, where: str) -> Ground:
        """The sheet a colour was swatched on: this one, one that was named before, or another."""
        if shape is None:
            return self.ground
        known = next((ground for sheet, ground in self._sheets if shape.is_sheet(sheet)), None)
        if known is not None:
            return known
        self._sheets.append((shape, shape.ground(where)))
        return self._sheets[-1][1]

    @staticmethod
    def by_id(surface: Surface, colours: list[ColourShape], hand: HandShape | None) -> "Kit":
        """The kit in the order of its ids, so that an answer does not hang on how the colours lay; faults name the request's
        own order."""
        asked = Kit(surface, colours, hand)
        ordered = sorted(colours, key=lambda c: c.id)
        return asked if ordered == colours else Kit(surface, ordered, hand)

    def _swatches(self, colours: list[ColourShape]) -> tuple[Swatch, ...]:
        grounds = [self._on(c.on, f"colours[{i}].on") for i, c in enumerate(colours)]
        plain = [index for index, c in enumerate(colours) if c.reflectance is None]
        smooth = solids_from_lab(
            [colours[i].as_lab(f"colours[{i}]") for i in plain], [grounds[i] for i in plain], [colours[i].medium for i in plain]
        )
        solid = dict(zip(plain, smooth, strict=True))
        out = []
        for index, colour in enumerate(colours):
            where = f"colours[{index}]"
            reflectance = solid[index] if index in solid else colour.as_reflectance(where)
            handling = Handling(**colour.handling.model_dump())
            swatch = Swatch(
                colour.id, reflectance, colour.medium, grounds[index], handling, measured=colour.reflectance is not None
            )
            try:
                if colour.fitted is not None:
                    swatch = replace(swatch, fit=colour_from_fitted(colour.fitted, colour.medium, solid.get(index)))
                out.append(swatch)
            except CaltinError as fault:
                raise fault.inside(where) from None
        return tuple(out)

    def known(self, colour: str, where: str) -> int:
        """The place of a colour in the kit."""
        if colour not in self.place:
            raise BadRequest(where, f"there is no colour “{colour}” in this kit")
        return self.place[colour]

    def layers(self, shapes: list[Any], where: str) -> list[Layer]:
        """Layers with every repeat written out."""
        out: list[Layer] = []
        for index, shape in enumerate(shapes):
            here = f"{where}[{index}]"
            if isinstance(shape, RepeatShape):
                once = self.layers(list(shape.repeat), f"{here}.repeat")
                out += once * shape.times
            elif isinstance(shape, LayShape | CoatShape):
                # Of many stacks most layers were there before.
                key = tuple(shape.__dict__.values())
                if key not in self._known:
                    self._known[key] = self._laid(shape, here)
                out.append(self._known[key])
            else:
                out.append(act_of(shape))
            if len(out) > MAX_EXPANDED:
                raise BadRequest(where, f"these are more than {MAX_EXPANDED} layers once every repeat is written out")
        return out

    def _laid(self, shape: "LayShape | CoatShape", where: str) -> Lay:
        colour = self.known(shape.colour, f"{where}.colour")
        medium = MEDIA[self.swatches[colour].medium]
        if isinstance(shape, LayShape):
            if medium.kind != "film":
                raise BadRequest(f"{where}.pressure", f"{medium.name} is laid in coats: it has passes, and wet, but no pressure")
            return Lay(colour, Stroke(shape.pressure, shape.passes, shape.point, shape.turned))
        if medium.kind == "film":
            extra = "wet" in shape.model_fields_set
            what = f"{medium.name} is never laid wet" if extra else f"how hard is the {medium.name} pressed?"
            raise BadRequest(f"{where}.{'wet' if extra else 'pressure'}", what)
        return Lay(colour, Stroke(COAT, shape.passes, wet=shape.wet))

    def said(self, layers: tuple[Lay, ...]) -> list[LayShape | CoatShape]:
        """Layers as the contract writes them."""
        return [laid_shape(self.ids[x.colour], x.stroke) for x in layers]

    def acts(self, layers: Sequence[Layer]) -> list[ActShape]:
        """Layers, blends and lifts as the contract writes them."""
        return [act_shape(self.ids, x) for x in layers]
