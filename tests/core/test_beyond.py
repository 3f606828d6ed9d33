"""What lies beyond the skin of a head: hair, brows, eyes and mouth, on made-up heads whose truth is known."""

import numpy as np
import pytest
from scipy.ndimage import gaussian_filter

from caltin_core.reference import areas
from caltin_core.skin.complexion import base_tone
from tests.core.pictures import MELANINS, bytes_of, lab_of, read, sphere

EYES = ("eye_white", "iris")


def head(melanin, hair=0.02, warm=(1.0, 1.0, 1.0), seed=0, bald=False, size=480):
    """A sphere of skin with painted features, in light of a colour: its Lab and the truth of each role."""
    made = sphere(melanin, 0.3, size=size, noise=0.0)
    y, x = np.mgrid[0:size, 0:size]
    u, v = (x - size / 2) / (0.33 * size), (y - 0.47 * size) / (0.33 * size)
    rng = np.random.default_rng(seed)
    strands = np.exp(0.9 * gaussian_filter(rng.normal(size=(size, size)), (6, 0.8)) / 0.12 * 0.5)
    linear = made.linear.copy()

    def oval(at, wide, high):
        return ((u - at[0]) / wide) ** 2 + ((v - at[1]) / high) ** 2 < 1

    cap = oval((0, -0.2), 1.25, 1.2) & ~oval((0, 0.35), 0.95, 1.0) & (v < 0.1) & (not bald)
    truth = {"hair": cap, "brow": oval((-0.33, -0.28), 0.2, 0.05) | oval((0.33, -0.28), 0.2, 0.05)}
    balls = oval((-0.33, -0.02), 0.17, 0.055) | oval((0.33, -0.02), 0.17, 0.055)
    truth["iris"] = (oval((-0.33, -0.02), 0.06, 0.055) | oval((0.33, -0.02), 0.06, 0.055)) & balls
    truth["eye_white"] = balls & ~truth["iris"]
    truth["lips"] = oval((0, 0.5), 0.3, 0.07)
    shade = np.minimum(made.linear.mean(axis=-1) / made.linear[made.mask].mean(), 1.3)
    for role, colour in (("brow", (0.03, 0.02, 0.015)), ("eye_white", (0.62, 0.6, 0.58)), ("iris", (0.012, 0.012, 0.012))):
        linear[truth[role]] = np.array(colour) * shade[truth[role], None]
    linear[truth["lips"]] *= np.array([0.3, 0.12, 0.12])
    linear[cap] = (np.array([1.0, 0.7, 0.5]) * hair) * np.clip(strands[cap], 0.2, 4)[:, None]
    return lab_of(bytes_of(np.clip(linear * np.array(warm), 0, 1), 1.0, seed)), truth


def found_in(lab):
    proposal = areas.propose(lab)
    out = {}
    for area in proposal.areas:
        role = "hair" if area.role.startswith("hair") else "lips" if area.role.endswith("lip") else area.role
        out[role] = out.get(role, False) | (proposal.labels == area.label)
    return proposal, out


def overlap(one, other):
    return (one & other).sum() / max((one | other).sum(), 1)


@pytest.mark.parametrize("melanin", [0.25, 0.8, 1.6])
@pytest.mark.parametrize("warm", [(1.0, 1.0, 1.0), (1.0, 0.72, 0.45)])
def test_hair_eyes_brows_and_mouth_are_found_where_they_are(melanin, warm):
    lab, truth = head(melanin, warm=warm)
    proposal, found = found_in(lab)
    for role, least in (("hair", 0.7), ("eye_white", 0.4), ("iris", 0.4), ("brow", 0.4), ("lips", 0.4)):
        assert overlap(found[role], truth[role]) > least, role
    assert len([a for a in proposal.areas if a.role == "eye_white"]) == 2
    assert all(
        a.flagged.endswith("?") for a in proposal.areas if a.role in (*EYES, "brow", "upper_lip", "lower_lip", "hair_in_light")
    )
    assert len({a.label for a in proposal.areas}) == len(proposal.areas)


def test_a_bald_head_has_no_hair_and_fair_hair_is_not_taken_for_skin():
    assert "hair" not in found_in(head(0.6, bald=True)[0])[1]
    lab, truth = head(0.3, hair=0.3)
    assert overlap(found_in(lab)[1]["hair"], truth["hair"]) > 0.7


@pytest.mark.parametrize("name", list(MELANINS))
def test_the_white_of_a_portraits_eye_is_paler_and_greyer_than_what_is_about_it(name):
    _, _, proposal, measured = read(name)
    whites = [measured[a.label] for a in proposal.areas if a.role == "eye_white"]
    irises = [measured[a.label] for a in proposal.areas if a.role == "iris"]
    assert 1 <= len(whites) <= 2
    assert len(irises) == len(whites)
    base = next(measured[a.label] for a in proposal.areas if a.role == "base").lab
    for white, iris in zip(whites, irises, strict=True):
        assert white.lab[0] > iris.lab[0] + 12
        assert white.lab[1] < base[1]
    hair = [measured[a.label] for a in proposal.areas if a.role.startswith("hair")]
    assert len(hair) == 2
    assert sum(m.covers for m in hair) > 0.03


@pytest.mark.parametrize("name", [n for n in MELANINS if n != "engineer"])
def test_lips_are_redder_than_the_skin_and_the_upper_is_the_darker_where_light_comes_from_above(name):
    # Light from above: common practice, and these portraits' truth; the engineer's, by a lamp below, hides his in a beard.
    lab, skin, proposal, by_label = read(name)
    measured = {a.role: by_label[a.label].lab for a in proposal.areas}
    upper, lower = measured["upper_lip"], measured["lower_lip"]
    assert lower[0] > upper[0] + 3
    # Where two lights meet, lips lie in both, and a zone of the skin in one.
    assert min(upper[1], lower[1]) > base_tone(lab[skin.mask].astype(float))[1] + 2
