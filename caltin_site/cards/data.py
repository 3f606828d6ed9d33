"""A study's data to take along as JSON or CSV, and read back without loss."""

import base64
import binascii
import csv
import io
import json
from datetime import datetime
from typing import Any

import numpy as np
from django.db import transaction
from PIL import Image
from pydantic import ValidationError

from caltin_core.contract.faults import fault_of
from caltin_core.contract.shapes import ActShape, BlendShape, CoatShape, LaidShape, LayShape, LiftShape
from caltin_core.errors import BadRequest
from caltin_core.rack.entries import plain, safe
from caltin_core.reference.areas import Labels
from caltin_site.journal import keeping
from caltin_site.journal import services as journal
from caltin_site.journal.models import Entry
from caltin_site.journal.schemas import EntryIn, LaidOut, MarkIn, MarkOut
from caltin_site.kits import rack
from caltin_site.kits import services as kits
from caltin_site.kits.models import Hand, Kit, Paper
from caltin_site.kits.schemas import HandData, KitColour, KitData, PaperData
from caltin_site.references import services as references
from caltin_site.references.models import Picture
from caltin_site.shapes import Lab, Strict
from caltin_site.studies import history
from caltin_site.studies import services as studies
from caltin_site.studies.models import Study
from caltin_site.studies.state import Pins, Place, Recipe, State

FORMAT = 2
# The form before told marks by tokens.
_READ = (1, FORMAT)
_NEUTRAL = dict.fromkeys(("kit", "paper", "hand"), "00000000-0000-0000-0000-000000000000")
COLUMNS = (
    "place", "role", "name", "x", "y", "radius", "L", "a", "b", "spread", "kind", "layer", "colour", "colour_name", "medium",
    "solid_L", "solid_a", "solid_b", "pressure", "passes", "point", "turned",
)  # fmt: skip


# What is done to what lies there, in the column of the pressure; its tool stands in that of the point.
_ACTS = ("blend", "lift")


class Named(Strict):
    """A kit, paper or hand with its name."""

    name: str
    data: dict[str, Any]


class PictureFile(Strict):
    """The picture, as PNG in base64."""

    name: str
    png: str


class MarkFile(MarkIn):
    """A mark of the log; `tokens` in files of the first form."""

    tokens: list[str] = []
    made: datetime | None = None


class EntryFile(EntryIn):
    """An entry of the journal, with its photograph."""

    made: datetime | None = None
    photograph: PictureFile | None = None


class StudyFile(Strict):
    """A whole study in a file."""

    caltin: int
    state: State
    kit: Named
    paper: Named
    hand: Named
    picture: PictureFile | None = None
    areas: str | None = None
    drawn: list[MarkFile] = []
    entries: list[EntryFile] = []


def to_json(study: Study) -> bytes:
    """Everything of a study but its history."""
    state = history.state_of(study).model_dump(mode="json")
    areas = state["areas"]
    state |= {"pins": _NEUTRAL, "picture": None, "areas": None}
    versions = {k: getattr(study, f"{k}_version") for k in ("kit", "paper", "hand")}
    out: dict[str, Any] = {"caltin": FORMAT, "state": state}
    out |= {kind: {"name": v.thing.name, "data": v.data} for kind, v in versions.items()}
    out["picture"] = {"name": study.picture.name, "png": _png(study.picture)} if study.picture else None
    if areas:
        out["areas"] = base64.b64encode(_map_png(references.labels_of(study.owner, areas))).decode()
    marks = study.drawn.order_by("made", "pk")
    out["drawn"] = [MarkOut.from_orm(m).model_dump(mode="json") for m in marks]
    out["entries"] = [_entry(e) for e in study.entries.select_related("picture").order_by("made", "pk")]
    return json.dumps(out, ensure_ascii=False, indent=1).encode()


