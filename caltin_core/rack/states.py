"""How full a stick is, and what that means for recipes."""

from typing import Literal

State = Literal["full", "low", "worn short", "dry", "lent", "lost"]
# What cannot be drawn with now; and what is used only where it is worth it (`recipes.rules.SPARED`).
OUT: frozenset[str] = frozenset({"dry", "lent", "lost"})
SPARING: frozenset[str] = frozenset({"low", "worn short"})
