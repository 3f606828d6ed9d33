"""What a change needs read from the picture before it can be made: tones, a balance, a new map of areas."""

from typing import Any

import cv2
import numpy as np

from caltin_core.colour.spaces import xyz50_from_srgb
from caltin_core.errors import BadRequest
from caltin_core.reference import areas, line_art
from caltin_core.reference.areas import Labels
from caltin_core.reference.develop import PLAIN, balanced_by, balanced_for, balanced_to
from caltin_core.reference.frame import Frame, whole
from caltin_core.reference.points import WHITE_DISC, disc
from caltin_site.ownership import mine
from caltin_site.references import looking
from caltin_site.references import services as references
from caltin_site.references.models import Picture
from caltin_site.shapes import Lab
from caltin_site.studies.changes import Found
from caltin_site.studies.models import Study
from caltin_site.studies.ops import (
    AddArea,
    AddPlace,
    EditPlace,
    MergeAreas,
    Op,
    PaintArea,
    PlanLight,
    ProposeAreas,
    RemovePlace,
    SetDevelop,
    SetFrame,
    SplitArea,
    UsePicture,
)
from caltin_site.studies.planned import direction_of, tones_of
from caltin_site.studies.state import DevelopState, Place, State

_SKIN_DISC = 6.0
# The mark of an area is drawn this large, as a share of the picture's width.
_MARK = 1 / 90


def frame_of(picture: Picture, state: State) -> Frame:
    """The frame in force."""
    return state.frame.frame() if state.frame else whole(picture.width, picture.height)


def look_of(picture: Picture, state: State) -> looking.Look:
    """What the study looks at."""
    return looking.Look.of(picture, state.develop.develop(), frame_of(picture, state))


def look_up(study: Study, state: State, op: Op, picture: Picture | None) -> Found:
    """Everything `op` needs. Raises BadRequest where it asks for what is not there."""
    match op:
        case AddPlace() | EditPlace():
            return Found(readings=_touched(state, op, picture))
        case SetDevelop():
            return _developed(state, op, _needed(picture))
        case PlanLight():
            tones = {role: Lab.of(lab) for role, lab in tones_of(op.planned).items()}
            return Found(tones=tones, direction=direction_of(op.planned))
        case SetFrame():
            if op.frame:
                _inside(op.frame.frame(), _needed(picture))
        case UsePicture():
            return _replaced(study, state, op, picture)
        case RemovePlace():
            gone = state.place(op.id)
            if gone is not None and gone.area is not None and state.areas is not None:
                labels = references.labels_of(study.owner, state.areas).copy()
                labels[labels == gone.area] = 0
                return Found(areas=references.map_of(_needed(picture), labels).pk)
        case ProposeAreas() | PaintArea() | AddArea() | MergeAreas() | SplitArea():
            return _areas(study, state, op, _needed(picture))
    return Found()


def _needed(picture: Picture | None) -> Picture:
    if picture is None:
        raise BadRequest("op", "this study has no picture; add tones instead")
    return picture


def _inside(frame: Frame, picture: Picture) -> None:
    if not (0 <= frame.x <= picture.width and 0 <= frame.y <= picture.height):
        raise BadRequest("frame", "the middle of a crop must lie on the picture")


def _touched(state: State, op: AddPlace | EditPlace, picture: Picture | None) -> dict[str, tuple[Lab, float]]:
    """The tone of the disc that a change names, read from the study's own picture."""
    if op.tone is not None:
        return {}
    before = state.place(op.id) if isinstance(op, EditPlace) else None
    at = [getattr(op, key) if getattr(op, key) is not None else getattr(before, key, None) for key in ("x", "y", "radius")]
    moved = any(getattr(op, key) is not None for key in ("x", "y", "radius"))
    if not moved or picture is None:
        return {}
    if before is not None and before.area is not None:
        raise BadRequest("op", "a zone is moved by drawing it, not by its mark")
    x, y, radius = at
    if x is None or y is None or radius is None:
        raise BadRequest("op", "a place on the picture needs x, y and radius")
    found = references.read_tone(picture, x, y, radius, state.develop.develop())
    return {op.id: (Lab.of(found.lab), round(found.spread, 3))}


def _developed(state: State, op: SetDevelop, picture: Picture) -> Found:
    asked = op.develop.model_copy(update={"matrix": _matrix(op.develop, picture)})
    after = state.model_copy(update={"develop": asked})
    return Found(readings=_all_tones(picture, after), develop=asked)


