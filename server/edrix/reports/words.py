"""A sheet's lines and grades in words, as all printed pages write them."""

from edrix.sheets.services import Reading
from valvetrain.grading import FURTHER


def percent(value: float) -> str:
    return f"{value:.1f} %".replace(".0 %", " %")


def wrote(reading: Reading | None) -> str:
    if reading is None:
        return "left blank"
    unit = "" if reading.typed[-1:].isalpha() or not reading.typed else f" {reading.unit}"
    stop = "no stop" if reading.crank_deg is None else f"at {reading.crank_deg:g}°"
    verdict = reading.verdict.replace("cannot-tell", "can't tell") or "no verdict"
    further = "".join(
        f"; {column.title.lower()} {column.told(reading.further[name]['typed'])}"
        for name, column in FURTHER.items()
        if name in reading.further
    )
    return f"{reading.typed or 'no reading'}{unit} {stop}, {verdict}{further}"
