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
SENSOR = "5100 (NPL)"
ILLUMINANTS = ("A", "D50", "D65", "FL2", "LED-B3")


def sampled(distribution: colour.SpectralDistribution) -> list[float]:
    """Values at 400-700 nm in 10 nm steps, six decimals."""
    full = distribution.copy().align(colour.SpectralShape(380, 730, 10))
    return [round(float(v), 6) for v in full[SHAPE.wavelengths]]


def sensor() -> list[list[float]]:
    """The matrix (3, 3) from a usual camera's channels to linear sRGB, both 1 on white: the ColorChecker's spectra in D50, by
    least squares, seen by a sensor measured at a national laboratory."""
    (measured,) = (kept for name, kept in colour.MSDS_CAMERA_SENSITIVITIES.items() if name.endswith(SENSOR))
    senses = measured.copy()[SHAPE.wavelengths]
    light = np.array(sampled(colour.SDS_ILLUMINANTS["D50"]))[:, None]
    chart = colour.SDS_COLOURCHECKERS["BabelColor Average"].values()
    shown = np.array([[float(v) for v in sd.copy().align(SHAPE).values] for sd in chart])
    eye = colour.MSDS_CMFS["CIE 1931 2 Degree Standard Observer"].copy()[SHAPE.wavelengths] * light
    white = eye.sum(axis=0)
    adapt = colour.adaptation.matrix_chromatic_adaptation_VonKries(white, colour.xy_to_XYZ([0.3127, 0.329]), "Bradford")
    aim = shown @ (eye / white[1]) @ (colour.RGB_COLOURSPACES["sRGB"].matrix_XYZ_to_RGB @ adapt).T
    seen = shown @ (senses * light / (senses * light).sum(axis=0))
    matrix = np.linalg.lstsq(seen, aim, rcond=None)[0]
    return [[round(float(v), 4) for v in row] for row in (matrix / matrix.sum(axis=0)).T]


def main() -> None:
    """Write the tables."""
    cmfs = colour.MSDS_CMFS["CIE 1931 2 Degree Standard Observer"].copy()
    observer = cmfs[SHAPE.wavelengths]
    tables = {
        "source": "CIE 015:2018 observers and illuminants, Darrodi et al. 2015 camera, as tabulated by colour-science 0.4.7",
        "cmfs": [[round(float(v), 8) for v in row] for row in np.asarray(observer)],
        "illuminants": {name: sampled(colour.SDS_ILLUMINANTS[name]) for name in ILLUMINANTS},
        "daylight": [sampled(DAYLIGHT[name]) for name in ("S0", "S1", "S2")],
        "sensor": sensor(),
    }
    OUT.write_text(json.dumps(tables, indent=1) + "\n")


if __name__ == "__main__":
    main()
