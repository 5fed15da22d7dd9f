"""Reads the parts of an engine file that are given for each role: events, lift, spec, adjuster."""

from decimal import Decimal

from valvetrain.adjusters import KINDS, UNSTATED, Adjuster
from valvetrain.angles import STROKE_DEG, normalise_deg
from valvetrain.document import Node
from valvetrain.engine import Clearance, Events, Role, Spread
from valvetrain.engine_file.fields import ASSUMED_LIFT_MM, EVENT_BASE_DEG, EVENT_FIELDS
from valvetrain.units import Unit


def read_events(node: Node, role: Role) -> Events:
    fallback = Events(0, 1, "cycle")
    if not node.is_object(f"the opening and closing of the {role} valves"):
        return fallback
    if role not in EVENT_FIELDS or "opens_cycle_deg" in node.value:
        opens, closes = read_cycle_events(node, "")
        return Events(opens, closes, "cycle")
    before = len(node.faults)
    open_field, close_field = EVENT_FIELDS[role]
    a = node[open_field].number("crank degrees", low=-180, high=360)
    b = node[close_field].number("crank degrees", low=-180, high=360)
    if len(node.faults) > before:
        return fallback
    duration = STROKE_DEG + a + b
    if duration <= 0:
        node.fault(f"closes {abs(duration):g} degrees before it opens; check the signs")
        return fallback
    opens = normalise_deg(EVENT_BASE_DEG[role] - a)
    return Events(opens, opens + duration, "dead-centres")


def read_cycle_events(node: Node, purpose: str) -> tuple[float, float]:
    opens = node["opens_cycle_deg"].number(f"a cycle angle{purpose}", low=-720, high=1440)
    closes = node["closes_cycle_deg"].number(f"a cycle angle{purpose}", low=-720, high=1440)
    opened = normalise_deg(opens)
    length = normalise_deg(closes - opens)
    if length == 0 and not node["closes_cycle_deg"].missing:
        node.fault("opens and closes at the same angle; give two different cycle angles")
        length = 1.0
    return opened, opened + length


def read_lift(node: Node, role: Role) -> float:
    if node.missing or (isinstance(node.value, dict) and node[role].missing):
        return ASSUMED_LIFT_MM
    if not node.is_object("an object of role and millimetres"):
        return ASSUMED_LIFT_MM
    return node[role].number("full lift in mm", low=0, high=200, above=True, default=1.0)


def read_clearance(node: Node, role: Role) -> Clearance:
    fallback = Clearance(Unit.MM, Spread(Decimal(0), Decimal(0)))
    if not node.is_object("the unit and a range for each role"):
        return fallback
    return _read_spec(node, node[role], f"the {role} clearance") or fallback


def read_closing(node: Node, roles: tuple[Role, ...]) -> dict[Role, Clearance]:
    """The second clearance of valves that are pulled shut, role by role."""
    closing = node["closing"]
    if closing.missing or not closing.is_object("a closing clearance for each role"):
        return {}
    found = {
        role: _read_spec(node, closing[role], f"the {role} closing clearance")
        for role in roles
        if not closing[role].missing
    }
    return {role: spec for role, spec in found.items() if spec is not None}


def _read_spec(clearance: Node, spec: Node, wanted: str) -> Clearance | None:
    """In its own unit where it has one, else in that of all clearances."""
    common = Unit(clearance["unit"].choice("mm", "thou"))
    if not spec.is_object(f"{wanted} as min and max, or nominal, minus and plus"):
        return None
    own, running = spec["unit"], spec["running"]
    unit = common if own.missing else Unit(own.choice("mm", "thou"))
    measured = running["measured"]
    return Clearance(
        unit=unit,
        spread=_spread(spec, unit),
        running=None if running.missing else _spread(running, unit),
        running_measured="" if measured.missing else measured.text("how it is measured"),
    )


def _spread(node: Node, unit: Unit) -> Spread:
    most = 10 if unit is Unit.MM else 400
    wanted = f"a gap in {unit}"
    if not node.is_object("min and max, or nominal, minus and plus"):
        return Spread(Decimal(0), Decimal(0))
    if "nominal" in node.value:
        nominal = node["nominal"].decimal(wanted, high=most)
        minus = Decimal(0) if node["minus"].missing else node["minus"].decimal(wanted, high=most)
        plus = Decimal(0) if node["plus"].missing else node["plus"].decimal(wanted, high=most)
        if minus > nominal:
            node["minus"].fault(
                f"{minus} is more than the nominal {nominal}; gaps are not negative"
            )
        stated = not (node["minus"].missing and node["plus"].missing)
        return Spread(nominal - minus, nominal + plus, nominal, stated)
    low = node["min"].decimal(wanted, high=most)
    high = node["max"].decimal(wanted, high=most)
    if low > high:
        node.fault(f"has min {low} above max {high}; swap them or check the figures")
    return Spread(low, high)


def read_adjusters(node: Node, roles: tuple[Role, ...]) -> tuple[dict[Role, Adjuster], bool]:
    if node.missing:
        return {}, True
    if not node.is_object("an adjuster, or one for each role"):
        return {}, True
    if "kind" in node.value:
        adjuster = _adjuster(node)
        return dict.fromkeys(roles, adjuster), True
    return {role: _adjuster(node[role]) for role in roles if role in node.value}, False


def _adjuster(node: Node) -> Adjuster:
    if not node.is_object("an adjuster with its kind"):
        return UNSTATED
    kind = node["kind"].choice(*KINDS)
    return KINDS[kind].read(node) if kind in KINDS else UNSTATED
