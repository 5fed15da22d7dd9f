"""Logbooks of stands as files and on paper."""

from edrix.accounts.models import User
from edrix.logbook import services as logbook
from edrix.reports.files import Made
from edrix.reports.log_pages import log_rows, stand_label, wall_page
from edrix.reports.write import CSV, XLSX, to_csv, to_xlsx
from edrix.stands import services as stands

PDF = "application/pdf"


def log_file(user: User, stand_id: int, kind: str) -> Made:
    """For instructors: csv, xlsx, or the pdf page for the wall."""
    stand, entries = logbook.whole_log(user, stand_id)
    name = f"log-stand-{stand_id}.{kind}"
    if kind == "csv":
        return Made(name, CSV, to_csv(log_rows(entries)))
    if kind == "xlsx":
        return Made(name, XLSX, to_xlsx({"log": log_rows(entries)}))
    told = logbook.trend_of(user, stand_id)
    return Made(name, PDF, wall_page(stand, list(entries)[::-1], told))


def label(user: User, stand_id: int, address: str | None) -> Made:
    stand = stands.get_stand(user, stand_id)
    return Made(f"label-stand-{stand_id}.pdf", PDF, stand_label(stand, address))
