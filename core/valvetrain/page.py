"""What an engine's file says of torques and shims, gathered for whoever stands at the engine."""

from valvetrain.adjusters import Shimmed
from valvetrain.engine import Engine
from valvetrain.manual import Torque, TorqueFigure


def torques_of(engine: Engine) -> tuple[Torque, ...]:
    """The lock nuts' first, told once where all roles have the same; then the file's list."""
    nuts: dict[TorqueFigure, list[str]] = {}
    for role in engine.roles:
        screw = engine.adjuster_of(role).screw
        if screw is not None and screw.locknut is not None:
            nuts.setdefault(screw.locknut, []).append(role.value)
    alike = len(nuts) == 1
    return (
        *(
            Torque("lock nut" if alike else f"lock nut, {' and '.join(roles)}", moment)
            for moment, roles in nuts.items()
        ),
        *engine.torques,
    )


def shim_words(engine: Engine) -> list[str]:
    """`intake: 9.48 mm across, 1.2 to 3.5 mm by 0.05 mm`, told once where all are the same."""
    told: dict[str, list[str]] = {}
    for adjusters, of in ((engine.adjusters, ""), (engine.closing_adjusters, "closing ")):
        for role, adjuster in adjusters.items():
            if adjuster.shim is not None:
                told.setdefault(_shims(adjuster.shim), []).append(f"{of}{role}")
    if len(told) == 1:
        return list(told)
    return [f"{', '.join(whose)}: {words}" for words, whose in told.items()]


def _shims(shims: Shimmed) -> str:
    across = "" if shims.diameter_mm is None else f"{shims.diameter_mm:g} mm across, "
    sizes = shims.sizes
    said = f"{across}{sizes.from_mm:g} to {sizes.to_mm:g} mm by {sizes.step_mm:g} mm"
    if shims.codes is None:
        return said
    if shims.codes.times is not None:
        return f"{said}; stamped as a count of {shims.codes.times:g} mm"
    return f"{said}; stamped {', '.join(f'{c} for {s:g}' for c, s in shims.codes.sizes_mm[:4])}"


def second_gap_words(engine: Engine) -> str:
    """What a valve's second gap wants, where there is one: how it is measured, and in which order.
    Common practice."""
    said = []
    if engine.closing:
        said.append(
            "Each valve has two gaps, both measured where it is on its heel: the closing gap "
            "first, since its shim moves where the valve rests, and so the opening gap too."
        )
    for role in engine.roles:
        spec = engine.clearance[role]
        if spec.running is not None:
            where = f" ({spec.running_measured})" if spec.running_measured else ""
            said.append(
                f"The {role} lash is set at its stop. Its running gap is another one{where}, "
                "proved once the nut is tight: the small stack goes, the large one does not. "
                "One rocker does not prove another."
            )
    return " ".join(said)
