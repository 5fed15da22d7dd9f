"""The logbook: fills itself in, is written, corrected, taken in from files, and tells of wear."""

import csv
import io
from datetime import timedelta

import openpyxl
import pytest
from django.utils import timezone
from pypdf import PdfReader

from edrix.logbook.models import LogEntry, LogGap
from edrix.marking import handing_in
from edrix.sheets.lines import TypedLine
from edrix.stands import services as stands
from tests.server.conftest import KEY_MM, right_lines, tick_the_lists, worked
from tests.server.test_hall import adjusting


@pytest.fixture
def log(school, browsers):
    """Asks for the log of stand 3, and writes into it."""

    class Log:
        address = f"/api/stands/{school.stand.id}/log"
        tove = browsers["instructor"]

        def read(self, query=""):
            return self.tove.get(f"{self.address}{query}").json()

        def write(self, **entry):
            return self.tove.send("POST", self.address, {"what": "measured"} | entry)

        def file(self, rows, where="file"):
            text = "\n".join(",".join(map(str, row)) for row in rows)
            asked = self.tove.send_file(f"{self.address}/{where}", text.encode(), "log.csv")
            return worked(self.tove, asked)

    return Log()


def ago(days):
    return (timezone.now() - timedelta(days=days)).isoformat()


class TestFillsItselfIn:
    def test_a_key(self, school, log):
        (entry,) = log.read()["entries"]
        assert (entry["what"], entry["by"], entry["note"]) == ("key", "Tove", "Key 1")
        assert {g["valve"]: g["found_typed"] for g in entry["gaps"]} == {
            valve: f"{gap} mm" for valve, gap in KEY_MM.items()
        }

    def test_a_key_with_its_meter(self, school, log):
        gaps = [{"valve": v, "gap": g, "unit": "mm"} for v, g in KEY_MM.items()]
        keys = f"/api/stands/{school.stand.id}/keys"
        assert log.tove.send("POST", keys, {"gaps": gaps, "meter": "120,5"}).status_code == 201
        assert log.read()["entries"][0]["meter"] == "120.5"
        back = log.tove.send("POST", keys, {"gaps": gaps, "meter": "100"})
        assert back.status_code == 422
        assert "a meter never goes back" in back.json()["detail"]
        assert len(log.read()["entries"]) == 2

    def test_a_sheet_with_what_it_left(self, school, log):
        made = adjusting(school)
        entry = log.read()["entries"][0]
        assert (entry["what"], entry["by"], entry["source"]) == (
            "sheet",
            "Ines Falkner",
            f"hand-in {made.id}",
        )
        third = next(gap for gap in entry["gaps"] if gap["valve"] == 3)
        assert (third["left_typed"], third["left_mm"]) == ("0.25", "0.2500")
        assert [g["valve"] for g in entry["gaps"] if g["left_mm"] is not None] == [3]

    def test_lists_that_were_ticked(self, school, log):
        tick_the_lists(school, school.ines)
        notes = [entry["note"] for entry in log.read("?what=lists")["entries"]]
        assert [note.split(",")[0] for note in notes] == [
            "Closing list ticked",
            "Isolation list ticked",
        ]

    def test_a_hand_in_that_is_refused_leaves_nothing(self, school, log):
        lines = [TypedLine(**line) for line in right_lines()]
        handing_in.hand_in(school.ines, school.sheet.id, lines, request_key="k-1", confirmed=True)
        handing_in.hand_in(school.ines, school.sheet.id, lines, request_key="k-1", confirmed=True)
        assert LogEntry.objects.filter(what="sheet").count() == 1


