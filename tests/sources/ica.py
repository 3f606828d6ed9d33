"""Tsumura, Haneishi & Miyake 1999, "Independent-component analysis of skin color image": a second opinion on pigments."""

import numpy as np

from caltin_core.skin.chromophores import BLOOD, MELANIN, density


def independent_vectors(lab):
    """Densities (2, 3) of melanin and blood found in one picture of skin (n, 3) by independent component analysis.

    Shading is taken out along (1, 1, 1) first; in the plane left the two directions are those along which the
    amounts are least Gaussian. None where what is found could not be these pigments, as under lights of two colours.

    Source: Tsumura, Haneishi & Miyake 1999, "Independent-component analysis of skin color image".
    """
    d = density(lab)
    plane = np.linalg.svd(np.ones((1, 3)))[2][1:]
    flat = (d - d.mean(axis=0)) @ plane.T
    values, axes = np.linalg.eigh(np.cov(flat.T))
    if values.min() < 1e-6:
        return None
    white = flat @ axes / np.sqrt(values)
    angles = np.linspace(0, np.pi, 180, endpoint=False)
    turned = white @ np.stack([np.cos(angles), np.sin(angles)])
    peaked = np.abs((turned**4).mean(axis=0) - 3)
    both = peaked + np.roll(peaked, 90)
    best = angles[int(both.argmax())]
    turn = np.array([[np.cos(best), np.sin(best)], [-np.sin(best), np.cos(best)]])
    # Columns of the mixing matrix, brought back into the plane.
    mixing = (turn * np.sqrt(values)) @ axes.T @ plane
    out = []
    for known in (MELANIN, BLOOD):
        aim = plane.T @ plane @ known
        along = mixing @ aim / (np.linalg.norm(mixing, axis=1) * np.linalg.norm(aim))
        row = int(np.abs(along).argmax())
        if abs(along[row]) < np.cos(np.radians(20)):
            return None
        found = mixing[row] * np.sign(along[row])
        # The plane leaves the share of shading open: it is taken from the known density.
        out.append(found * np.linalg.norm(aim) / np.linalg.norm(found) + (known - aim))
    return np.stack(out)
