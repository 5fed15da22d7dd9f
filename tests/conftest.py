"""The database of the tests: a private cluster, started for the run and stopped after it.

It is started before Django reads its settings, and only where database tests are collected
with the server's settings. EDRIX_DATABASE_URL names another PostgreSQL to use instead.
"""

import os
from collections.abc import Iterator
from typing import Any

import pytest
from hypothesis import settings as hypothesis_settings

from ops.cluster import Cluster

hypothesis_settings.register_profile("edrix", max_examples=60, deadline=None)
hypothesis_settings.load_profile("edrix")


@pytest.fixture(scope="session")
def _cluster() -> Iterator[None]:
    if os.environ.get("EDRIX_DATABASE_URL"):
        yield
        return
    # Each worker of a run on both cores has a cluster of its own, and stops its own.
    cluster = Cluster(f"tests{os.environ.get('PYTEST_XDIST_WORKER', '')}", durable=False)
    _use(cluster.start())
    yield
    cluster.stop()


@pytest.fixture(scope="session")
def django_db_modify_db_settings(_cluster: None) -> None:
    """pytest-django calls this before it makes the test database."""


def _use(url: str) -> None:
    from django.db import connections

    from edrix.settings import _database

    found: dict[str, Any] = _database(url)
    connections.settings["default"].update(found)
    connections["default"].settings_dict.update(found)
