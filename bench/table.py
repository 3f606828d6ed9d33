"""A row of the table, and the table."""

from dataclasses import dataclass


@dataclass(frozen=True)
class Row:
    """What was measured, and what it should be."""

    what: str
    found: float
    unit: str
    asked: float
    at_least: bool = False

    @property
    def reached(self) -> bool:
        """Whether the number is reached."""
        return self.found >= self.asked if self.at_least else self.found <= self.asked


def printed(rows: list[Row]) -> str:
    """The table in Markdown."""
    out = ["| what | found | asked | |", "| --- | ---: | ---: | --- |"]
    for row in rows:
        unit = f" {row.unit}" if row.unit else ""
        sign = "≥" if row.at_least else "≤"
        out.append(
            f"| {row.what} | {row.found:.3g}{unit} | {sign} {row.asked:g}{unit} | {'reached' if row.reached else 'NOT reached'} |"
        )
    return "\n".join(out)
