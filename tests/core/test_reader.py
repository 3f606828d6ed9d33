"""The colour reader's client against its stand-in on this machine. Invented swatches."""

import socket
import threading

import numpy as np
import pytest

from caltin_core.charts.reader import address_of, take_reading
from caltin_core.colour.difference import delta_e_2000
from caltin_core.colour.spectra import lab_from_reflectance, reflectance_from_lab
from caltin_core.errors import BadRequest
from caltin_core.standins.reader import StandInReader

SWATCHES = list(reflectance_from_lab(np.array([(60.0, 18, 22), (34, 14, 12)])))


@pytest.fixture
def serve():
    served = []

    def start(spectra=SWATCHES, **quirks):
        device = StandInReader(spectra, **quirks)
        threading.Thread(target=device.serve_forever, daemon=True).start()
        served.append(device)
        return f"127.0.0.1:{device.server_address[1]}"

    yield start
    for device in served:
        device.shutdown()
        device.server_close()


def test_readings_are_averaged_past_the_warm_up(serve):
    address = serve(warm=3)
    for swatch in SWATCHES:
        found = take_reading(address)
        assert float(delta_e_2000(lab_from_reflectance(swatch), found.lab)) < 0.5
        assert found.spread < 0.5


def test_a_lost_line_is_dialled_again_but_not_for_ever(serve):
    assert take_reading(serve(warm=0, lost=3)).reflectance.shape == (31,)
    with pytest.raises(BadRequest, match="does not answer"):
        take_reading(serve(warm=0, lost=1))


def test_what_the_device_asks_for_is_passed_on(serve):
    with pytest.raises(BadRequest, match="white tile"):
        take_reading(serve([], warm=0))
    with pytest.raises(BadRequest, match="warming up"):
        take_reading(serve(warm=100))
    with pytest.raises(BadRequest, match="disagree"):
        take_reading(serve(warm=0, each=1), times=2)


def test_without_a_device_or_with_one_elsewhere_there_is_a_sentence():
    with socket.socket() as free:
        free.bind(("127.0.0.1", 0))
        port = free.getsockname()[1]
    with pytest.raises(BadRequest, match="switched on"):
        take_reading(f"127.0.0.1:{port}")
    for elsewhere in ("192.0.2.7:80", "reader.example:80", "127.0.0.1", "127.0.0.1:0", ""):
        with pytest.raises(BadRequest, match="no address on this machine"):
            address_of(elsewhere)
    assert address_of("[::1]:9760") == ("::1", 9760)
