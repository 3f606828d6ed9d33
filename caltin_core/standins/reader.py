"""A stand-in for a colour reader: answers on a port of this machine with the quirks of a real one.

``python -m caltin_core.standins.reader 9760`` serves made-up swatches, one after another.
"""

import socketserver
import sys
import threading
from collections.abc import Sequence
from typing import Any

import numpy as np

from caltin_core.colour.spectra import reflectance_from_lab
from caltin_core.colour.tables import BAND_START, BAND_STEP, Floats

_SWATCHES = ((62, 18, 20), (38, 16, 14), (84, 6, 14), (50, 34, 30), (70, 2, 8))


class StandInReader(socketserver.ThreadingTCPServer):
    """Serves `spectra` (n, 31), each for `each` readings: its lamp warms up over some, its line drops every `lost` readings,
    every reading has noise."""

    allow_reuse_address = True
    daemon_threads = True

    def __init__(
        self, spectra: Sequence[Floats], port: int = 0, *, warm: int = 2, lost: int = 0, noise: float = 0.002, each: int = 3
    ) -> None:
        super().__init__(("127.0.0.1", port), _Talk)
        self.spectra, self.warm, self.lost, self.noise, self.each = list(spectra), warm, lost, noise, each
        self.rng, self.asked, self.told, self.lock = np.random.default_rng(0), 0, 0, threading.Lock()

    def answer(self) -> bytes | None:
        """The next line, or None where the line drops."""
        with self.lock:
            self.asked += 1
            if self.lost and self.asked % self.lost == 0:
                return None
            if self.asked <= self.warm:
                return f"WARMING {self.warm - self.asked + 1}\n".encode()
            if not self.spectra:
                return b"ERROR lay it on the white tile first\n"
            bands = self.spectra[(self.told // self.each) % len(self.spectra)]
            self.told += 1
            seen = np.clip(bands * (1 + self.rng.normal(0, self.noise)) + self.rng.normal(0, self.noise / 4, bands.size), 0, 1)
            return f"OK {BAND_START} {BAND_STEP} {' '.join(f'{v:.5f}' for v in seen)}\n".encode()


class _Talk(socketserver.StreamRequestHandler):
    def handle(self) -> None:
        reader: Any = self.server
        for line in self.rfile:
            out = reader.answer() if line.strip() == b"READ" else b"ERROR say READ\n"
            if out is None:
                return
            self.wfile.write(out)


if __name__ == "__main__":
    with StandInReader(list(reflectance_from_lab(np.array(_SWATCHES, dtype=float))), int(sys.argv[1])) as served:
        served.serve_forever()
