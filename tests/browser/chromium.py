"""Headless Chromium, as it is installed from Debian's packages."""

from __future__ import annotations

import io
import shutil
import subprocess
import tempfile
from pathlib import Path

import numpy as np
from numpy.typing import NDArray
from PIL import Image

FOUND = shutil.which("chromium") or shutil.which("chromium-browser")
_PLAIN = (
    "--headless",
    "--no-sandbox",
    "--disable-gpu",
    "--disable-quic",
    "--no-first-run",
    "--disable-sync",
    "--disable-background-networking",
    "--disable-component-update",
    "--hide-scrollbars",
    "--force-device-scale-factor=1",
    "--font-render-hinting=none",
    "--disable-lcd-text",
)


def screenshot(content: bytes, ending: str, size: tuple[int, int]) -> NDArray[np.uint8]:
    """Return what Chromium shows of a file, as pixels of shape (height, width, 3)."""
    assert FOUND is not None
    with tempfile.TemporaryDirectory() as folder:
        page, target = Path(folder, f"page.{ending}"), Path(folder, "shot.png")
        page.write_bytes(content)
        window = f"--window-size={size[0]},{size[1]}"
        command = [FOUND, *_PLAIN, f"--user-data-dir={folder}/profile", window, f"--screenshot={target}", page.as_uri()]
        subprocess.run(command, check=True, capture_output=True, timeout=120)
        return np.asarray(Image.open(io.BytesIO(target.read_bytes())).convert("RGB"))
