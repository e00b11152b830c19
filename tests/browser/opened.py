"""A page in headless Chromium, driven by Playwright: whatever it logs, throws or asks for is kept."""

from __future__ import annotations

import tempfile
from collections.abc import Iterator
from contextlib import contextmanager
from dataclasses import dataclass, field
from pathlib import Path
from typing import Any

from tests.browser.chromium import FOUND


@dataclass
class Seen:
    page: Any
    said: list[str] = field(default_factory=list)
    asked: list[str] = field(default_factory=list)

    def shown(self, query: str) -> list[str]:
        """Return the texts of what is visible."""
        return [one.text_content() for one in self.page.locator(query).all() if one.is_visible()]


class Browser:
    """One Chromium for many pages."""

    def __init__(self) -> None:
        from playwright.sync_api import sync_playwright

        self._driver = sync_playwright().start()
        self.native = self._driver.chromium.launch(executable_path=FOUND, args=["--no-sandbox"])

    def close(self) -> None:
        self.native.close()
        self._driver.stop()

    @contextmanager
    def opened(self, content: bytes | str, **context: Any) -> Iterator[Seen]:
        """Yield a page that is opened from a file, as by a double click."""
        size = context.pop("size", (1280, 800))
        with tempfile.TemporaryDirectory() as folder:
            path = Path(folder, "page.html")
            path.write_bytes(content if isinstance(content, bytes) else content.encode())
            inside = self.native.new_context(viewport={"width": size[0], "height": size[1]}, **context)
            seen = Seen(inside.new_page())
            seen.page.on("console", lambda message: seen.said.append(message.text))
            seen.page.on("pageerror", lambda error: seen.said.append(str(error)))
            seen.page.on("request", lambda request: seen.asked.append(request.url))
            try:
                seen.page.goto(path.as_uri())
                yield seen
            finally:
                inside.close()
