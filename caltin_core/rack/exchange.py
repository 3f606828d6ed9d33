"""Kits carried in and out: CSV, Caltin's own JSON, GPL palettes, and CGATS text with spectra.

Reading never stops at a bad row: each row becomes a colour, or says what is wrong with it and stays as it was, to be mended.
"""

import csv
import io
import json
import re
from collections.abc import Iterable, Sequence
from dataclasses import dataclass
from itertools import pairwise
from typing import Annotated, Any, Literal

import numpy as np
from pydantic import Field, ValidationError

from caltin_core.colour.spaces import hex_from_lab, lab_from_hex
from caltin_core.colour.spectra import lab_from_reflectance, reflectance_from_samples
from caltin_core.colour.tables import BAND_START, BAND_STEP, BANDS
from caltin_core.contract.faults import fault_of
from caltin_core.contract.shapes import Finite, HandlingShape, LabTuple, Medium, Shape
from caltin_core.errors import BadRequest, CaltinError

Format = Literal["csv", "json", "gpl", "cgats"]
MOST_BYTES, MOST_COLOURS = 5_000_000, 5000
Lightfast = Literal["", "excellent", "very good", "fair", "poor"]
_PLAIN = ("id", "name", "line", "medium", "L", "a", "b", "hex", "hardness", "weak", "crumbles", "chalky", "keeps_point",
          "nib", "lightfast", "harmful", "retired")  # fmt: skip
_BANDS = tuple(f"r{BAND_START + BAND_STEP * i}" for i in range(BANDS))
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


def read(content: bytes, medium: Medium = "wax_pencil") -> Read:
    """Read a file of any of the formats; `medium` is that of colours which do not say theirs.

    Raises BadRequest for a file that is none of them, is packed, or is far too long.
    """
    if len(content) > MOST_BYTES:
        raise BadRequest("file", f"the file has {len(content) / 1e6:.0f} MB; up to {MOST_BYTES / 1e6:.0f} can be read")
    if content[:2] in (b"PK", b"\x1f\x8b"):
        raise BadRequest("file", "this file is packed; unpack it and choose the file inside")
    text = _text(content)
    start = text.lstrip()[:200]
    if start.startswith("{"):
        out = _json(text)
    elif start.startswith("GIMP Palette"):
        out = _gpl(text, medium)
    elif "BEGIN_DATA_FORMAT" in text:
        out = _cgats(text, medium)
    else:
        out = _csv(text, medium)
    if len(out.rows) > MOST_COLOURS:
        raise BadRequest("file", f"the file has {len(out.rows)} rows; a kit holds up to {MOST_COLOURS} colours")
    if not out.rows:
        raise BadRequest("file", "there is no colour in this file")
    return Read(out.name, out.format, _once(out.rows))


def mended(cells: dict[str, str], number: int, medium: Medium = "wax_pencil") -> Row:
    """A row again, after its cells were changed by hand."""
    return _row(number, cells, medium)


def write(name: str, entries: Sequence[Entry], format: Format) -> bytes:
    """A file of a format. CSV and JSON keep everything, CGATS the colours and spectra, a GPL palette only screen colours."""
    if format == "json":
        return KitFile(name=name, colours=list(entries)).model_dump_json(indent=1).encode()
    if format == "gpl":
        return _as_gpl(name, entries).encode()
    return _as_csv(entries).encode("utf-8-sig") if format == "csv" else _as_cgats(name, entries).encode()


def kit_file_schema() -> dict[str, Any]:
    """The published schema of Caltin's own file (JSON Schema 2020-12)."""
    return {"$schema": "https://json-schema.org/draft/2020-12/schema", **KitFile.model_json_schema()}


def safe(text: str) -> str:
    """Text that a spreadsheet will not take for a formula; `plain` takes the mark off again."""
    return "'" + text if text[:1] in ("=", "+", "-", "@", "'", "\t", "\r") else text


def plain(text: str) -> str:
    """The text that `safe` was given."""
    return text[1:] if text[:1] == "'" else text


def _text(content: bytes) -> str:
    for mark, encoding in ((b"\xff\xfe", "utf-16"), (b"\xfe\xff", "utf-16"), (b"", "utf-8-sig"), (b"", "cp1252")):
        if content.startswith(mark):
            try:
                text = content.decode(encoding)
            except UnicodeDecodeError:
                continue
            if "\x00" not in text:
                return text
    raise BadRequest("file", "this is not a text file")


