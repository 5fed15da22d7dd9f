"""Junk for every operation of the API, from its own document: refused in words, never a 500."""

import json
import string

import pytest
from django.test import Client
from hypothesis import HealthCheck, given, settings
from hypothesis import strategies as st

from edrix.api import api
from tests.server.conftest import PASSCODE, Browser

OPERATIONS = [
    (method.upper(), path, operation)
    for path, methods in api.get_openapi_schema()["paths"].items()
    for method, operation in methods.items()
    if path != "/api/session"
]
SCHEMAS = api.get_openapi_schema()["components"]["schemas"]

SCALARS = st.one_of(
    st.none(),
    st.booleans(),
    st.integers(-(10**30), 10**30),
    st.floats(),
    st.text(max_size=12),
    st.sampled_from(["\x00", "\ud800", "1e9", "mm", "thou", "two-stop", "0.25", "NaN", "'; --"]),
)
JUNK = st.recursive(
    SCALARS,
    lambda inside: st.lists(inside, max_size=3) | st.dictionaries(st.text(max_size=6), inside),
    max_leaves=6,
)
HOSTILE_TEXT = st.sampled_from(["a\x00b", "half \ud800", "=1+1", "x" * 100_000, "\u202e", " "])
PATH_WORDS = st.one_of(
    st.integers(-5, 5), st.integers(10**18, 10**30), st.text(string.printable, max_size=8)
)


def body_like(schema):
    """Bodies with the right fields and a mixture of right and wrong values in them."""
    if "$ref" in schema:
        return body_like(SCHEMAS[schema["$ref"].rsplit("/", 1)[1]])
    if "anyOf" in schema:
        return st.one_of([body_like(option) for option in schema["anyOf"]])
    kind = schema.get("type")
    if kind == "object" and schema.get("properties"):
        fields = {name: body_like(inside) for name, inside in schema["properties"].items()}
        return st.one_of(st.fixed_dictionaries(fields), JUNK)
    if kind == "array":
        return st.one_of(st.lists(body_like(schema["items"]), max_size=3), JUNK)
    right = {
        "integer": st.integers(0, 9),
        "number": st.floats(0, 720),
        "string": st.sampled_from(["0.25", "mm", "within", "two-stop", "Stand 9", "k" * 12]),
        "boolean": st.booleans(),
    }
    hostile = {"string": HOSTILE_TEXT, "integer": st.integers(2**31, 2**70)}
    return st.one_of(right.get(kind, JUNK), hostile.get(kind, SCALARS), SCALARS)


def requests_for(operation):
    content = operation.get("requestBody", {}).get("content", {})
    schema = content.get("application/json", {}).get("schema", {})
    names = [p["name"] for p in operation.get("parameters", []) if p["in"] == "path"]
    queries = [p["name"] for p in operation.get("parameters", []) if p["in"] == "query"]
    return st.tuples(
        st.fixed_dictionaries(dict.fromkeys(names, PATH_WORDS)),
        st.fixed_dictionaries({}, optional=dict.fromkeys(queries, SCALARS)),
        body_like(schema),
    )


def as_bytes(body):
    """JSON as a careless client writes it, NaN and lone surrogates included."""
    return json.dumps(body).encode()


@pytest.mark.parametrize(
    ("method", "path", "operation"), OPERATIONS, ids=[f"{m} {p}" for m, p, _ in OPERATIONS]
)
@settings(
    max_examples=30,
    suppress_health_check=[HealthCheck.function_scoped_fixture, HealthCheck.too_slow],
)
@given(data=st.data())
def test_junk_is_refused_in_words(school, method, path, operation, data):
    ids, query, body = data.draw(requests_for(operation))
    client = school_browser(school)
    known = {
        "engine_id": school.engine_id,
        "class_id": school.class_a,
        "stand_id": school.stand.id,
        "sheet_id": school.sheet.id,
    }
    real = data.draw(st.booleans())
    address = path.format(
        **{name: known.get(name, word) if real else word for name, word in ids.items()}
    )
    answer = client.generic(
        method,
        # The client quotes what an address cannot hold.
        address.replace("\n", "").replace("\r", "").replace("?", "%3F").replace("#", "%23"),
        as_bytes(body),
        content_type="application/json",
        query_params={k: str(v).encode(errors="replace").decode() for k, v in query.items()},
        headers={"X-CSRFToken": client.cookies["csrftoken"].value},
    )
    assert answer.status_code < 500, (address, query, body, answer.content)
    if answer.status_code >= 400 and answer["Content-Type"] == "application/problem+json":
        assert answer.json()["detail"].strip()


