"""Patterns are engine files that nobody has to mend before beginning."""

import jsonschema
import pytest

from valvetrain.engine_file import engine_schema, read_engine
from valvetrain.patterns import patterns
from valvetrain.sequences import make_plan
from valvetrain.suspicions import suspicions


@pytest.mark.parametrize("pattern", patterns(), ids=lambda pattern: pattern.id)
def test_each_is_right_unsuspicious_and_can_be_planned(pattern):
    jsonschema.validate(pattern.document, engine_schema())
    engine = read_engine(pattern.document)
    assert suspicions(engine) == ()
    assert make_plan(engine, "fewest-stops").complete


def test_ids_and_names_are_unique():
    assert len({p.id for p in patterns()}) == len({p.says for p in patterns()}) == len(patterns())


def test_each_call_gives_documents_of_its_own():
    patterns()[0].document["name"] = "spoilt"
    assert patterns()[0].document["name"] == "New engine"
