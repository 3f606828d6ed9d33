"""What a recipe is sought for."""

from dataclasses import dataclass

from caltin_core.colour.tables import Floats
from caltin_core.media.layers import Layer
from caltin_core.media.workbench import Start
from caltin_core.recipes.rules import BlackPolicy


@dataclass(frozen=True)
class Target:
    """One role's target: D50 Lab (3,), its own policy for black, where its layers start, its spectrum if measured, and whether it
    is of skin."""

    role: str
    lab: Floats
    black: BlackPolicy | None = None
    start: Start | None = None
    reflectance: Floats | None = None
    skin: bool = True

    @property
    def before(self) -> tuple[Layer, ...]:
        """The layers its own begin on, where these are known."""
        return self.start.layers if self.start is not None else ()
