"""Reading documents: every reader gives a usable value, or one fault with path and remedy."""

import math

import pytest

from valvetrain.document import DocumentError, Fault, Node, shown


def read(value, act):
    """What a reader gave, and the faults it noted."""
    node = Node({"field": value})
    given = act(node["field"])
    return given, [str(fault) for fault in node.faults]


@pytest.mark.parametrize(
    ("value", "given", "fault"),
    [
        (5, 5.0, None),
        (5.5, 5.5, None),
        (0, 0.0, None),
        (10, 10.0, None),
        (10.001, 1.0, "$.field: is 10.001; give a size, from 0 to 10"),
        (-1, 1.0, "$.field: is -1; give a size, from 0 to 10"),
        (math.inf, 1.0, "$.field: is Infinity; give a size, from 0 to 10"),
        ("5", 1.0, '$.field: is "5"; give a size'),
        (None, 1.0, "$.field: is null; give a size"),
        (True, 1.0, "$.field: is true; give a size"),
    ],
)
def test_numbers(value, given, fault):
    got, faults = read(value, lambda n: n.number("a size", low=0, high=10, default=1.0))
    assert got == given
    assert faults == ([fault] if fault else [])


def test_a_number_that_must_be_above_its_limit():
    _, faults = read(0, lambda n: n.number("a pitch", low=0, high=10, above=True))
    assert faults == ["$.field: is 0; give a pitch, above 0 to 10"]


@pytest.mark.parametrize(
    ("value", "given", "right"),
    [(3, 3, True), (3.0, 3, True), (3.5, 1, False), (False, 1, False), (9, 1, False)],
)
def test_whole_numbers(value, given, right):
    got, faults = read(value, lambda n: n.whole("a count", low=1, high=4))
    assert got == given
    assert faults == (
        [] if right else [f"$.field: is {shown(value)}; give a count, a whole number from 1 to 4"]
    )


def test_choices_and_truths():
    assert read("b", lambda n: n.choice("a", "b")) == ("b", [])
    assert read("c", lambda n: n.choice("a", "b")) == ("a", ['$.field: is "c"; give one of a, b'])
    assert read(True, Node.yes_no) == (True, [])
    assert read("yes", Node.yes_no) == (False, ['$.field: is "yes"; give true or false'])


def test_what_is_missing_is_said_to_be():
    node = Node({})
    assert node["gap"].missing
    node["gap"].text("the gap")
    assert [str(fault) for fault in node.faults] == ["$.gap: is missing; give the gap"]


def test_lists_have_a_path_for_each_entry_and_a_limit():
    node = Node({"list": [1, "x"]})
    numbers = [e.whole("a number", low=0, high=9) for e in node["list"].items("a list", most=5)]
    assert numbers == [1, 0]
    assert node.faults == [Fault("$.list[1]", 'is "x"; give a number, a whole number from 0 to 9')]
    assert list(node["list"].items("a list", most=1)) == []
    assert node.faults[-1].problem == "has 2 entries; give at most 1"


def test_faults_are_collected_and_the_first_is_told():
    error = DocumentError([Fault("$.a", "is wrong"), Fault("$.b", "is worse")])
    assert str(error) == "$.a: is wrong (and 1 more)"
    assert len(error.faults) == 2


def test_values_are_shown_short():
    assert shown("x" * 500) == '"' + "x" * 56 + "…"
    nested: list = []
    nested.append(nested)
    assert shown(nested) == "something nested too deep"
