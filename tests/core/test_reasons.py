"""Reasons and cautions of layers. All of it is common practice, without a source."""

from dataclasses import replace

import numpy as np
import pytest

from caltin_core.colour.spectra import reflectance_from_lab
from caltin_core.media.cautions import Deadened, cautions
from caltin_core.media.colourants import Ground
from caltin_core.media.layers import Lay, Stroke
from caltin_core.media.predict import predict
from caltin_core.media.workbench import Workbench
from caltin_core.recipes.reasons import reason
from tests.core.builders import ground, plain_bench, stack, swatch

WAX, PASTEL = plain_bench(), plain_bench("sanded", "soft_pastel")
DYE = Workbench(
    tuple(
        swatch(name, lab, "alcohol_marker")
        for name, lab in (
            ("peach", (82, 10, 20)), ("cool grey", (60, -2, -4)), ("warm grey", (60, 4, 8)), ("navy", (28, 8, -30)), ("lemon", (88, -4, 60)),
            ("blue", (60, -4, -40)),
        )
    ),
    ground("card"),
)  # fmt: skip


@pytest.mark.parametrize(
    ("text", "says"),
    [
        ("blue medium 2, brown burnish 2", "does not go hot"), ("violet firm 1, brown burnish 2", "does not go hot"),
        ("black light 1, brown medium 3", "keeps it alive"), ("yellow light 2, pink medium 2", "natural skin"),
        ("red medium 2, green light 1", "in a whisper calms red"), ("pink medium 2, cream light 2", "lightens and calms"),
        ("orange medium 2, blue light 2", "broken tone"), ("brown light 1", ""), ("cream light 2, brown light 1", ""),
    ],
)  # fmt: skip
def test_an_order_has_the_reason_one_would_give_at_the_table(text, says):
    layers = stack(WAX, text)
    said = reason(WAX, layers, predict(WAX, [layers])[0].lab)
    assert says in said
    assert bool(says) == bool(said)


def test_what_glows_through_is_said_of_a_vivid_base_barely_touched_on_and_of_white_on_toned_paper():
    seen = np.array([50.0, 22.0, 24.0])
    assert "glows through brown" in reason(WAX, stack(WAX, "orange light 2, brown medium 2"), seen)
    assert "glows" not in reason(WAX, stack(WAX, "orange firm 2, brown medium 2"), seen)
    toned = replace(PASTEL, ground=Ground(reflectance_from_lab(np.array([40.0, 2, 6])), "sanded"))
    glaze = stack(PASTEL, "white firm 1, orange light 1")
    assert "white first on the toned paper makes orange glow" in reason(toned, glaze, seen)
    assert "glow" not in reason(PASTEL, glaze, seen)


def test_of_a_shadow_or_of_skin_is_spoken_only_where_one_is_seen():
    cool, glaze = stack(WAX, "violet light 2, cream medium 2"), stack(WAX, "yellow light 2, pink medium 2")
    hot = stack(WAX, "violet light 2, brown firm 2")
    for layers, says, seen, not_seen in (
        (cool, "keeps the shadow cool", (60, 12, 16), ((82, 0, 3), (80, 12, 16), (50, 32, 18))),
        (glaze, "natural skin", (72, 16, 24), ((70, 30, 60), (60, -20, 20))),
        (hot, "shadow stays alive", (40, 14, 14), ((66, 14, 14),)),
    ):
        assert says in reason(WAX, layers, np.array(seen, dtype=float))
        assert not any(says in reason(WAX, layers, np.array(lab, dtype=float)) for lab in not_seen)
    for pressure, says in (("light", True), ("firm", False)):
        under = stack(PASTEL, f"violet light 2, cream {pressure} 2")
        assert ("keeps the shadow cool" in reason(PASTEL, under, np.array([60.0, 12.0, 16.0]))) == says


@pytest.mark.parametrize(
    ("text", "says"),
    [
        ("cream burnish 2, pink light 2, brown light 1", "burnished early"), ("cream burnish 1, pink firm 2", ""),
        ("pink light 2, cream burnish 1, brown burnish 1", ""), ("brown medium 2, black firm 2", "deadens what lies below"),
        ("cream light 2, ochre medium 3", "sickly"), ("brown medium 2, black light 1", ""), ("ochre light 1, brown light 2", ""),
        ("pink light 2, brown light 1, cream burnish 3", ""), ("brown burnish 2, cream burnish 2", "4 burnished passes"), ("black medium 2, brown medium 2", ""),
    ],
)  # fmt: skip
def test_what_is_known_to_fail_is_warned_of(text, says):
    said = " ".join(cautions(WAX, stack(WAX, text)))
    assert says in said
    assert bool(says) == bool(said)


def test_black_and_raw_yellow_are_warned_of_on_skin_alone():
    for text in ("brown medium 2, black firm 2", "cream light 2, ochre medium 3"):
        assert cautions(WAX, stack(WAX, text))
        assert not cautions(WAX, stack(WAX, text), of_skin=False)


def coats(*rows):
    names = [s.id for s in DYE.swatches]
    return [Lay(names.index(name), Stroke("coat", 1, wet=wet)) for name, wet in rows]


def test_markers_too_far_apart_are_not_blended_wet_and_cool_grey_is_warned_of_where_warm_is_not():
    assert "too far apart" in " ".join(cautions(DYE, coats(("peach", False), ("navy", True))))
    assert "too far apart" in " ".join(cautions(DYE, coats(("lemon", False), ("blue", True))))
    assert cautions(DYE, coats(("peach", False), ("navy", False))) == []
    assert "looks dead" in " ".join(cautions(DYE, coats(("peach", False), ("cool grey", False))))
    assert cautions(DYE, coats(("peach", False), ("warm grey", False))) == []
    assert cautions(DYE, coats(("peach", False), ("cool grey", False)), of_skin=False) == []


def test_what_a_search_keeps_off_is_what_is_warned_of(rng):
    colour = rng.integers(-1, len(DYE.swatches), (200, 4))
    colour = np.where(np.maximum.accumulate(colour < 0, axis=1), -1, colour)
    said = ["looks dead" in " ".join(cautions(DYE, [Lay(int(c), Stroke("coat", 1)) for c in row if c >= 0])) for row in colour]
    assert Deadened(DYE.swatches)(colour).tolist() == said
    assert not Deadened(DYE.swatches, of_skin=False)(colour).any()
    assert 10 < sum(said) < 150


@pytest.mark.parametrize(
    ("passes", "says"), [((2, 3), ""), ((3, 3), ""), ((3, 2, 2), "7 coats in one place"), ((6, 6), "12 coats")]
)
def test_more_coats_in_one_place_than_paper_takes_are_warned_of(passes, says):
    # Common practice: the paper is full after two or three coats; a blend of several colours takes twice as many.
    names = [s.id for s in DYE.swatches]
    said = " ".join(cautions(DYE, [Lay(names.index("peach"), Stroke("coat", n)) for n in passes]))
    assert says in said
    assert bool(says) == bool(said)


def test_several_greys_over_skin_are_warned_of_in_one_sentence():
    greys = {"peach": (82, 10, 20), "cool grey": (60, -2, -4), "blue grey": (70, -3, -5)}
    bench = Workbench(tuple(swatch(n, lab, "alcohol_marker") for n, lab in greys.items()), DYE.ground)
    (said,) = cautions(bench, [Lay(c, Stroke("coat", 1)) for c in (0, 1, 2)])
    assert said.startswith("cool grey and blue grey are cool or neutral greys: light skin under them looks dead")
