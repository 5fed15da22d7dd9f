"""Engines that the core tests are made of, each by its firing order."""

from collections.abc import Sequence
from typing import Any

import pytest

from valvetrain.engine import Engine
from valvetrain.engine_file import read_engine

Document = dict[str, Any]

MIRRORED = ("exhaust", "intake", "intake", "exhaust")
"""Roles from the front that alternate like a mirror: E I I E E I I E."""


def engine_document(order: Sequence[int], **fields: Any) -> Document:
    """A plain in-line push-rod engine with this firing order and a mirrored head.

    Timing is that of the example in docs/engine-file.md; its bottom-end numbers (opens 12
    before, closes 46 after...) are ordinary for a small pump engine.
    """
    count = len(order)
    valves = []
    for cylinder in range(1, count + 1):
        pair = MIRRORED[:2] if cylinder % 2 else MIRRORED[2:]
        valves += [
            {"number": len(valves) + i, "cylinder": cylinder, "role": r}
            for i, r in enumerate(pair, 1)
        ]
    document: Document = {
        "format": "edrix-engine/1",
        "name": f"Test engine {'-'.join(map(str, order))}",
        "cylinders": count,
        "firing_order": list(order),
        "timing": {
            "intake": {"opens_btdc": 12, "closes_abdc": 46},
            "exhaust": {"opens_bbdc": 48, "closes_atdc": 14},
        },
        "lift_mm": {"intake": 8.4, "exhaust": 8.1},
        "ramp_deg": 16,
        "valves": valves,
        "clearance": {
            "unit": "mm",
            "intake": {"min": 0.22, "max": 0.28},
            "exhaust": {"min": 0.32, "max": 0.38},
        },
        "marks": [
            {"on": "crank", "label": "0", "deg": 0, "means": "tdc"},
            {"on": "crank", "label": "F", "deg": 348, "means": "ignition"},
        ],
    }
    return document | fields


def engine_firing(order: Sequence[int], **fields: Any) -> Engine:
    return read_engine(engine_document(order, **fields))


@pytest.fixture
def four() -> Engine:
    """1-3-4-2 with a mirrored head: the demo's kind of engine."""
    return engine_firing([1, 3, 4, 2], geometry={"bore_mm": 70, "stroke_mm": 66, "rod_mm": 110})


@pytest.fixture
def odd_twin() -> Engine:
    """A parallel twin on a 180-degree crank: fires at 0 and 180."""
    return engine_firing([1, 2], layout="parallel-twin", firing_intervals_deg=[180, 540])


@pytest.fixture
def three() -> Engine:
    return engine_firing([1, 3, 2])
