"""Which build of the front end is served: a page that runs another is told."""

from __future__ import annotations

import re
from functools import lru_cache
from pathlib import Path

_ENTRY = re.compile(r'<script type="module"[^>]* src="/assets/([^"]+)"')


def build_of(folder: Path) -> str:
    """Return the name of the script that a page begins with; "" where none is built."""
    try:
        return _entry(folder / "index.html", (folder / "index.html").stat().st_mtime_ns)
    except OSError:
        return ""


@lru_cache(maxsize=4)
def _entry(page: Path, _changed: int) -> str:
    found = _ENTRY.search(page.read_text(encoding="utf-8"))
    return found[1] if found else ""