def _entry(entry: Entry) -> dict[str, Any]:
    out = {
        "client_id": str(entry.client_id), "text": entry.text, "place": entry.place, "tone": entry.tone,
        "made": entry.made.isoformat(),
    }  # fmt: skip
    return out | ({"photograph": {"name": entry.picture.name, "png": _png(entry.picture)}} if entry.picture else {})


def _png(picture: Picture) -> str:
    out = io.BytesIO()
    Image.fromarray(np.load(picture.folder / "pixels.npy")).save(out, "PNG", compress_level=3)
    return base64.b64encode(out.getvalue()).decode()


def _map_png(labels: Labels) -> bytes:
    out = io.BytesIO()
    Image.fromarray(labels).save(out, "PNG")
    return out.getvalue()


def from_json(owner: Any, content: bytes) -> Study:
    """A new study from a file that `to_json` wrote. Raises BadRequest with where and what."""
    try:
        raw = json.loads(content.decode("utf-8-sig"))
        file = StudyFile.model_validate(raw)
    except ValidationError as fault:
        raise fault_of(fault) from None
    except (ValueError, RecursionError):
        raise BadRequest("file", "this is not a study that Caltin saved") from None
    if file.caltin not in _READ:
        raise BadRequest("caltin", f"this file has the form {file.caltin}; form {FORMAT} can be read")
    data = {kind: _data(kind, getattr(file, kind)) for kind in ("kit", "paper", "hand")}
    with transaction.atomic():
        pins = {kind: _same_or_new(owner, kind, getattr(file, kind).name, data[kind]) for kind in data}
        picture = _picture(owner, file.picture) if file.picture else None
        state = file.state
        if picture is not None and file.areas is not None:
            state = state.model_copy(update={"areas": references.map_of(picture, _labels(file.areas)).pk})
        study = _begun(owner, state, pins, picture, file.drawn)
        for entry in file.entries:
            taken = _picture(owner, entry.photograph) if entry.photograph else None
            given = entry.model_dump(exclude={"made", "photograph"}) | {"picture": taken.pk if taken else None}
            keeping.keep(study, EntryIn.model_validate(given), entry.made)
        return study


def _data(kind: str, named: Named) -> dict[str, Any]:
    shape: Any = {"kit": KitData, "paper": PaperData, "hand": HandData}[kind]
    try:
        return dict(shape.model_validate(named.data).model_dump(mode="json"))
    except ValidationError as fault:
        raise fault_of(fault).inside(f"{kind}.data") from None


def _same_or_new(owner: Any, kind: str, name: str, data: dict[str, Any]) -> Any:
    """A version of this owner's with the very same content, or a new thing with it."""
    for version in kits.VERSIONS[kind].objects.filter(owner=owner).order_by("-made"):
        if version.data == data and version.thing.name == name:
            return version
    return kits.begin({"kit": Kit, "paper": Paper, "hand": Hand}[kind], owner, name[:120] or "Read back", data)


def _labels(text: str) -> Labels:
    try:
        with Image.open(io.BytesIO(base64.b64decode(text, validate=True)), formats=("PNG",)) as image:
            if image.mode != "L" or image.width * image.height > 1_000_000:
                raise BadRequest("areas", "the zones in this file are damaged")
            return np.array(image, dtype=np.uint8)
    except (binascii.Error, ValueError, OSError):
        raise BadRequest("areas", "the zones in this file are damaged") from None


def _picture(owner: Any, file: PictureFile) -> Picture:
    try:
        content = base64.b64decode(file.png, validate=True)
    except (binascii.Error, ValueError):
        raise BadRequest("picture.png", "the picture in this file is damaged") from None
    return references.take_in(owner, file.name, content)


