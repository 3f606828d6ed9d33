"""The journal: sittings as they grew out of the log, what is kept beside them, a look back, and a search over studies."""

from collections.abc import Sequence
from datetime import datetime
from typing import Any
from uuid import UUID

from django.db.models import Q

from caltin_core.contract.shapes import ActShape
from caltin_core.errors import BadRequest
from caltin_core.media.layers import Layer
from caltin_core.plan.review import Reached, review
from caltin_core.plan.timing import spans_of
from caltin_site.journal import services
from caltin_site.journal.models import Drawn, Entry
from caltin_site.journal.schemas import (
    EntryIn,
    EntryOut,
    FoundOut,
    JournalOut,
    MarkOut,
    ReviewOut,
    SittingLogOut,
    SpentOut,
    UsedOut,
    ValuesOut,
)
from caltin_site.ownership import mine
from caltin_site.references.models import Picture
from caltin_site.shapes import Lab, Tone
from caltin_site.studies import services as studies
from caltin_site.studies.models import Change, Study
from caltin_site.studies.reading import covers
from caltin_site.studies.services import Aim

_FOUND_MOST = 60


def keep(study: Study, asked: EntryIn, made: datetime | None = None) -> Entry:
    """Keep an entry; one that came before under the same client's id counts once. Raises BadRequest for one that says nothing.

    What a place was measured to look like is what its recipe goes on from; not where an old journal is read back.
    """
    if not asked.text.strip() and asked.picture is None and asked.tone is None:
        raise BadRequest("text", "write something, or choose a photograph")
    if asked.tone is not None and not asked.place:
        raise BadRequest("place", "say which place came out so")
    picture = mine(Picture, study.owner, asked.picture) if asked.picture else None
    facts: dict[str, Any] = {
        "owner": study.owner, "text": asked.text.strip(), "picture": picture, "place": asked.place,
        "tone": asked.tone.model_dump() if asked.tone else None,
    } | ({"made": made} if made else {})  # fmt: skip
    entry, news = Entry.objects.get_or_create(study=study, client_id=asked.client_id, defaults=facts)
    if news and made is None and asked.tone is not None:
        services.see(study, asked.place, asked.tone)
    return entry


def journal_out(study: Study) -> JournalOut:
    """Every sitting of a study, oldest first: what was drawn, kept and changed in it; and the look back."""
    here = studies.aim(study)
    names = here.state.names()
    marks = list(study.drawn.order_by("made", "pk"))
    entries = list(study.entries.select_related("picture").order_by("made", "pk"))
    changes = list(study.changes.filter(number__lte=study.head).order_by("number"))
    begun = marks[0].made if marks else None
    told: list[tuple[datetime, Any]] = [(m.made, m) for m in marks] + [(e.made, e) for e in entries]
    told += [(c.made, c) for c in changes if begun is not None and c.made > begun]
    told.sort(key=lambda x: x[0])
    spans = spans_of([at.timestamp() / 60 for at, _ in told])
    sittings = [_sitting(told[first : last + 1], names) for first, last in spans]
    return JournalOut(
        sittings=sittings, review=_review(study, here, marks, entries) if marks else None,
        measured=[p for p in dict.fromkeys(e.place for e in entries if e.tone) if p in names],
    )  # fmt: skip


def _sitting(told: Sequence[tuple[datetime, Any]], names: dict[str, str]) -> SittingLogOut:
    def of(kind: type) -> list[Any]:
        return [x for _, x in told if isinstance(x, kind)]

    began, ended = told[0][0], told[-1][0]
    return SittingLogOut(
        began=began, ended=ended, minutes=round((ended - began).total_seconds() / 60, 1),
        marks=[MarkOut.from_orm(m) for m in of(Drawn)], entries=[entry_out(e, names) for e in of(Entry)],
        changes=list(dict.fromkeys(c.label for c in of(Change))),
    )  # fmt: skip


def entry_out(entry: Entry, names: dict[str, str]) -> EntryOut:
    """An entry as the journal shows it."""
    tone = Tone.of(Lab.model_validate(entry.tone).array()) if entry.tone else None
    return EntryOut(
        id=entry.pk, text=entry.text, picture=entry.picture_id, place=entry.place, called=names.get(entry.place, ""), tone=tone,
        made=entry.made,
    )  # fmt: skip


