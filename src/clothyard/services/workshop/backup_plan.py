"""Backups by themselves: every so many days, copied to a folder elsewhere, so many kept."""

from __future__ import annotations

import logging
import os
import shutil
from datetime import datetime, timedelta
from pathlib import Path

from pydantic import BaseModel, ConfigDict, Field

from clothyard.core.errors import BadInput, ClothyardError
from clothyard.services.workshop.backups import SCHEDULED, scheduled_backup
from clothyard.store.disk import unkept
from clothyard.store.settings import read_setting, write_setting
from clothyard.store.shop import WORK, Shop, now

PLAN, DONE = "backup-plan", "backup-done"
log = logging.getLogger(__name__)


class BackupPlan(BaseModel):
    """How the shop backs itself up: every so many days (0 never), so many kept, and where else."""

    model_config = ConfigDict(extra="forbid")

    every_days: int = Field(default=0, ge=0, le=365)
    keep: int = Field(default=10, ge=1, le=1000)
    folder: str = Field(default="", max_length=1000)


class PlanView(BackupPlan):
    """The plan, when it was last done, when it is due, and what went wrong then."""

    last_on: str
    next_on: str
    trouble: str


def read_plan(shop: Shop) -> PlanView:
    """Return how the shop backs itself up."""
    plan = BackupPlan.model_validate(read_setting(shop, PLAN) or {})
    done = read_setting(shop, DONE) or {}
    last = str(done.get("on", ""))
    due = ""
    if plan.every_days:
        due = _after(last, plan.every_days) if last else now()
    return PlanView(
        **plan.model_dump(), last_on=last, next_on=due, trouble=str(done.get("trouble", ""))
    )


def _after(moment: str, days: int) -> str:
    return (datetime.fromisoformat(moment) + timedelta(days=days)).isoformat(timespec="seconds")


def change_plan(shop: Shop, plan: BackupPlan) -> PlanView:
    """Keep how the shop backs itself up, and do it at once where it is due.

    Raises
    ------
    BadInput
        If the folder is none that can be written to, or the shop's own.
    """
    folder = plan.folder.strip()
    if folder:
        _check_folder(shop, Path(folder))
    with shop.unit() as unit:
        write_setting(unit, PLAN, plan.model_copy(update={"folder": folder}).model_dump())
    back_up_if_due(shop)
    return read_plan(shop)


def _check_folder(shop: Shop, folder: Path) -> None:
    def bad(why: str, remedy: str) -> BadInput:
        return BadInput(
            f"{str(folder)[:200]!r} {why}.", where="folder", remedy=remedy, code="backup-folder"
        )

    if not folder.is_absolute():
        raise bad("is no whole path", "Write it from the root, such as /media/stick/backups.")
    if not folder.is_dir():
        raise bad("is no folder here", "Make it first, or plug in what it is on.")
    own = shop.folder.resolve()
    if own == folder.resolve() or own in folder.resolve().parents:
        raise bad("is the shop's own", "Name one on another disk: that is what it is for.")
    if not os.access(folder, os.W_OK | os.X_OK):
        raise bad("cannot be written to", "Let this user write there, or name another.")


def back_up_if_due(shop: Shop) -> bool:
    """Make a backup where the plan says that one is due, copy it, and let old ones go.

    What goes wrong is kept as the plan's trouble and tried again: a copy that did not come to
    where it belongs each time that it is looked, also where another folder was named meanwhile.

    Returns
    -------
    bool
        Whether something was to be done.
    """
    plan, done = read_plan(shop), read_setting(shop, DONE) or {}
    made = shop.folder / "backups" / str(done.get("made", ""))
    due = bool(plan.every_days) and plan.next_on <= now()
    uncopied = bool(plan.folder) and made.is_file() and done.get("copied_to") != plan.folder
    if not due and not uncopied:
        return False
    found = {"on": plan.last_on, "trouble": "", "made": made.name, "copied_to": ""}
    try:
        if due:
            made = scheduled_backup(shop)
            found |= {"on": now(), "made": made.name}
            _let_go(made.parent, plan.keep)
        if plan.folder:
            folder = Path(plan.folder)
            _check_folder(shop, folder)
            _copy(made, folder)
            _let_go(folder, plan.keep)
            found["copied_to"] = plan.folder
    except (ClothyardError, OSError) as error:
        found["trouble"] = _trouble(error)
        log.warning("backup: %s", found["trouble"])
    if found != done:
        with shop.unit() as unit:
            write_setting(unit, DONE, found)
    return True


def _trouble(error: ClothyardError | OSError) -> str:
    if isinstance(error, ClothyardError):
        return error.line()
    known = unkept(error)
    return known.line() if known else f"the copy was not written ({error.strerror or error})."


def _copy(made: Path, folder: Path) -> None:
    """Copy a backup to a folder; it appears there only when whole."""
    part = folder / f"{WORK}{made.name}"
    try:
        shutil.copyfile(made, part)
        part.replace(folder / made.name)
    finally:
        part.unlink(missing_ok=True)


def _let_go(folder: Path, keep: int) -> None:
    """Remove the oldest backups that the plan made; those made by hand stay."""
    made = sorted(folder.glob(f"backup-*{SCHEDULED}.zip"), key=lambda path: path.name)
    for path in made[:-keep]:
        path.unlink(missing_ok=True)
