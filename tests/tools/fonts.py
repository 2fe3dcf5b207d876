"""Make the documents' fonts (TTF) from the front end's (woff2): needs fonttools and brotli."""

from __future__ import annotations

import tempfile
from pathlib import Path

from fontTools.merge import Merger
from fontTools.ttLib import TTFont
from fontTools.varLib.instancer import instantiateVariableFont

ROOT = Path(__file__).parents[2]
MODULES = ROOT / "frontend" / "node_modules" / "@fontsource-variable"
TARGET = ROOT / "src" / "clothyard" / "documents" / "fonts"
FACES = {
    "text-regular": ("atkinson-hyperlegible-next", 400),
    "text-bold": ("atkinson-hyperlegible-next", 600),
    "head-bold": ("bitter", 600),
}


def main() -> None:
    """Write one static face for each: latin and latin-ext together."""
    TARGET.mkdir(exist_ok=True)
    for name, (family, weight) in FACES.items():
        with tempfile.TemporaryDirectory() as folder:
            parts = []
            for subset in ("latin", "latin-ext"):
                font = TTFont(MODULES / family / "files" / f"{family}-{subset}-wght-normal.woff2")
                font.flavor = None
                font = instantiateVariableFont(font, {"wght": weight}, updateFontNames=False)
                for table in ("GSUB", "GPOS", "GDEF", "STAT", "DSIG"):
                    if table in font:
                        del font[table]
                parts.append(str(Path(folder) / f"{subset}.ttf"))
                font.save(parts[-1])
            merged = Merger().merge(parts)
            for record in merged["name"].names:
                if record.nameID in {1, 3, 4, 6, 16}:
                    merged["name"].setName(
                        f"Clothyard{name.title().replace('-', '')}",
                        record.nameID,
                        record.platformID,
                        record.platEncID,
                        record.langID,
                    )
            merged.save(TARGET / f"{name}.ttf")
        licence = (MODULES / family / "LICENSE").read_text(encoding="utf-8")
        (TARGET / f"{family}-LICENSE.txt").write_text(licence, encoding="utf-8")


if __name__ == "__main__":
    main()