def _once(rows: Iterable[Row]) -> tuple[Row, ...]:
    """The rows, a colour whose id is there already being wrong."""
    seen: set[str] = set()
    out = []
    for row in rows:
        if row.entry is not None and row.entry.id in seen:
            row = Row(row.number, row.cells, None, f"“{row.entry.id}” is there twice")
        elif row.entry is not None:
            seen.add(row.entry.id)
        out.append(row)
    return tuple(out)


def _row(number: int, cells: dict[str, str], medium: Medium) -> Row:
    """A colour of named cells, or what is wrong with them."""
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


def _json(text: str) -> Read:
    try:
        raw = json.loads(text)
    except (ValueError, RecursionError):
        raise BadRequest("file", "this is not whole JSON") from None
    if not isinstance(raw, dict) or raw.get("format") != "caltin kit" or not isinstance(raw.get("colours"), list):
        raise BadRequest("file", "this JSON file is not a kit that Caltin wrote")
    rows = []
    for number, colour in enumerate(raw["colours"], 1):
        cells = _cells(colour) if isinstance(colour, dict) else {"colour": str(colour)[:200]}
        try:
            rows.append(Row(number, cells, Entry.model_validate(colour)))
        except ValidationError as fault:
            found = fault_of(fault)
            rows.append(Row(number, cells, None, f"{found.where}: {found.what}"))
    return Read(str(raw.get("name", ""))[:80], "json", tuple(rows))


def _cells(colour: dict[str, Any]) -> dict[str, str]:
    """A colour of our own file as the cells of a row, to be mended."""
    out = {k: str(v) for k, v in colour.items() if k in _PLAIN and not isinstance(v, dict | list)}
    lab = colour.get("lab")
    if isinstance(lab, list):
        out.update({k: str(v) for k, v in zip(("L", "a", "b"), lab, strict=False)})
    handling = colour.get("handling")
    if isinstance(handling, dict):
        out.update({k: str(v) for k, v in handling.items() if k in _PLAIN})
    return out


def _csv(text: str, medium: Medium) -> Read:
    first = text.split("\n", 1)[0]
    mark = max((",", ";", "\t"), key=first.count)
    try:
        reader = csv.reader(io.StringIO(text, newline=""), delimiter=mark)
        table = [row for row in reader if any(cell.strip() for cell in row)]
    except csv.Error:
        raise BadRequest("file", "this is neither a table of colours nor any of the other files") from None
    heads = [h.strip() for h in table[0]] if table else []
    plainly = {h.casefold() for h in heads}
    if not ({"l", "a", "b"} <= plainly or "hex" in plainly or any(_SPECTRAL.fullmatch(h) for h in heads)):
        raise BadRequest("row 1", "the first row names the columns: L, a and b, or hex, or r400 to r700; and name, id, medium")
    rows = []
    for number, cells in enumerate(table[1:], 2):
        if len(cells) > len(heads):
            rows.append(Row(number, dict(zip(heads, cells, strict=False)), None, "this row has more cells than the first one"))
        else:
            rows.append(_row(number, dict(zip(heads, cells, strict=False)), medium))
    return Read("", "csv", tuple(rows))


def _as_csv(entries: Sequence[Entry]) -> str:
    out = io.StringIO()
    rows = csv.writer(out, lineterminator="\r\n")
    rows.writerow([*_PLAIN, *_BANDS])
    for e in entries:
        handling = e.handling
        said = [
            e.id, safe(e.name), safe(e.line), e.medium, *(repr(v) for v in e.lab), hex_from_lab(np.array(e.lab))[0],
            handling.hardness, *("yes" if getattr(handling, k) else "no" for k in ("weak", "crumbles", "chalky", "keeps_point")),
            handling.nib, e.lightfast, safe(e.harmful), "yes" if e.retired else "no",
        ]  # fmt: skip
        rows.writerow([*said, *([repr(v) for v in e.spectrum] or [""] * BANDS)])
    return out.getvalue()


