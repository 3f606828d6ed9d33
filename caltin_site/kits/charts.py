"""Swatch sheets of a kit and charts of one's own: laid out, printed, read from a photograph, kept."""

import uuid
from collections.abc import Sequence
from typing import Any

import numpy as np
from django.db import transaction
from django.utils import timezone

from caltin_core.charts.correction import About
from caltin_core.charts.grid import find_grid
from caltin_core.charts.layout import lay_out
from caltin_core.charts.printing import as_pdf, drawn
from caltin_core.charts.reading import OwnChart, PatchRead, read_chart, read_sheet
from caltin_core.colour.spaces import hex_from_lab
from caltin_core.colour.tables import Floats
from caltin_core.contract.shapes import (
    ActShape,
    BlendShape,
    CoatShape,
    LaidShape,
    LayShape,
    LiftShape,
    act_of,
    laid_shape,
    stroke_of,
)
from caltin_core.contract.sheets import SheetShape, layout_of, sheet_shape
from caltin_core.errors import BadRequest, UnreadablePicture
from caltin_core.media.calibrate import Patch, is_solid
from caltin_core.media.colourants import solid_of
from caltin_core.media.control import controls, drift
from caltin_core.media.kinds import MEDIA
from caltin_core.media.layers import COAT, MAX_PASSES, Lay, Layer, Stroke, lays
from caltin_core.media.predict import colours_of
from caltin_core.media.teaching import FurtherRow, further_rows
from caltin_core.media.teaching import sheet as teaching_sheet
from caltin_core.media.workbench import Workbench
from caltin_core.recipes.words import act_words
from caltin_core.reference.picture import open_picture
from caltin_site.kits import services
from caltin_site.kits.calibrating import bench_on, hand_on, measured_on, patches_of, stored
from caltin_site.kits.chart_schemas import (
    CellOut,
    ChartAsked,
    ChartKept,
    FurtherOut,
    FurtherRowOut,
    GridOut,
    NewSheet,
    SwatchSheetOut,
)
from caltin_site.kits.laid import in_kit, layers_of, said
from caltin_site.kits.models import Kit, KitVersion, Paper, SwatchSheet
from caltin_site.kits.schemas import KitColour, PaperData
from caltin_site.ownership import mine
from caltin_site.shapes import Lab

# Within how much a solid's colour is known, by where it came from, one standard deviation in ΔE00 (common practice).
_KNOWN_WITHIN = {"typed": 4.0, "file": 4.0, "photograph": 2.5, "demo": 2.5, "reader": 1.5}
# So many cells fit on a page.
_ON_A_PAGE = 96


def sheets_of(owner: Any, kit: uuid.UUID) -> list[SwatchSheetOut]:
    """The sheets of a kit, newest first."""
    return [sheet_out(s) for s in mine(Kit, owner, kit).sheets.select_related("paper", "kit").order_by("-made")]


def begin_sheet(owner: Any, kit_id: uuid.UUID, asked: NewSheet) -> SwatchSheet:
    """Lay out the sheet that teaches most about this kit on this paper: every solid not measured yet, then what narrows the
    doubts of likely recipes most, as many cells as were asked; or one row that was told to teach much; or three cells that were
    laid before, as a control."""
    kit, paper = mine(Kit, owner, kit_id), mine(Paper, owner, asked.paper)
    bench = bench_on(kit, paper)
    if not bench.swatches:
        raise BadRequest("kit", "put colours in the kit first")
    done = measured_on(kit, paper, bench)
    if asked.control:
        stacks = controls(bench, done)
    elif asked.row:
        stacks = _row(kit, bench, done, asked.row)
    else:
        stacks = teaching_sheet(bench, asked.many, [p.layers for p in done], _away(kit, bench), acts=asked.acts)
    if not stacks:
        raise BadRequest("kit", "every colour of this kit is dry, lent, lost or retired")
    cells = {str(i + 1): [x.model_dump() for x in said(bench, s)] for i, s in enumerate(stacks)}
    shape = sheet_shape(lay_out(asked.page, list(cells), asked.frame)).model_dump(mode="json")
    title = f"{kit.name}, {paper.name}" + (", control" if asked.control else "")
    return SwatchSheet.objects.create(
        owner=owner, kit=kit, paper=paper, title=title[:200], page=asked.page, layout=shape, cells=cells, control=asked.control
    )