RIGHT = {"integer": 1, "number": 0.0, "string": "0.25 mm", "boolean": False, None: None}


def with_one_text_spoilt(schema):
    """Right bodies in each of which one text, wherever it stands, holds a NUL."""
    if "$ref" in schema:
        return with_one_text_spoilt(SCHEMAS[schema["$ref"].rsplit("/", 1)[1]])
    if "anyOf" in schema:
        return with_one_text_spoilt(schema["anyOf"][0])
    if schema.get("type") == "array":
        whole, spoilt = with_one_text_spoilt(schema["items"])
        return [whole], [[item] for item in spoilt]
    if schema.get("type") == "object" and "properties" not in schema:
        return {"do": "rock"}, [{"do": "a\x00b"}, {"a\x00b": 1}]
    if schema.get("type") == "object":
        parts = {n: with_one_text_spoilt(inside) for n, inside in schema["properties"].items()}
        whole = {name: part[0] for name, part in parts.items()}
        return whole, [
            {**whole, name: bad} for name, (_, spoilt) in parts.items() for bad in spoilt
        ]
    right = RIGHT[schema.get("type")]
    return right, ["a\x00b"] if schema.get("type") == "string" else []


BODIES = [
    (method, path, bad)
    for method, path, operation in OPERATIONS
    if "properties"
    in SCHEMAS.get(
        operation.get("requestBody", {})
        .get("content", {})
        .get("application/json", {})
        .get("schema", {})
        .get("$ref", "")
        .rsplit("/", 1)[-1],
        {},
    )
    for bad in with_one_text_spoilt(
        operation["requestBody"]["content"]["application/json"]["schema"]
    )[1]
]


@pytest.mark.parametrize(
    ("method", "path", "body"), BODIES, ids=[f"{m} {p} {n}" for n, (m, p, _) in enumerate(BODIES)]
)
def test_no_text_anywhere_may_hold_a_nul(school, browsers, method, path, body):
    ids = {
        "class_id": school.class_a,
        "student_id": school.bo.id,
        "stand_id": school.stand.id,
        "sheet_id": school.sheet.id,
        "rota_id": 1,
        "question_id": 1,
        "lesson_id": 1,
        "drill_id": 1,
        "number": 1,
        "line_id": 1,
        "opening_id": 1,
        "run_id": school.run_id,
        "try_id": 1,
        "shim_id": 1,
        "held_id": 1,
        "hand_in_id": 1,
        "practice_id": school.practice.id,
        "engine_id": school.engine_id,
        "person_id": 1,
        "place": "paper-1",
    }
    who = "student" if path.endswith(("hand-in", "draft", "actions")) else "instructor"
    answer = browsers[who].send(method, path.format(**ids), body)
    assert answer.status_code == 422
    assert "has control characters in it; give plain text" in answer.json()["detail"]


_SIGNED_IN: dict[int, Client] = {}


def school_browser(school) -> Client:
    """One sign-in for each test, not for each example."""
    if school.tove.id not in _SIGNED_IN:
        _SIGNED_IN.clear()
        browser = Browser()
        assert browser.sign_in("tove", PASSCODE).status_code == 200
        _SIGNED_IN[school.tove.id] = browser
    return _SIGNED_IN[school.tove.id]
