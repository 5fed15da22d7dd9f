"""Engines to travel on: the demo school's, and sixty that hypothesis makes.

The made ones have one to twenty-four cylinders, every valve train, even and uneven firing, every
adjuster, brake lash up to 8 mm, bridges, specs in mm and thou, of two limits or of one figure.
"""

import json
from typing import Any

from hypothesis import HealthCheck, Phase, given, settings
from hypothesis import strategies as st

from ops.paths import ROOT
from valvetrain.document import DocumentError
from valvetrain.engine import Engine
from valvetrain.engine_file import read_engine

Json = dict[str, Any]
MADE = 60


def demo_documents() -> dict[str, Json]:
    files = sorted((ROOT / "demo" / "engines").glob("*.json"))
    return {path.stem[:2]: json.loads(path.read_text()) for path in files}


def demo_engines() -> dict[str, Engine]:
    return {name: read_engine(document) for name, document in demo_documents().items()}


TRAINS = (
    "pushrod-rocker", "overhead-rocker", "finger", "bucket", "side-valve", "positive-closing",
)  # fmt: skip
CYLINDERS = (1, 2, 3, 4, 5, 6, 8, 10, 12, 16, 24)


@st.composite
def documents(draw: st.DrawFn) -> Json:
    """Engine files as an instructor might write them."""
    cylinders = draw(st.sampled_from(CYLINDERS))
    order = draw(st.permutations(range(2, cylinders + 1)))
    train = draw(st.sampled_from(TRAINS))
    roles = ["intake", "exhaust"]
    has_brake = train in ("pushrod-rocker", "overhead-rocker") and draw(st.booleans())
    if has_brake:
        roles.append("brake")
    document: Json = {
        "format": "edrix-engine/1",
        "name": "Made engine",
        "cylinders": cylinders,
        "layout": "inline" if cylinders > 1 else "single",
        "firing_order": [1, *order],
        "timing": {
            "intake": {
                "opens_btdc": draw(st.integers(-10, 28)),
                "closes_abdc": draw(st.integers(30, 62)),
            },
            "exhaust": {
                "opens_bbdc": draw(st.integers(36, 62)),
                "closes_atdc": draw(st.integers(-5, 28)),
            },
            "brake": {"opens_cycle_deg": 660, "closes_cycle_deg": 60},
        },
        "lift_mm": {"intake": 8.5, "exhaust": 8.0, "brake": 2.0},
        "ramp_deg": draw(st.sampled_from((8, 15, 22))),
        "valves": [
            {"number": place * len(roles) + at, "cylinder": place + 1, "role": role}
            for place in range(cylinders)
            for at, role in enumerate(roles, 1)
        ],
        "clearance": draw(clearances(has_brake)),
        "adjuster": draw(adjusters(train)),
        "valve_train": train,
        "marks": [{"on": "crank", "label": "0", "deg": 0, "means": "tdc"}],
        "ignition": {
            "kind": draw(st.sampled_from(("spark", "compression"))),
            "start": [draw(st.sampled_from(("electric", "hand")))],
        },
        "turning": {
            "reverse_allowed": draw(st.booleans()),
            "backlash_deg": draw(st.integers(0, 3)),
        },
    }
    if cylinders in (2, 4, 6) and draw(st.booleans()):
        document["firing_intervals_deg"] = uneven(cylinders, draw(st.integers(5, 60)))
    if train == "pushrod-rocker" and draw(st.booleans()):
        document["bridges"] = ["intake", "exhaust"]
    if train == "positive-closing":
        closing = {"min": 0, "max": 0.05} if document["clearance"]["unit"] == "mm" else {
            "min": 0, "max": 2}  # fmt: skip
        document["clearance"]["closing"] = {"intake": closing, "exhaust": closing}
        document["closing_adjuster"] = document["adjuster"]
    for part in ("timing", "lift_mm"):
        document[part] = {role: document[part][role] for role in roles}
    return document


def uneven(cylinders: int, by_deg: int) -> list[float]:
    even = 720 / cylinders
    return [even + (by_deg if at % 2 else -by_deg) for at in range(cylinders)]


@st.composite
def clearances(draw: st.DrawFn, has_brake: bool) -> Json:
    unit = draw(st.sampled_from(("mm", "thou")))
    one_figure = draw(st.booleans())
    spec: Json = {"unit": unit, "engine": draw(st.sampled_from(("cold", "cold", "hot")))}
    for role in ("intake", "exhaust"):
        if unit == "mm":
            low = draw(st.integers(5, 60)) / 100
            wide = draw(st.sampled_from((0.04, 0.05, 0.08, 0.1)))
        else:
            low, wide = draw(st.integers(3, 24)), draw(st.integers(2, 4))
        limits = {"min": low, "max": round(low + wide, 2)}
        spec[role] = {"nominal": low} if one_figure else limits
    if has_brake:
        low = draw(st.integers(5, 79)) / 10
        if unit == "thou":
            low = round(low / 0.0254)
        wide = 0.1 if unit == "mm" else 4
        spec["brake"] = {"min": low, "max": round(low + wide, 2)}
        if draw(st.booleans()):
            spec["brake"]["running"] = {
                "min": round(low - wide, 2),
                "max": round(low + 2 * wide, 2),
            }
    return spec


@st.composite
def adjusters(draw: st.DrawFn, train: str) -> Json:
    if train in ("bucket", "positive-closing") or (train == "finger" and draw(st.booleans())):
        place = "under-follower" if train != "bucket" else draw(
            st.sampled_from(("under-bucket", "over-bucket")))  # fmt: skip
        return {
            "kind": "shim",
            "place": place,
            "sizes_mm": {
                "from": 1.5,
                "to": 3.5,
                "step": draw(st.sampled_from((0.025, 0.04, 0.05))),
            },
            "cams_out": place == "under-bucket",
        }
    screw: Json = {"kind": "screw", "pitch_mm": draw(st.sampled_from((0.75, 1.0, 1.25, 1.5)))}
    if train == "pushrod-rocker":
        screw |= {"screw_at": "pushrod", "rocker_ratio": draw(st.sampled_from((1.2, 1.45, 1.6)))}
    if draw(st.booleans()):
        screw["locknut_torque_nm"] = draw(st.integers(9, 60))
    return screw


def made_documents(count: int = MADE) -> list[Json]:
    """The same engines in every run."""
    found: list[Json] = []

    @settings(
        max_examples=20 * count,
        derandomize=True,
        database=None,
        phases=(Phase.generate,),
        suppress_health_check=list(HealthCheck),
        deadline=None,
    )
    @given(documents())
    def collect(document: Json) -> None:
        try:
            engine = read_engine(document)
        except DocumentError:
            return
        alike = sum(one["cylinders"] == document["cylinders"] for one in found)
        if len(found) < count and alike < -(-count // len(CYLINDERS)) and engine.valves:
            found.append(document | {"name": f"Made engine {len(found) + 1}"})

    collect()
    return found
