"""A headless Chromium, and words for what a person does in it."""

from __future__ import annotations

import base64
import contextlib
import os
import shutil
import signal
import tempfile
import time
from collections.abc import Callable, Sequence
from pathlib import Path
from typing import Any

from selenium import webdriver
from selenium.common.exceptions import (
    ElementClickInterceptedException,
    ElementNotInteractableException,
    NoSuchElementException,
    StaleElementReferenceException,
    WebDriverException,
)
from selenium.webdriver.chrome.service import Service
from selenium.webdriver.common.by import By
from selenium.webdriver.common.keys import Keys
from selenium.webdriver.remote.webelement import WebElement

FLAGS = [
    "--no-sandbox", "--disable-gpu", "--disable-quic", "--no-first-run", "--hide-scrollbars",
    "--disable-background-networking", "--disable-component-update", "--disable-sync", "--disable-dev-shm-usage",
    "--disable-extensions", "--disable-default-apps", "--mute-audio", "--disable-breakpad", "--in-process-gpu",
    "--disable-features=Translate,OptimizationHints,MediaRouter,DialMediaRouteProvider,AutofillServerCommunication",
]  # fmt: skip


NOT_YET = (ElementClickInterceptedException, ElementNotInteractableException)
"""Something still moves over it, or it is not drawn to its end."""
ASK_AGAIN_S, SELDOM_S = 0.08, 0.4
TWO_FRAMES = "const done = arguments[0]; requestAnimationFrame(() => requestAnimationFrame(() => done()));"

HEARD = """
    const [element] = arguments;
    element.heardPress = false;
    element.addEventListener("pointerdown", () => { element.heardPress = true; }, { once: true, capture: true });
"""


class Element(WebElement):
    """What is on a page; what cannot be pressed or typed into just yet is tried again."""

    def click(self) -> None:
        """Press it. The driver aims first and presses then; where the page moved in between it pressed beside it, and
        presses again."""
        for _ in range(50):
            self.parent.execute_script(HEARD, self)
            try:
                super().click()
            except NOT_YET:
                time.sleep(0.1)
                continue
            try:
                if self.parent.execute_script("return arguments[0].heardPress", self):
                    return
            except StaleElementReferenceException:
                # It went because of the press.
                return
            time.sleep(0.1)
        super().click()

    def send_keys(self, *value: str) -> None:
        for _ in range(50):
            try:
                super().send_keys(*value)
                return
            except ElementNotInteractableException:
                time.sleep(0.1)
        super().send_keys(*value)


