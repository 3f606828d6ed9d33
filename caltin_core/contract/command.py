"""What a command of the command line is."""

from collections.abc import Callable
from dataclasses import dataclass
from typing import Any

from pydantic import BaseModel


@dataclass(frozen=True)
class Command:
    """A command: the shapes of its request and its answer, and what runs it; `text` gives the same answer as JSON, where it is so
    large that this is quicker than to build it first."""

    request: type[BaseModel]
    answer: type[BaseModel]
    run: Callable[[Any], BaseModel]
    text: Callable[[Any], str] | None = None

    def said(self, request: BaseModel) -> str:
        """The answer to a request as JSON."""
        return self.text(request) if self.text else self.run(request).model_dump_json(exclude_none=True, by_alias=True)
