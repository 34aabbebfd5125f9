"""The ways to make a case, as a document says them: a tagged union. `core/shell/<kind>.py` builds each."""

from __future__ import annotations

from typing import Annotated, Literal, Self

from pydantic import Field

from rhombex.core.trail import Frozen

Holding = Literal["insert", "cut in plastic"]


class TwoHalves(Frozen):
    """Base and lid that meet in tongue and groove, `joint_mm` above the inner floor, held by screws through the lid.

    `lid_screw_mm` of None lets the stack choose the screws' length.
    """

    kind: Literal["two halves"] = "two halves"
    joint_mm: Annotated[float, Field(gt=0, le=2000)]
    joint_thread: Holding = "insert"
    lid_screw_mm: Annotated[float, Field(gt=0, le=100)] | None = None

    def raised(self, by_mm: float, high_mm: float) -> Self:
        """The same where the top moves by so much and the cavity becomes so high: the lid keeps its depth, so that openings under
        the joint keep their distance to it."""
        joint = min(max(self.joint_mm + by_mm, 0.5), max(high_mm - 0.5, 0.25))
        return self.model_copy(update={"joint_mm": round(joint, 3)})

    def check(self, high_mm: float) -> None:
        """Raises ValueError where this cannot stand in a cavity so high."""
        if self.joint_mm >= high_mm:
            raise ValueError(
                f"shell.construction.joint_mm: the joint at {self.joint_mm:g} mm must lie below the cavity's top at {high_mm:g} mm"
            )


class LoosePanels(Frozen):
    """Panels that are printed for a case that is joined by hand: nothing stands round the components yet."""

    kind: Literal["loose panels"] = "loose panels"

    def raised(self, by_mm: float, high_mm: float) -> Self:
        """Panels know no height."""
        return self

    def check(self, high_mm: float) -> None:
        """Panels stand in any room."""


Construction = Annotated[TwoHalves | LoosePanels, Field(discriminator="kind")]
