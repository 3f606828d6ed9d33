"""Each format that a kit is carried in, read and written: Caltin's own JSON, CSV, GPL palettes, and CGATS text with spectra.

Every reader takes the text of a file, and the medium of colours which do not say theirs; it raises BadRequest where the file as a
whole cannot be read. A bad row stays as it was, with what is wrong with it.
"""

import csv
import io
import json
import re
from collections.abc import Sequence
from typing import Any

import numpy as np
from pydantic import ValidationError

from caltin_core.colour.spaces import hex_from_lab
from caltin_core.colour.tables import BAND_START, BAND_STEP, BANDS
from caltin_core.contract.faults import fault_of
from caltin_core.contract.shapes import Medium
from caltin_core.errors import BadRequest
from caltin_core.rack.entries import Entry, KitFile, Read, Row, is_spectral, row_of, safe

_PLAIN = ("id", "name", "line", "medium", "L", "a", "b", "hex", "hardness", "weak", "crumbles", "chalky", "keeps_point",
          "nib", "lightfast", "harmful", "retired")  # fmt: skip
_BANDS = tuple(f"r{BAND_START + BAND_STEP * i}" for i in range(BANDS))


def from_json(text: str) -> Read:
    """Our own file."""
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


def as_json(name: str, entries: Sequence[Entry]) -> str:
    """Our own file."""
    return KitFile(name=name, colours=list(entries)).model_dump_json(indent=1)


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


def from_csv(text: str, medium: Medium) -> Read:
    """A table whose first row names its columns, by comma, semicolon or tab."""
    first = text.split("\n", 1)[0]
    mark = max((",", ";", "\t"), key=first.count)
    try:
        reader = csv.reader(io.StringIO(text, newline=""), delimiter=mark)
        table = [row for row in reader if any(cell.strip() for cell in row)]
    except csv.Error:
        raise BadRequest("file", "this is neither a table of colours nor any of the other files") from None
    heads = [h.strip() for h in table[0]] if table else []
    plainly = {h.casefold() for h in heads}
    if not ({"l", "a", "b"} <= plainly or "hex" in plainly or is_spectral(heads)):
        raise BadRequest("row 1", "the first row names the columns: L, a and b, or hex, or r400 to r700; and name, id, medium")
    rows = []
    for number, cells in enumerate(table[1:], 2):
        if len(cells) > len(heads):
            rows.append(Row(number, dict(zip(heads, cells, strict=False)), None, "this row has more cells than the first one"))
        else:
            rows.append(row_of(number, dict(zip(heads, cells, strict=False)), medium))
    return Read("", "csv", tuple(rows))


def as_csv(entries: Sequence[Entry]) -> str:
    """All that is known of the colours, a row each."""
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


def from_gpl(text: str, medium: Medium) -> Read:
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
                rows.append(row_of(number, {"name": called[:80], "hex": f"#{red:02x}{green:02x}{blue:02x}"}, medium))
            except ValueError:
                rows.append(Row(number, {"name": said[:80], "hex": ""}, None, "three numbers from 0 to 255 must come first"))
    return Read(name, "gpl", tuple(rows))


def as_gpl(name: str, entries: Sequence[Entry]) -> str:
    """Screen colours and names."""
    lines = ["GIMP Palette", f"Name: {name}", "Columns: 8", "# Screen colours of solid swatches; spectra are in the other files."]
    for e in entries:
        hex_ = hex_from_lab(np.array(e.lab))[0]
        red, green, blue = (int(hex_[i : i + 2], 16) for i in (1, 3, 5))
        lines.append(f"{red:3d} {green:3d} {blue:3d}\t{' '.join(e.name.split())}")
    return "\n".join(lines) + "\n"


def from_cgats(text: str, medium: Medium) -> Read:
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
                rows.append(row_of(number, cells, medium))
        elif said.startswith("DESCRIPTOR"):
            name = said[10:].strip().strip('"')[:80]
    return Read(name, "cgats", tuple(rows))


def as_cgats(name: str, entries: Sequence[Entry]) -> str:
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