class TestWriting:
    def test_an_entry_with_everything(self, school, log):
        answer = log.write(
            what="adjusted",
            at=ago(3),
            meter="101.5",
            cold=True,
            by="Odd from the ferry",
            note="Set what had moved.",
            gaps=[
                {
                    "valve": 3,
                    "found": "0.19",
                    "left": "10 thou",
                    "shim": "",
                    "unit": "mm",
                    "reason": "no thinner shim in the house",
                }
            ],
        )
        assert answer.status_code == 201
        made = answer.json()
        assert (made["by"], made["written_by"], made["meter"]) == (
            "Odd from the ferry",
            "Tove",
            "101.5",
        )
        (gap,) = made["gaps"]
        assert gap["reason"] == "no thinner shim in the house"
        assert (gap["found_mm"], gap["left_mm"], gap["left_typed"]) == (
            "0.1900",
            "0.2540",
            "10 thou",
        )

    @pytest.mark.parametrize(
        ("entry", "path", "word"),
        [
            ({"what": "key"}, "what", "choose one of"),
            ({}, "note", "say what was done"),
            ({"note": "x", "at": ago(-2)}, "at", "in the future"),
            ({"note": "x", "meter": "a lot"}, "meter", "not a number"),
            ({"note": "x", "meter": "-4"}, "meter", "no meter reading"),
            ({"gaps": [{"valve": 99, "found": "0.2"}]}, "valve 99", "not on this engine"),
            ({"gaps": [{"valve": 1, "found": "0.2x"}]}, "valve 1", "found"),
            ({"gaps": [{"valve": 1, "found": "25"}]}, "valve 1", "give 0 to 20 mm"),
            ({"gaps": [{"valve": 1, "left": "-0.1"}]}, "valve 1", "left"),
            ({"gaps": [{"valve": 1, "found": "0.2"}] * 2}, "valve 1", "given twice"),
        ],
    )
    def test_bad_entries_are_refused_and_nothing_is_kept(self, school, log, entry, path, word):
        before = LogEntry.objects.count(), LogGap.objects.count()
        answer = log.write(**entry)
        assert answer.status_code == 422
        fault = next(f for f in answer.json()["fields"] if f["path"] == path)
        assert word in fault["problem"]
        assert (LogEntry.objects.count(), LogGap.objects.count()) == before

    def test_a_meter_never_goes_back(self, school, log):
        log.write(note="first", at=ago(10), meter="100")
        log.write(note="last", at=ago(2), meter="140")
        behind = log.write(note="x", at=ago(1), meter="120")
        assert "lies behind 140.0 h" in behind.json()["detail"]
        ahead = log.write(note="x", at=ago(5), meter="150")
        assert "lies ahead of 140.0 h" in ahead.json()["detail"]
        assert log.write(note="between", at=ago(5), meter="120").status_code == 201

    def test_a_later_entry_corrects_an_earlier_one_once(self, school, log):
        wrong = log.write(note="typed wrong", at=ago(9), meter="1000", gaps=[]).json()
        right = log.write(note="right", at=ago(9), meter="100", corrects=wrong["id"])
        assert right.status_code == 201
        by_id = {entry["id"]: entry for entry in log.read()["entries"]}
        assert by_id[wrong["id"]]["corrected_by"] == right.json()["id"]
        again = log.write(note="again", corrects=wrong["id"])
        assert again.status_code == 409
        assert "corrected already" in again.json()["detail"]
        assert log.write(note="x", corrects=999_999).status_code == 404

    def test_paging(self, school, log):
        for number in range(60):
            log.write(note=f"note {number}", at=ago(100 - number))
        first, second = log.read(), log.read("?skip=50")
        assert (first["total"], len(first["entries"]), len(second["entries"])) == (61, 50, 11)
        ids = [entry["id"] for entry in first["entries"] + second["entries"]]
        assert len(set(ids)) == 61

    def test_a_page_asks_no_query_for_each_entry(self, school, log, django_assert_max_num_queries):
        for number in range(30):
            log.write(note=f"note {number}", gaps=[{"valve": 1, "found": "0.3"}])
        with django_assert_max_num_queries(12):
            log.read()


YEAR = [("day", "hours", "valve", "gap", "left")] + [
    (f"2026-{month:02d}-05", 100 + 40 * month, valve, round(gap - 0.002 * month * valve, 3), "")
    for month in range(1, 10)
    for valve, gap in ((1, 0.36), (2, 0.27), (3, 0.26))
]


class TestTrend:
    def test_nothing_can_be_said_without_a_meter(self, school, log):
        told = log.tove.get(f"/api/stands/{school.stand.id}/trend").json()
        assert (told["next_look"], told["valves"]) == (None, [])
        assert "no gap at a known meter reading" in told["says"][0]

    def test_from_a_file_of_the_past(self, school, log):
        assert log.file(YEAR).json() == {"entries": 9}
        told = log.tove.get(f"/api/stands/{school.stand.id}/trend").json()
        rates = {valve["valve"]: valve["rate"] for valve in told["valves"]}
        # 2, 4 and 6 µm in each 40 h; the key, measured today at the last meter, counts too.
        assert rates[3] < rates[2] < rates[1] < 0
        assert told["next_look"] is not None
        assert "Next look" in " ".join(told["says"])

    def test_what_students_found_counts_only_when_asked_for(self, school, log):
        log.file(YEAR)
        lines = [TypedLine(**line) for line in right_lines()]
        handing_in.hand_in(school.ines, school.sheet.id, lines, request_key="k-1", confirmed=True)

        def points(query):
            told = log.tove.get(f"/api/stands/{school.stand.id}/trend{query}").json()
            return sum(len(valve["points"]) for valve in told["valves"])

        assert points("?with_sheets=true") == points("") + len(right_lines())

    def test_a_corrected_entry_counts_no_more(self, school, log):
        log.file(YEAR)
        gap = [{"valve": 1, "found": "0.99"}]
        wrong = log.write(at=ago(1), meter="470", gaps=gap).json()
        log.write(
            at=ago(1), meter="470", gaps=[{"valve": 1, "found": "0.34"}], corrects=wrong["id"]
        )
        told = log.tove.get(f"/api/stands/{school.stand.id}/trend").json()
        gaps = [p["found_mm"] for v in told["valves"] if v["valve"] == 1 for p in v["points"]]
        assert 0.34 in gaps
        assert 0.99 not in gaps


