"""Turning a document's validation errors into the trade's own errors."""

from __future__ import annotations

from collections.abc import Sequence
from difflib import get_close_matches
from typing import Any, get_args

from pydantic import BaseModel, ValidationError

from clothyard.core.errors import BadInput
from clothyard.core.units import NOT_A_NUMBER, NOT_WHOLE

_SAYS = {
    "missing": ("is needed.", "Add it.", "missing"),
    "int_type": ("must be a whole number.", "Enter digits only.", "not-a-number"),
    "int_from_float": ("must be a whole number.", "Enter digits only.", "not-a-number"),
    "float_type": ("must be a number.", "Enter digits only.", "not-a-number"),
    "finite_number": ("must be a finite number.", "Enter digits only.", "not-a-number"),
    "string_type": ("must be text.", "Put it in quotes.", "wrong-type"),
    "bool_type": ("must be true or false.", "", "wrong-type"),
    "model_type": ("must be an object.", "", "wrong-type"),
    "model_attributes_type": ("must be an object.", "", "wrong-type"),
    "dict_type": ("must be an object.", "", "wrong-type"),
    "tuple_type": ("must be a list.", "", "wrong-type"),
    "list_type": ("must be a list.", "", "wrong-type"),
}


_SUCH_AS = {
    NOT_A_NUMBER: "Enter digits, such as 6.40.",
    NOT_WHOLE: "Enter digits, such as 24.",
    "is too large": "Enter less.",
    "is too small": "Enter 0, or more.",
    "has too many digits": "Enter fewer digits.",
}


def path_text(parts: Sequence[int | str]) -> str:
    """Write a path as "lines[0].quantity"."""
    text = ""
    for part in parts:
        if isinstance(part, int):
            text += f"[{part}]"
        else:
            text += f".{part}" if text else part
    return text


def _field_names(model: type[BaseModel], parts: Sequence[int | str]) -> list[str]:
    """Return the keys that the object holding the last part of the path may have."""
    here: Any = model
    for part in parts[:-1]:
        if isinstance(part, int) or not hasattr(here, "model_fields"):
            continue
        found = here.model_fields.get(part) or next(
            (f for f in here.model_fields.values() if f.alias == part), None
        )
        here = found.annotation if found else None
        models = [here, *get_args(here)]
        models += [inner for outer in models for inner in get_args(outer)]
        here = next((m for m in models if isinstance(m, type) and issubclass(m, BaseModel)), None)
    if here is None or not hasattr(here, "model_fields"):
        return []
    return [field.alias or name for name, field in here.model_fields.items()]


def _one(error: Any, *, where: str, model: type[BaseModel]) -> BadInput:
    parts = [p for p in error["loc"] if not (isinstance(p, str) and p.startswith("function-"))]
    place = path_text(([where] if where else []) + parts)
    kind, context = error["type"], error.get("ctx", {})
    if kind == "extra_forbidden":
        names = _field_names(model, parts)
        near = get_close_matches(str(parts[-1]), names, n=1, cutoff=0.4)
        remedy = f"Did you mean {near[0]!r}?" if near else "Remove it."
        return BadInput("unknown key.", where=place, remedy=remedy, code="unknown-key")
    if kind in _SAYS:
        what, remedy, code = _SAYS[kind]
        return BadInput(what, where=place, remedy=remedy, code=code)
    if kind == "value_error":
        said, given = str(context["error"]), error["input"]
        remedy = _SUCH_AS.get(said, "")
        if remedy and isinstance(given, str) and given.strip():
            said = f"{said}, not {given.strip()[:40]!r}"
        return BadInput(f"{said}.", where=place, remedy=remedy, code="not-a-number")
    if kind == "literal_error":
        return BadInput(
            f"unknown choice {str(error['input'])[:60]!r}.",
            where=place,
            remedy=f"Choose {context['expected']}.",
            code="unknown-id",
        )
    limits = {
        "greater_than_equal": ("ge", "at least"),
        "greater_than": ("gt", "more than"),
        "less_than_equal": ("le", "at most"),
        "less_than": ("lt", "less than"),
    }
    if kind in limits:
        key, words = limits[kind]
        return BadInput(
            f"{str(error['input'])[:40]} is out of range.",
            where=place,
            remedy=f"Enter {words} {context[key]}.",
            code="out-of-range",
        )
    message = error["msg"].rstrip(".")
    return BadInput(f"{message[:1].lower()}{message[1:]}.", where=place, code="bad-value")


def bad_input_from(
    error: ValidationError, *, where: str = "", model: type[BaseModel]
) -> list[BadInput]:
    """Put each error of a document in one plain sentence, with its place and remedy.

    Parameters
    ----------
    error : ValidationError
    where : str
        Prefix for the paths.
    model : model class
        The document's, to name the nearest known key.
    """
    items = error.errors(include_url=False)
    return [
        _one(item, where=where, model=model)
        for item in items
        if item["type"] != "too_short" or not _has_worse(item["loc"], items)
    ]


def _has_worse(place: Sequence[int | str], items: Sequence[Any]) -> bool:
    """Whether a list is short only because its bad items were left out."""
    return any(
        len(item["loc"]) > len(place) and item["loc"][: len(place)] == place for item in items
    )
