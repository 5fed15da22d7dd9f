"""`edrix calc study`: a CSV in, one JSON answer out, or one line that says what is wrong."""

import json

import pytest

from tests.core.test_study import HANDBOOK, block
from valvetrain.calculator import main

HEAD = "student,valve,trial,reading_mm"


def written(rows):
    return "\n".join([HEAD, *(f"{r.student},{r.valve},{r.trial},{r.reading_mm}" for r in rows)])


@pytest.fixture
def ask(tmp_path, capsys):
    def asked(text, *options):
        path = tmp_path / "readings.csv"
        path.write_text(text)
        code = main(["study", str(path), *options])
        out = capsys.readouterr()
        return code, out.out if code == 0 else out.err

    return asked


def test_a_study_of_a_class(ask):
    code, out = ask(written(block(3)))
    told = json.loads(out)
    assert code == 0
    assert (told["students"], told["valves"], told["trials"]) == (6, 12, 3)
    shares = {one["source"]: one["share_variance"] for one in told["components"]}
    assert shares["gauge"] + shares["valves"] == pytest.approx(100, abs=1e-5)
    assert len(told["hands"]) == 6
    assert told["categories"] > 2


def test_in_lines_for_people(ask):
    code, out = ask(written(block(3)), "--text")
    assert code == 0
    assert "components:" in out


def test_decimal_commas_and_further_columns(ask):
    lines = [f"{HEAD},note"]
    lines += [f'{r.student},{r.valve},{r.trial},"{r.reading_mm:.3f}",x'.replace("0.", "0,")
              for r in block(3)]  # fmt: skip
    code, out = ask("\n".join(lines))
    assert code == 0, out


@pytest.mark.parametrize(
    ("text", "says"),
    [
        ("", "has no column student"),
        ("student,valve,trial\na,1,1", "has no column reading_mm"),
        (f"{HEAD}\n,1,1,0.3", "line 2: has no student"),
        (f"{HEAD}\nInes,one,1,0.3", "line 2: the valve “one” is not a whole number"),
        (f"{HEAD}\nInes,1,,0.3", "line 2: the trial “” is not a whole number"),
        (f"{HEAD}\nInes,1,1,-0.3", "no reading from 0 to 20 mm"),
        (f"{HEAD}\nInes,1,1,nan", "no reading from 0 to 20 mm"),
        (f"{HEAD}\nInes,1,1,=1+1", "no reading from 0 to 20 mm"),
        (f"{HEAD}\nInes,1", "line 2: the trial “” is not a whole number"),
        (f'{HEAD}\n"Ines,1,1,0.3', "is no CSV"),
        (f"{HEAD}\nInes,1,1,0.3", "needs two of each"),
        (written(block(3)[:-1]), "has no trial 3 of valve 12"),
    ],
)
def test_what_is_wrong_is_told_in_one_line(ask, text, says):
    code, err = ask(text)
    assert code == 2
    assert says in err
    assert err.count("\n") == 1


def test_negative_readings_of_the_handbook_are_no_gaps(ask):
    rows = [("A", v, 1, x) for v, x in enumerate(HANDBOOK["A"][0], start=1)]
    code, err = ask("\n".join([HEAD, *(",".join(map(str, row)) for row in rows)]))
    assert code == 2
    assert "from 0 to 20 mm" in err
