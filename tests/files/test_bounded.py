"""Calendars and photos from outside: read in the guarded process, in bounded time and memory."""

import io
import threading
import time

import pytest
from PIL import Image

from clothyard.core.errors import BadInput
from clothyard.files.calendars import read_days
from clothyard.files.guarded import GuardedReader
from clothyard.files.photos import PHOTO_PX, small_photo

MONDAY = "2026-05-04"


def ics(*events: str) -> bytes:
    body = "".join(f"BEGIN:VEVENT\r\n{each}\r\nEND:VEVENT\r\n" for each in events)
    return f"BEGIN:VCALENDAR\r\nVERSION:2.0\r\nPRODID:x\r\n{body}END:VCALENDAR\r\n".encode()


@pytest.fixture(scope="module")
def reader():
    """A reading process that is given two seconds."""
    found = GuardedReader(2.0)
    found.warm()
    yield found
    found.close()


@pytest.mark.parametrize(
    "rule",
    ["FREQ=DAILY;INTERVAL=0", "FREQ=MINUTELY", "FREQ=SECONDLY;BYSECOND=1,2", "FREQ=HOURLY;COUNT=9"],
)
def test_a_rule_that_never_ends_or_goes_by_the_minute_names_its_first_day(rule):
    data = ics(f"DTSTART;VALUE=DATE:20260506\r\nRRULE:{rule}\r\nSUMMARY:Busy")
    assert [each.day for each in read_days(data, from_day=MONDAY)] == ["2026-05-06"]


def test_rules_by_the_day_are_followed_as_before():
    data = ics("DTSTART;VALUE=DATE:20260501\r\nRRULE:FREQ=WEEKLY;INTERVAL=2;COUNT=3\r\nSUMMARY:Off")
    assert [each.day for each in read_days(data, from_day=MONDAY)] == ["2026-05-15", "2026-05-29"]


def test_a_calendar_that_takes_for_ever_is_told_and_the_next_file_is_read(reader):
    rules = [
        f"DTSTART;VALUE=DATE:1000010{1 + n % 9}\r\n"
        "RRULE:FREQ=YEARLY;BYMONTH=2;BYMONTHDAY=30\r\nSUMMARY:Never"
        for n in range(2000)
    ]
    start = time.monotonic()
    with pytest.raises(BadInput, match="the calendar takes too much time"):
        reader.days(ics(*rules), from_day=MONDAY)
    assert time.monotonic() - start < 30  # two seconds, and what this machine is busy with
    plain = ics("DTSTART;VALUE=DATE:20260506\r\nSUMMARY:Off")
    assert [each.day for each in reader.days(plain, from_day=MONDAY)] == ["2026-05-06"]


def picture(width: int, height: int, kind: str = "PNG", **options) -> bytes:
    held = io.BytesIO()
    Image.new("RGB", (width, height), "#1d3b6f").save(held, kind, **options)
    return held.getvalue()


@pytest.mark.parametrize("size", [(5001, 5000), (8900, 8900)])
def test_a_photo_of_more_than_25_megapixels_is_refused_by_its_size(size):
    with pytest.raises(BadInput, match=f"{size[0]} × {size[1]} pixels"):
        small_photo(picture(*size), "photo")


def test_photos_are_made_small_and_lose_what_was_noted(reader):
    exif = Image.Exif()
    exif[0x010E] = "where it was taken"
    exif[0x0112] = 6  # lies on its side
    small = reader.photo(picture(4000, 3000, "JPEG", exif=exif))
    with Image.open(io.BytesIO(small)) as kept:
        assert kept.size == (PHOTO_PX * 3 // 4, PHOTO_PX)
        assert dict(kept.getexif()) == {}
    assert b"where it was" not in small


def test_many_photos_at_once_are_read_one_after_the_other(reader):
    data, found = picture(5000, 5000, "JPEG"), []
    threads = [threading.Thread(target=lambda: found.append(reader.photo(data))) for _ in range(6)]
    for thread in threads:
        thread.start()
    for thread in threads:
        thread.join()
    assert len(found) == 6
    assert len(set(found)) == 1


@pytest.mark.parametrize(
    "data", [b"", b"\xff\xd8\xff\xe0", picture(9, 9)[:40], b"GIF89a" + bytes(9)]
)
def test_what_is_no_photo_is_told(reader, data):
    with pytest.raises(BadInput, match="no photo"):
        reader.photo(data)
