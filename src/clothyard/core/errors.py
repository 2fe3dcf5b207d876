"""One family of errors, each with a stable code, the place, and the remedy."""

from __future__ import annotations

from collections.abc import Iterable
from difflib import get_close_matches


class ClothyardError(Exception):
    """An error that can be told to a seller.

    Parameters
    ----------
    message : str
        What happened, a plain sentence.
    where : str
        The place in the input, as a path ("lines[0].quantity") or a file's name; "" if none.
    remedy : str
        What to do about it.
    code : str
        Stable, lower case, hyphened.
    bare : str
        What is said instead where costs are hidden; "" where the message tells none.
    """

    def __init__(
        self,
        message: str,
        *,
        where: str = "",
        remedy: str = "",
        code: str = "error",
        bare: str = "",
    ):
        super().__init__(message)
        self.message = message
        self.bare = bare
        self.where = where
        self.remedy = remedy
        self.code = code

    def line(self) -> str:
        """Return the whole error as one line: where, what, what to do."""
        text = f"{self.where}: {self.message}" if self.where else self.message
        return " ".join(f"{text} {self.remedy}".split())


class BadInput(ClothyardError):
    """Input that cannot be read or lies outside its range: nothing is computed."""


class OutOfRange(BadInput):
    """A number outside the range that makes sense."""


class TooLarge(BadInput):
    """A file or a document over its size limit."""


class NotFound(ClothyardError):
    """Something asked for by an id that is not kept here."""


class Conflict(ClothyardError):
    """What is asked cannot be done in the present state; nothing has changed."""


class Stale(ClothyardError):
    """A write based on an older revision than the one that is kept.

    Parameters
    ----------
    kept : object
        The document as it is now, so that both can be shown.
    yours : object
        The document that came too late.
    """

    def __init__(
        self, message: str, *, kept: object, yours: object = None, where: str = "", remedy: str = ""
    ):
        super().__init__(message, where=where, remedy=remedy, code="stale")
        self.kept = kept
        self.yours = yours


class Unkept(ClothyardError):
    """The disk or the database did not keep what was asked: what was there is as it was."""


class Busy(ClothyardError):
    """Too much is asked at once.

    Parameters
    ----------
    after_s : int
        When it is worth asking again. [s]
    """

    def __init__(self, message: str, *, after_s: int, remedy: str = "", code: str = "busy"):
        super().__init__(message, remedy=remedy, code=code)
        self.after_s = after_s


class RevisionNeeded(ClothyardError):
    """A write that does not say which revision it is based on."""


class Refused(ClothyardError):
    """A request from a place that is not trusted."""


class SeveralBadInputs(BadInput):
    """More than one bad field in one document; the first speaks for all.

    Parameters
    ----------
    problems : sequence of BadInput, at least one
    """

    def __init__(self, problems: Iterable[BadInput]):
        self.problems = list(problems)
        first = self.problems[0]
        super().__init__(first.message, where=first.where, remedy=first.remedy, code=first.code)


def unknown_id(value: str, known: Iterable[str], *, where: str, what: str) -> BadInput:
    """Build the error for an id that the shop does not have, naming the nearest that it has.

    Parameters
    ----------
    value : str
        As it came, or as worked out.
    known : Iterable[str]
        What there is.
    where : str
        Its place in the job, for errors.
    what : str
        What sort of thing it is, in a word.

    Returns
    -------
    BadInput
    """
    names = list(known)
    near = get_close_matches(value, names, n=1, cutoff=0.4)
    remedy = f"Did you mean {near[0]!r}?" if near else f"Known: {', '.join(sorted(names)[:12])}."
    return BadInput(f"unknown {what} {value!r}.", where=where, remedy=remedy, code="unknown-id")
