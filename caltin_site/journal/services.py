"""The one door to the log of what was drawn, and to what is kept beside it."""

from collections.abc import Collection
from datetime import datetime
from itertools import pairwise
from typing import Any

from pydantic import TypeAdapter

from caltin_core.contract.shapes import ActShape, CoatShape, LayShape
from caltin_core.errors import BadRequest
from caltin_core.media.workbench import Workbench
from caltin_core.plan.drawn import Mark, goes_on, lies, standing
from caltin_core.plan.timing import pace_of
from caltin_core.plan.using import taken
from caltin_site.journal.models import Drawn
from caltin_site.journal.schemas import LaidOut, MarkIn
from caltin_site.kits import services as kits
from caltin_site.problems import Late
from caltin_site.shapes import Lab
from caltin_site.studies import history
from caltin_site.studies import services as studies
from caltin_site.studies.changes import SOLVED_AGAIN
from caltin_site.studies.models import Study
from caltin_site.studies.ops import Op, SeePlace, Settle, TakeRecipes
from caltin_site.studies.reading import covers
from caltin_site.studies.services import Aim
from caltin_site.studies.state import CameOut, Recipe

# A change that follows from the log is tried so often where somebody else writes at the same time.
_TRIES = 4
# So many of the last marks tell an artist's pace.
_LOOKED_AT = 400
_LAID = TypeAdapter(list[LaidOut])


def log(study: Study, mark: MarkIn, made: datetime | None = None, used: dict[str, float] | None = None) -> bool:
    """Add a mark, with the colour it `used`; one that came before under the same client's id counts once, and is no news.

    Raises BadRequest for one that says nothing.
    """
    if mark.kind == "back" and mark.undoes is None:
        raise BadRequest("undoes", "say which mark is taken back")
    if mark.kind == "dry" and not mark.colour:
        raise BadRequest("colour", "say which colour ran dry")
    if mark.kind not in ("back", "dry") and not mark.laid:
        raise BadRequest("laid", "say what lies there now")
    facts = {k: getattr(mark, k) for k in ("kind", "colour", "words", "undoes", "minutes")}
    facts |= {"owner": study.owner, "laid": [x.model_dump(mode="json") for x in mark.laid]} | ({"made": made} if made else {})
    facts["used"] = used or {}
    return Drawn.objects.get_or_create(study=study, client_id=mark.client_id, defaults=facts)[1]


def take(study: Study, mark: MarkIn) -> str:
    """Log a mark, and do what follows from it; what was solved again is said.

    A place that is being drawn keeps its recipe. Where something else lies there than was meant, the rest is solved again; where
    that is taken back, so is what was solved from it. A colour that ran dry is so for every study of its kit.
    """
    # First, and again where the mark comes again: a server that stopped in between leaves nothing half said.
    if mark.kind == "dry" and mark.colour:
        kits.set_state(study.owner, study.kit_version.thing_id, mark.colour, "dry")
    news = log(study, mark, used=used(study, mark))
    if mark.kind == "back" and news:
        return _back(study, mark)
    state = history.state_of(study)
    if any(x.place not in state.recipes and state.place(x.place) for x in mark.laid):
        _change(study, Settle(do="settle"))
    return go_on(study) if mark.kind in ("wrong", "lifted", "dry") else ""


def used(study: Study, mark: MarkIn) -> dict[str, float]:
    """What a mark takes of each colour, by its id, beyond what lies there already; see `caltin_core.plan.using`."""
    if mark.kind not in ("done", "wrong"):
        return {}
    here, lying = studies.aim(study), there(study)
    size = covers(study, here)
    fresh = [x for x in mark.laid if x.place in size and x.number >= len(lying.get(x.place, ()))]
    given = [(x.layer, size[x.place]) for x in fresh if studies.in_kit(here.bench, x.layer)]
    found = taken(here.bench, list(zip(studies.layers_of(here.bench, [x for x, _ in given]), [s for _, s in given], strict=True)))
    return {here.bench.swatches[c].id: round(cm2, 1) for c, cm2 in found.items()}


def sticks(study: Study, bench: Workbench) -> tuple[dict[int, float], dict[str, list[float]]]:
    """What the log of all studies says of the sticks of this study's kit: what was laid with those in hand, by colour, and what
    was laid with those that ran dry, by medium."""
    at = {s.id: i for i, s in enumerate(bench.swatches)}
    rows = Drawn.objects.of(study.owner).filter(study__kit_version__thing=study.kit_version.thing_id).order_by("made", "pk")
    marks = list(rows.values_list("client_id", "kind", "colour", "used", "undoes"))
    back = {undoes for *_, undoes in marks}
    laid: dict[int, float] = {}
    dry: dict[str, list[float]] = {}
    for id, kind, colour, took, _ in marks:
        for name, cm2 in took.items() if id not in back else ():
            if name in at:
                laid[at[name]] = laid.get(at[name], 0.0) + cm2
        if kind == "dry" and laid.get(at.get(colour, -1)):
            dry.setdefault(bench.swatches[at[colour]].medium, []).append(laid.pop(at[colour]))
    return laid, dry


