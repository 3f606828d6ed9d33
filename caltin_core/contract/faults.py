"""From a validation fault to where and what, in words."""

from typing import Any

from pydantic import ValidationError

from caltin_core.errors import BadRequest

_WORDS = {
    "missing": "this is missing",
    "extra_forbidden": "this key is not known here",
    "finite_number": "this must be a finite number",
    "int_type": "this must be a whole number",
    "int_parsing": "this must be a whole number",
    "float_type": "this must be a number",
    "float_parsing": "this must be a number",
    "string_type": "this must be text",
    "string_too_short": "this must not be empty",
    "list_type": "this must be a list",
    "bool_type": "this must be true or false",
}


def path_of(loc: tuple[int | str, ...]) -> str:
    """A pydantic location as ``colours[3].hex``; the tags of unions are left out."""
    out = ""
    for part in loc:
        if isinstance(part, int):
            out += f"[{part}]"
        elif not part.startswith("~"):
            out += f".{part}" if out else part
    return out


def fault_of(error: ValidationError) -> BadRequest:
    """The first fault of a validation, as the contract tells it."""
    found: Any = error.errors(include_url=False, include_input=False)[0]
    loc, kind = tuple(found["loc"]), str(found["type"])
    if kind.startswith("at:"):
        return BadRequest(path_of((*loc, kind[3:])), found["msg"])
    if kind in ("model_type", "model_attributes_type", "dict_type", "union_tag_not_found"):
        return BadRequest(path_of(loc), "this must be an object with its keys")
    if kind == "literal_error":
        return BadRequest(path_of(loc), f"this must be one of {found['ctx']['expected']}")
    if kind == "string_pattern_mismatch":
        return BadRequest(path_of(loc), "this must be six hexadecimal digits such as #a1b2c3")
    said = str(found["msg"])
    return BadRequest(path_of(loc), _WORDS.get(kind, said[:1].lower() + said[1:]))
