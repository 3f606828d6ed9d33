"""A study's places and recipes as rows of CSV, and read back without loss."""

import csv
import io
from typing import Any

from django.db import transaction
from pydantic import ValidationError

from caltin_core.contract.faults import fault_of
from caltin_core.contract.shapes import ActShape, BlendShape, CoatShape, LayShape, LiftShape
from caltin_core.errors import BadRequest
from caltin_core.rack.entries import plain, safe
from caltin_site.cards.begun import begun
from caltin_site.kits import services as kits
from caltin_site.kits.models import Hand, Kit, Paper
from caltin_site.kits.schemas import KitColour, KitData
from caltin_site.shapes import Lab
from caltin_site.studies import history
from caltin_site.studies.models import Study
from caltin_site.studies.state import Pins, Place, Recipe, State

COLUMNS = (
    "place", "role", "name", "x", "y", "radius", "L", "a", "b", "spread", "kind", "layer", "colour", "colour_name", "medium",
    "solid_L", "solid_a", "solid_b", "pressure", "passes", "point", "turned",
)  # fmt: skip


# What is done to what lies there, in the column of the pressure; its tool stands in that of the point.
_ACTS = ("blend", "lift")


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
        return begun(owner, state, pins)


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


def _number(value: float | None) -> str:
    return "" if value is None else repr(value)


def _first(model: Any, owner: Any) -> Any:
    found = model.objects.of(owner).order_by("made").first()
    if found is None:
        raise BadRequest("file", "add a paper to the shelf first; a CSV file names none")
    return found.newest
