"""The roles a place can have, in the order an artist goes through them."""

from dataclasses import dataclass


@dataclass(frozen=True)
class Role:
    """A role: its slug, its name, the group it is offered in, and whether black is usual there."""

    slug: str
    name: str
    group: str
    black_usual: bool = False


def _roles(group: str, names: str, black: str = "") -> tuple[Role, ...]:
    dark = set(black.split(", "))
    return tuple(Role(name.replace(" ", "_").replace("-", "_"), name, group, name in dark) for name in names.split(", "))


ROLES = (
    *_roles("skin", "highlight, light, base, half-tone, shadow, deepest accent, reflected light, flush", "deepest accent"),
    *_roles("mouth", "upper lip, lower lip, lip crease, mouth interior, teeth", "lip crease, mouth interior"),
    *_roles("eye", "eye white, tear duct, iris, pupil, lashes, brow", "pupil, lashes, brow"),
    *_roles("other", "nostril, freckles, wrinkle, stubble, make-up, nail, hair in light, hair in shade", "nostril, hair in shade"),
)
SLUGS = frozenset(role.slug for role in ROLES)
BASE = "base"
