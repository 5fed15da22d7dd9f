"""Names of a sheet's parts and lines in words, as all printed pages write them."""

from edrix.sheets.services import Reading

PART_NAMES = {
    "reading": "Reading",
    "verdict": "Verdict",
    "position": "Position",
    "adjusted": "Adjusted",
    "shim": "Shim",
    "sequence": "Sequence",
    "record": "Record complete",
    "safety": "Safety lists",
    "time": "Time",
}
FURTHER_NAMES = {
    "second": "2nd pass",
    "set": "set to",
    "after": "nut tight",
    "shim_fitted": "shim fitted",
    "shim_chosen": "shim to fit",
}
FINDINGS = {
    "decimal-slip": "decimal point",
    "unit-slip": "wrong unit",
    "conversion-slip": "conversion",
    "roles-swapped": "intake and exhaust exchanged",
    "neighbours-swapped": "neighbours exchanged",
    "wrong-end": "counted from the other end",
    "off-heel": "off its heel",
    "steady-bias-tight": "reads everything tight",
    "steady-bias-loose": "reads everything loose",
    "caught-tip": "leaf caught",
    "copied": "equal to another sheet",
    "between-passes": "passes differ",
    "wrong-way-shim": "shim the wrong way",
    "lock-nut-creep": "lock nut moves the gap",
}


def percent(value: float) -> str:
    return f"{value:.1f} %".replace(".0 %", " %")


def wrote(reading: Reading | None) -> str:
    if reading is None:
        return "left blank"
    unit = "" if reading.typed[-1:].isalpha() or not reading.typed else f" {reading.unit}"
    stop = "no stop" if reading.crank_deg is None else f"at {reading.crank_deg:g}°"
    verdict = reading.verdict.replace("cannot-tell", "can't tell") or "no verdict"
    further = "".join(
        f"; {name} {reading.further[key]['typed']}"
        for key, name in FURTHER_NAMES.items()
        if key in reading.further
    )
    return f"{reading.typed or 'no reading'}{unit} {stop}, {verdict}{further}"
