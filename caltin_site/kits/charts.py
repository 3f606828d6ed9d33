"""Swatch sheets of a kit: laid out, printed, read from a photograph; and calibration by all that was read."""

import uuid
from collections.abc import Iterator
from dataclasses import replace
from typing import Any

import numpy as np
from django.db import transaction
from django.utils import timezone

from caltin_core.charts.layout import lay_out
from caltin_core.charts.printing import as_pdf, drawn
from caltin_core.charts.reading import PatchRead, read_chart, read_sheet
from caltin_core.colour.difference import delta_e_2000
from caltin_core.colour.spaces import hex_from_lab
from caltin_core.contract.shapes import CoatShape, LaidShape, LayShape, laid_shape, stroke_of
from caltin_core.contract.sheets import SheetShape, layout_of, sheet_shape
from caltin_core.errors import BadRequest
from caltin_core.media.calibrate import Patch, doubt, fitting
from caltin_core.media.colourants import solids_from_lab
from caltin_core.media.layers import Lay
from caltin_core.media.predict import Workbench, colours_of
from caltin_core.media.teaching import solid_of, teaching
from caltin_core.reference.picture import open_picture
from caltin_site.kits import services
from caltin_site.kits.models import Hand, Kit, Paper, SwatchSheet
from caltin_site.kits.schemas import CellOut, ChartAsked, HandData, KitData, Measured, NewSheet, PaperData, SwatchSheetOut
from caltin_site.ownership import mine
from caltin_site.shapes import Lab

_CONTROLS = 3
# Controls that miss by less, in ΔE00, are of the same hand; by more, of another.
_HOLDS, _DRIFTED = 2.5, 4.0
# A patch that is named when it misses by so much, in ΔE00.
_TOLD = 4.0


def sheets_of(owner: Any, kit: uuid.UUID) -> list[SwatchSheetOut]:
    """The sheets of a kit, newest first."""
    return [sheet_out(s) for s in mine(Kit, owner, kit).sheets.select_related("paper", "kit").order_by("-made")]


def begin_sheet(owner: Any, kit_id: uuid.UUID, asked: NewSheet) -> SwatchSheet:
    """Lay out the sheet that teaches most about this kit on this paper: every solid not measured yet, then what narrows the
    doubts of likely recipes most, as many cells as were asked; or three cells that were laid before, as a control."""
    kit, paper = mine(Kit, owner, kit_id), mine(Paper, owner, asked.paper)
    bench = _bench(kit, paper)
    if not bench.swatches:
        raise BadRequest("kit", "put colours in the kit first")
    done = _measured(kit, paper, bench)
    stacks = _control(done) if asked.control else _teaching(kit, bench, done, asked.many)
    cells = {str(i + 1): [laid_shape(bench.swatches[x.colour].id, x.stroke).model_dump() for x in s] for i, s in enumerate(stacks)}
    shape = sheet_shape(lay_out(asked.page, list(cells), asked.frame)).model_dump(mode="json")
    title = f"{kit.name}, {paper.name}" + (", control" if asked.control else "")
    return SwatchSheet.objects.create(
        owner=owner, kit=kit, paper=paper, title=title[:200], page=asked.page, layout=shape, cells=cells, control=asked.control
    )


def _teaching(kit: Kit, bench: Workbench, done: list[Patch], many: int) -> list[tuple[Lay, ...]]:
    there = {p.layers for p in done}
    out = services.retired(kit.newest_bare.pk)
    solids = [(Lay(i, solid_of(s.kind)),) for i, s in enumerate(bench.swatches) if s.id not in out]
    first = [s for s in solids if s not in there][:many]
    rest = teaching(bench, many - len(first), [*first, *there]) if many > len(first) else []
    return [*first, *(tuple(x for x in stack if isinstance(x, Lay)) for stack in rest)]


def _control(done: list[Patch]) -> list[tuple[Lay, ...]]:
    """A light, a middle and a dark one of the patches laid before, none of them a solid if that can be."""
    if len(done) < _CONTROLS:
        raise BadRequest("paper", "measure a sheet on this paper first; a control lays three of its cells again")
    by_depth = sorted(done, key=lambda p: float(p.lab[0]))
    chosen = [by_depth[int((i + 0.5) * len(by_depth) / _CONTROLS)] for i in range(_CONTROLS)]
    return [tuple(x for x in p.layers if isinstance(x, Lay)) for p in chosen]


