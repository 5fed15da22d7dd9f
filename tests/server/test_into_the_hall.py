"""The migration that makes stands of classes stands of the school: nothing is lost, names stay told
apart."""

import pytest
from django.db import connection
from django.db.migrations.executor import MigrationExecutor
from django.utils import timezone

from tests.server.conftest import KEPT

LATER = {"stands", "logbook", "store", "rota"}


def to_the_newest():
    executor = MigrationExecutor(connection)
    executor.migrate(executor.loader.graph.leaf_nodes())


@pytest.fixture
def before(transactional_db):
    """The tables as they were, and as they are again afterwards."""
    executor = MigrationExecutor(connection)
    executor.migrate([("stands", "0005_closing_gaps")])
    loader = MigrationExecutor(connection).loader
    others = [node for node in loader.graph.leaf_nodes() if node[0] not in LATER]
    yield loader.project_state([*others, ("stands", "0005_closing_gaps")]).apps
    to_the_newest()
    # Tables that were made anew count from 1 again, and would meet the rows that are laid out.
    KEPT.clear()


def test_two_classes_had_a_stand_of_one_name(before):
    User = before.get_model("accounts", "User")
    tove = User.objects.create(sign_in_name="tove", display_name="Tove", may_teach=True)
    teaching = before.get_model("classes", "TeachingClass")
    Engine = before.get_model("engines", "Engine")
    versions = before.get_model("engines", "EngineVersion")
    Stand = before.get_model("stands", "Stand")
    Key = before.get_model("stands", "Key")
    engine = Engine.objects.create(name="Pump", created_by=tove)
    version = versions.objects.create(engine=engine, number=1, document={}, created_by=tove)
    away = timezone.now()
    for name, put_away_at in (("Spring", None), ("Winter", away)):
        made = teaching.objects.create(name=name, created_by=tove)
        stand = Stand.objects.create(
            name="Stand 3", teaching_class=made, engine_version=version, put_away_at=put_away_at
        )
        Key.objects.create(stand=stand, number=1, made_by=tove)
    to_the_newest()
    from edrix.stands.models import ClassStand
    from edrix.stands.models import Key as KeyNow

    told = {
        (use.teaching_class.name, use.stand.name, use.stand.put_away_at, use.stand.created_by_id)
        for use in ClassStand.objects.select_related("teaching_class", "stand")
    }
    assert told == {
        ("Spring", "Stand 3", None, tove.id),
        ("Winter", "Stand 3 (Winter)", away, tove.id),
    }
    assert sorted(key.stand.name for key in KeyNow.objects.select_related("stand")) == [
        "Stand 3",
        "Stand 3 (Winter)",
    ]