def _came_out(study: Study, entries: Sequence[Entry]) -> dict[str, tuple[Lab, list[ActShape]]]:
    """What each place was last said to have come out as, and the layers that lay there then."""
    last = {e.place: e for e in entries if e.tone}
    return {place: (Lab.model_validate(e.tone), services.there(study, e.made).get(place, [])) for place, e in last.items()}


def _review(study: Study, here: Aim, marks: Sequence[Drawn], entries: Sequence[Entry]) -> ReviewOut:
    laid, recipes, share = services.there(study), studies.effective(here), covers(study, here)
    # What was measured before more was laid is not what it came to.
    came_out = {place: tone for place, (tone, then) in _came_out(study, entries).items() if then == laid.get(place)}
    places, names = here.state.places, here.state.names()
    at = {p.id: i for i, p in enumerate(places)}

    def known(shapes: Sequence[Any]) -> tuple[Layer, ...]:
        return tuple(studies.layers_of(here.bench, [x for x in shapes if studies.in_kit(here.bench, x)]))

    areas = [
        Reached(
            names[p.id], share[p.id], here.targets[p.id], known(recipes[p.id].layers) if p.id in recipes else (),
            known(laid.get(p.id, [])), came_out[p.id].array() if p.id in came_out else None,
        )
        for p in places
    ]  # fmt: skip
    served = [(m.made.timestamp() / 60, sorted({at[x["place"]] for x in m.laid if x["place"] in at})) for m in marks]
    found = review(here.bench, areas, served)
    swatches = here.bench.swatches
    return ReviewOut(
        planned=ValuesOut(dark=found.planned[0], light=found.planned[1]) if found.planned else None,
        reached=ValuesOut(dark=found.reached[0], light=found.reached[1]) if found.reached else None,
        used=[
            UsedOut(
                colour=swatches[u.colour].id, name=swatches[u.colour].called, solid=Tone.of(swatches[u.colour].lab), share=u.share,
                planned=u.planned,
            )
            for u in found.used
        ],
        spent=[SpentOut(place=p.id, called=names[p.id], minutes=round(m, 1)) for p, m in zip(places, found.minutes, strict=True)],
        habit=found.habit, differs=found.differs, learnt=found.learnt,
    )  # fmt: skip


def measured(study: Study) -> list[dict[str, Any]]:
    """What can be learnt from: places with what they came out as and what lay there then. Raises BadRequest where there is none."""
    came_out = _came_out(study, list(study.entries.order_by("made", "pk")))
    out = [
        {"place": place, "layers": [x.model_dump(mode="json") for x in then], "tone": tone.model_dump()}
        for place, (tone, then) in came_out.items()
        if then
    ]  # fmt: skip
    if not out:
        raise BadRequest("places", "say first what some places of the drawing came out as")
    return out


def delete(owner: Any, id: UUID) -> None:
    """Take an entry out of its journal, with its photograph and with what was predicted from it."""
    entry = mine(Entry, owner, id)
    entry.delete()
    if entry.tone and services.seen(entry.study, entry.place) == Lab.model_validate(entry.tone):
        services.see(entry.study, entry.place, None)


def search(owner: Any, words: str) -> list[FoundOut]:
    """Where these words stand in any of the artist's journals: titles, notes, entries, marks; the last touched study first."""
    asked = words.split()
    if not asked:
        return []

    def holding(*fields: str) -> Q:
        every = Q()
        for word in asked:
            one = Q()
            for field in fields:
                one |= Q(**{f"{field}__icontains": word})
            every &= one
        return every

    own = {"owner": owner}
    entries = Entry.objects.filter(holding("text", "study__title"), **own).select_related("study").order_by("-made")
    marks = Drawn.objects.filter(holding("words", "study__title"), **own).select_related("study").order_by("-made")
    out = [FoundOut(study=e.study_id, title=e.study.title, what=e.text, made=e.made) for e in entries[:_FOUND_MOST]]
    out += [FoundOut(study=m.study_id, title=m.study.title, what=m.words, made=m.made) for m in marks[:_FOUND_MOST]]
    for study, note in studies.notes(owner):
        if all(w.lower() in f"{study.title} {note}".lower() for w in asked):
            out.append(FoundOut(study=study.pk, title=study.title, what=note, made=study.changed))
    return sorted(out, key=lambda f: f.made, reverse=True)[:_FOUND_MOST]