def page_of(sheet: SwatchSheet) -> bytes:
    """The sheet's page as a PDF."""
    names = {c.id: c.name for c in services.kit_data(sheet.kit.newest_bare.pk).colours}
    words = {}
    for cell, layers in sheet.cells.items():
        lines = [_short(_laid(x), names) for x in layers]
        words[cell] = (cell, lines[0], " + ".join(lines[1:]))
    return as_pdf(drawn(layout_of(SheetShape.model_validate(sheet.layout)), sheet.title, words))


def read_photo(sheet: SwatchSheet, photo: bytes) -> SwatchSheet:
    """Read a photograph of the sheet; what an earlier one had told is replaced where this one tells more."""
    paper = PaperData.model_validate(sheet.paper.newest.data)
    layout = layout_of(SheetShape.model_validate(sheet.layout))
    before = {p["cell"]: p for p in sheet.patches if p["ok"]}
    seen = [_kept(p) for p in read_sheet(open_picture(photo, "photo"), layout, paper.tone.array())]
    sheet.patches = [p if p["ok"] or p["cell"] not in before else before[p["cell"]] for p in seen]
    sheet.read = timezone.now()
    sheet.save(update_fields=["patches", "read"])
    return sheet


def read_own_chart(owner: Any, asked: ChartAsked, photo: bytes) -> list[CellOut]:
    """The cells of a chart the artist has, by its corners; nothing is kept."""
    paper = PaperData.model_validate(mine(Paper, owner, asked.paper).newest.data)
    pixels = open_picture(photo, "photo")
    seen = read_chart(pixels, asked.corners, asked.rows, asked.columns, paper.tone.array(), asked.bare)
    return [_cell(_kept(p), "") for p in seen]


def _kept(patch: PatchRead) -> dict[str, Any]:
    return {
        "cell": patch.cell, "lab": [round(float(v), 3) for v in patch.lab], "spread": round(patch.spread, 2), "ok": patch.ok,
        "why": patch.why,
    }  # fmt: skip


def _laid(layer: dict[str, Any]) -> LaidShape:
    return LayShape.model_validate(layer) if "pressure" in layer else CoatShape.model_validate(layer)


def _short(layer: LaidShape, names: dict[str, str]) -> str:
    return f"{names.get(layer.colour, layer.colour)}: {stroke_of(layer).words()}"


def _cell(patch: dict[str, Any], words: str) -> CellOut:
    hex_ = hex_from_lab(np.array(patch["lab"]))[0] if patch["lab"] else ""
    tone = Lab.of(np.array(patch["lab"])) if patch["lab"] else None
    return CellOut(cell=patch["cell"], words=words, hex=hex_, tone=tone, ok=patch["ok"], why=patch["why"], spread=patch["spread"])


def sheet_out(sheet: SwatchSheet) -> SwatchSheetOut:
    """A sheet with what is laid in each cell and what was read there."""
    names = {c.id: c.name for c in services.kit_data(sheet.kit.newest_bare.pk).colours}
    read = {p["cell"]: p for p in sheet.patches}
    blank = {"lab": None, "ok": False, "why": "", "spread": 0.0}
    cells = [
        _cell(read.get(cell, {**blank, "cell": cell}), " + ".join(_short(_laid(x), names) for x in layers))
        for cell, layers in sheet.cells.items()
    ]  # fmt: skip
    return SwatchSheetOut(
        id=sheet.pk, title=sheet.title, page=sheet.page, frame=sheet.layout["frame"], paper=sheet.paper_id, read=sheet.read,
        cells=cells, control=sheet.control, drift=_drift(sheet) if sheet.control and sheet.read else "",
    )  # fmt: skip


def _drift(sheet: SwatchSheet) -> str:
    """Whether the controls still lie where hand, paper and kit say they should."""
    kit, paper = sheet.kit, sheet.paper
    hand = Hand.objects.of(sheet.owner).filter(name=_hand_name(paper)).first()
    if hand is None:
        return "Calibrate first; then a control can tell whether your hand holds."
    bench = services.bench(sheet.owner, kit.newest_bare.pk, paper.newest_bare.pk, hand.newest_bare.pk)
    patches = _patches_of(sheet, {s.id: i for i, s in enumerate(bench.swatches)})
    if not patches:
        return "No control cell could be read; photograph it again."
    seen = np.array([lab for lab, _ in colours_of(bench, [p.layers for p in patches])])
    read = np.array([p.lab for p in patches])
    away = float(np.median(delta_e_2000(seen, read)))
    depth = float((read - seen)[:, 0].mean())
    how = f"{away:.1f} away, {'lighter' if depth > 0 else 'darker'} than it was"
    if away < _HOLDS:
        return f"Hand and paper hold: the controls are {away:.1f} away."
    if away < _DRIFTED:
        return f"Something moves: the controls are {how}. Lay another control before you trust close matches."
    return f"Hand or paper are no longer what was measured: {how}. Measure a new sheet."


