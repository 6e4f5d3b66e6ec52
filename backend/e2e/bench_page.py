"""A bench's page in a real browser, at work until it is told to stop (a line on its standard input):

    python -m e2e.bench_page ADDRESS AT PATH      and the session's key as the first line of its standard input

ADDRESS is where its page comes from, AT the machine that this name stands for, PATH the bench's page. At the end it
waits until the page says that all is saved, and says as JSON how much was entered, and whether the page ever kept
entries.
"""

from __future__ import annotations

import json
import sys
import threading
import time
from urllib.parse import urlsplit

from e2e.browser import Browser

ENTRY_S = 0.5


def work(browser: Browser, over: threading.Event) -> dict[str, object]:
    """Enter something twice a second until it is over; how much, and whether the page ever kept entries."""
    browser.click("Start the trial")
    browser.sees("Nothing on it yet")
    browser.press("1")
    entered, kept = 1, False

    def state() -> str:
        return str(browser.one("[data-saving]").get_attribute("data-saving"))

    browser.until(lambda: state() == "saved", "the first entry is saved")
    while not over.is_set():
        browser.press("1")
        entered += 1
        time.sleep(ENTRY_S)
        kept = kept or state() == "offline"
    browser.until(lambda: state() == "saved", "all is saved")
    return {"entered": entered, "kept": kept}


def main(address: str, at: str, path: str) -> None:
    """Sign in by the session's key, and work."""
    over = threading.Event()

    def until_told() -> None:
        sys.stdin.readline()
        over.set()

    session = sys.stdin.readline().strip()
    named = f"--host-resolver-rules=MAP {urlsplit(address).hostname} {at}"
    browser = Browser(address, patience_s=180, flags=["--ignore-certificate-errors", named])
    try:
        browser.open("/healthz")
        browser.driver.add_cookie({"name": "sessionid", "value": session, "secure": True})
        browser.open(path)
        threading.Thread(target=until_told, daemon=True).start()
        print(json.dumps(work(browser, over)), flush=True)
    finally:
        browser.close()


if __name__ == "__main__":
    main(*sys.argv[1:])
