"""Piston height from the slider-crank mechanism."""

import numpy as np
from numpy.typing import ArrayLike

from valvetrain.engine import Geometry
from valvetrain.lobe import FloatArray


def piston_from_tdc_mm(geometry: Geometry, cycle_deg: ArrayLike) -> FloatArray:
    """How far the piston is below top dead centre; 0 to stroke; shape of cycle_deg.

    With crank radius a, rod length l and crank angle t from TDC the pin is at
    s = a cos t + (l^2 - a^2 sin^2 t)^(1/2) from the crank axis (Heywood, Internal
    Combustion Engine Fundamentals, 1988, chapter 2, the slider-crank relation; cited from
    memory), so the drop from TDC is a + l - s.
    """
    t = np.radians(np.asarray(cycle_deg, dtype=np.float64))
    a = geometry.stroke_mm / 2
    l_rod = geometry.rod_mm
    s = a * np.cos(t) + np.sqrt(l_rod**2 - (a * np.sin(t)) ** 2)
    return np.maximum(0.0, a + l_rod - s)
