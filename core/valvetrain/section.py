"""One cylinder cut open, to scale: crank, rod, bore, and the true profile of every lobe.

A cam's profile is the envelope of its follower's face as the face goes round it. For a flat face at
h = R + s from the axis, with s the follower's lift and s' its slope in the cam's angle t (radians),

    x = h sin t + s' cos t,    y = h cos t - s' sin t

and it is convex while R + s + s'' > 0. For a round face of radius r the centre runs on the pitch
curve at R + r + s, and the profile lies r inside it along the normal. (R. L. Norton, Cam Design and
Manufacturing Handbook, chapter on cam curvature and profiles; J. J. Uicker, G. R. Pennock and
J. E. Shigley, Theory of Machines and Mechanisms, chapter on cam design; both from memory.)
"""

from dataclasses import replace
from typing import NamedTuple

import numpy as np

from valvetrain.angles import CYCLE_DEG
from valvetrain.constants import (
    BASE_PER_LIFT,
    BORE_PER_LIFT,
    CAM_STEP_DEG,
    FINGER_RATIO,
    LARGEST_PAD,
    LEAST_BASE_MM,
    LEAST_CURVATURE_MM,
    MOST_BASE_PER_LIFT,
    PAD_PER_BASE,
    PAD_STEP,
    RAMP_STEP_DEG,
    ROCKER_RATIO,
    ROD_PER_STROKE,
)
from valvetrain.engine import Engine, Geometry, Role, ValveTrain
from valvetrain.lobe import FloatArray, Lobe, lobe_of
from valvetrain.piston import piston_from_tdc_mm

_FLAT = (ValveTrain.PUSHROD, ValveTrain.BUCKET, ValveTrain.SIDE_VALVE)
"""Followers with a flat face; the pads of the others are round. A brake rocker rides its lobe with
a roller, whatever moves the valves beside it: no flat face follows a lash of millimetres."""


class Cam(NamedTuple):
    """A lobe whose nose points along +y where its valve is open furthest.

    pad_mm is the radius of a round follower's face, 0 for a flat one; ratio is the valve's lift for
    each millimetre of the follower's at the cam. x_mm and y_mm are a closed curve.
    """

    base_mm: float
    pad_mm: float
    ratio: float
    x_mm: FloatArray
    y_mm: FloatArray
    closing: "ClosingCam | None" = None
    """Its twin, where the valve is pulled shut."""
    short_mm: float = 0.0
    """By how much a flat follower at most stands below its lift, where no cam of a usual size gives
    it all of that; 0 where it touches everywhere."""


class ClosingCam(NamedTuple):
    """The lobe that pulls a valve shut, on the same shaft: round where the valve is shut, cut away
    where it is open. Its rocker's pad lies opposite to the other's, so that its hollow is at -y
    where the valve is open furthest. A closed curve, in mm; base_mm is its round side."""

    base_mm: float
    pad_mm: float
    x_mm: FloatArray
    y_mm: FloatArray


class Section(NamedTuple):
    bore_mm: float
    stroke_mm: float
    rod_mm: float
    to_scale: bool
    """Whether these are the file's; otherwise usual proportions."""
    piston_mm: FloatArray
    """How far the piston is below its top at every crank degree, 0 to 719."""
    cams: dict[Role, Cam]


def section_of(engine: Engine) -> Section:
    sizes = engine.geometry
    usual_mm = max(engine.lift_mm[role] for role in engine.roles) * BORE_PER_LIFT
    stroke_mm = sizes.stroke_mm if sizes is not None else usual_mm
    rod_mm = sizes.rod_mm if sizes is not None else stroke_mm * ROD_PER_STROKE
    bore_mm = sizes.bore_mm if sizes is not None and sizes.bore_mm is not None else None
    return Section(
        bore_mm=bore_mm if bore_mm is not None else stroke_mm,
        stroke_mm=stroke_mm,
        rod_mm=rod_mm,
        to_scale=bore_mm is not None,
        piston_mm=piston_from_tdc_mm(Geometry(stroke_mm, rod_mm), np.arange(CYCLE_DEG)),
        cams={role: cam_of(engine, role) for role in engine.roles},
    )


def cam_of(engine: Engine, role: Role) -> Cam:
    """The lobe of a role: its profile from the lift at the valve and the kind of follower."""
    # A decompressor is a part of its own, not of the lobe.
    lobe = replace(lobe_of(engine, role), bump=None)
    ratio = _ratio(engine, role)
    cam_deg = _profile_deg(lobe)
    lift, slope, bend = _lift_at_cam(lobe, ratio, cam_deg)
    highest_mm = float(lift.max())
    base_mm = max(highest_mm * BASE_PER_LIFT, LEAST_BASE_MM)
    if role is Role.BRAKE:
        # It sits on the shaft of the others, and its roller is the larger for it.
        beside = [cam_of(engine, other).base_mm for other in engine.roles if other is not role]
        base_mm = max([base_mm, *beside])
    elif engine.train_of(role) in _FLAT:
        return _flat_cam(base_mm, ratio, cam_deg, lift, slope, bend)
    pad_mm = _pad_mm(base_mm, lift, slope, bend)
    x, y = round_profile(base_mm, pad_mm, cam_deg, lift, slope)
    closing = None
    if role in engine.closing:
        # As much smaller at its hollow as the other is larger at its nose: the play stays the same.
        round_mm = base_mm + highest_mm
        pad_in_mm = _pad_mm(round_mm, -lift, -slope, -bend) / 2
        x_in, y_in = round_profile(round_mm, pad_in_mm, cam_deg, -lift, -slope)
        closing = ClosingCam(round_mm, pad_in_mm, -x_in, -y_in)
    return Cam(base_mm, pad_mm, ratio, x, y, closing)


