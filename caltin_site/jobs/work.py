"""What each kind of job does with what was asked: an iterator over (done, of)."""

from collections.abc import Callable, Iterator
from types import MappingProxyType
from typing import Any

from caltin_site.cards.pages import draw_page
from caltin_site.cards.services import draw_card
from caltin_site.kits.calibrating import calibrated
from caltin_site.studies.finding import match_missing, match_under
from caltin_site.studies.strips import learn_drawing, learn_strip

WORK: MappingProxyType[str, Callable[[Any, dict[str, Any]], Iterator[tuple[int, int]]]] = MappingProxyType(
    {
        "match": lambda study, _: match_missing(study), "beside": lambda study, asked: match_under(study, asked["school"]),
        "strip": learn_strip, "drawing": learn_drawing, "card": draw_card, "page": draw_page,
        "calibrate": calibrated,
    }
)  # fmt: skip
