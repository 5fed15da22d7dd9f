"""As workshops use it: plain http at a name of the local network, which is no secure context."""

import re
from collections.abc import Iterator
from urllib.parse import urlsplit

import pytest
from playwright.sync_api import Page, expect

from ops.browser import PHONE, sign_in
from tests.browser.conftest import LAN_NAME


@pytest.fixture
def tablet(server, chromium) -> Iterator[Page]:
    """A tablet that finds the server by its name."""
    port = urlsplit(server.url).port
    context = chromium.new_context(
        viewport=PHONE,
        has_touch=True,
        base_url=f"http://{LAN_NAME}:{port}",
    )
    context.set_default_timeout(20_000)
    page = context.new_page()
    page.goto("/")
    sign_in(page, "ravi.tannock", server.passcodes["ravi.tannock"])
    yield page
    context.close()


def test_it_is_no_secure_context(tablet):
    assert tablet.evaluate("window.isSecureContext") is False
    assert tablet.evaluate("location.hostname") == LAN_NAME


def test_a_practice_run(tablet):
    tablet.goto("/work")
    row = tablet.locator(".work-row", has_text="The pump, on your own")
    row.get_by_role("button").click()
    tablet.get_by_role("heading", name="Notepad").wait_for()
    tablet.get_by_text("Turn", exact=True).tap()
    tablet.get_by_role("button", name="+10°").tap()
    expect(tablet.get_by_text("Turned 10° on").first).to_be_visible()


def test_a_sheet(tablet):
    tablet.goto("/work")
    tablet.get_by_role("link", name=re.compile("Set it right, stand 3")).tap()
    tablet.get_by_label("Reading of valve 1", exact=True).fill("0.31")
    expect(tablet.get_by_text("Saved", exact=True)).to_be_visible()
    tablet.reload()
    expect(tablet.get_by_label("Reading of valve 1", exact=True)).to_have_value("0.31")


def test_it_says_what_plain_http_costs(tablet):
    tablet.goto("/work")
    tablet.get_by_role("link", name="Why, and what helps").click()
    told = tablet.get_by_role("heading", name="Without a network").locator("..")
    expect(told).to_contain_text("keeps pages only of addresses that begin with https")
