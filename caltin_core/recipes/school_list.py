"""The schools that come with Caltin, by slug. All common practice."""

from collections.abc import Sequence
from types import MappingProxyType

from caltin_core.media.kinds import MEDIA
from caltin_core.recipes.schools import TONED, ZONES, School, Stage, Zone

_SOFT = ("light", "medium", "firm")
_FINE = ("light", "medium")
_LIT: tuple[Zone, ...] = ("light", "middle")
_SHADED: tuple[Zone, ...] = ("middle", "shade")
_DEEPEST: tuple[Zone, ...] = ("shade",)
_SKIN = ("skin", "tan", "rosy", "red", "brown", "middle", "light", "pale", "middle dark")
_DARKS = ("dark", "middle dark", "brown", "violet", "blue", "black")

_PENCIL = (
    School(
        "dark_first",
        "Dark first",
        "pencil",
        "strong modelling from the start; nothing stays too light",
        "a dark laid too wide cannot be taken back",
        (
            Stage(("black", "dark"), _SOFT),
            Stage(("dark", "middle dark"), _SOFT),
            Stage(("middle dark", "middle"), _SOFT),
            Stage(("middle", "light"), _SOFT),
            Stage(("pale", "white"), wanted=_LIT),
        ),
    ),
    School(
        "map_in_light",
        "Map in light",
        "pencil",
        "careful shapes that can still be moved",
        "the darks come late and may stop too early",
        (
            Stage(("pale", "light"), ("light",), wanted=_DEEPEST),
            Stage(("dark", "middle dark", "middle", "light", "pale"), _SOFT),
            Stage(("rosy", "red"), _SOFT),
            Stage(("black", "dark"), _SOFT),
            Stage(("pale", "white")),
        ),
    ),
    School(
        "white_guard",
        "White guard",
        "pencil",
        "lights that stay clean",
        "much wax early; few layers take hold after it",
        (
            Stage(("white",), zones=_LIT, wanted=("light",)),
            Stage(("yellow", "pale", "light", "grey", "red", "rosy", "tan")),
            Stage(("white",), zones=_LIT),
            Stage(("dark", "middle dark", "middle", "light", "pale")),
            Stage(("black",), zones=_DEEPEST),
        ),
    ),
    School(
        "cool_under",
        "Cool under-layer",
        "pencil",
        "shadows that stay cool and alive beneath warm skin",
        "too much blue shows through as grey",
        (
            Stage(("blue", "grey"), _SOFT, zones=_SHADED, wanted=_DEEPEST),
            Stage(("yellow",), _SOFT, zones=_LIT, wanted=("light",)),
            Stage(("pale", "light"), _SOFT),
            Stage(("violet", "rosy"), _SOFT),
            Stage(("red", "brown", "dark", "black", "middle", "middle dark"), _SOFT),
            Stage(("pale", "white")),
            Stage(("red", "brown", "dark", "black"), _SOFT),
        ),
    ),
    School(
        "deep_hard_leads",
        "Deep, in hard leads",
        "pencil",
        "deep complexions in many fine layers",
        "hard leads stop short of the darkest dark; black has to help",
        (
            Stage(("brown", "dark", "middle dark", "tan"), _FINE),
            Stage(("green", "blue"), ("light",), wanted=_DEEPEST),
            Stage(("brown", "dark", "middle dark", "tan"), _FINE),
            Stage(("black",), _SOFT, zones=_DEEPEST),
        ),
    ),
    School(
        "vivid_base",
        "Vivid base",
        "pencil",
        "warmth that glows through brown",
        "pressed too hard, the base shows as orange",
        (Stage(("vivid",), ("light",), wanted=ZONES), Stage(("red brown", "red"), _SOFT), Stage(("brown", "dark"), _SOFT)),
    ),
    School(
        "few_colours",
        "Few colours",
        "pencil",
        "a small box, and a unity that many colours lose",
        "half-tones are made by pressure alone",
        (
            Stage(("yellow",), _SOFT, wanted=ZONES),
            Stage(("red", "rosy"), _SOFT),
            Stage(("brown",)),
            Stage(("black",), zones=_DEEPEST),
        ),
    ),
)