def _gpl(text: str, medium: Medium) -> Read:
    """A palette of the format that the image editor which made it publishes: a head, then red, green, blue and a name."""
    rows: list[Row] = []
    name = ""
    for number, line in enumerate(text.splitlines()[1:], 2):
        said = line.strip()
        if said.startswith("Name:"):
            name = said[5:].strip()[:80]
        elif said and not said.startswith(("#", "Columns:")):
            parts = said.split(None, 3)
            called = parts[3].strip() if len(parts) > 3 else f"Colour {len(rows) + 1}"
            try:
                red, green, blue = (int(v) for v in parts[:3])
                if not all(0 <= v <= 255 for v in (red, green, blue)):
                    raise ValueError
                rows.append(_row(number, {"name": called[:80], "hex": f"#{red:02x}{green:02x}{blue:02x}"}, medium))
            except ValueError:
                rows.append(Row(number, {"name": said[:80], "hex": ""}, None, "three numbers from 0 to 255 must come first"))
    return Read(name, "gpl", tuple(rows))


def _as_gpl(name: str, entries: Sequence[Entry]) -> str:
    lines = ["GIMP Palette", f"Name: {name}", "Columns: 8", "# Screen colours of solid swatches; spectra are in the other files."]
    for e in entries:
        hex_ = hex_from_lab(np.array(e.lab))[0]
        red, green, blue = (int(hex_[i : i + 2], 16) for i in (1, 3, 5))
        lines.append(f"{red:3d} {green:3d} {blue:3d}\t{' '.join(e.name.split())}")
    return "\n".join(lines) + "\n"


def _cgats(text: str, medium: Medium) -> Read:
    """A table after CGATS.17: fields named between BEGIN_DATA_FORMAT and END_DATA_FORMAT, rows between BEGIN_DATA and END_DATA."""
    lines = text.splitlines()
    fields: list[str] = []
    rows: list[Row] = []
    name, inside = "", ""
    alias = {
        "SAMPLE_ID": "id",
        "SAMPLE_NAME": "name",
        "LAB_L": "L",
        "LAB_A": "a",
        "LAB_B": "b",
        "SAMPLE_LINE": "line",
        "SAMPLE_MEDIUM": "medium",
    }
    for number, line in enumerate(lines, 1):
        said = line.strip()
        if said in ("BEGIN_DATA_FORMAT", "BEGIN_DATA"):
            inside = said
        elif said in ("END_DATA_FORMAT", "END_DATA"):
            inside = ""
        elif inside == "BEGIN_DATA_FORMAT":
            fields += said.split()
        elif inside == "BEGIN_DATA" and said and not said.startswith("#"):
            values = [quoted or bare for quoted, bare in re.findall(r'"([^"]*)"|(\S+)', said)]
            cells = {alias.get(f.upper(), f): v for f, v in zip(fields, values, strict=False)}
            if len(values) != len(fields):
                rows.append(Row(number, cells, None, f"this row has {len(values)} values for {len(fields)} fields"))
            else:
                if not re.fullmatch(r"[A-Za-z0-9_-]{1,40}", cells.get("id", "x")):
                    cells["name"], cells["id"] = cells.get("name") or cells["id"], ""
                rows.append(_row(number, cells, medium))
        elif said.startswith("DESCRIPTOR"):
            name = said[10:].strip().strip('"')[:80]
    return Read(name, "cgats", tuple(rows))


def _as_cgats(name: str, entries: Sequence[Entry]) -> str:
    """Our own file's fields in the order of CGATS.17; bands only where every colour has them."""
    spectra = bool(entries) and all(e.spectrum for e in entries)
    fields = ["SAMPLE_ID", "SAMPLE_NAME", "SAMPLE_LINE", "SAMPLE_MEDIUM", "LAB_L", "LAB_A", "LAB_B"]
    fields += [f"SPECTRAL_NM{band[1:]}" for band in _BANDS] if spectra else []
    quoted = str.maketrans({'"': "'", "\n": " ", "\r": " "})
    lines = ["CGATS.17", 'ORIGINATOR "Caltin"', f'DESCRIPTOR "{name.translate(quoted)}"', 'MEASUREMENT_SOURCE "D50 2 degrees"']
    lines += [f"NUMBER_OF_FIELDS {len(fields)}", "BEGIN_DATA_FORMAT", " ".join(fields), "END_DATA_FORMAT"]
    lines += [f"NUMBER_OF_SETS {len(entries)}", "BEGIN_DATA"]
    for e in entries:
        said = [e.id, f'"{e.name.translate(quoted)}"', f'"{e.line.translate(quoted)}"', e.medium, *(repr(v) for v in e.lab)]
        lines.append(" ".join([*said, *(repr(v) for v in (e.spectrum if spectra else []))]))
    return "\n".join([*lines, "END_DATA", ""])