def _about(sheet: SwatchSheet) -> list[About]:
    """What the solids of a sheet should about be: by them it is told how the camera sees. No hand changes a solid."""
    bench = bench_on(sheet.kit, sheet.paper)
    sources = {c.id: c.source for c in services.kit_data(sheet.kit.newest_bare.pk).colours}
    cells = {cell: stored(layers) for cell, layers in sheet.cells.items()}
    here = {cell: layers_of(bench, layers) for cell, layers in cells.items() if all(in_kit(bench, x) for x in layers)}
    solids = {cell: layers for cell, layers in here.items() if is_solid(bench, layers)}
    labs = colours_of(bench, list(solids.values()))
    return [
        About(cell, lab, _KNOWN_WITHIN[sources[bench.swatches[lays(layers)[0].colour].id]])
        for (cell, layers), (lab, _) in zip(solids.items(), labs, strict=True)
    ]


def _moved(sheet: SwatchSheet) -> dict[str, Floats]:
    """By how much, in Lab, known solids moved the cells that a control lays again: as a camera saw them once it sees them now."""
    earlier = {
        str(s.cells[p["cell"]]): np.array(p["moved"])
        for s in sheet.kit.sheets.filter(paper=sheet.paper, control=False).order_by("made")
        for p in s.patches
        if "moved" in p
    }
    return {cell: earlier[str(layers)] for cell, layers in sheet.cells.items() if str(layers) in earlier}


def page_of(sheet: SwatchSheet) -> bytes:
    """The sheet's page as a PDF."""
    names = _names(sheet.kit)
    words = {}
    for cell, layers in sheet.cells.items():
        lines = [_short(x, names) for x in stored(layers)]
        words[cell] = (cell, lines[0], " + ".join(lines[1:]))
    return as_pdf(drawn(layout_of(SheetShape.model_validate(sheet.layout)), sheet.title, words))


def read_photo(sheet: SwatchSheet, photo: bytes, light: str, again: bytes | None = None) -> SwatchSheet:
    """Read a photograph of the sheet, taken in one of ILLUMINANTS, and a darker one that tells the camera's contrast, if there is
    one; what an earlier photograph had told is replaced where this one tells more."""
    paper = PaperData.model_validate(sheet.paper.newest.data)
    layout = layout_of(SheetShape.model_validate(sheet.layout))
    before = {p["cell"]: p for p in sheet.patches if p["ok"]}
    pixels, tone = open_picture(photo, "photo"), paper.tone.array()
    if sheet.control and again is not None:
        raise BadRequest("again", "a control is read by one photograph, as the cells it lays again were")
    second = open_picture(again, "again") if again is not None else None
    plain = read_sheet(pixels, layout, tone, (), light)
    if sheet.control:
        earlier = _moved(sheet)
        seen = [_kept(p, earlier.get(p.cell, np.zeros(3))) for p in plain]
    else:
        told = read_sheet(pixels, layout, tone, _about(sheet), light, second)
        seen = [_kept(p, t.lab - p.lab) for p, t in zip(plain, told, strict=True)]
    sheet.patches = [p if p["ok"] or p["cell"] not in before else before[p["cell"]] for p in seen]
    sheet.read = timezone.now()
    sheet.save(update_fields=["patches", "read"])
    return sheet


def read_own_chart(owner: Any, asked: ChartAsked, photo: bytes) -> list[CellOut]:
    """The cells of a chart the artist has, by its corners; nothing is kept."""
    paper = PaperData.model_validate(mine(Paper, owner, asked.paper).newest.data)
    pixels = open_picture(photo, "photo")
    chart = OwnChart(asked.corners, asked.rows, asked.columns, asked.bare, moved=asked.moved)
    outlines = chart.outlines(pixels)
    cells = [_cell(_kept(p, np.zeros(3)), "") for p in read_chart(pixels, chart, paper.tone.array(), asked.light)]
    return [c.model_copy(update={"outline": [list(p) for p in outlines[c.cell]]}) for c in cells]


def found_chart(photo: bytes) -> GridOut:
    """Corners, rows and columns of a chart, or none where its photograph does not show them; nothing is kept."""
    pixels = open_picture(photo, "photo")
    try:
        grid = find_grid(pixels)
    except UnreadablePicture:
        return GridOut(corners=[], rows=0, columns=0)
    return GridOut(corners=[list(c) for c in grid.corners], rows=grid.rows, columns=grid.columns)