def _profile_deg(lobe: Lobe) -> FloatArray:
    """Where a profile is drawn, in degrees of the cam from its nose: closer along the ramps, where
    it bends most."""
    opens_deg, ramp_deg = lobe.events.duration_deg / 4, lobe.ramp_deg / 2
    ramp = np.arange(opens_deg - CAM_STEP_DEG, opens_deg + ramp_deg + CAM_STEP_DEG, RAMP_STEP_DEG)
    usual = np.arange(-180.0, 180.0, CAM_STEP_DEG)
    beside = np.abs(np.abs(usual) - ramp.mean()) > (ramp[-1] - ramp[0] + CAM_STEP_DEG) / 2
    within = ramp[ramp < 180.0 - RAMP_STEP_DEG]
    return np.sort(np.concatenate([usual[beside], within, -within]))


def _flat_cam(
    base_mm: float,
    ratio: float,
    cam_deg: FloatArray,
    lift: FloatArray,
    slope: FloatArray,
    bend: FloatArray,
) -> Cam:
    """As large as the lift's bend asks for, or as lobes are at most."""
    convex_mm = float((-lift - bend).max())
    largest_mm = max(base_mm, float(lift.max()) * MOST_BASE_PER_LIFT)
    base_mm = min(max(base_mm, convex_mm + LEAST_CURVATURE_MM), largest_mm)
    if base_mm >= convex_mm:
        return Cam(base_mm, 0.0, ratio, *flat_profile(base_mm, cam_deg, lift, slope))
    x, y = ground_profile(base_mm, cam_deg, lift)
    t = np.radians(cam_deg)
    reached = (x[:, None] * np.sin(t) + y[:, None] * np.cos(t)).max(axis=0) - base_mm
    return Cam(base_mm, 0.0, ratio, x, y, short_mm=max(0.0, float((lift - reached).max())))


def _pad_mm(base_mm: float, lift: FloatArray, slope: FloatArray, bend: FloatArray) -> float:
    """The usual radius of a round pad, or what the sharpest bend of its centre's curve leaves it:
    a pad of a larger radius would cut its own lobe away (undercutting; Norton)."""
    pad_mm = base_mm * PAD_PER_BASE
    while True:
        reach = base_mm + pad_mm + lift
        # The radius of a curve in polar coordinates.
        turns = reach**2 + 2 * slope**2 - reach * bend
        radius = (reach**2 + slope**2) ** 1.5 / np.maximum(turns, 1e-9)
        if pad_mm <= LARGEST_PAD * float(radius.min()):
            return pad_mm
        pad_mm *= PAD_STEP


def flat_profile(
    base_mm: float, cam_deg: FloatArray, lift_mm: FloatArray, slope: FloatArray
) -> tuple[FloatArray, FloatArray]:
    """The envelope of a flat face; slope is mm for each radian of the cam. One shape for all."""
    t = np.radians(cam_deg)
    h = base_mm + lift_mm
    return h * np.sin(t) + slope * np.cos(t), h * np.cos(t) - slope * np.sin(t)


def ground_profile(
    base_mm: float, cam_deg: FloatArray, lift_mm: FloatArray
) -> tuple[FloatArray, FloatArray]:
    """The largest cam that nowhere reaches beyond a flat face's lift: what can be ground where the
    lift bends faster than any flat face follows (a manual's few figures leave that open). It is
    what all the face's positions together leave uncut, and touches where the true profile does."""
    t = np.radians(cam_deg)
    facing = np.cos(t[:, None] - t[None, :])
    with np.errstate(divide="ignore"):
        out = np.where(facing > 0, (base_mm + lift_mm)[None, :] / facing, np.inf)
    reach = out.min(axis=1)
    return reach * np.sin(t), reach * np.cos(t)


def round_profile(
    base_mm: float, pad_mm: float, cam_deg: FloatArray, lift_mm: FloatArray, slope: FloatArray
) -> tuple[FloatArray, FloatArray]:
    """The envelope of a face of this radius: inside its centre's curve along the normal."""
    t = np.radians(cam_deg)
    reach = base_mm + pad_mm + lift_mm
    along_x = slope * np.sin(t) + reach * np.cos(t)
    along_y = slope * np.cos(t) - reach * np.sin(t)
    length = np.hypot(along_x, along_y)
    return (
        reach * np.sin(t) + pad_mm * along_y / length,
        reach * np.cos(t) - pad_mm * along_x / length,
    )


def _ratio(engine: Engine, role: Role) -> float:
    train = engine.train_of(role)
    if train is ValveTrain.FINGER:
        return FINGER_RATIO
    if train is not ValveTrain.PUSHROD:
        return 1.0
    screw = engine.adjuster_of(role).screw
    return (screw.rocker_ratio if screw is not None else None) or ROCKER_RATIO


def _lift_at_cam(
    lobe: Lobe, ratio: float, cam_deg: FloatArray
) -> tuple[FloatArray, FloatArray, FloatArray]:
    """Lift in mm, slope and bend for each radian of the cam, about the middle of the event."""

    def at(deg: FloatArray) -> FloatArray:
        cycle = (lobe.events.middle_cycle_deg + 2 * deg) % CYCLE_DEG
        return lobe.follower_lift_mm(cycle) / ratio

    little_deg = CAM_STEP_DEG / 8
    little = np.radians(little_deg)
    before, here, after = at(cam_deg - little_deg), at(cam_deg), at(cam_deg + little_deg)
    return here, (after - before) / (2 * little), (after - 2 * here + before) / little**2