def _begun(owner: Any, state: State, pins: dict[str, Any], picture: Picture | None, marks: list[MarkFile]) -> Study:
    mine = {"pins": Pins(**{kind: version.pk for kind, version in pins.items()}), "picture": picture.pk if picture else None}
    pinned = state.model_copy(update=mine)
    study = Study(owner=owner, title=state.title)
    studies.known_colours(kits.bench(owner, *(pins[k].pk for k in ("kit", "paper", "hand"))), pinned)
    history.begin(study, pinned)
    for mark in _told_by_layers(marks):
        journal.log(study, MarkIn.model_validate(mark.model_dump(exclude={"tokens", "made"})), mark.made)
    return study


def _told_by_layers(marks: list[MarkFile]) -> list[MarkFile]:
    """The marks with their layers; in files of the first form a token named each, and a mark was taken back by its tokens."""
    out: list[MarkFile] = []
    for mark in marks:
        if mark.kind == "back" and mark.undoes is None:
            undone = next((m.client_id for m in reversed(out) if m.kind == "done" and set(m.tokens) & set(mark.tokens)), None)
            out += [mark.model_copy(update={"undoes": undone})] if undone else []
        else:
            laid = mark.laid or [_laid_of(token) for token in mark.tokens]
            out.append(mark.model_copy(update={"laid": laid}))
    return out


def _laid_of(token: str) -> LaidOut:
    try:
        place, number, rest = token.split(":", 2)
        if ":coat:" in rest:
            colour, _, passes, wet = rest.rsplit(":", 3)
            layer: LaidShape = CoatShape(colour=colour, passes=int(passes), wet=wet == "wet")
        else:
            colour, pressure, passes, point, turned = rest.rsplit(":", 4)
            given: Any = {"colour": colour, "pressure": pressure, "passes": int(passes), "point": point}
            layer = LayShape(**given, turned=turned == "turned")
        return LaidOut(place=place, number=int(number), layer=layer)
    except (ValueError, ValidationError):
        raise BadRequest("drawn", "a mark in this file does not say what lies there") from None


def to_gpl(study: Study) -> bytes:
    """The colours of its recipes as a GPL palette, in the order of the kit: screen colours with their names."""
    here = studies.aim(study)
    used = {x.colour for r in studies.effective(here).values() for x in r.layers if not isinstance(x, BlendShape | LiftShape)}
    return rack.written(study.title, study.kit_version_id, "gpl", used)


def to_csv(study: Study) -> bytes:
    """Places and recipes, one row a layer; a place without a recipe has one row."""
    state = history.state_of(study)
    colours = {c.id: c for c in KitData.model_validate(study.kit_version.data).colours}
    out = io.StringIO()
    rows = csv.writer(out, lineterminator="\r\n")
    rows.writerow(COLUMNS)
    for p in state.places:
        head = [
            p.id,
            p.role,
            safe(p.name),
            *(_number(v) for v in (p.x, p.y, p.radius)),
            repr(p.tone.l),
            repr(p.tone.a),
            repr(p.tone.b),
            repr(p.spread),
        ]
        recipe = state.recipes.get(p.id)
        if recipe is None:
            rows.writerow([*head, *[""] * (len(COLUMNS) - len(head))])
            continue
        for number, x in enumerate(recipe.layers, 1):
            if isinstance(x, BlendShape | LiftShape):
                act = ["blend", x.blend] if isinstance(x, BlendShape) else ["lift", x.lift]
                rows.writerow([*head, recipe.kind, number, *[""] * 6, act[0], "", act[1], ""])
                continue
            c = colours[x.colour]
            how = _coat_cells(x) if isinstance(x, CoatShape) else [x.pressure, x.passes, x.point, "yes" if x.turned else "no"]
            solid = [repr(c.tone.l), repr(c.tone.a), repr(c.tone.b)]
            rows.writerow(
                [
                    *head,
                    recipe.kind,
                    number,
                    x.colour,
                    safe(c.name),
                    c.medium,
                    *solid,
                    *how,
                ]
            )
    return out.getvalue().encode("utf-8-sig")