def _back(study: Study, mark: MarkIn) -> str:
    undone = study.drawn.filter(client_id=str(mark.undoes), kind__in=("wrong", "lifted")).first()
    if undone is None:
        return ""
    if history.neighbours(study)[0] == SOLVED_AGAIN:
        history.step(study.owner, study.pk, study.revision, -1)
        study.refresh_from_db()
        return ""
    return go_on(study, places={x.place for x in _LAID.validate_python(undone.laid)})


def see(study: Study, place: str, tone: Lab | None) -> None:
    """Predict a place's recipe from what it was measured to look like now, if it goes on from what lies there; None: no longer."""
    recipe, laid = history.state_of(study).recipes.get(place), there(study).get(place, [])
    if recipe is None:
        return
    if tone is None:
        _change(study, SeePlace(do="see_place", place=place, seen=None))
    elif laid and goes_on(recipe.layers, laid):
        _change(study, SeePlace(do="see_place", place=place, seen=CameOut(after=len(laid), tone=tone)))


def seen(study: Study, place: str) -> Lab | None:
    """What a place's recipe is predicted from, where it was measured."""
    recipe = history.state_of(study).recipes.get(place)
    return recipe.seen.tone if recipe and recipe.seen else None


def _change(study: Study, op: Op) -> None:
    """Write a change that follows from the log; the log stands whatever comes of it."""
    for _ in range(_TRIES):
        study.refresh_from_db()
        try:
            studies.change(study.owner, study.pk, study.revision, op)
            break
        except Late:
            continue
    study.refresh_from_db()


def marks(study: Study) -> list[Mark[ActShape]]:
    """The log as the core takes it, oldest first."""
    out = []
    for row in study.drawn.order_by("made", "pk"):
        laid = tuple((x.place, x.number, x.layer) for x in _LAID.validate_python(row.laid))
        out.append(Mark(str(row.client_id), laid, str(row.undoes or "")))
    return out


def there(study: Study, until: datetime | None = None) -> dict[str, list[ActShape]]:
    """What lies on each place, lowest first; or lay there then, without what was marked in error."""
    rows = study.drawn.filter(made__gt=until, undoes=None) if until else study.drawn.none()
    later = {str(id) for id in rows.values_list("client_id", flat=True)}
    return lies([m for m in marks(study) if m.id not in later])


def held(study: Study) -> list[Drawn]:
    """The marks that hold and can be taken back, oldest first."""
    ids = {m.id for m in standing(marks(study))}
    return [row for row in study.drawn.order_by("made", "pk") if str(row.client_id) in ids and row.kind not in ("back", "dry")]


def astray(here: Aim, laid: dict[str, list[ActShape]], recipes: dict[str, Recipe]) -> list[str]:
    """Places whose recipe does not go on from what lies there."""
    drawn = [place for place in here.targets if place in laid]
    return [place for place in drawn if place not in recipes or not goes_on(recipes[place].layers, laid[place])]


def wanting(here: Aim, laid: dict[str, list[ActShape]], recipes: dict[str, Recipe]) -> list[str]:
    """Places whose recipe still needs a colour that is not at hand: dry, lent, lost, or left in the box."""
    at_hand = studies.at_hand(here)
    out = []
    for place, recipe in recipes.items():
        rest = recipe.layers[len(laid.get(place, [])) :]
        if any(isinstance(x, LayShape | CoatShape) and x.colour not in at_hand for x in rest):
            out.append(place)
    return out


def go_on(study: Study, places: Collection[str] = ()) -> str:
    """Solve the rest of every place again whose recipe cannot go on as it is, and of `places`; one change that can be undone.

    That is where something else lies there than was meant, or where a colour still to come is no longer at hand. Says what changed.
    """
    here = studies.aim(study)
    laid, recipes = there(study), studies.effective(here)
    lost = dict.fromkeys([*astray(here, laid, recipes), *wanting(here, laid, recipes), *(p for p in recipes if p in places)])
    found = {place: studies.gone_on(here, place, laid.get(place, [])) for place in lost}
    solved = {place: recipe for place, (recipe, _) in found.items() if recipe is not None}
    if solved:
        _change(study, TakeRecipes(do="take_recipes", recipes=solved, why="solved_again"))
    return " ".join(words for _, words in found.values())


def pace(owner: Any) -> float:
    """How long this artist takes, against common practice, by the marks of all their studies."""
    last = Drawn.objects.of(owner).filter(kind="done").order_by("-made").values_list("made", "study", "minutes")[:_LOOKED_AT]
    rows = list(pairwise(sorted(last, key=lambda row: row[0])))
    return pace_of([((now[0] - before[0]).total_seconds() / 60, now[2]) for before, now in rows if before[1] == now[1] and now[2]])
