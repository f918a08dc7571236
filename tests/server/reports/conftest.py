"""What the tests of reports share: a person whose jobs are seen by a worker."""

from collections.abc import Iterator

import pytest
from procrastinate.contrib.django.models import ProcrastinateJob

from tests.conftest import Api, join


@pytest.fixture
def working_api(transactional_db: None) -> Iterator[Api]:
    yield Api(join("isla", "marrowick"), "marrowick")
    ProcrastinateJob.objects.all()._raw_delete("default")
