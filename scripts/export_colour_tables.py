"""Write the published tables the core needs to ``caltin_core/colour/tables.json``.

Run once by hand when a table changes; colour-science is slow to import, so the core reads this file
instead, and the tests hold it against colour-science.
"""

import json
from pathlib import Path

import colour
import numpy as np
from colour.colorimetry import SDS_BASIS_FUNCTIONS_CIE_ILLUMINANT_D_SERIES as DAYLIGHT

OUT = Path(__file__).resolve().parent.parent / "caltin_core" / "colour" / "tables.json"
SHAPE = colour.SpectralShape(400, 700, 10)
ILLUMINANTS = ("A", "D50", "D65", "FL2", "LED-B3")


def sampled(distribution: colour.SpectralDistribution) -> list[float]:
    """Values at 400-700 nm in 10 nm steps, six decimals."""
    full = distribution.copy().align(colour.SpectralShape(380, 730, 10))
    return [round(float(v), 6) for v in full[SHAPE.wavelengths]]


def main() -> None:
    """Write the tables."""
    cmfs = colour.MSDS_CMFS["CIE 1931 2 Degree Standard Observer"].copy()
    observer = cmfs[SHAPE.wavelengths]
    tables = {
        "source": "CIE 015:2018 observers and illuminants, as tabulated by colour-science 0.4.7",
        "cmfs": [[round(float(v), 8) for v in row] for row in np.asarray(observer)],
        "illuminants": {name: sampled(colour.SDS_ILLUMINANTS[name]) for name in ILLUMINANTS},
        "daylight": [sampled(DAYLIGHT[name]) for name in ("S0", "S1", "S2")],
    }
    OUT.write_text(json.dumps(tables, indent=1) + "\n")


if __name__ == "__main__":
    main()
