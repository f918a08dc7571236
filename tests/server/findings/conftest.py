"""A KPI with a finding."""

import pytest

from tests.conftest import Api
from tests.server.findings.log import STEADY


@pytest.fixture
def ramp(api: Api) -> str:
    return api.add_kpi("Ramp cycle", [*STEADY[:7], 35.0, *STEADY[7:]], direction="lower")
