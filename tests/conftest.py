"""What every test may use."""

import numpy as np
import pytest
from hypothesis import HealthCheck, settings

settings.register_profile("caltin", deadline=None, max_examples=15, suppress_health_check=[HealthCheck.too_slow], derandomize=True)
settings.load_profile("caltin")


@pytest.fixture
def rng():
    return np.random.default_rng(20261124)
