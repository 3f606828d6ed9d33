"""Colours as they are said from outside: typed, or set by eye."""

from dataclasses import asdict

from caltin_core.colour.by_eye import Seen, lab_by_eye, seen_by_eye
from caltin_core.colour.spaces import lab_from_hex
from caltin_core.colour.tables import Floats
from caltin_core.colour.words import hue_word, tone_words
from caltin_core.errors import BadRequest
from caltin_site.kits.schemas import ByEye, ToneAsked, ToneTold
from caltin_site.shapes import Tone


def lab_asked(said: ToneAsked) -> Floats:
    """D50 CIELAB (3,) of what was said; raises BadRequest where it is nothing, no colour, or said twice."""
    if sum(given is not None for given in (said.hex, said.lab, said.eye)) != 1:
        raise BadRequest("hex", "a colour is typed as hex or as Lab, or set by eye")
    if said.eye:
        return lab_by_eye(Seen(**said.eye.model_dump()))
    try:
        return said.lab.array() if said.lab else lab_from_hex(said.hex or "")
    except ValueError as fault:
        raise BadRequest("hex", str(fault)) from None


def tone_told(lab: Floats) -> ToneTold:
    """A tone in words, and as it would be set by eye."""
    eye = ByEye(**{name: round(much, 2) for name, much in asdict(seen_by_eye(lab)).items()})
    return ToneTold(**Tone.of(lab).model_dump(), words=tone_words(lab), hue_word=hue_word(lab), eye=eye)
