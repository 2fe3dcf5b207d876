"""Kinds of stitch file: which are read, how each begins, and which end with a mark."""

from __future__ import annotations

from functools import cache

from clothyard.core.errors import BadInput

MAX_FILE_BYTES = 20 * 1024 * 1024

NO_JUMPS = frozenset({"gcode", "pmv", "qcc", "iqp"})
"""Kinds that cannot tell jumps from stitches."""
NO_STITCHES = frozenset({"svg", "png", "txt", "edr", "col", "inf"})
"""Kinds that hold pictures or colours, or are only written."""
NO_TRIMS = frozenset(("100", "bro", "inb", "jpx", "max", "mit", "new", "pcd", "pcm", "pcq", "pcs"))
NO_TRIMS |= {"plt", "sew", "shv", "spx", "stc", "zhs", "zxy"}
"""Kinds that hold no trims: a jump of theirs may be one."""
SPLIT_AT_MM = {"csv": None, "json": None, "vp3": None, "pec": 204.7, "pes": 204.7}
SPLIT_AT_MM |= {"phb": 204.7, "phc": 204.7, "xxx": 12.4}
SPLIT_AT_MM |= dict.fromkeys(("dst", "exy", "tap"), 12.1)
SPLIT_MM = 12.7
"""How far a record of a kind reaches along x or y; None where any length does. [mm]"""
READ_WITH: dict[str, dict[str, int | float | bool | None]] = {
    "jef": {"trim_at": 3, "trim_distance": None},
}
"""How the reader is set where its own settings guess trims: of jef, by how far a jump goes."""
ENDS_MARKED = frozenset({"pec", "pes", "dst", "vp3", "xxx", "u01", "tbf"})
"""Kinds that a whole file of never runs off its end."""
BEGINS: dict[str, tuple[bytes, ...]] = {
    "pec": (b"#PEC",),
    "pes": (b"#PES",),
    "vp3": (b"%vsm%",),
    "dst": (b"LA:",),
    "pmv": (b"#PMV",),
}
BLANK = b"\xef\xbb\xbf \t\r\n"
FOREIGN = (
    (b"\x89PNG", "a PNG picture"),
    (b"\xff\xd8\xff", "a JPEG picture"),
    (b"GIF8", "a GIF picture"),
    (b"RIFF", "a picture or a sound"),
    (b"II*\x00", "a TIFF picture"),
    (b"MM\x00*", "a TIFF picture"),
    (b"%PDF", "a PDF"),
    (b"%!PS", "a PostScript drawing"),
    (b"PK\x03\x04", "a zip archive or an office document"),
    (b"\x1f\x8b", "a gzip archive"),
    (b"7z\xbc\xaf", "an archive"),
    (b"Rar!", "an archive"),
    (b"<svg", "an SVG drawing"),
    (b"<?xml", "an XML document"),
    (b"<!DOCTYPE", "a web page"),
    (b"<!doctype", "a web page"),
    (b"<html", "a web page"),
    (b"MZ", "a program"),
    (b"\x7fELF", "a program"),
    (b"SQLite format 3", "a database"),
)
"""How files begin that hold no stitches, whatever they are named, and what they are."""


def split_at_mm(kind: str) -> float | None:
    """Return how far a record of a kind reaches; longer stitches are split. None: never. [mm]"""
    return SPLIT_AT_MM.get(kind, SPLIT_MM)


@cache
def readable_kinds() -> tuple[str, ...]:
    """Return the endings of the kinds that can be read, in alphabetical order."""
    import pystitch  # noqa: PLC0415 - slow to load, and only the child needs it

    left_out = NO_JUMPS | NO_STITCHES
    return tuple(
        sorted(
            f["extension"]
            for f in pystitch.supported_formats()
            if f.get("reader") and f["extension"] not in left_out
        )
    )


PICTURES = frozenset(
    ("png", "jpg", "jpeg", "gif", "webp", "bmp", "tif", "tiff", "heic", "svg", "pdf", "eps")
)
TABLES = frozenset(("tsv", "xlsx", "ods"))


def kind_of(name: str) -> str:
    """Return a file name's ending, lower case, checked.

    Raises
    ------
    BadInput
        If there is none, or stitches are not read from that kind.
    """
    stem, dot, ending = name.rpartition(".")
    ending = ending.lower()
    if not dot or not stem:
        raise BadInput(
            "the file's name has no ending, so its kind is unknown.",
            where=name,
            remedy="Give it the ending of its kind, such as .dst or .pes.",
            code="file-kind",
        )
    if ending in NO_JUMPS:
        raise BadInput(
            f".{ending} files cannot tell jumps from stitches, so thread cannot be computed.",
            where=name,
            remedy="Save it as an embroidery kind, such as .dst or .pes.",
            code="file-kind",
        )
    if ending in PICTURES:
        raise BadInput(
            f"a {'PDF' if ending == 'pdf' else 'picture'} holds no stitches.",
            where=name,
            remedy="Have it digitised; until then type about how many stitches under Count, or the "
            "words under Words: both give a price, marked as an estimate.",
            code="file-picture",
        )
    if ending in TABLES:
        raise BadInput(
            "a table holds no stitches.",
            where=name,
            remedy="A list of names and sizes goes into Paste a list, under Sizes and colours.",
            code="file-table",
        )
    if ending not in readable_kinds():
        raise BadInput(
            f".{ending[:12]} is no kind of stitch file that is read here.",
            where=name,
            remedy=f"Read are: {', '.join(readable_kinds())}.",
            code="file-kind",
        )
    return ending


def check_beginning(data: bytes, kind: str, name: str) -> None:
    """Refuse a file that is empty, too large, or begins as another kind does.

    Raises
    ------
    BadInput
        Names the kind that it seems to be.
    """
    if not data:
        raise BadInput("the file is empty.", where=name, remedy="Save it again.", code="file-empty")
    if len(data) > MAX_FILE_BYTES:
        raise BadInput(
            f"the file has {len(data) / 1048576:.0f} MB; 20 MB is the most.",
            where=name,
            remedy="Save the stitches only, without pictures.",
            code="file-huge",
        )
    for other, starts in BEGINS.items():
        if data.startswith(starts) and other != kind:
            if {kind, other} <= {"pec", "pes"}:
                continue
            raise BadInput(
                f"the file is named .{kind} but begins like a .{other}.",
                where=name,
                remedy=f"Rename it to .{other} if that is what it is.",
                code="file-misnamed",
            )
    foreign = next((what for begin, what in FOREIGN if data.lstrip(BLANK).startswith(begin)), None)
    if foreign:
        raise BadInput(
            f"the file is named .{kind} and is {foreign}.",
            where=name,
            remedy="Choose the stitch file, not a picture or a parcel of it.",
            code="file-misnamed",
        )
    if kind in BEGINS and not data.startswith(BEGINS[kind]):
        raise BadInput(
            f"the file does not begin as a .{kind} does.",
            where=name,
            remedy="Check its ending, or fetch it again.",
            code="file-misnamed",
        )
