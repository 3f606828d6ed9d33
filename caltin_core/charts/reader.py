"""A colour reader on this machine: asked for spectra over a line of text, its warm-up and lost lines borne with.

The device answers every line `READ` with one of

    WARMING n          the lamp needs n more readings before it is steady
    OK start step v…   reflectance 0-1 from `start` nm in steps of `step` nm
    ERROR words        what the user has to do
"""

import ipaddress
import socket
from dataclasses import dataclass

import numpy as np

from caltin_core.colour.difference import delta_e_2000
from caltin_core.colour.spectra import lab_from_reflectance, reflectance_from_samples
from caltin_core.colour.tables import Floats
from caltin_core.errors import BadRequest

_WAIT = 5.0
_LINES, _LONGEST = 40, 4096
# Readings of one place that lie farther from their middle than this were of another place, in ΔE00.
_ASTRAY = 1.5


@dataclass(frozen=True)
class Reading:
    """The mean reflectance (31,) of some readings of one place, and their median ΔE00 to it."""

    reflectance: Floats
    spread: float

    @property
    def lab(self) -> Floats:
        """D50 CIELAB (3,)."""
        return lab_from_reflectance(self.reflectance)


def address_of(text: str) -> tuple[str, int]:
    """Host and port of `127.0.0.1:9760`. Raises BadRequest for anything that is not on this machine."""
    host, _, port = text.rpartition(":")
    try:
        if not ipaddress.ip_address(host.strip("[]")).is_loopback or not 0 < int(port) < 65536:
            raise ValueError
    except ValueError:
        raise BadRequest("reader", f"“{text}” is no address on this machine, such as 127.0.0.1:9760") from None
    return host.strip("[]"), int(port)


def take_reading(address: str, times: int = 3) -> Reading:
    """Read the place under the device `times` and average; one lost line is dialled again.

    Raises BadRequest when there is no device, it goes on asking for something, or its readings disagree.
    """
    host, port = address_of(address)
    found: list[Floats] = []
    for attempt in (1, 2):
        try:
            with socket.create_connection((host, port), timeout=_WAIT) as line, line.makefile("rwb") as talk:
                for _ in range(_LINES):
                    if len(found) == times:
                        break
                    talk.write(b"READ\n")
                    talk.flush()
                    answer = talk.readline(_LONGEST)
                    if not answer:
                        raise ConnectionError
                    heard = _heard(answer)
                    if heard is not None:
                        found.append(heard)
        except OSError:
            if attempt == 2:
                raise BadRequest("reader", "the colour reader does not answer; is it switched on and connected?") from None
            continue
        break
    if len(found) < times:
        raise BadRequest("reader", "the colour reader is still warming up; try again in a minute")
    return _averaged(np.array(found))


def _heard(answer: bytes) -> Floats | None:
    """The bands (31,) of an answer, or None while the lamp warms up."""
    word, *rest = answer.decode("ascii", "replace").split()[:1000] or [""]
    if word == "WARMING":
        return None
    if word == "ERROR":
        raise BadRequest("reader", f"the colour reader says: {' '.join(rest)[:120]}")
    try:
        start, step, *values = (float(v) for v in rest)
        if word != "OK" or not values:
            raise ValueError
    except ValueError:
        raise BadRequest("reader", "the colour reader said something that is no reading") from None
    return reflectance_from_samples(start, step, np.clip(np.array(values), 0, 1))


def _averaged(bands: Floats) -> Reading:
    middle = np.median(bands, axis=0)
    away = delta_e_2000(lab_from_reflectance(middle), lab_from_reflectance(bands))
    if float(np.median(away)) > _ASTRAY:
        raise BadRequest("reader", f"the readings disagree by {float(np.median(away)):.1f}; hold the reader flat on one place")
    return Reading(bands[away <= _ASTRAY].mean(axis=0), float(np.median(away)))