class TestFiles:
    def test_looking_keeps_nothing(self, school, log):
        seen = log.file(YEAR, "look").json()
        assert (seen["rows"], seen["entries"], seen["faults"]) == (27, 9, [])
        assert LogEntry.objects.filter(what="measured").count() == 0

    @pytest.mark.parametrize(
        ("row", "word"),
        [
            (("soon", 600, 1, 0.3, ""), "no day"),
            # The third of April here, the fourth of March elsewhere.
            (("03/04/2026", 600, 1, 0.3, ""), "may be read as two days"),
            (("2026-10-05", 600, "one", 0.3, ""), "no whole number"),
            (("2026-10-05", 600, 77, 0.3, ""), "not on this engine"),
            (("2026-10-05", 600, 1, "0.3x", ""), "found"),
            (("2026-10-05", 90, 1, 0.3, ""), "never goes back"),
            (("2026-03-01", 600, 1, 0.3, ""), "order of time"),
            (("2036-03-01", 600, 1, 0.3, ""), "future"),
        ],
    )
    def test_one_bad_row_takes_nothing_in(self, school, log, row, word):
        rows = [*YEAR, row]
        seen = log.file(rows, "look").json()
        assert [fault["row"] for fault in seen["faults"]] == [29]
        assert word in seen["faults"][0]["problem"]
        answer = log.file(rows)
        assert answer.status_code == 422
        assert "Nothing was taken" in answer.json()["detail"]
        assert LogEntry.objects.filter(what="measured").count() == 0

    def test_the_same_file_twice(self, school, log):
        log.file(YEAR)
        again = log.file(YEAR)
        assert again.status_code == 422
        assert "in the log already" in again.json()["detail"]

    def test_a_file_that_is_no_log(self, school, log):
        assert "no column day" in log.file([("student", "valve"), ("Ines", 1)]).json()["detail"]

    def test_out_and_in_again_at_another_stand(self, school, log):
        log.file(YEAR)
        out = log.tove.get(f"{log.address}.csv").content
        rows = list(csv.DictReader(io.StringIO(out.decode("utf-8-sig"))))
        assert len(rows) == 27 + len(KEY_MM)
        other = stands.create_stand(school.tove, school.class_a, "Stand 8", school.engine_id)
        address = f"/api/stands/{other.id}/log"
        taken = worked(log.tove, log.tove.send_file(f"{address}/file", out, "log.csv"))
        assert taken.json()["entries"]
        before = {(g["valve"], g["found_mm"]) for e in log.read()["entries"] for g in e["gaps"]}
        found = log.tove.get(address).json()["entries"]
        assert {(g["valve"], g["found_mm"]) for e in found for g in e["gaps"]} == before

    def test_what_was_corrected_comes_back_once_and_cold_stays_cold(self, school, log):
        wrong = log.write(gaps=[{"valve": 1, "found": "0.61"}], cold=True).json()
        log.write(gaps=[{"valve": 1, "found": "0.31"}], cold=True, corrects=wrong["id"])
        out = log.tove.get(f"{log.address}.csv").content
        other = stands.create_stand(school.tove, school.class_a, "Stand 8", school.engine_id)
        address = f"/api/stands/{other.id}/log"
        worked(log.tove, log.tove.send_file(f"{address}/file", out, "log.csv"))
        found = log.tove.get(address).json()["entries"]
        read = [(float(g["found_mm"]), e["cold"]) for e in found for g in e["gaps"]]
        assert [one for one in read if one[0] in (0.31, 0.61)] == [(0.31, True)]

    def test_what_was_typed_in_thou_goes_out_in_thou(self, school, log):
        log.file([("day", "meter", "valve", "found", "left", "unit"),
                  ("2025-03-01", "10", 1, "11.5", "14", "thou")])  # fmt: skip
        rows = list(
            csv.DictReader(
                io.StringIO(log.tove.get(f"{log.address}.csv").content.decode("utf-8-sig"))
            )
        )
        (row,) = [row for row in rows if row["valve"] == "1" and row["what"] == "adjusted"]
        assert (row["found"], row["left"], row["unit"]) == ("11.5", "14", "thou")

    def test_as_a_workbook(self, school, log):
        log.file(YEAR)
        book = openpyxl.load_workbook(io.BytesIO(log.tove.get(f"{log.address}.xlsx").content))
        assert book["log"].max_row == 1 + 27 + len(KEY_MM)

    def test_on_the_wall_and_as_a_label(self, school, log):
        log.file(YEAR)
        page = PdfReader(io.BytesIO(log.tove.get(f"{log.address}.pdf").content)).pages[0]
        words = page.extract_text()
        assert "Stand 3: logbook" in words
        assert "Next look" in words
        label = log.tove.get(f"/api/stands/{school.stand.id}/label.pdf").content
        assert "Stand 3" in PdfReader(io.BytesIO(label)).pages[0].extract_text()


def test_a_kind_of_entry_that_is_none_finds_nothing(school, browsers):
    for what in ("\x00", "nothing", "key%27--"):
        answer = browsers["instructor"].get(f"/api/stands/{school.stand.id}/log", {"what": what})
        assert answer.status_code == 200
        assert answer.json()["entries"] == []