def _matrix(asked: DevelopState, picture: Picture) -> list[float] | None:
    pixels = looking.pixels_of(str(picture.folder / "pixels.npy"))
    if asked.kind == "none":
        return None
    if asked.kind == "kelvin":
        if asked.kelvin is None:
            raise BadRequest("kelvin", "say how many kelvin the light had")
        matrix = balanced_for(asked.kelvin)
    elif asked.kind == "cast":
        matrix = balanced_by(looking.overview(_plain_look(picture)).cast.xyz)
    else:
        if asked.x is None or asked.y is None:
            raise BadRequest("develop", "touch the place to balance by")
        if asked.kind == "neutral":
            matrix = balanced_by(xyz50_from_srgb(disc(pixels, asked.x, asked.y, WHITE_DISC)).mean(axis=0))
        else:
            if asked.known is None:
                raise BadRequest("known", "say which tone this skin is known to have")
            seen = references.read_tone(picture, asked.x, asked.y, _SKIN_DISC)
            matrix = balanced_to(seen.lab, asked.known.array())
    return [round(float(v), 8) for v in matrix.ravel()]


def _all_tones(picture: Picture, state: State) -> dict[str, tuple[Lab, float]]:
    """Every place on the picture, and every area, read again."""
    develop = state.develop.develop()
    out = {}
    for p in state.places:
        if p.area is None and p.x is not None and p.y is not None and p.radius is not None:
            found = references.read_tone(picture, p.x, p.y, p.radius, develop)
            out[p.id] = (Lab.of(found.lab), round(found.spread, 3))
    if state.areas is not None:
        labels = references.labels_of(picture.owner, state.areas)
        read = {m.label: m for m in areas.measure(labels, _map_lab(picture, state))}
        out |= {p.id: (Lab.of(read[p.area].lab), round(read[p.area].spread, 3)) for p in state.places if p.area in read}
    return out


def _map_lab(picture: Picture, state: State) -> Any:
    look = look_of(picture, state)
    return looking.map_lab(look.path, look.develop)


def _replaced(study: Study, state: State, op: UsePicture, before: Picture | None) -> Found:
    """Places and areas carried to another picture, each where it was as a share of width and height."""
    after = mine(Picture, study.owner, op.picture)
    if before is None:
        return Found(places=state.places)
    wide, high = after.width / before.width, after.height / before.height
    places = [
        p.model_copy(
            update={"x": min(p.x * wide, after.width - 1), "y": min(p.y * high, after.height - 1), "radius": p.radius * wide}
        )
        if p.x is not None and p.y is not None and p.radius is not None
        else p
        for p in state.places
    ]
    new_map = None
    if state.areas is not None:
        size = areas.map_size(after.width, after.height)
        labels = references.labels_of(study.owner, state.areas)
        new_map = references.map_of(after, np.asarray(cv2.resize(labels, size, interpolation=cv2.INTER_NEAREST), dtype=np.uint8)).pk
    there = state.model_copy(update={"places": places, "areas": new_map, "develop": DevelopState(), "frame": None})
    tones = _all_tones(after, there)
    read = [p.model_copy(update=dict(zip(("tone", "spread"), tones[p.id], strict=True))) if p.id in tones else p for p in places]
    return Found(places=read, areas=new_map)


def _areas(study: Study, state: State, op: ProposeAreas | PaintArea | AddArea | MergeAreas | SplitArea, picture: Picture) -> Found:
    """The new map after a change of areas, with the places as they stand on it."""
    size = areas.map_size(picture.width, picture.height)
    scale = size[0] / picture.width
    lab = _map_lab(picture, state)
    labels: Labels = references.labels_of(study.owner, state.areas) if state.areas else np.zeros(size[::-1], dtype=np.uint8)
    places = list(state.places)
    if isinstance(op, ProposeAreas):
        labels, places = _proposed(state, op, picture, size, scale)
    elif isinstance(op, MergeAreas):
        into = _area(state, op.id)
        others = [_area(state, other) for other in op.others if other != op.id]
        labels = areas.merged(labels, into, others)
        places = [p for p in places if p.id == op.id or p.id not in op.others]
    elif isinstance(op, SplitArea):
        one = next(p for p in places if p.area == _area(state, op.id))
        labels, label = areas.split(labels, _area(state, op.id), lab)
        if state.place(op.new):
            raise BadRequest("new", "this place is there already")
        places.append(one.model_copy(update={"id": op.new, "area": label, "name": "", "flagged": "What is this part?"}))
    else:
        path = [(at.x * scale, at.y * scale) for at in op.path]
        radius = None if op.radius is None else op.radius * scale
        if isinstance(op, PaintArea):
            labels = areas.painted(labels, _area(state, op.id), path, radius, op.add)
        else:
            labels, place = _added(state, op, picture, labels, path, radius)
            places.append(place)
    return _measured(picture, labels, lab, places, scale)