def keep_chart(owner: Any, kit_id: uuid.UUID, asked: ChartKept) -> KitVersion:
    """Take a chart of one's own into the kit: its solids as colours, its other rows as patches to calibrate by; all or nothing."""
    kit, paper = mine(Kit, owner, kit_id), mine(Paper, owner, asked.paper)
    data = services.kit_data(kit.newest_bare.pk)
    here = {(c.name.casefold(), c.medium): c for c in data.colours}
    row = asked.tones[: asked.columns] if asked.ways else asked.tones
    solids: dict[int, KitColour] = {}
    for index, (name, tone) in enumerate(zip((n.strip() for n in asked.names), row, strict=False)):
        if name and tone:
            was = here.get((name.casefold(), asked.medium))
            first = was or KitColour(id=uuid.uuid4().hex[:13], name=name, medium=asked.medium, tone=tone)
            solids[index] = first.model_copy(update={"tone": tone, "source": "photograph"})
    if not solids:
        raise BadRequest("names", "name one cell at least that could be read")
    new = {c.id: c for c in solids.values()}
    colours = [new.pop(c.id, c) for c in data.colours]
    patches = _rows_below(asked, {index: c.id for index, c in solids.items()})
    with transaction.atomic():
        version = services.change_kit(owner, kit_id, asked.seen, kit.name, [*colours, *new.values()])
        for at in range(0, len(patches), _ON_A_PAGE):
            keep_patches(kit, paper, "a chart of one's own", [([x], tone) for x, tone in patches[at : at + _ON_A_PAGE]])
    return version


def keep_strip(kit: Kit, paper: Paper, layers: Sequence[ActShape], tone: Lab) -> None:
    """Keep what a scrap strip came out as, to calibrate by. Raises BadRequest for a colour that is not in the kit."""
    known = {c.id for c in services.kit_data(kit.newest_bare.pk).colours}
    for index, layer in enumerate(layers):
        if isinstance(layer, LayShape | CoatShape) and layer.colour not in known:
            raise BadRequest(f"layers[{index}].colour", "this colour is not in the study's kit")
    keep_patches(kit, paper, "a scrap strip", [(layers, tone)])


def _rows_below(asked: ChartKept, ids: dict[int, str]) -> list[tuple[LaidShape, Lab]]:
    """The cells below the solids, each with what is laid there. Raises BadRequest where a row cannot be laid as it says."""
    coats = MEDIA[asked.medium].kind != "film"
    out: list[tuple[LaidShape, Lab]] = []
    for index, tone in enumerate(asked.tones):
        row, column = divmod(index, asked.columns)
        if not asked.ways or row == 0 or tone is None or column not in ids:
            continue
        if row > (MAX_PASSES - 1 if coats else len(asked.ways)):
            raise BadRequest("ways", f"row {row + 1} is not said, or is more than {MAX_PASSES} coats")
        way = asked.ways[row - 1] if not coats else None
        stroke = Stroke(way.pressure, way.passes) if way else Stroke(COAT, row + 1)
        out.append((laid_shape(ids[column], stroke), tone))
    return out


def keep_patches(kit: Kit, paper: Paper, what: str, patches: Sequence[tuple[Sequence[ActShape], Lab]]) -> None:
    """Keep patches beside the printed sheets; their page is laid out so that they can be laid again."""
    names = [str(i + 1) for i in range(len(patches))]
    read = [
        {"cell": name, "lab": [t.l, t.a, t.b], "spread": 0.0, "ok": True, "why": ""}
        for name, (_, t) in zip(names, patches, strict=True)
    ]  # fmt: skip
    SwatchSheet.objects.create(
        owner=kit.owner, kit=kit, paper=paper, title=f"{kit.name}, {paper.name}, {what}"[:200], page="A4",
        layout=sheet_shape(lay_out("A4", names, False)).model_dump(mode="json"), patches=read, read=timezone.now(),
        cells={name: [x.model_dump() for x in layers] for name, (layers, _) in zip(names, patches, strict=True)},
    )  # fmt: skip


def further(owner: Any, kit_id: uuid.UUID, paper_id: uuid.UUID) -> FurtherOut:
    """What further rows of swatches would improve, given what was read on this paper."""
    kit, paper = mine(Kit, owner, kit_id), mine(Paper, owner, paper_id)
    bench = bench_on(kit, paper)
    if not bench.swatches:
        return FurtherOut(now=0.0, rows=[])
    now, rows = _further(kit, bench, measured_on(kit, paper, bench))
    names = _names(kit)
    told = [
        FurtherRowOut(words=r.words, cells=[_words(said(bench, c), names) for c in r.cells], doubt=round(r.doubt, 2), worth=r.worth)
        for r in rows
    ]
    return FurtherOut(now=round(now, 2), rows=told)


