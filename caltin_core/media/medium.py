"""What a medium does on paper: the numbers by which one differs from another."""

from dataclasses import dataclass
from typing import Literal

# A film lies in the tooth; a dye sinks into the paper; a cover lies on top and needs no tooth.
Kind = Literal["film", "dye", "cover"]
KINDS: tuple[Kind, ...] = ("film", "dye", "cover")


# A medium looser than this against wax is dust: it covers, and is rubbed with ease.
DUST = 1.2


@dataclass(frozen=True)
class Medium:
    """A medium. All numbers are working values before anything was measured; common practice orders them.

    Films: `deposit` of one medium pass against wax pencil; `drag`, the share of the film below that every pass
    works into the new one; `merge` and `even`, the share a burnish works in and how far it evens out the tooth;
    `scatter_dark` and `scatter_light`, scattering per unit deposit of a black and of a white stick; `grip_after`
    and `grip_again`, what is left of a fresh surface's take-up after a burnish, for a stroke and for another burnish;
    `slick`, whether a burnish leaves such a surface at all; `loose`, how easily it is lifted or rubbed against wax; `bluer`, the
    power of wavelength by which its filler scatters long waves less: 4 of the finest grains (Rayleigh 1871), 0 of the coarsest
    (Mie 1908); `specks`, the deposit of one speck of dust (see `specks_over`), 0 where a film is even; `heaps`, the share of
    what an empty tooth would take that lies on a full one; `builds`, by how much the surface grows where a unit of it lies, in
    units of depth (see `passed`).

    Dyes: `uptake`, how many coats the paper holds; `refusal`, the power of the room left by which it takes less as it fills,
    and `late`, the power of what it holds by which that begins late: 1 from the first coat on, above 1 it drinks whatever is
    brought until it is nearly full; `washes_wet` and `washes_dry`, the share of the dye below that one coat of as much dye
    displaces while that is wet, and when it is dry; `washes_share`, the power of the new dye's share by which less of it
    displaces less; `sinks`, the share of what is displaced that goes deeper, where it is not seen but takes room; `crowds_wet`
    and `crowds_dry`, the share of what finds no room that fights for it with the dye below, where that is wet and where it is
    dry; `soak`, what the fibres scatter among which it lies (see `dyed`), 0 where it lies on them; `permanent`, whether it
    dries where it is laid, so that only earlier coats of such dyes refuse it, that it refuses no other, and that nothing
    dissolves it.

    `lasts` is what a new stick covers with one even medium pass, or a new marker with one coat, in square centimetres: from
    memory.
    """

    slug: str
    name: str
    kind: Kind
    deposit: float = 1.0
    drag: float = 0.0
    merge: float = 0.5
    even: float = 0.3
    scatter_dark: float = 0.03
    scatter_light: float = 0.13
    grip_after: float = 0.35
    grip_again: float = 0.5
    slick: bool = True
    loose: float = 1.0
    uptake: float = 3.0
    refusal: float = 1.0
    late: float = 1.0
    washes_wet: float = 0.0
    washes_dry: float = 0.0
    washes_share: float = 0.25
    sinks: float = 0.0
    crowds_wet: float = 0.0
    crowds_dry: float = 0.0
    soak: float = 0.0
    permanent: bool = False
    bluer: float = 0.5
    specks: float = 0.0
    heaps: float = 0.03
    builds: float = 0.02
    lasts: float = 4000.0

    @property
    def covers(self) -> bool:
        """Whether it is a loose medium, such as pastel, that covers what lies below; common practice."""
        return self.kind == "film" and self.loose > DUST
