"""What was laid on a place, as the place was measured to look: so that what goes over it is predicted from there."""

from collections.abc import Sequence
from dataclasses import dataclass, replace

import numpy as np
from scipy.optimize import least_squares

from caltin_core.colour.tables import Floats
from caltin_core.media.colourants import Swatch
from caltin_core.media.fits import COLOUR
from caltin_core.media.layers import Lay, Layer, lays
from caltin_core.media.predict import Prediction, colours_of, predict
from caltin_core.media.workbench import Workbench

# The solids of what was laid are moved by a level, a slope and a bend of their logits, as many numbers as a Lab has, each so far at
# most; a place they bring so near, in Lab, is explained.
_TERMS, _MOST, _MET = 3, 2.5, 0.01
LABS = ([0.0, -200.0, -200.0], [100.0, 200.0, 200.0])


@dataclass(frozen=True)
class Measured:
    """What was laid, with its colours as they must have been: `done` on `bench`, whose first swatches are those of the kit; how far
    from that, Lab (3,), the place still is, where no colours explain it; and how many of the layers were laid `since`."""

    bench: Workbench
    done: tuple[Layer, ...]
    off: Floats
    since: int = 0

    def going_on(self, further: Sequence[Layer]) -> "Measured":
        """The same with these layers laid since."""
        return replace(self, done=(*self.done, *further), since=self.since + len(further))

    def colours(self, further: Sequence[Sequence[Layer]]) -> list[tuple[Floats, float]]:
        """D50 Lab (3,) and tooth used after each of these stacks of further layers."""
        return [(self._shown(lab), used) for lab, used in colours_of(self.bench, [[*self.done, *t] for t in further])]

    def predict(self, further: Sequence[Sequence[Layer]]) -> list[Prediction]:
        """The same as predictions of the whole, from the bare sheet on."""
        found = predict(self.bench, [[*self.done, *t] for t in further])
        if not self.off.any():
            return found
        return [replace(p, lab=self._shown(p.lab), after_lab=self._later(p.after_lab)) for p in found]

    def _later(self, after: Floats) -> Floats:
        last = max(len(self.done) - self.since - 1, 0)
        return np.concatenate([after[:last], self._shown(after[last:])])

    def _shown(self, lab: Floats) -> Floats:
        out: Floats = np.clip(lab + self.off, *LABS)
        return out


def as_laid(bench: Workbench, done: Sequence[Layer]) -> Measured:
    """What was laid, taken to look as it should."""
    return Measured(bench, tuple(done), np.zeros(3))


def as_measured(bench: Workbench, done: Sequence[Layer], looks: Floats) -> Measured:
    """What was laid on a place that was measured to be the D50 Lab `looks` (3,).

    All colours that were laid are taken to be otherwise than thought by the same: so what is glazed over them still shows it, what
    covers them does not, and what is lifted takes some of it along. The kit's own colours stay as they are.
    """
    laid = list(dict.fromkeys(x.colour for x in lays(done)))
    looks = np.asarray(looks, dtype=float)
    if not laid:
        (now, _) = colours_of(bench, [done])[0]
        return Measured(bench, tuple(done), looks - now)
    at = {colour: i for i, colour in enumerate(laid)}

    def drawn(first: int) -> tuple[Layer, ...]:
        return tuple(replace(x, colour=first + at[x.colour]) if isinstance(x, Lay) else x for x in done)

    def moved(by: Floats) -> tuple[Swatch, ...]:
        return tuple(_moved(bench.swatches[colour], by) for colour in laid)

    def misses(by: Floats) -> Floats:
        (seen, _) = colours_of(replace(bench, swatches=moved(by), near=None), [drawn(0)])[0]
        out: Floats = seen - looks
        return out

    by = least_squares(misses, np.zeros(_TERMS), bounds=(-_MOST, _MOST), diff_step=[1e-4] * _TERMS, xtol=1e-4, ftol=1e-6).x
    whole = replace(bench, swatches=(*bench.swatches, *moved(by)), near=None)
    left = -misses(by)
    return Measured(whole, drawn(len(bench.swatches)), left if np.linalg.norm(left) > _MET else np.zeros(3))


def _moved(swatch: Swatch, by: Floats) -> Swatch:
    """The swatch with the first terms of its solid's logit moved, in every member of its ensemble too."""
    shift = np.zeros(COLOUR)
    shift[2 : 2 + _TERMS] = by

    def with_(row: Sequence[float]) -> tuple[float, ...]:
        return (*(np.array(row[:COLOUR]) + shift).tolist(), *row[COLOUR:])

    fit = swatch.fit
    return replace(swatch, fit=replace(fit, own=with_(fit.own), members=tuple(map(with_, fit.members))))
