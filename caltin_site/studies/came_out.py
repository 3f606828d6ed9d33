"""What places were measured to look like while they were drawn, and their recipes predicted from there."""

from collections.abc import Mapping, Sequence

from caltin_core.media.layers import Layer
from caltin_core.media.measured import Measured, as_measured
from caltin_core.media.predict import Prediction, predict
from caltin_site.kits.laid import said
from caltin_site.studies.aims import Aim
from caltin_site.studies.state import CameOut


def seen_in(here: Aim, place: str, layers: Sequence[Layer]) -> CameOut | None:
    """What a place was measured to look like with the first of these layers; None where it was not, or not with these."""
    chosen = here.state.recipes.get(place)
    return chosen.seen_with(said(here.bench, layers)) if chosen else None


def there(here: Aim, place: str, layers: Sequence[Layer]) -> Measured | None:
    """These layers on a place as it was measured, where it was."""
    seen = seen_in(here, place, layers)
    if seen is None:
        return None
    return as_measured(here.bench, layers[: seen.after], seen.tone.array()).going_on(layers[seen.after :])


def looks_of(here: Aim, recipes: Mapping[str, Sequence[Layer]]) -> dict[str, Prediction]:
    """The layers of every place predicted, in their order; from what was measured on, where something was."""
    measured = {place: there(here, place, layers) for place, layers in recipes.items()}
    plain = [place for place, known in measured.items() if known is None]
    found = dict(zip(plain, predict(here.bench, [recipes[p] for p in plain]), strict=True))
    return {place: found[place] if known is None else known.predict([()])[0] for place, known in measured.items()}
