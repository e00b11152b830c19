"""Files of Office Open XML without the time they were written at: the same result gives the same bytes."""

from __future__ import annotations

import io
import re
from datetime import datetime
from zipfile import ZIP_DEFLATED, ZipFile, ZipInfo

#: The time of every part: the same result gives the same file.
MADE = datetime(2000, 1, 1)
#: Times that the writer puts into the properties of a document.
_WRITTEN = re.compile(rb"(<dcterms:(?:modified|created)[^>]*>)[^<]*")


def without_times(content: bytes) -> bytes:
    """Return a workbook or slides as they would be if written at a fixed time."""
    out = io.BytesIO()
    with ZipFile(io.BytesIO(content)) as old, ZipFile(out, "w", ZIP_DEFLATED) as new:
        for name in old.namelist():
            part = old.read(name)
            if name == "docProps/core.xml":
                part = _WRITTEN.sub(rb"\g<1>" + f"{MADE.isoformat()}Z".encode(), part)
            new.writestr(ZipInfo(name, MADE.timetuple()[:6]), part, ZIP_DEFLATED)
    return out.getvalue()
