"""``python -m caltin_core COMMAND < request.json > answer.json``: one JSON object each way, UTF-8."""

import json
import sys
import warnings
from collections.abc import Callable
from dataclasses import dataclass
from typing import Any

from pydantic import BaseModel, ValidationError

from caltin_core.contract import analysing, calibrating, curing, families, matching, planning, predicting, reading, sheets
from caltin_core.contract.faults import fault_of
from caltin_core.errors import BadRequest, CaltinError

DIALECT = "https://json-schema.org/draft/2020-12/schema"


@dataclass(frozen=True)
class Command:
    """A command: the shapes of its request and its answer, and what runs it."""

    request: type[BaseModel]
    answer: type[BaseModel]
    run: Callable[[Any], BaseModel]


COMMANDS = {
    "predict": Command(predicting.PredictRequest, predicting.PredictAnswer, predicting.run),
    "calibrate": Command(calibrating.CalibrateRequest, calibrating.CalibrateAnswer, calibrating.run),
    "match": Command(matching.MatchRequest, matching.MatchAnswer, matching.run),
    "family": Command(families.FamilyRequest, families.FamilyAnswer, families.run),
    "cure": Command(curing.CureRequest, curing.CureAnswer, curing.run),
    "plan": Command(planning.PlanRequest, planning.PlanAnswer, planning.run),
    "read": Command(reading.ReadRequest, reading.ReadAnswer, reading.run),
    "analyse": Command(analysing.AnalyseRequest, analysing.AnalyseAnswer, analysing.run),
    "sheet_print": Command(sheets.SheetPrintRequest, sheets.SheetPrintAnswer, sheets.print_sheet),
    "sheet_read": Command(sheets.SheetReadRequest, sheets.SheetReadAnswer, sheets.read),
}


def schema(command: str) -> dict[str, Any]:
    """Request and answer of a command as JSON Schema 2020-12; rules that depend on the medium stand outside."""
    known = _command(command)
    return {
        side: {"$schema": DIALECT, **shape.model_json_schema()}
        for side, shape in (("request", known.request), ("answer", known.answer))
    }


def answer(command: str, text: bytes) -> dict[str, Any]:
    """The answer of a command to a request in JSON. Raises BadRequest where the request is at fault."""
    known = _command(command)
    try:
        raw = json.loads(text.decode("utf-8"))
    except (ValueError, RecursionError):
        raise BadRequest("", "the request is not valid JSON in UTF-8") from None
    if not isinstance(raw, dict):
        raise BadRequest("", "the request must be one JSON object")
    try:
        request = known.request.model_validate(raw)
    except ValidationError as fault:
        raise fault_of(fault) from None
    return known.run(request).model_dump(mode="json", exclude_none=True, by_alias=True)


def _command(name: str) -> Command:
    if name not in COMMANDS:
        raise BadRequest("", f"there is no command “{name}”; there are {', '.join(COMMANDS)} and schema")
    return COMMANDS[name]


def main(arguments: list[str]) -> int:
    """Run one command from standard input to standard output; 0, or 2 with an error object."""
    warnings.simplefilter("ignore")
    try:
        if len(arguments) == 2 and arguments[0] == "schema":
            said = schema(arguments[1])
        elif len(arguments) == 1:
            said = answer(arguments[0], sys.stdin.buffer.read() if arguments[0] in COMMANDS else b"")
        else:
            raise BadRequest("", f"say one command: {', '.join(COMMANDS)}, or schema and its name")
        code = 0
    except CaltinError as fault:
        said, code = {"error": {"where": fault.where, "what": fault.what}}, 2
    sys.stdout.buffer.write(json.dumps(said, ensure_ascii=False).encode("utf-8") + b"\n")
    return code
