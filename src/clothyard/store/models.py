"""Tables of a shop's database."""

from __future__ import annotations

from sqlalchemy import MetaData, Text
from sqlalchemy.orm import DeclarativeBase, Mapped, mapped_column

NAMING = {
    "ix": "ix_%(column_0_label)s",
    "uq": "uq_%(table_name)s_%(column_0_name)s",
    "ck": "ck_%(table_name)s_%(constraint_name)s",
    "fk": "fk_%(table_name)s_%(column_0_name)s_%(referred_table_name)s",
    "pk": "pk_%(table_name)s",
}


class Base(DeclarativeBase):
    """All tables; every constraint is named by convention."""

    metadata = MetaData(naming_convention=NAMING)


class StandardChange(Base):
    """A default that the shop has changed: dotted key, JSON value."""

    __tablename__ = "standard_change"

    key: Mapped[str] = mapped_column(Text, primary_key=True)
    value: Mapped[str] = mapped_column(Text)
    changed_on: Mapped[str] = mapped_column(Text)


class DesignFile(Base):
    """A stitch file kept by its content hash, and its facts as JSON."""

    __tablename__ = "design_file"

    sha256: Mapped[str] = mapped_column(Text, primary_key=True)
    name: Mapped[str] = mapped_column(Text)
    size_bytes: Mapped[int]
    facts: Mapped[str] = mapped_column(Text)
    added_on: Mapped[str] = mapped_column(Text, index=True)
