"""The difference between two colours: CIEDE2000, and its parts in CIELAB."""

import numpy as np

from caltin_core.colour.tables import Floats


def delta_e_2000(lab_1: Floats, lab_2: Floats) -> Floats:
    """CIEDE2000 (…) between CIELAB arrays (…, 3), kL = kC = kH = 1.

    Source: Sharma, Wu & Dalal 2005, "The CIEDE2000 color-difference formula", equations 2-22.
    """
    l1, a1, b1 = np.moveaxis(np.asarray(lab_1, dtype=float), -1, 0)
    l2, a2, b2 = np.moveaxis(np.asarray(lab_2, dtype=float), -1, 0)
    c_mean7 = ((np.hypot(a1, b1) + np.hypot(a2, b2)) / 2) ** 7
    g = 0.5 * (1 - np.sqrt(c_mean7 / (c_mean7 + 25.0**7)))
    a1, a2 = (1 + g) * a1, (1 + g) * a2
    c1, c2 = np.hypot(a1, b1), np.hypot(a2, b2)
    h1, h2 = np.degrees(np.arctan2(b1, a1)) % 360, np.degrees(np.arctan2(b2, a2)) % 360

    grey = c1 * c2 == 0
    turn = np.where(grey, 0.0, (h2 - h1 + 180) % 360 - 180)
    turn = np.where(~grey & (h2 - h1 == 180), 180.0, turn)
    delta_l, delta_c = l2 - l1, c2 - c1
    delta_h = 2 * np.sqrt(c1 * c2) * np.sin(np.radians(turn) / 2)

    l_mean, c_mean = (l1 + l2) / 2, (c1 + c2) / 2
    apart = np.abs(h1 - h2) > 180
    h_sum = h1 + h2
    h_mean = np.where(grey, h_sum, np.where(apart, (h_sum + np.where(h_sum < 360, 360, -360)) / 2, h_sum / 2))
    t = (
        1
        - 0.17 * np.cos(np.radians(h_mean - 30))
        + 0.24 * np.cos(np.radians(2 * h_mean))
        + 0.32 * np.cos(np.radians(3 * h_mean + 6))
        - 0.20 * np.cos(np.radians(4 * h_mean - 63))
    )
    theta = 30 * np.exp(-(((h_mean - 275) / 25) ** 2))
    r_c = 2 * np.sqrt(c_mean**7 / (c_mean**7 + 25.0**7))
    s_l = 1 + 0.015 * (l_mean - 50) ** 2 / np.sqrt(20 + (l_mean - 50) ** 2)
    s_c, s_h = 1 + 0.045 * c_mean, 1 + 0.015 * c_mean * t
    r_t = -np.sin(np.radians(2 * theta)) * r_c
    x, y, z = delta_l / s_l, delta_c / s_c, delta_h / s_h
    out: Floats = np.sqrt(np.maximum(x * x + y * y + z * z + r_t * y * z, 0.0))
    return out


def metric(lab: Floats) -> Floats:
    """Matrices (P, 3, 3) under which plain distance near each colour (P, 3) is its CIEDE2000."""
    by = 0.5
    unit = by * np.eye(3)
    alone = [delta_e_2000(lab, lab + unit[i]) ** 2 for i in range(3)]
    out = np.zeros((len(lab), 3, 3))
    for i in range(3):
        out[:, i, i] = alone[i]
        for j in range(i):
            both = delta_e_2000(lab, lab + unit[i] + unit[j]) ** 2
            out[:, i, j] = out[:, j, i] = (both - alone[i] - alone[j]) / 2
    values, axes = np.linalg.eigh(out / by**2)
    root = np.sqrt(np.maximum(values, 1e-3))
    return np.asarray(np.einsum("pij,pj,pkj->pik", axes, root, axes))


def parts(lab: Floats, reference: Floats) -> tuple[Floats, Floats, Floats]:
    """ΔL*, ΔC*ab and signed ΔH*ab of `lab` minus `reference`, both CIELAB (…, 3). Source: CIE 015:2018, 8.2.1.

    ΔH* is positive where the hue angle grows (red towards yellow).
    """
    lab, reference = np.asarray(lab, dtype=float), np.asarray(reference, dtype=float)
    c1, c2 = np.hypot(reference[..., 1], reference[..., 2]), np.hypot(lab[..., 1], lab[..., 2])
    h1 = np.arctan2(reference[..., 2], reference[..., 1])
    h2 = np.arctan2(lab[..., 2], lab[..., 1])
    turn = (h2 - h1 + np.pi) % (2 * np.pi) - np.pi
    return lab[..., 0] - reference[..., 0], c2 - c1, 2 * np.sqrt(c1 * c2) * np.sin(turn / 2)


def chroma(lab: Floats) -> Floats:
    """CIELAB chroma C*ab (…)."""
    out: Floats = np.hypot(np.asarray(lab)[..., 1], np.asarray(lab)[..., 2])
    return out


def hue_angle(lab: Floats) -> Floats:
    """CIELAB hue angle in degrees, 0-360 (…)."""
    lab = np.asarray(lab)
    out: Floats = np.degrees(np.arctan2(lab[..., 2], lab[..., 1])) % 360
    return out


def hue_apart(lab: Floats, other: Floats) -> float:
    """By how many degrees, 0-180, the hues of two CIELAB colours (3,) lie apart."""
    return abs((float(hue_angle(lab)) - float(hue_angle(other)) + 180) % 360 - 180)