def _further(kit: Kit, bench: Workbench, done: Sequence[Patch]) -> tuple[float, list[FurtherRow]]:
    """The doubt now that so much is `done`, and the rows that would lessen it most; a solid that was measured tells as much as
    one that was laid."""
    known, colours = [p.layers for p in done], services.kit_data(kit.newest_bare.pk).colours
    solids: list[tuple[Layer, ...]] = [
        (Lay(i, solid_of(s.kind)),) for i, (s, c) in enumerate(zip(bench.swatches, colours, strict=True)) if c.source != "typed"
    ]
    return further_rows(bench, [*known, *(s for s in solids if s not in known)], _away(kit, bench))


def _row(kit: Kit, bench: Workbench, done: Sequence[Patch], words: str) -> list[tuple[Layer, ...]]:
    """The cells of the row that was told in these words. Raises BadRequest where others would teach more by now."""
    for row in _further(kit, bench, done)[1]:
        if row.words == words:
            return list(row.cells)
    raise BadRequest("row", "what another row would teach has changed meanwhile: choose again")


def _away(kit: Kit, bench: Workbench) -> frozenset[int]:
    """Where the colours that are not at hand now lie in the kit."""
    gone = services.not_at_hand(kit.newest_bare.pk)
    return frozenset(i for i, s in enumerate(bench.swatches) if s.id in gone)


def _names(kit: Kit) -> dict[str, str]:
    return {c.id: c.name for c in services.kit_data(kit.newest_bare.pk).colours}


def _kept(patch: PatchRead, moved: Floats) -> dict[str, Any]:
    """A cell as it is stored; `moved`, in Lab, is what known solids tell of the camera there."""
    lab = np.clip(patch.lab + moved, [0, -200, -200], [100, 200, 200])
    return {
        "cell": patch.cell, "lab": [round(float(v), 3) for v in lab], "spread": round(patch.spread, 2), "ok": patch.ok,
        "why": patch.why, "moved": [round(float(v), 3) for v in moved],
    }  # fmt: skip


def _words(layers: Sequence[ActShape], names: dict[str, str]) -> str:
    """What is laid in a cell."""
    return " + ".join(_short(x, names) for x in layers)


def _short(layer: ActShape, names: dict[str, str]) -> str:
    if isinstance(layer, BlendShape | LiftShape):
        return act_words(act_of(layer))
    return f"{names.get(layer.colour, layer.colour)}: {stroke_of(layer).words()}"


def _cell(patch: dict[str, Any], words: str) -> CellOut:
    hex_ = hex_from_lab(np.array(patch["lab"]))[0] if patch["lab"] else ""
    tone = Lab.of(np.array(patch["lab"])) if patch["lab"] else None
    return CellOut(cell=patch["cell"], words=words, hex=hex_, tone=tone, ok=patch["ok"], why=patch["why"], spread=patch["spread"])


def sheet_out(sheet: SwatchSheet) -> SwatchSheetOut:
    """A sheet with what is laid in each cell and what was read there."""
    names = _names(sheet.kit)
    read = {p["cell"]: p for p in sheet.patches}
    blank = {"lab": None, "ok": False, "why": "", "spread": 0.0}
    cells = [
        _cell(read.get(cell, {**blank, "cell": cell}), _words(stored(layers), names))
        for cell, layers in sheet.cells.items()
    ]  # fmt: skip
    return SwatchSheetOut(
        id=sheet.pk, title=sheet.title, page=sheet.page, frame=sheet.layout["frame"], paper=sheet.paper_id, read=sheet.read,
        cells=cells, control=sheet.control, drift=_drift(sheet) if sheet.control and sheet.read else "",
    )  # fmt: skip


def _drift(sheet: SwatchSheet) -> str:
    """Whether the controls still lie where hand, paper and kit say they should."""
    kit, paper = sheet.kit, sheet.paper
    hand = hand_on(kit, paper)
    if hand is None:
        return "Calibrate first; then a control can tell whether your hand holds."
    bench = services.bench(sheet.owner, kit.newest_bare.pk, paper.newest_bare.pk, hand.newest_bare.pk)
    patches = patches_of(sheet, bench)
    if not patches:
        return "No control cell could be read; photograph it again."
    return drift(bench, patches).words
