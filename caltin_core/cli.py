"""``python -m caltin_core COMMAND < request.json > answer.json``: one JSON object each way, UTF-8."""

import json
import sys
import warnings
from importlib import import_module
from typing import Any

from pydantic import BaseModel, ValidationError

from caltin_core.contract.command import Command
from caltin_core.contract.faults import fault_of
from caltin_core.errors import BadRequest, CaltinError

DIALECT = "https://json-schema.org/draft/2020-12/schema"
# Where each command is. Only what is asked for is loaded: for a short request that is most of the time it takes.
HOMES = {
    "predict": "predicting", "calibrate": "calibrating", "match": "matching", "family": "families", "cure": "curing",
    "plan": "planning", "read": "reading", "analyse": "analysing", "sheet_print": "sheets", "sheet_read": "sheets",
    "light": "lighting", "choose": "choosing",
}  # fmt: skip


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
    return known.run(_request(known, text)).model_dump(mode="json", exclude_none=True, by_alias=True)


def _request(known: Command, text: bytes) -> BaseModel:
    try:
        raw = json.loads(text.decode("utf-8"))
    except (ValueError, RecursionError):
        raise BadRequest("", "the request is not valid JSON in UTF-8") from None
    if not isinstance(raw, dict):
        raise BadRequest("", "the request must be one JSON object")
    try:
        return known.request.model_validate(raw)
    except ValidationError as fault:
        raise fault_of(fault) from None


def _command(name: str) -> Command:
    if name not in HOMES:
        raise BadRequest("", f"there is no command “{name}”; there are {', '.join(HOMES)} and schema")
    found: Command = import_module(f"caltin_core.contract.{HOMES[name]}").COMMANDS[name]
    return found


def main(arguments: list[str]) -> int:
    """Run one command from standard input to standard output; 0, or 2 with an error object."""
    warnings.simplefilter("ignore")
    try:
        if len(arguments) == 2 and arguments[0] == "schema":
            said = json.dumps(schema(arguments[1]), ensure_ascii=False)
        elif len(arguments) == 1:
            known = _command(arguments[0])
            said = known.said(_request(known, sys.stdin.buffer.read()))
        else:
            raise BadRequest("", f"say one command: {', '.join(HOMES)}, or schema and its name")
        code = 0
    except CaltinError as fault:
        said, code = json.dumps({"error": {"where": fault.where, "what": fault.what}}, ensure_ascii=False), 2
    sys.stdout.buffer.write(said.encode("utf-8") + b"\n")
    return code