_MARKER = (
    School(
        "shadows_first",
        "Shadows first",
        "marker",
        "form that is clear before any colour is dark",
        "the base re-wets the map: let it dry",
        (Stage(_SKIN, zones=_SHADED, wanted=_DEEPEST), Stage(_SKIN), Stage(_DARKS)),
    ),
    School(
        "coloured_base",
        "Coloured base",
        "marker",
        "one undertone for the whole face: yellow warms, grey-green calms, blue cools",
        "a base too strong turns every coat over it",
        (Stage(("pale tint",), most=2, wanted=ZONES), Stage(_SKIN), Stage(_DARKS)),
    ),
    School(
        "few_brights",
        "Few brights",
        "marker",
        "lively faces from three or four markers",
        "brights blend less smoothly; keep them beneath the tan",
        (
            Stage(("bright", "vivid", "rosy", "yellow", "red"), wanted=ZONES),
            Stage(("green", "blue", "violet"), zones=_SHADED),
            Stage(("tan", "skin"), wanted=ZONES),
        ),
    ),
    School(
        "light_to_dark",
        "Light to dark",
        "marker",
        "smooth blends; each coat can still be pushed back",
        "the darks come last and may stop too early",
        (
            Stage(("pale", "light", "white"), wanted=_LIT),
            Stage(_SKIN),
            Stage(_DARKS, zones=_SHADED),
            Stage(("pale", "light", "white"), most=2),
        ),
    ),
    School(
        "cool_shadow_first",
        "Cool shadow first",
        "marker",
        "shadows that belong to the skin and still read cool",
        "blue beneath a thin skin coat shows as grey",
        (
            Stage(("violet", "blue"), zones=_SHADED, wanted=_DEEPEST),
            Stage(_SKIN),
            Stage(("violet", "blue", "brown", "dark", "middle dark", "black"), zones=_SHADED),
        ),
    ),
    School(
        "full_under_painting",
        "Full under-painting",
        "marker",
        "deep and rich complexions: the skin coat mutes what glows beneath",
        "the skin coat goes on once and fast, over dry colour, or it stirs up what lies below",
        (
            Stage(("rosy", "red", "vivid")),
            Stage(("blue", "violet", "green", "grey"), zones=_SHADED, wanted=_DEEPEST),
            Stage(("yellow", "vivid", "bright")),
            Stage(("skin", "tan", "brown"), most=1, wanted=ZONES),
            Stage(_DARKS),
        ),
    ),
)

_PASTEL = (
    School(
        "values_first",
        "Values first",
        "pastel",
        "likeness: light and dark stand before any colour",
        "charcoal greys what lies over it",
        (
            Stage(("black", "dark")),
            Stage(("dark", "middle dark", "brown", "red", "red brown", "tan", "rosy"), wanted=_SHADED),
            Stage(("middle", "light", "pale", "white", "skin", "tan")),
            Stage(("green", "blue", "violet", "rosy", "yellow")),
            Stage(("dark", "black", "pale", "white"), most=2),
        ),
    ),
    School(
        "light_and_glaze",
        "Light and glaze",
        "pastel",
        "glow on dark toned paper",
        "too much white under the glaze goes chalky; lay shadows darker than they should end",
        (
            Stage(("white", "pale"), zones=_LIT, wanted=("light",)),
            Stage(("rosy", "red", "yellow", "blue", "violet", "green", "brown", "skin", "tan", "middle", "dark", "middle dark")),
            Stage(("white", "pale")),
        ),
    ),
    School(
        "dark_first_pale_last",
        "Dark first, pale last",
        "pastel",
        "rich deep complexions, above all in oil pastel",
        "peach laid first wipes their richness out",
        (
            Stage(("white",), zones=("light",)),
            Stage(("violet", "blue", "brown", "dark", "middle dark", "red"), wanted=_SHADED),
            Stage(("skin", "light", "pale", "middle", "rosy", "tan"), wanted=ZONES),
            Stage(("black",)),
        ),
    ),
    School(
        "all_over_tan",
        "All-over tan",
        "pastel",
        "unity: one tan holds lights and shadows together",
        "the tan flattens what it covers",
        (
            Stage(("dark", "middle dark", "brown", "black")),
            Stage(("white", "pale"), zones=_LIT),
            Stage(("tan", "skin", "middle"), wanted=ZONES),
            Stage(("white", "pale", "light"), zones=_LIT),
            Stage(("brown", "dark", "middle dark"), zones=_SHADED),
        ),
    ),
)

SCHOOLS = MappingProxyType({school.slug: school for school in (*_PENCIL, *_MARKER, *_PASTEL)})

# A base below this L* is a deep one; less time than this is little, in minutes.
_DEEP, _SHORT = 45.0, 60.0


def proposed(medium: str, paper: float, base: float, minutes: float = 240.0) -> tuple[School, str]:
    """The school to propose for pencil, marker or pastel on a paper of this L*, a base of this L*, and why. Common practice."""
    deep, short = base < _DEEP, minutes < _SHORT
    if medium == "marker":
        slug, why = ("full_under_painting", "the base is deep") if deep else ("light_to_dark", "a light base blends best so")
        return SCHOOLS["few_brights" if short else slug], "there is little time" if short else why
    if medium == "pastel":
        if deep:
            return SCHOOLS["dark_first_pale_last"], "the base is deep"
        if paper < TONED:
            return SCHOOLS["light_and_glaze"], "the paper is toned"
        return SCHOOLS["all_over_tan" if short else "values_first"], "there is little time" if short else "the paper is light"
    if short:
        return SCHOOLS["few_colours"], "there is little time"
    if deep:
        return SCHOOLS["deep_hard_leads"], "the base is deep"
    return SCHOOLS["map_in_light"], "a light base bears no dark laid too wide"


def medium_of(media: Sequence[str]) -> str:
    """The school medium most of a kit belongs to: marker, pastel or pencil."""
    kinds = ["marker" if MEDIA[m].kind != "film" else "pastel" if "pastel" in m or m == "charcoal" else "pencil" for m in media]
    return max(("pencil", "marker", "pastel"), key=kinds.count)
