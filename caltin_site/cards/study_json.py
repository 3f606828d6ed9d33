"""A study's data to take along as JSON, and read back without loss; and its colours as a palette."""

import base64
import binascii
import io
import json
from datetime import datetime
from typing import Any

import numpy as np
from django.db import transaction
from PIL import Image
from pydantic import ValidationError

from caltin_core.contract.faults import fault_of
from caltin_core.contract.shapes import BlendShape, CoatShape, LaidShape, LayShape, LiftShape
from caltin_core.errors import BadRequest
from caltin_core.reference.areas import Labels
from caltin_site.cards.begun import begun
from caltin_site.journal import keeping
from caltin_site.journal import services as journal
from caltin_site.journal.models import Entry
from caltin_site.journal.schemas import EntryIn, LaidOut, MarkIn, MarkOut
from caltin_site.kits import rack
from caltin_site.kits import services as kits
from caltin_site.kits.models import Hand, Kit, Paper
from caltin_site.kits.schemas import HandData, KitData, PaperData
from caltin_site.references import services as references
from caltin_site.references.models import Picture
from caltin_site.shapes import Strict
from caltin_site.studies import history
from caltin_site.studies import services as studies
from caltin_site.studies.models import Study
from caltin_site.studies.state import State

FORMAT = 2
# The form before told marks by tokens.
_READ = (1, FORMAT)
_NEUTRAL = dict.fromkeys(("kit", "paper", "hand"), "00000000-0000-0000-0000-000000000000")


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
        study = begun(owner, state, pins, picture)
        for mark in _told_by_layers(file.drawn):
            journal.log(study, MarkIn.model_validate(mark.model_dump(exclude={"tokens", "made"})), mark.made)
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
