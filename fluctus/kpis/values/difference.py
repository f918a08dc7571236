"""Values that come in, beside those that are there."""

from dataclasses import dataclass, replace

import polars as pl

from fluctus.http.shapes import Shape
from fluctus.kpis.models import Kpi
from fluctus.kpis.observations.frame import CONTENT, FRAME, KEY
from fluctus.kpis.observations.reading import read_frame


@dataclass(frozen=True, slots=True)
class Counts(Shape):
    """How many values that come in are new, changed and the same, and how many do not come."""

    new: int
    changed: int
    same: int
    missing: int
    typed: int = 0
    """Those that would change, and stay as a person has typed them."""


@dataclass(frozen=True, slots=True)
class Difference:
    """Values that come in beside those that are ``present``; ``missing`` are and do not come."""

    present: pl.DataFrame
    new: pl.DataFrame
    changed: pl.DataFrame
    same: pl.DataFrame
    missing: pl.DataFrame

    kept_typed: int = 0
    """Values that would change, and stay as a person has typed them."""

    def without_typed(self) -> "Difference":
        """Return the same but for changes of values that a person has typed, which stay."""
        typed = self.present.filter("typed").select(KEY)
        changed = self.changed.join(typed, on=KEY, how="anti", maintain_order="left")
        return replace(self, changed=changed, kept_typed=self.changed.height - changed.height)

    def counts(self) -> Counts:
        """How many of each."""
        return Counts(
            self.new.height,
            self.changed.height,
            self.same.height,
            self.missing.height,
            self.kept_typed,
        )

    def merged(self, *, changed: bool = True, missing: bool = True) -> pl.DataFrame:
        """Return all values with everything new, what has ``changed``, and what is ``missing``.

        Where these are False, what has changed stays as it was, and what is missing goes.
        """
        kept = self.present if missing else self.present.join(self.missing, on=KEY, how="anti")
        if changed:
            kept = kept.join(self.changed, on=KEY, how="anti")
        return pl.concat([kept, *([self.changed] if changed else []), self.new]).sort(KEY)


def compare(kpi: Kpi, incoming: pl.DataFrame) -> Difference:
    """Tell what is new, changed, the same and missing in a frame of values.

    A changed value keeps its reason for being set aside, and its note where
    none comes in.
    """
    present = read_frame(kpi)
    if present.is_empty():
        nothing = incoming.clear()
        return Difference(nothing, incoming, nothing, nothing, nothing)
    old = present.rename({name: f"old_{name}" for name in present.columns if name not in KEY})
    both = incoming.join(old, on=KEY, how="inner", maintain_order="left")
    kept = pl.when(pl.col("note") == "").then(pl.col("old_note")).otherwise(pl.col("note"))
    both = both.with_columns(
        kept.alias("note"),
        pl.col("old_set_aside").alias("set_aside"),
        pl.col("old_reason").alias("reason"),
    )
    equal = pl.all_horizontal(
        *(pl.col(name).eq_missing(pl.col(f"old_{name}")) for name in CONTENT),
        pl.col("note") == pl.col("old_note"),
        pl.col("rows") == pl.col("old_rows"),
    )
    columns = list(FRAME)
    return Difference(
        present=present.select(columns),
        new=incoming.join(present, on=KEY, how="anti", maintain_order="left"),
        changed=both.filter(~equal).select(columns),
        same=both.filter(equal).select(columns),
        missing=present.join(incoming, on=KEY, how="anti", maintain_order="left").select(columns),
    )
