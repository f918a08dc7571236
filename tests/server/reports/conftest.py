"""What the tests of reports share: a person whose jobs are seen by a worker."""

from collections.abc import Iterator

import pytest

from tests.conftest import Api, join
from tests.jobs import no_jobs


@pytest.fixture
def working_api(transactional_db: None) -> Iterator[Api]:
    yield Api(join("isla", "marrowick"), "marrowick")
    no_jobs()