def _area(state: State, id: str) -> int:
    place = state.place(id)
    if place is None or place.area is None:
        raise BadRequest("id", "this is not a zone")
    return place.area


def _proposed(state: State, op: ProposeAreas, picture: Picture, size: tuple[int, int], scale: float) -> tuple[Labels, list[Place]]:
    look = look_of(picture, state)
    lab = looking.lab_of(look, areas.LONGEST)
    touched, skin = None, None
    if op.touched is not None:
        inverse = np.linalg.inv(np.vstack([look.frame.to_picture(), [0, 0, 1]]))
        x, y, _ = inverse @ np.array([op.touched.x, op.touched.y, 1.0])
        touched = (float(np.clip(x / look.frame.width, 0, 1)), float(np.clip(y / look.frame.height, 0, 1)))
    elif lab.shape == (*looking.overview(look).skin.mask.shape, 3):
        skin = looking.overview(look).skin
    found = areas.propose(lab, touched, skin)
    labels = look.frame.put_back(found.labels, size, scale)
    taken = {p.id for p in state.places if p.area is None}
    places = [p for p in state.places if p.area is None]
    here = set(np.unique(labels).tolist())
    for area in found.areas:
        if area.label not in here:
            continue
        id = next(i for i in (f"{area.role}-{n}" for n in range(1, 999)) if i not in taken)
        taken.add(id)
        places.append(
            Place(id=id, role=area.role, x=0, y=0, radius=1, tone=Lab(l=0, a=0, b=0), area=area.label, flagged=area.flagged)
        )
    return labels, places


def _added(
    state: State, op: AddArea, picture: Picture, labels: Labels, path: list[tuple[float, float]], radius: float | None
) -> tuple[Labels, Place]:
    if state.place(op.id):
        raise BadRequest("id", "this place is there already")
    label = next((v for v in range(1, 256) if not (labels == v).any()), 0)
    if label == 0 or len(np.unique(labels)) > areas.MOST_AREAS:
        raise BadRequest("op", f"a picture can have {areas.MOST_AREAS} areas; merge some first")
    if len(path) == 1 and radius is None:
        plain = _plain_look(picture)
        closed = line_art.closed_areas(looking.map_lab(plain.path, plain.develop))
        x, y = round(path[0][0]), round(path[0][1])
        inside = 0 <= x < labels.shape[1] and 0 <= y < labels.shape[0]
        if not inside or closed[y, x] == 0:
            raise BadRequest("path", "no line closes an area here; close the gap in the drawing, or draw the zone with the lasso")
        out = labels.copy()
        out[closed == closed[y, x]] = label
    else:
        out = areas.painted(labels, label, path, radius)
    if not (out == label).any():
        raise BadRequest("path", "this lies outside the picture")
    if op.tone is None and picture.reading.get("line_art"):
        raise BadRequest("tone", "a line drawing has no tones of its own: say which tone this area shall have")
    tone = op.tone or Lab(l=0, a=0, b=0)
    place = Place(id=op.id, role=op.role, name=op.name, x=0, y=0, radius=1, tone=tone, area=label)
    return out, place


def _plain_look(picture: Picture) -> looking.Look:
    """The picture as it came."""
    return looking.Look.of(picture, PLAIN, whole(picture.width, picture.height))


def _measured(picture: Picture, labels: Labels, lab: Any, places: list[Place], scale: float) -> Found:
    """Places with areas read on a new map; those whose area is gone are gone. A line drawing's tones are the artist's."""
    read = {m.label: m for m in areas.measure(labels, lab)}
    drawn = bool(picture.reading.get("line_art"))
    out = []
    for p in places:
        if p.area is None:
            out.append(p)
        elif p.area in read:
            m = read[p.area]
            at = {"x": (m.x + 0.5) / scale, "y": (m.y + 0.5) / scale, "radius": picture.width * _MARK}
            at["x"], at["y"] = min(at["x"], picture.width - 1), min(at["y"], picture.height - 1)
            tone = {} if drawn else {"tone": Lab.of(m.lab), "spread": round(m.spread, 3)}
            out.append(p.model_copy(update={**at, **tone}))
    return Found(areas=references.map_of(picture, labels).pk, places=out)
