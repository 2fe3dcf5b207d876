"""Days and moments as documents have them: ISO, and such that there are."""

from __future__ import annotations

from datetime import date, datetime
from typing import Annotated

from pydantic import AfterValidator, StringConstraints, ValidationInfo

KEPT = {"kept": True}
"""The context in which what is kept already is read: what was let in once never shuts a page."""


def real_day(text: str, info: ValidationInfo) -> str:
    """Return an ISO day as it is, or "" for none.

    Raises
    ------
    ValueError
        If the calendar has no such day.
    """
    if text and not (info.context and info.context.get("kept")):
        try:
            date.fromisoformat(text)
        except ValueError:
            raise ValueError("is no day of the calendar") from None
    return text


def real_moment(text: str) -> str:
    """Return an ISO moment as it is.

    Raises
    ------
    ValueError
        If there is no such moment.
    """
    try:
        datetime.fromisoformat(text)
    except ValueError:
        raise ValueError("is no moment that there is") from None
    return text


SetDay = Annotated[str, StringConstraints(pattern=r"^\d{4}-\d{2}-\d{2}$"), AfterValidator(real_day)]
"""A day."""

Day = Annotated[str, StringConstraints(pattern=r"^(\d{4}-\d{2}-\d{2})?$"), AfterValidator(real_day)]
"""A day, or "" for none."""

Moment = Annotated[
    str,
    StringConstraints(pattern=r"^\d{4}-\d\d-\d\dT\d\d:\d\d:\d\d(\.\d{1,6})?(Z|\+00:00)$"),
    AfterValidator(real_moment),
]
"""A moment, in UTC."""
