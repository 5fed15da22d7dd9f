"""Debian's Chromium through Playwright: how it is started, and signing in to Edrix."""

from collections.abc import Iterator
from contextlib import contextmanager

from playwright.sync_api import Browser, Page, ViewportSize, sync_playwright

from ops.install import need_chromium

FLAGS = ["--no-sandbox", "--disable-gpu", "--disable-background-networking", "--no-first-run"]
DESK: ViewportSize = {"width": 1280, "height": 800}
PHONE: ViewportSize = {"width": 390, "height": 844}


@contextmanager
def chromium(*more: str) -> Iterator[Browser]:
    """more: further flags."""
    with sync_playwright() as playwright:
        browser = playwright.chromium.launch(executable_path=need_chromium(), args=[*FLAGS, *more])
        yield browser
        browser.close()


def sign_in(page: Page, name: str, passcode: str) -> None:
    page.get_by_label("Sign-in name").fill(name)
    page.get_by_label("Passcode").fill(passcode)
    page.get_by_role("button", name="Sign in").click()
    page.get_by_role("navigation", name="Places").wait_for()
