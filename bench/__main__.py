"""``python -m bench``: every measurement, one table; or those that are named: ``python -m bench faces plans``."""

import os
import sys

os.environ.setdefault("OPENBLAS_NUM_THREADS", "1")

from bench.browser import browser
from bench.charts import charts
from bench.core import against_differential_evolution, found_again, honest_optimum, speed
from bench.evening import evening
from bench.hours import hours, killed
from bench.measured import came_out, worked_sheets
from bench.media import acts, curve, depths, media, pace, recipes_drawn, sheets
from bench.plans import plans
from bench.reading import balance_and_light, pictures_in_the_browser, zones_and_pigments
from bench.recipes import against_every_stack, against_evolution, cured, faces, family_pace, schools
from bench.table import printed


def main() -> None:
    """Measure and print."""
    rows = []
    parts = (
        pace, media, depths, acts, came_out, worked_sheets, recipes_drawn, curve, sheets, charts, speed, found_again,
        honest_optimum, faces, schools, against_every_stack, against_evolution, family_pace, cured, plans, hours, killed, evening,
        zones_and_pigments, balance_and_light, browser, pictures_in_the_browser, against_differential_evolution,
    )  # fmt: skip
    named = sys.argv[1:]
    if unknown := set(named) - {part.__name__ for part in parts}:
        sys.exit(f"no such measurement: {', '.join(sorted(unknown))}")
    for part in parts:
        if named and part.__name__ not in named:
            continue
        print(f"measuring: {(part.__doc__ or '').splitlines()[0]}", file=sys.stderr, flush=True)
        rows += part()
    print(printed(rows))


if __name__ == "__main__":
    main()
