"""A light one plans, for a study without a picture: its tones, and the complexion as a ball."""

import base64
from io import BytesIO

import numpy as np
from PIL import Image

from caltin_core.colour.sources import spectrum_of
from caltin_core.colour.spectra import reflectance_from_lab
from caltin_core.colour.tables import Floats
from caltin_core.reference.develop import shown
from caltin_core.reference.roles import NAMES
from caltin_core.skin.planned import Bounce, Head, Key
from caltin_site.shapes import Tone
from caltin_site.studies.schemas import PlannedOut, PlannedTone
from caltin_site.studies.state import PlannedState

_BALL = 208


def tones_of(planned: PlannedState) -> dict[str, Floats]:
    """D50 Lab (3,) of every role. Raises BadRequest for a base too dark to be lit."""
    return _head(planned).tones()


def direction_of(planned: PlannedState) -> float:
    """Where the key comes from in the plane of the picture: degrees anticlockwise from the right, to a tenth."""
    return round(_key(planned).direction, 1) % 360


def planned_out(planned: PlannedState) -> PlannedOut:
    """The tones and the ball, a PNG as a data address. Raises BadRequest for a base too dark to be lit."""
    head = _head(planned)
    tones = [PlannedTone(role=role, role_name=NAMES[role], tone=Tone.of(lab)) for role, lab in head.tones().items()]
    lab, inside = head.ball(_BALL)
    out = BytesIO()
    Image.fromarray(np.dstack([shown(lab), np.where(inside, 255, 0).astype(np.uint8)])).save(out, "PNG")
    ball = base64.b64encode(out.getvalue()).decode()
    return PlannedOut(tones=tones, ball=f"data:image/png;base64,{ball}", direction=direction_of(planned))


def _key(planned: PlannedState) -> Key:
    return Key(spectrum_of(planned.kelvin), planned.elevation, planned.azimuth)


def _head(planned: PlannedState) -> Head:
    thing = planned.bounce
    bounce = Bounce(reflectance_from_lab(thing.array()), planned.strength) if thing else None
    return Head(planned.base.array(), _key(planned), spectrum_of(planned.fill_kelvin), planned.stops_below, bounce)