def _bench(kit: Kit, paper: Paper) -> Workbench:
    return services.bench_of(kit.newest_bare.pk, paper.newest_bare.pk)


def _measured(kit: Kit, paper: Paper, bench: Workbench) -> list[Patch]:
    """All good patches of a kit on a paper."""
    place = {s.id: i for i, s in enumerate(bench.swatches)}
    return [p for sheet in kit.sheets.filter(paper=paper).order_by("made") for p in _patches_of(sheet, place)]


def _patches_of(sheet: SwatchSheet, place: dict[str, int]) -> list[Patch]:
    """The good patches of a sheet; `place` says where each colour lies in the kit."""
    out = []
    for patch in sheet.patches:
        layers = [_laid(x) for x in sheet.cells[patch["cell"]]]
        if patch["ok"] and all(x.colour in place for x in layers):
            out.append(Patch(tuple(Lay(place[x.colour], stroke_of(x)) for x in layers), np.array(patch["lab"])))
    return out


def _hand_name(paper: Paper) -> str:
    return f"My hand on {paper.name}"[:120]


def calibrated(kit: Kit, asked: dict[str, Any]) -> Iterator[tuple[int, int]]:
    """Fit kit, paper and hand to all patches read on that paper, and write their next versions; what was there stays."""
    paper = mine(Paper, kit.owner, uuid.UUID(asked["paper"]))
    bench = _bench(kit, paper)
    patches = _measured(kit, paper, bench)
    if not patches:
        raise BadRequest("paper", "nothing was read on this paper yet: photograph a sheet first")
    solids = {p.layers[0].colour: p.lab for p in patches if _is_solid(p, bench)}  # type: ignore[union-attr]
    fresh = dict(zip(solids, solids_from_lab(list(solids.values()), [bench.ground] * len(solids)), strict=True))
    swatches = tuple(
        replace(s, solid=fresh[i], on=bench.ground, measured=False) if i in fresh else replace(s, on=bench.ground)
        for i, s in enumerate(bench.swatches)
    )
    found = yield from fitting(Workbench(swatches, bench.ground), patches)
    _write(kit, paper, found.bench, solids, sorted({x.colour for p in patches for x in p.layers if isinstance(x, Lay)}))
    _doubted(kit, paper, found.bench, patches, found.misses)


def _is_solid(patch: Patch, bench: Workbench) -> bool:
    first = patch.layers[0]
    return len(patch.layers) == 1 and isinstance(first, Lay) and first.stroke == solid_of(bench.swatches[first.colour].kind)


def _write(kit: Kit, paper: Paper, bench: Workbench, solids: dict[int, Any], touched: list[int]) -> None:
    """The next versions of kit and paper, and a hand of this paper."""
    with transaction.atomic():
        sheet = PaperData.model_validate(paper.newest.data).model_copy(update={"fitted": bench.ground.fitted()})
        data = services.kit_data(kit.newest_bare.pk)
        tones = {bench.swatches[i].id: Lab.of(lab) for i, lab in solids.items()}
        colours = [
            c.model_copy(update={"tone": tones[c.id], "source": "photograph"}) if c.id in tones else c for c in data.colours
        ]  # fmt: skip
        kept = {c: m for c, m in data.measured.items() if c not in tones}
        today = timezone.localdate().isoformat()
        measured = {
            bench.swatches[i].id: Measured(fitted=bench.swatches[i].fit.fitted(), paper=paper.name, when=today) for i in touched
        }
        whole = KitData(colours=colours, measured={**kept, **measured}, on=sheet)
        services.write_next(kit, whole.model_dump(mode="json"))
        services.write_next(paper, sheet.model_dump(mode="json"))
        name = _hand_name(paper)
        hand = Hand.objects.of(kit.owner).filter(name=name).first()
        fitted = HandData(fitted=bench.hand.fitted()).model_dump(mode="json")
        if hand is None:
            services.begin(Hand, kit.owner, name, fitted)
        else:
            services.write_next(hand, fitted)


def _doubted(kit: Kit, paper: Paper, bench: Workbench, patches: list[Patch], misses: Any) -> None:
    """Say beside the worst cells what may have happened to them."""
    at = 0
    for sheet in kit.sheets.filter(paper=paper).order_by("made"):
        for patch in sheet.patches:
            if not patch["ok"]:
                continue
            miss = float(misses[at])
            perhaps = doubt(bench, patches[at], miss) or "laid as it says?"
            patch["why"] = f"{miss:.0f} away from what the others say: {perhaps}" if miss > _TOLD else ""
            at += 1
        sheet.save(update_fields=["patches"])
