"""Every method of sequence, in the order in which they are taught."""

from valvetrain.engine import Engine
from valvetrain.sequences import (
    companion_overlap,
    each_cylinder,
    fewest,
    lobe_away,
    maker_chart,
    opening_closing,
    opposite_valve,
    pair_marks,
    two_stop,
)
from valvetrain.sequences.method import About, Method

METHODS: dict[str, Method] = {
    module.METHOD.name: module.METHOD
    for module in (
        each_cylinder,
        two_stop,
        companion_overlap,
        pair_marks,
        opposite_valve,
        opening_closing,
        lobe_away,
        maker_chart,
        fewest,
    )
}


def methods_hidden(engine: Engine) -> dict[str, str]:
    """Methods that are not offered on this engine, each with the reason."""
    found = {method.name: method.hidden(engine) for method in METHODS.values()}
    return {name: why for name, why in found.items() if why is not None}


def about_methods() -> tuple[About, ...]:
    """All of them in words."""
    return tuple(About(m.name, m.title, m.about, m.recognised_by(None)) for m in METHODS.values())
