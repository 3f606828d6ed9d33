"""Kits carried in and out: CSV, Caltin's own JSON, GPL palettes, and CGATS text with spectra.

Reading never stops at a bad row: each row becomes a colour, or says what is wrong with it and stays as it was, to be mended.
"""

from collections.abc import Iterable, Sequence
from typing import Any

from caltin_core.contract.shapes import Medium
from caltin_core.errors import BadRequest
from caltin_core.rack.entries import MOST_COLOURS, Entry, Format, KitFile, Read, Row, row_of
from caltin_core.rack.formats import as_cgats, as_csv, as_gpl, as_json, from_cgats, from_csv, from_gpl, from_json

MOST_BYTES = 5_000_000


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
        out = from_json(text)
    elif start.startswith("GIMP Palette"):
        out = from_gpl(text, medium)
    elif "BEGIN_DATA_FORMAT" in text:
        out = from_cgats(text, medium)
    else:
        out = from_csv(text, medium)
    if len(out.rows) > MOST_COLOURS:
        raise BadRequest("file", f"the file has {len(out.rows)} rows; a kit holds up to {MOST_COLOURS} colours")
    if not out.rows:
        raise BadRequest("file", "there is no colour in this file")
    return Read(out.name, out.format, _once(out.rows))


def mended(cells: dict[str, str], number: int, medium: Medium = "wax_pencil") -> Row:
    """A row again, after its cells were changed by hand."""
    return row_of(number, cells, medium)


def write(name: str, entries: Sequence[Entry], format: Format) -> bytes:
    """A file of a format. CSV and JSON keep everything, CGATS the colours and spectra, a GPL palette only screen colours."""
    if format == "json":
        return as_json(name, entries).encode()
    if format == "gpl":
        return as_gpl(name, entries).encode()
    return as_csv(entries).encode("utf-8-sig") if format == "csv" else as_cgats(name, entries).encode()


def kit_file_schema() -> dict[str, Any]:
    """The published schema of Caltin's own file (JSON Schema 2020-12)."""
    return {"$schema": "https://json-schema.org/draft/2020-12/schema", **KitFile.model_json_schema()}


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
