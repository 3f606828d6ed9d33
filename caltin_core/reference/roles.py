"""The roles a place can have, in the order an artist goes through them."""

from dataclasses import dataclass
from typing import Literal

# How a role meets another: as one tone goes over into the next; with an outline of its own that nothing crosses; or as strands
# that lie over what goes on under them.
Meets = Literal["tones", "outline", "strands"]
# What is usual there of black: none, or wherever it helps.
Black = Literal["never", "allowed"]


@dataclass(frozen=True)
class Role:
    """A role: its slug, its name, the group it is offered in, what is usual there of black, if anything, and how it meets what lies
    beside it.

    `line_tone` is the D50 CIELAB a zone of a line drawing begins with, in the middle of what the role usually is.
    """

    slug: str
    name: str
    group: str
    black: Black | None = None
    line_tone: tuple[float, float, float] = (60.0, 16.0, 20.0)
    meets: Meets = "tones"


# L* of the tones a line drawing begins with, common practice; the artist changes them.
_LIGHTNESS = {
    "highlight": 88, "light": 78, "base": 68, "flush": 62, "half-tone": 56, "reflected light": 54, "shadow": 42,
    "deepest accent": 26, "lower lip": 56, "upper lip": 48, "eye white": 80, "teeth": 82, "hair in light": 40,
    "hair in shade": 24, "brow": 28, "pupil": 18, "iris": 40,
}  # fmt: skip


# Common practice: these keep a clean outline, however softly a picture shows it; and these are drawn stroke by stroke.
_OUTLINED = {"eye white", "iris", "pupil", "teeth", "nail"}
_STRANDS = {"hair in light", "hair in shade", "brow", "lashes", "stubble"}
# Common practice: black dirties what is meant to shine; these need it, early under brown or as a last touch.
_NO_BLACK = {"highlight", "light", "reflected light", "eye white", "teeth", "nail"}
_BLACK = {"deepest accent", "lip crease", "mouth interior", "pupil", "lashes", "brow", "nostril", "hair in shade"}


def _meets(name: str) -> Meets:
    return "outline" if name in _OUTLINED else "strands" if name in _STRANDS else "tones"


def _black(name: str) -> Black | None:
    return "never" if name in _NO_BLACK else "allowed" if name in _BLACK else None


def _roles(group: str, names: str) -> tuple[Role, ...]:
    return tuple(
        Role(name.replace(" ", "_").replace("-", "_"), name, group, _black(name), (_LIGHTNESS.get(name, 60), 16, 20), _meets(name))
        for name in names.split(", ")
    )


ROLES = (
    *_roles("skin", "highlight, light, base, half-tone, shadow, deepest accent, reflected light, flush"),
    *_roles("mouth", "upper lip, lower lip, lip crease, mouth interior, teeth"),
    *_roles("eye", "eye white, tear duct, iris, pupil, lashes, brow"),
    *_roles("other", "nostril, freckles, wrinkle, stubble, make-up, nail, hair in light, hair in shade"),
)
MEETS: dict[str, Meets] = {role.slug: role.meets for role in ROLES}


def is_skin(slug: str) -> bool:
    """Whether a role is of skin: what has no outline and no strands of its own; a name that is no role's is taken to be."""
    return MEETS.get(slug, "tones") == "tones"


NAMES = {role.slug: role.name for role in ROLES}
SLUGS = frozenset(NAMES)
BASE = "base"
# The roles that lie on the eye line.
EYE_ROLES = frozenset({"eye_white", "iris", "pupil"})
