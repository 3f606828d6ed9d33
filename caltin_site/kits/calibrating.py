"""What the sheets of a kit say of it: the patches read on a paper, and calibration by them."""

import uuid
from collections.abc import Iterator, Sequence
from dataclasses import asdict
from typing import Any

import numpy as np
from django.db import transaction
from django.utils import timezone
from pydantic import TypeAdapter

from caltin_core.contract.shapes import ActShape, HandlingShape
from caltin_core.errors import BadRequest
from caltin_core.media.calibrate import Calibrated, Patch, doubt, fitting, with_solids
from caltin_core.media.colourants import Handling, Swatch
from caltin_core.media.layers import lays
from caltin_core.media.learnt import learnt, learnt_words
from caltin_core.media.workbench import Workbench
from caltin_site.kits import services
from caltin_site.kits.laid import in_kit, layers_of
from caltin_site.kits.models import Hand, Kit, Paper, SwatchSheet
from caltin_site.kits.schemas import HandData, KitData, Measured, PaperData
from caltin_site.ownership import mine
from caltin_site.shapes import Lab

# A patch that is named when it misses by so much, in ΔE00.
_TOLD = 4.0


_STORED = TypeAdapter(list[ActShape])


def stored(layers: Sequence[dict[str, Any]]) -> list[ActShape]:
    """The layers of a cell as they are stored."""
    return _STORED.validate_python(layers)


def hand_on(kit: Kit, paper: Paper) -> Hand | None:
    """The hand as it was measured with a kit on a paper, or none."""
    return Hand.objects.of(paper.owner).filter(kit=kit, paper=paper).order_by("-made").first()


def bench_on(kit: Kit, paper: Paper) -> Workbench:
    """The newest versions of a kit and a paper."""
    return services.bench_of(kit.newest_bare.pk, paper.newest_bare.pk)


def measured_on(kit: Kit, paper: Paper, bench: Workbench) -> list[Patch]:
    """All good patches of a kit on a paper."""
    return [p for sheet in kit.sheets.filter(paper=paper).order_by("made") for p in patches_of(sheet, bench)]


def patches_of(sheet: SwatchSheet, bench: Workbench) -> list[Patch]:
    """The good patches of a sheet."""
    return [p for cell in sheet.patches if (p := _patch_of(sheet, cell, bench)) is not None]


def _patch_of(sheet: SwatchSheet, cell: dict[str, Any], bench: Workbench) -> Patch | None:
    """A cell as a patch, where it was read well and its colours are in the kit."""
    layers = stored(sheet.cells[cell["cell"]])
    if not cell["ok"] or not all(in_kit(bench, x) for x in layers):
        return None
    return Patch(tuple(layers_of(bench, layers)), np.array(cell["lab"]))


def _hand_name(kit: Kit, paper: Paper) -> str:
    plain = f"My hand on {paper.name}"[:120]
    taken = Hand.objects.of(kit.owner).filter(name=plain).exists()
    return f"My hand on {paper.name} with {kit.name}"[:120] if taken else plain


def calibrated(kit: Kit, asked: dict[str, Any]) -> Iterator[tuple[int, int]]:
    """Fit kit, paper and hand to all patches read on that paper, and write their next versions; what was there stays."""
    paper = mine(Paper, kit.owner, uuid.UUID(asked["paper"]))
    bench = bench_on(kit, paper)
    patches = measured_on(kit, paper, bench)
    if not patches:
        raise BadRequest("paper", "nothing was read on this paper yet: photograph a sheet first")
    found = yield from fitting(with_solids(bench, patches), patches)
    tones = {
        s.id: Lab.of(s.lab) for s, before in zip(found.bench.swatches, bench.swatches, strict=True) if s.solid is not before.solid
    }
    shown = _shown(kit, paper, found.bench, {x.colour for p in patches for x in lays(p.layers)})
    with transaction.atomic():
        _write(kit, paper, found.bench, tones, shown)
        _doubted(kit, paper, found, patches)


def _shown(kit: Kit, paper: Paper, bench: Workbench, touched: set[int]) -> list[Swatch]:
    """The colours that were measured, with the handling their cells show."""
    alone: dict[int, list[float]] = {}
    for sheet in kit.sheets.filter(paper=paper):
        for cell in sheet.patches:
            patch = _patch_of(sheet, cell, bench)
            if patch and cell["spread"] and len(patch.layers) == len(laid := lays(patch.layers)) == 1:
                alone.setdefault(laid[0].colour, []).append(cell["spread"])
    usual = float(np.median([v for vs in alone.values() for v in vs])) if alone else 0.0
    return [learnt(bench.swatches[i], alone.get(i, ()), usual) for i in sorted(touched)]


def _write(kit: Kit, paper: Paper, bench: Workbench, tones: dict[str, Lab], shown: list[Swatch]) -> None:
    """The next versions of kit and paper, and a hand of this paper; spectra that were measured stay."""
    sheet = PaperData.model_validate(paper.newest.data).model_copy(update={"fitted": bench.ground.fitted()})
    data = services.kit_data(kit.newest_bare.pk)
    now = {s.id: s.handling for s in shown}
    colours = []
    said = {}
    for c in data.colours:
        change: dict[str, Any] = {"tone": tones[c.id], "source": "photograph"} if c.id in tones else {}
        if c.id in now:
            change["handling"] = HandlingShape(**asdict(now[c.id]))
            said[c.id] = learnt_words(Handling(**c.handling.model_dump()), now[c.id])
        colours.append(c.model_copy(update=change))
    today = timezone.localdate().isoformat()
    measured = dict(data.measured)
    for swatch in shown:
        before = measured.get(swatch.id, Measured())
        measured[swatch.id] = Measured(
            spectrum=before.spectrum, fitted=swatch.fit.fitted(), paper=paper.name, when=today,
            learnt=said[swatch.id] or before.learnt,
        )  # fmt: skip
    whole = KitData(colours=colours, measured=measured, on=sheet, paper=paper.pk)
    services.write_next(kit, whole.model_dump(mode="json"))
    services.write_next(paper, sheet.model_dump(mode="json"))
    hand = hand_on(kit, paper)
    if hand is None:
        services.begin_hand(kit.owner, _hand_name(kit, paper), bench.hand, kit, paper)
    else:
        services.write_next(hand, HandData(fitted=bench.hand.fitted()).model_dump(mode="json"))


def _doubted(kit: Kit, paper: Paper, found: Calibrated, patches: list[Patch]) -> None:
    """Say beside the worst cells what may have happened to them; a cell read anew meanwhile is not judged."""
    judged = {(p.layers, *p.lab.tolist()): float(miss) for p, miss in zip(patches, found.misses, strict=True)}
    for sheet in kit.sheets.filter(paper=paper):
        for cell in sheet.patches:
            patch = _patch_of(sheet, cell, found.bench)
            miss = judged.get((patch.layers, *patch.lab.tolist())) if patch else None
            if patch is not None and miss is not None:
                perhaps = doubt(found.bench, patch, miss) or "laid as it says?"
                cell["why"] = f"{miss:.0f} away from what the others say: {perhaps}" if miss > _TOLD else ""
        sheet.save(update_fields=["patches"])
