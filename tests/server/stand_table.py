"""Least privilege at the stands of the school, as rows of the table in `who_may_what.py`."""

from typing import Any

LOG_BODY = {"what": "note", "note": "New gasket on the shelf."}

TABLE: list[Any] = [
    (
        "see the hall",
        ("GET", lambda _: "/api/stands", lambda _: None),
        (401, 200, 200, 403, 403, 403),
    ),
    (
        "put a stand into the hall",
        (
            "POST",
            lambda _: "/api/stands",
            lambda s: {"name": "Stand 12", "engine_id": s.engine_id},
        ),
        (401, 201, 201, 403, 403, 403),
    ),
    (
        "let a class of one's own use a stand",
        ("PUT", lambda s: f"/api/classes/{s.class_b}/stands/{s.stand.id}", lambda _: None),
        (401, 404, 204, 404, 404, 403),
    ),
    (
        "stop using a stand",
        (
            "PATCH",
            lambda s: f"/api/classes/{s.class_a}/stands/{s.stand.id}",
            lambda _: {"away": True},
        ),
        (401, 204, 404, 403, 403, 404),
    ),
    (
        "say that a stand is cold",
        ("POST", lambda s: f"/api/stands/{s.stand.id}/cold", lambda _: None),
        (401, 204, 404, 403, 403, 404),
    ),
    (
        "read a logbook",
        ("GET", lambda s: f"/api/stands/{s.stand.id}/log", lambda _: None),
        (401, 200, 404, 403, 403, 404),
    ),
    (
        "write in a logbook",
        ("POST", lambda s: f"/api/stands/{s.stand.id}/log", lambda _: LOG_BODY),
        (401, 201, 404, 403, 403, 404),
    ),
    (
        "see where the gaps go",
        ("GET", lambda s: f"/api/stands/{s.stand.id}/trend", lambda _: None),
        (401, 200, 404, 403, 403, 404),
    ),
    (
        "take a logbook home",
        ("GET", lambda s: f"/api/stands/{s.stand.id}/log.csv", lambda _: None),
        (401, 200, 404, 403, 403, 404),
    ),
    (
        "print a logbook",
        ("GET", lambda s: f"/api/stands/{s.stand.id}/log.pdf", lambda _: None),
        (401, 200, 404, 403, 403, 404),
    ),
    (
        "print a stand's label",
        ("GET", lambda s: f"/api/stands/{s.stand.id}/label.pdf", lambda _: None),
        (401, 200, 404, 403, 403, 404),
    ),
    (
        "see the shim store",
        ("GET", lambda _: "/api/store", lambda _: None),
        (401, 200, 200, 403, 403, 403),
    ),
    (
        "put a size into the shim store",
        ("POST", lambda _: "/api/store/sizes", lambda _: {"diameter": "29", "size": "2.4"}),
        (401, 201, 201, 403, 403, 403),
    ),
    (
        "print a counting sheet",
        ("GET", lambda _: "/api/store/count.pdf", lambda _: None),
        (401, 200, 200, 403, 403, 403),
    ),
    (
        "take the order list",
        ("GET", lambda _: "/api/store/order.csv", lambda _: None),
        (401, 200, 200, 403, 403, 403),
    ),
]
