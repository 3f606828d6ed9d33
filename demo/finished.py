"""A drawing carried through for the demo: two evenings, photographs made from the predicted portrait, and what came out."""

import io
import uuid
from collections.abc import Sequence
from datetime import datetime, timedelta

import numpy as np
from PIL import Image, ImageFilter

from caltin_core.colour.spaces import srgb_from_lab
from caltin_core.colour.tables import Floats
from caltin_core.media.layers import Layer
from caltin_core.media.predict import predict
from caltin_site.journal import keeping, services
from caltin_site.journal.schemas import EntryIn, MarkIn
from caltin_site.plans import services as plans
from caltin_site.plans.schemas import StepOut
from caltin_site.references import services as references
from caltin_site.shapes import Lab
from caltin_site.studies import services as studies
from caltin_site.studies.models import Study

# The hand of the demo presses a little harder than its profile says, by so much L*.
HARDER = 2.4
PACE, BEGAN = 1.15, timedelta(hours=19, minutes=10)
NOTES = (
    "The jaw wanted its dark first; after that the cheek no longer looked too light.",
    "Stopped one pass short on the forehead. It needs the lamp side left alone.",
)
# Zones this large on the sheet are measured by the artist.
_MEASURED = 5


def draw(study: Study, day: datetime) -> None:
    """Mark every step as drawn, over two evenings before `day`; keep a note and a photograph of each.

    What was planned up to now counts as planned before the first of them.
    """
    first = datetime.combine(day - timedelta(days=3), datetime.min.time(), day.tzinfo) + BEGAN
    study.changes.update(made=first - timedelta(hours=1))
    steps = plans.plan(study).steps
    half = round(0.55 * len(steps))
    evenings = ((steps[:half], first, NOTES[0]), (steps[half:], first + timedelta(days=2), NOTES[1]))
    for part, began, note in evenings:
        at = _evening(study, part, began)
        photograph = references.take_in(study.owner, "drawing.jpg", portrait(study))
        keeping.keep(study, EntryIn(client_id=uuid.uuid4(), text=note, picture=photograph.pk), at + timedelta(minutes=3))
        if part is evenings[-1][0]:
            _came_out(study, at + timedelta(minutes=6))


def _evening(study: Study, steps: Sequence[StepOut], at: datetime) -> datetime:
    for step in steps:
        at += timedelta(minutes=PACE * max(step.minutes, 0.5))
        words = f"{step.name}, {step.words}"
        mark = MarkIn(
            client_id=uuid.uuid4(), kind="done", colour=step.colour, words=words, laid=step.laid, minutes=max(step.minutes, 0.1)
        )
        services.log(study, mark, at, services.used(study, mark))
    return at


def _layers(study: Study) -> dict[str, list[Layer]]:
    here = studies.aim(study)
    return {place: studies.layers_of(here.bench, laid) for place, laid in services.there(study).items()}


def _came_out(study: Study, at: datetime) -> None:
    here, laid = studies.aim(study), _layers(study)
    for place in list(laid)[:_MEASURED]:
        (seen,) = predict(here.bench, [laid[place]])
        tone = Lab.of(seen.lab - np.array([HARDER, 0.0, 0.0]))
        keeping.keep(study, EntryIn(client_id=uuid.uuid4(), place=place, tone=tone), at)


def portrait(study: Study) -> bytes:
    """The drawing as it stands, as a photograph of the sheet: predicted colours with their grain over the zones. JPEG."""
    here, laid = studies.aim(study), _layers(study)
    assert here.state.areas is not None
    labels = references.labels_of(study.owner, here.state.areas)
    rng = np.random.default_rng(7)
    lab = np.broadcast_to(studies.bare_lab(here), (*labels.shape, 3)).copy()
    zones = {p.id: p.area for p in here.state.places}
    for (place, _), seen in zip(laid.items(), predict(here.bench, list(laid.values())), strict=True):
        inside = labels == zones[place]
        lab[inside] = seen.after_grain[-1][rng.integers(len(seen.after_grain[-1]), size=int(inside.sum()))]
    return _photographed(srgb_from_lab(lab)[0], rng)


def _photographed(srgb: Floats, rng: np.random.Generator) -> bytes:
    """Under a lamp from the left, with a margin of table round the sheet."""
    height, width = srgb.shape[:2]
    lamp = np.linspace(1.0, 0.9, width)[None, :, None] * np.array([1.0, 0.985, 0.95])
    pixels = np.clip(255 * srgb * lamp + rng.normal(0, 1.5, srgb.shape), 0, 255).astype(np.uint8)
    sheet = Image.fromarray(pixels).filter(ImageFilter.GaussianBlur(0.6))
    table = Image.new("RGB", (width + 60, height + 60), (92, 84, 76))
    table.paste(sheet, (30, 30))
    out = io.BytesIO()
    table.save(out, "JPEG", quality=88)
    return out.getvalue()
