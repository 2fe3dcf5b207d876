"""An order's version, opened: its job, the house of its price, and its work as it was kept."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from contextlib import suppress
from typing import Any

from clothyard.core.errors import BadInput, ClothyardError
from clothyard.core.estimate.document import Estimate
from clothyard.core.estimate.make import settled
from clothyard.core.estimate.upgrade import upgraded
from clothyard.core.house.check import kept_house
from clothyard.core.house.document import House
from clothyard.core.house.learnt import unlearnt
from clothyard.core.job.check import job_from
from clothyard.core.job.document import Job
from clothyard.core.plan.units import Unit, behind_waits, read_units, units_text, work_units
from clothyard.core.record import record
from clothyard.core.stock.needs import Need, needs_of
from clothyard.core.work.document import Work
from clothyard.services.quotes.estimates import work_job
from clothyard.store.order_work import KeptWork, find_work
from clothyard.store.quotes import KeptVersion, find_house, find_version
from clothyard.store.shop import Shop


@record
class Opened:
    """An order's version, read.

    Attributes
    ----------
    version : KeptVersion
    house : House
        Its price was made with.
    asked, job : Job
        As it was sent, and settled.
    changed : House
        As the job changes it.
    work, plain : Work or None
        What is done, and with every learnt factor at 1; None where it cannot be told.
    units : tuple of Unit
        Of its work, without what it waits for.
    unready : str
        Why its work cannot be told, "" where it can.
    """

    version: KeptVersion
    house: House
    asked: Job
    job: Job
    changed: House
    work: Work | None
    plain: Work | None
    units: tuple[Unit, ...]
    unready: str

    @property
    def estimate(self) -> Estimate:
        """Its figures, as they were sent."""
        return Estimate.model_validate(self.version.estimate)

    @property
    def figures(self) -> Mapping[str, Any]:
        """The same as a plain document, as this release writes it."""
        found: Mapping[str, Any] = upgraded(self.version.estimate)
        return found

    @property
    def lines(self) -> list[dict[str, Any]]:
        """The lines of its figures."""
        return list(self.figures.get("lines", []))

    def needs(self) -> list[Need]:
        """List what it needs of the shelf, each item once."""
        if self.work is None:
            return []
        own = frozenset(x.id for x in self.job.lines if x.goods.supplied_by == "customer")
        return needs_of(self.work, self.changed, customers=own)

    def waiting(self, waits: Sequence[tuple[str, str, str]]) -> list[Unit]:
        """List its units behind what it waits for: (id, label, until), ISO day or ""."""
        return behind_waits(self.units, waits)

    def whole(self) -> Work:
        """Return its work.

        Raises
        ------
        BadInput
            order-unready, where it cannot be told.
        """
        if self.work is None:
            raise BadInput(self.unready, where="order", code="order-unready")
        return self.work


def worked_out(shop: Shop, asked: Job, house: House) -> KeptWork:
    """Work out what is kept with a version: its work, the same unlearnt, its units.

    What cannot be told says why: its file is gone, or this release reads it otherwise.
    """
    try:
        job, changed = settled(asked, house)
        work = work_job(shop, asked, house)
        other = unlearnt(house)
        plain = work if other == house else work_job(shop, asked, other)
    except ClothyardError as error:
        return KeptWork(None, None, units_text(()), f"{error.message} {error.remedy}".strip())
    washed = [line.id for line in job.lines if line.sample and line.sample.wash]
    return KeptWork(work, plain, units_text(work_units(work, changed, washed=washed)), "")


def sent_house(shop: Shop, sha256: str) -> House:
    """Return a house that a version was priced with: read once, it never changes."""
    return shop.remembered.get(("house", sha256), lambda: kept_house(find_house(shop, sha256)))


def open_version(shop: Shop, order_id: int, version: int) -> Opened:
    """Open an order's version: read once, it never changes.

    Raises
    ------
    NotFound
    """
    key = ("opened", order_id, version)
    return shop.remembered.get(key, lambda: _open(shop, order_id, version))


def _open(shop: Shop, order_id: int, version: int) -> Opened:
    found = find_version(shop, order_id, version)
    house = sent_house(shop, found.house_sha256)
    asked = job_from(found.job, currency=found.estimate.get("currency", "GBP"))
    kept = find_work(shop, order_id, version) or worked_out(shop, asked, house)
    return opened_of(found, asked, house, kept)


def opened_of(version: KeptVersion, asked: Job, house: House, kept: KeptWork) -> Opened:
    """Open a version of which all is at hand."""
    job, changed = asked, house
    with suppress(ClothyardError):  # told as unready
        job, changed = settled(asked, house)
    return Opened(
        version=version,
        house=house,
        asked=asked,
        job=job,
        changed=changed,
        work=kept.work,
        plain=kept.plain,
        units=read_units(kept.units),
        unready=kept.unready,
    )