class Browser:
    """One browser window on the application."""

    def __init__(
        self,
        address: str,
        width: int = 1280,
        height: int = 800,
        patience_s: float = 90,
        profile: str = "",
        flags: Sequence[str] = (),
    ) -> None:
        self.address = address
        self.size = (width, height)
        self.session_of: Callable[[str], str] | None = None
        self.profile = profile or tempfile.mkdtemp(prefix="girder-browser-")
        options = webdriver.ChromeOptions()
        # Chromium's own headless build: without a desktop's window around the page it needs half of the processor time.
        options.binary_location = "/usr/lib/chromium/chromium-headless-shell"
        options.set_capability("browserName", "chrome-headless-shell")
        for flag in [*FLAGS, *flags, f"--user-data-dir={self.profile}"]:
            options.add_argument(flag)
        options.set_capability("goog:loggingPrefs", {"browser": "ALL"})
        self.driver = webdriver.Chrome(options=options, service=Service("/usr/bin/chromedriver"))
        self._save_into_profile()
        self.driver._web_element_cls = Element
        # A busy machine takes its time over a whole pack of documents.
        self.driver.set_script_timeout(180)
        self.resize(width, height)
        self._patience_s = patience_s

    def _save_into_profile(self) -> None:
        """What a page saves lies in the profile, and goes with it; to be said for every window."""
        saving = {"behavior": "allow", "downloadPath": self.profile}
        self.driver.execute_cdp_cmd("Browser.setDownloadBehavior", saving)

    def begin_anew(self) -> None:
        """As a browser that was just installed: a new window, nothing stored, nobody signed in, the network there."""
        old = self.driver.current_window_handle
        self.network(there=True)
        self.driver.execute_cdp_cmd("Network.setBlockedURLs", {"urls": []})
        self.driver.execute_cdp_cmd("Network.clearBrowserCookies", {})
        self.driver.get("about:blank")
        self.driver.execute_cdp_cmd("Storage.clearDataForOrigin", {"origin": self.address, "storageTypes": "all"})
        # What a tab remembers goes with the tab.
        self.driver.switch_to.new_window("window")
        new = self.driver.current_window_handle
        for handle in self.driver.window_handles:
            if handle != new:
                self.driver.switch_to.window(handle)
                self.driver.close()
        self.driver.switch_to.window(new)
        assert new != old
        self._save_into_profile()
        self.resize(*self.size)
        self.driver.get_log("browser")  # type: ignore[no-untyped-call]

    def resize(self, width: int, height: int) -> None:
        self.driver.execute_cdp_cmd(
            "Emulation.setDeviceMetricsOverride",
            {"width": width, "height": height, "deviceScaleFactor": 1, "mobile": False},
        )
        # Rules that depend on the width are judged as a frame is drawn: without one, the page keeps those of before.
        self.driver.execute_async_script(TWO_FRAMES)

    def close(self) -> None:
        # One that was killed has nothing left to say goodbye to.
        with contextlib.suppress(WebDriverException, OSError):
            self.driver.quit()
        shutil.rmtree(self.profile, ignore_errors=True)

    def kill(self) -> None:
        """kill -9 for every process of this browser: no chance to tidy up."""
        for folder in Path("/proc").iterdir():
            with contextlib.suppress(OSError):
                if folder.name.isdigit() and self.profile.encode() in (folder / "cmdline").read_bytes():
                    os.kill(int(folder.name), signal.SIGKILL)

    def open(self, path: str = "/") -> None:
        self.driver.get(self.address + path)

    def until(self, condition: Callable[[], Any], what: str) -> Any:
        """Wait for a condition; when it does not come, say what was on the screen instead.

        What takes long is asked about less often: to be asked keeps a browser from its work.
        """
        end, pause = time.monotonic() + self._patience_s, ASK_AGAIN_S
        while True:
            with contextlib.suppress(StaleElementReferenceException, NoSuchElementException, *NOT_YET):
                if found := condition():
                    return found
            if time.monotonic() > end:
                raise AssertionError(f"Waited in vain for {what}. On screen:\n{self.text()}")
            time.sleep(pause)
            pause = min(SELDOM_S, 1.3 * pause)

    def text(self) -> str:
        # The page's own words for what it shows; asking the driver works them out anew for every element.
        return str(self.driver.execute_script("return document.body ? document.body.innerText : ''"))

    def sees(self, words: str) -> None:
        """Wait until the words are on the screen."""
        self.until(lambda: words in self.text(), f"“{words}”")

    def all(self, css: str) -> list[WebElement]:
        return self.driver.find_elements(By.CSS_SELECTOR, css)

    def one(self, css: str) -> WebElement:
        """The first element, once it is there."""
        element: WebElement = self.until(lambda: next(iter(self.all(css)), None), css)
        return element

    def tap(self, css: str) -> None:
        """Press the first element of a selector; one that was drawn anew meanwhile is tried again."""

        def pressed() -> bool:
            self.one(css).click()
            return True

        self.until(pressed, f"{css} to be pressed")

    def field(self, label: str, within: str = "") -> WebElement:
        """The input of this label, of one line or of several."""
        quoted = f'"{label}"'
        typed_into = "*[self::input or self::textarea][not(@aria-hidden)]"
        path = (
            f"//{within or '*'}//label[starts-with(normalize-space(.), {quoted})]/following-sibling::div//{typed_into}"
            f" | //input[@aria-label={quoted}]"
        )
        element: WebElement = self.until(
            lambda: next(iter(self.driver.find_elements(By.XPATH, path)), None), f"the field “{label}”"
        )
        return element

    def fill(self, label: str, text: str) -> WebElement:
        """Type a text into a field, over what stands there; anew where the page came with another answer meanwhile."""

        def typed() -> WebElement:
            field = self.field(label)
            field.send_keys(Keys.CONTROL, "a")
            field.send_keys(Keys.DELETE)
            field.send_keys(text)
            return field

        element: WebElement = self.until(typed, f"the field “{label}” to take a text")
        return element

    def button(self, words: str) -> WebElement:
        """An enabled button or link that begins with these words."""
        path = (
            f'//*[self::button or self::a or @role="button"][starts-with(normalize-space(.), "{words}")]'
            "[not(@disabled)]"
        )
        element: WebElement = self.until(
            lambda: next((e for e in self.driver.find_elements(By.XPATH, path) if e.is_displayed()), None),
            f"the button “{words}”",
        )
        return element

    def click(self, words: str) -> None:
        """Press the button with these words; one that was drawn anew or is covered meanwhile is tried again."""

        def pressed() -> bool:
            self.button(words).click()
            return True

        self.until(pressed, f"“{words}” to be pressed")

    def choose(self, words: str) -> None:
        """Choose from the open list what has these words, by its own key: while the list still unfolds, a click could
        land on its neighbour."""

        def meant() -> WebElement | None:
            options = [option for option in self.all('[role="option"]') if words in option.text]
            exact = [option for option in options if option.text == words]
            return next(iter(exact or options), None)

        option: WebElement = self.until(meant, f"“{words}” in the list")
        option.send_keys(Keys.ENTER)

    def press(self, *keys: str) -> None:
        """Press keys one after the other, wherever the focus is."""

        def pressed(key: str) -> bool:
            self.driver.switch_to.active_element.send_keys(key)
            return True

        for key in keys:
            # What had the focus may be drawn anew in between; the key went nowhere then.
            self.until(lambda key=key: pressed(key), f"“{key}” to be pressed")  # type: ignore[misc]

    def sign_in(self, email: str, password: str) -> None:
        """Sign in; where a session can be had without the form, without it."""
        if self.session_of is not None:
            cookie = {"name": "sessionid", "value": self.session_of(email), "url": self.address, "httpOnly": True}
            self.driver.execute_cdp_cmd("Network.setCookie", cookie)
            return
        self.sign_in_by_hand(email, password)

    def sign_in_by_hand(self, email: str, password: str) -> None:
        """Sign in as a teacher does."""
        self.open("/")
        self.fill("E-mail address", email)
        self.fill("Password", password).send_keys(Keys.ENTER)
        self.sees("Sign out")

    def network(self, there: bool) -> None:
        """Take the network away from the page, or give it back."""
        self.driver.execute_cdp_cmd("Network.enable", {})
        self.driver.execute_cdp_cmd(
            "Network.emulateNetworkConditions",
            {"offline": not there, "latency": 0, "downloadThroughput": -1, "uploadThroughput": -1},
        )

    def download(self, path: str) -> bytes:
        """What an address answers to this window's session."""
        script = """
            const [path, done] = arguments;
            fetch(path).then((r) => r.arrayBuffer()).then((b) => {
                let text = "";
                new Uint8Array(b).forEach((byte) => { text += String.fromCharCode(byte); });
                done(btoa(text));
            });
        """
        return base64.b64decode(self.driver.execute_async_script(script, path))

    def picture(self, file: Path) -> None:
        """The window as a PNG."""
        data = self.driver.execute_cdp_cmd("Page.captureScreenshot", {"format": "png"})["data"]
        file.parent.mkdir(parents=True, exist_ok=True)
        file.write_bytes(base64.b64decode(data))

    def complaints(self) -> list[str]:
        """What the page wrote to the console as errors; refusals that the page handles are not among them."""
        return [
            entry["message"]
            for entry in self.driver.get_log("browser")  # type: ignore[no-untyped-call]
            if entry["level"] == "SEVERE" and "the server responded with a status of 4" not in entry["message"]
        ]