def from_csv(owner: Any, title: str, content: bytes) -> Study:
    """A new study from rows that `to_csv` wrote, with a kit that has its colours. Raises BadRequest, naming the row."""
    try:
        rows = list(csv.DictReader(io.StringIO(content.decode("utf-8-sig"), newline="")))
    except (UnicodeDecodeError, csv.Error):
        raise BadRequest("file", "this is not a CSV file in UTF-8") from None
    if not rows or set(rows[0]) != set(COLUMNS):
        raise BadRequest("row 1", "the columns are not those of a study that Caltin saved")
    places: dict[str, Place] = {}
    recipes: dict[str, dict[str, Any]] = {}
    colours: dict[str, KitColour] = {}
    for number, row in enumerate(rows, 2):
        try:
            places[row["place"]] = _place(row)
            if row["layer"]:
                if row["pressure"] not in _ACTS:
                    colours[row["colour"]] = _colour(row)
                recipes.setdefault(row["place"], {"kind": row["kind"], "layers": []})["layers"].append(_lay(row))
        except (ValidationError, ValueError, TypeError, KeyError) as fault:
            what = fault_of(fault).what if isinstance(fault, ValidationError) else str(fault)
            raise BadRequest(f"row {number}", what) from None
    with transaction.atomic():
        pins = {"kit": _kit_with(owner, title, colours), "paper": _first(Paper, owner), "hand": _first(Hand, owner)}
        state = State(
            title=title[:120] or "Read back", pins=Pins(**{k: v.pk for k, v in pins.items()}), places=list(places.values()),
            recipes={k: Recipe.model_validate(v) for k, v in recipes.items()},
        )  # fmt: skip
        return _begun(owner, state, pins, None, [])


def _place(row: dict[str, str]) -> Place:
    x, y, radius = (float(row[k]) if row[k] else None for k in ("x", "y", "radius"))
    tone = Lab(l=float(row["L"]), a=float(row["a"]), b=float(row["b"]))
    return Place(
        id=row["place"], role=row["role"], name=plain(row["name"]), x=x, y=y, radius=radius, tone=tone, spread=float(row["spread"])
    )


def _colour(row: dict[str, str]) -> KitColour:
    tone = Lab(l=float(row["solid_L"]), a=float(row["solid_a"]), b=float(row["solid_b"]))
    return KitColour.model_validate({"id": row["colour"], "name": plain(row["colour_name"]), "medium": row["medium"], "tone": tone})


def _coat_cells(coat: CoatShape) -> list[Any]:
    return ["wet coat" if coat.wet else "coat", coat.passes, "", ""]


def _lay(row: dict[str, str]) -> ActShape:
    if row["pressure"] in _ACTS:
        kind: Any = row["point"]
        return BlendShape(blend=kind) if row["pressure"] == "blend" else LiftShape(lift=kind)
    if row["pressure"] in ("coat", "wet coat"):
        return CoatShape(colour=row["colour"], passes=int(row["passes"]), wet=row["pressure"] == "wet coat")
    given: Any = {k: row[k] for k in ("colour", "pressure", "point")}
    return LayShape(**given, passes=int(row["passes"]), turned=row["turned"] == "yes")


def _kit_with(owner: Any, title: str, colours: dict[str, KitColour]) -> Any:
    """The owner's newest kit that has these very colours, or a new one of them."""
    for kit in Kit.objects.of(owner).order_by("-made"):
        there = {c.id: c for c in KitData.model_validate(kit.newest.data).colours}
        if all(i in there and (there[i].tone, there[i].name) == (c.tone, c.name) for i, c in colours.items()):
            return kit.newest
    return kits.begin_kit(owner, f"Colours of {title}"[:80], list(colours.values()))


def _first(model: Any, owner: Any) -> Any:
    found = model.objects.of(owner).order_by("made").first()
    if found is None:
        raise BadRequest("file", "add a paper to the shelf first; a CSV file names none")
    return found.newest


def _number(value: float | None) -> str:
    return "" if value is None else repr(value)
