"""What each kind of job does with what was asked: an iterator over (done, of)."""

from collections.abc import Callable, Iterator
from types import MappingProxyType
from typing import Any

from caltin_site.cards.pages import draw_page
from caltin_site.cards.services import draw_card
from caltin_site.kits.charts import calibrated
from caltin_site.studies.services import match_missing

WORK: MappingProxyType[str, Callable[[Any, dict[str, Any]], Iterator[tuple[int, int]]]] = MappingProxyType(
    {
        "match": lambda study, _: match_missing(study), "card": lambda study, _: draw_card(study), "page": draw_page,
        "calibrate": calibrated,
    }
)  # fmt: skip
