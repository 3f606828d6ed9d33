"""A colour as it is carried in and out, and the row of a file that becomes one."""

import re
from collections.abc import Sequence
from dataclasses import dataclass
from itertools import pairwise
from typing import Annotated, Any, Literal

import numpy as np
from pydantic import Field, ValidationError

from caltin_core.colour.spaces import lab_from_hex
from caltin_core.colour.spectra import lab_from_reflectance, reflectance_from_samples
from caltin_core.colour.tables import BANDS
from caltin_core.contract.faults import fault_of
from caltin_core.contract.shapes import Finite, HandlingShape, LabTuple, Medium, Shape
from caltin_core.errors import BadRequest, CaltinError

Format = Literal["csv", "json", "gpl", "cgats"]
MOST_COLOURS = 5000
Lightfast = Literal["", "excellent", "very good", "fair", "poor"]
_SPECTRAL = re.compile(r"(?:SPECTRAL|SPEC|NM|R)[_A-Z]*?_?(\d{3})", re.IGNORECASE)
_YES = {"yes", "true", "1", "x"}
_NO = {"no", "false", "0", ""}


class Entry(Shape):
    """A colour as it is carried: its solid's D50 Lab, and its spectrum of 31 bands at 400-700 nm where it was measured."""

    id: Annotated[str, Field(min_length=1, max_length=40, pattern=r"^[A-Za-z0-9_-]+$")]
    name: Annotated[str, Field(min_length=1, max_length=80)]
    line: Annotated[str, Field(max_length=60)] = ""
    medium: Medium = "wax_pencil"
    lab: LabTuple
    spectrum: Annotated[list[Annotated[Finite, Field(gt=0, lt=1)]], Field(max_length=BANDS)] = Field(default_factory=list)
    handling: HandlingShape = HandlingShape()
    lightfast: Lightfast = ""
    harmful: Annotated[str, Field(max_length=200)] = ""
    retired: bool = False


class KitFile(Shape):
    """Caltin's own JSON file of a kit."""

    format: Literal["caltin kit"] = "caltin kit"
    version: Literal[1] = 1
    name: Annotated[str, Field(min_length=1, max_length=80)]
    colours: Annotated[list[Entry], Field(max_length=MOST_COLOURS)]


@dataclass(frozen=True)
class Row:
    """One row of a file: its number there, its cells as they were, and the colour it becomes, or what is wrong with it."""

    number: int
    cells: dict[str, str]
    entry: Entry | None
    wrong: str = ""


@dataclass(frozen=True)
class Read:
    """What a file says: the kit's name where it has one, and its rows."""

    name: str
    format: Format
    rows: tuple[Row, ...]


def safe(text: str) -> str:
    """Text that a spreadsheet will not take for a formula; `plain` takes the mark off again."""
    return "'" + text if text[:1] in ("=", "+", "-", "@", "'", "\t", "\r") else text


def plain(text: str) -> str:
    """The text that `safe` was given."""
    return text[1:] if text[:1] == "'" else text


def is_spectral(heads: Sequence[str]) -> bool:
    """Whether any of these columns holds a band of a spectrum."""
    return any(_SPECTRAL.fullmatch(h) for h in heads)


def row_of(number: int, cells: dict[str, str], medium: Medium) -> Row:
    """A colour of named cells, or what is wrong with them; of `medium` where it does not say its own."""
    try:
        return Row(number, cells, _entry(cells, number, medium))
    except ValidationError as fault:
        found = fault_of(fault)
        return Row(number, cells, None, f"{found.where}: {found.what}")
    except CaltinError as fault:
        return Row(number, cells, None, f"{fault.where}: {fault.what}" if fault.where else fault.what)


def _entry(cells: dict[str, str], number: int, medium: Medium) -> Entry:
    known = {k.strip().casefold(): v.strip() for k, v in cells.items()}
    name = plain(known.get("name", "") or known.get("id", ""))
    spectrum = _spectrum(cells)
    lab = lab_from_reflectance(np.array(spectrum)) if spectrum else None
    if all(known.get(k) for k in ("l", "a", "b")):
        lab = np.array([_number(known[k], k.upper() if k == "l" else k) for k in ("l", "a", "b")])
    elif lab is None and known.get("hex"):
        try:
            lab = lab_from_hex(known["hex"])
        except ValueError as fault:
            raise BadRequest("hex", str(fault)) from None
    if lab is None:
        raise BadRequest("", "there is no colour in this row: give L, a and b, or a hex, or a spectrum")
    handling: dict[str, Any] = {k: _yes(known[k], k) for k in ("weak", "crumbles", "chalky", "keeps_point") if known.get(k)}
    if known.get("hardness"):
        handling["hardness"] = int(_number(known["hardness"], "hardness"))
    if known.get("nib"):
        handling["nib"] = known["nib"].casefold()
    given: dict[str, Any] = {
        "id": known.get("id") or _id_of(name, number), "name": name, "line": plain(known.get("line", "")),
        "medium": known.get("medium", "").replace(" ", "_").casefold() or medium, "lab": tuple(float(v) for v in lab),
        "spectrum": spectrum, "handling": handling, "lightfast": known.get("lightfast", ""),
        "harmful": plain(known.get("harmful", "")), "retired": _yes(known.get("retired", ""), "retired"),
    }  # fmt: skip
    return Entry.model_validate(given)


def _number(text: str, where: str) -> float:
    try:
        return float(text.replace(",", ".") if text.count(",") == 1 and "." not in text else text)
    except ValueError:
        raise BadRequest(where, f"“{text[:30]}” is not a number") from None


def _yes(text: str, where: str) -> bool:
    if text.casefold() in _YES | _NO:
        return text.casefold() in _YES
    raise BadRequest(where, f"“{text[:30]}” is neither yes nor no")


def _id_of(name: str, number: int) -> str:
    return f"{re.sub(r'[^a-z0-9]+', '-', name.casefold()).strip('-')[:32]}-{number}".strip("-")


def _spectrum(cells: dict[str, str]) -> list[float]:
    """31 bands of the spectral columns of a row; in per cent where any is above 1.5."""
    found = {}
    for key, value in cells.items():
        here = _SPECTRAL.fullmatch(key.strip())
        if here and value.strip():
            found[int(here[1])] = _number(value.strip(), key)
    if not found:
        return []
    at = sorted(found)
    steps = {b - a for a, b in pairwise(at)}
    if len(steps) != 1:
        raise BadRequest("spectrum", "the bands must lie the same step apart")
    values = np.array([found[nm] for nm in at])
    if values.max() > 1.5:
        values = values / 100
    bands = reflectance_from_samples(float(at[0]), float(steps.pop()), np.clip(values, 0, 1))
    return [round(float(v), 6) for v in bands]
