"""What the library looks like from outside."""

from datetime import datetime
from typing import Annotated
from uuid import UUID

from ninja import Schema
from pydantic import Field

from caltin_core.contract.shapes import ActShape
from caltin_site.shapes import Lab, Strict, Tone
from caltin_site.studies.state import LAYERS_MOST, PlaceId

Name = Annotated[str, Field(min_length=1, max_length=120)]


class MemberData(Strict):
    """One role of what is kept: its recipe, the tone aimed at, and what the recipe looks like there."""

    role: str
    called: str
    target: Lab
    looks: Lab
    layers: Annotated[list[ActShape], Field(min_length=1, max_length=LAYERS_MOST)]
    words: str


class KeptData(Strict):
    """What one version holds: its members, the light it was judged in, in how many colours in all, the school's name."""

    members: Annotated[list[MemberData], Field(min_length=1, max_length=60)]
    light: str = "D50"
    together: int = 0
    school: str = ""
    study: str = ""


class KeepAsked(Strict):
    """What to keep of a study: these places, or all; under a new name, or as the next version of something kept."""

    name: Name
    note: Annotated[str, Field(max_length=20_000)] = ""
    places: list[PlaceId] = []
    keepsake: UUID | None = None


class NameAsked(Strict):
    """Another name and note."""

    name: Name
    note: Annotated[str, Field(max_length=20_000)] = ""


class CarryAsked(Strict):
    """Where to carry something kept."""

    kit: UUID
    paper: UUID
    hand: UUID
    number: Annotated[int, Field(ge=1)] | None = None


class FromLibrary(Strict):
    """A member of something kept, to take for a place of a study."""

    place: PlaceId
    keepsake: UUID
    member: Annotated[int, Field(ge=0)]


class LibraryAsked(Schema):
    """What is looked for; all that is given must hold: near a tone (D50 Lab, all three or none), a role, a medium, a class of
    ITA°, words."""

    l: Annotated[float, Field(ge=0, le=100)] | None = None  # noqa: E741
    a: Annotated[float, Field(ge=-200, le=200)] | None = None
    b: Annotated[float, Field(ge=-200, le=200)] | None = None
    role: str = ""
    medium: str = ""
    complexion: str = ""
    q: Annotated[str, Field(max_length=200)] = ""

    def near(self) -> Lab | None:
        """The tone, if one is given."""
        return None if self.l is None or self.a is None or self.b is None else Lab(l=self.l, a=self.a, b=self.b)


class MemberOut(Schema):
    """A role of what is kept."""

    role: str
    role_name: str
    called: str
    tone: Tone
    words: str
    colours: list[Tone]
    names: list[str]


class KeptOut(Schema):
    """Something kept, in its newest version: with its conditions, what is measured of its base, and how far it lies from the
    tone asked, in ΔE00."""

    id: UUID
    name: str
    note: str
    number: int
    made: datetime
    media: list[str]
    kit: str
    paper: str
    hand: str
    light: str
    school: str
    study: str
    undertone: str
    ita: float | None
    ita_class: str
    members: list[MemberOut]
    nearest: int | None
    away: float | None


class VersionOut(Schema):
    """One version of something kept."""

    number: int
    made: datetime
    kit: str
    paper: str
    members: int


class CarriedMember(Schema):
    """A member as it comes out elsewhere; what is lost, or empty."""

    role_name: str
    called: str
    looked: Tone
    comes_out: Tone | None
    de00: float | None
    words: str
    lost: str


class CarriedOut(Schema):
    """Something kept, carried elsewhere."""

    kit: str
    paper: str
    members: list[CarriedMember]
    colours: int
