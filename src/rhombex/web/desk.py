"""What the server has at hand: designs and workshop, the last analyses, the recipes behind the meshes that windows look at."""

from __future__ import annotations

from collections.abc import Callable
from threading import RLock

from rhombex.core.advice.beside import Extents
from rhombex.core.apply import apply
from rhombex.core.concerns import Finding
from rhombex.core.design import Design
from rhombex.core.edits import Edit, Together
from rhombex.core.faults import Faults
from rhombex.core.geometry.recipe import Solid
from rhombex.core.looked import Look, look, look_bare, rough, roughly, with_all
from rhombex.core.memo import Memo, MemoOfThese
from rhombex.core.plan.tally import tally
from rhombex.core.progress import Stopped, at_once, giving_way
from rhombex.core.versions import Difference, differences
from rhombex.core.workshop.workshop import Workshop
from rhombex.store.designs import Designs, State
from rhombex.store.workshops import Workshops
from rhombex.web.hand import Hand
from rhombex.web.look import view_of
from rhombex.web.views import StateOut, View

KEPT_SUMS = 8  # of analyses, which are kept as long
KEPT_EXTENTS = 50  # designs
KEPT_RECIPES = 1500  # small trees; with fewer, fifty windows drove one another's out


class Desk:
    """Analyses at hand, and the recipes behind the meshes that windows ask for."""

    def __init__(self, designs: Designs, workshops: Workshops) -> None:
        self.designs = designs
        self.workshops = workshops
        self.recipes: Memo[str, Solid] = Memo(KEPT_RECIPES)
        self.hand = Hand()
        # what two windows ask for at once is worked out once
        self._quick, self._settling, self._leisure = RLock(), RLock(), RLock()
        self._newest: dict[str, int] = {}  # versions of designs that were answered with
        self._summed: MemoOfThese[dict[str, float]] = MemoOfThese(KEPT_SUMS)  # of analyses that others are held against
        self._extents: Memo[str, tuple[int, Extents]] = Memo(KEPT_EXTENTS)  # how far their parts went then

    def look(self, design: Design, quick: bool = True, way: Callable[[], None] | None = None) -> Look:
        """The analysis of a design and what is thought of it.

        quick: hours that are not settled yet are told at the level of the preview, and concerns without the remedies that take a search. A hand waits
        for that, so that settled ones give way to it between their steps; `way` is asked there instead, and may raise Stopped.
        """
        return self._look(design, self.workshops.read()[1], quick, way)

    def _look(self, design: Design, shop: Workshop, quick: bool, way: Callable[[], None] | None = None) -> Look:
        if quick:
            with self.hand.moves(), self._quick, giving_way(at_once):
                return self._kept(look_bare(design, shop, "best known"))
        with self._settling, giving_way(way or self.hand.rests):
            return self._kept(look(design, shop, "settled"))

    def at_leisure(self, design: Design) -> Look:
        """The same as a hand gets at once, for the shelf, which can wait: it gives way to hands between its steps."""
        with self._leisure, giving_way(self.hand.rests):
            return self._kept(look_bare(design, self.workshops.read()[1], "best known"))

    def _kept(self, found: Look) -> Look:
        a = found[0]
        for r in (*a.piece_recipes.values(), *a.pieces_in_case.values(), *(a.recipes[x.part] for x in a.sheets)):
            self.recipes.put(r.digest, r)
        return found

    def concerns(self, s: State) -> tuple[Finding, ...]:
        """What is thought of a design as its hours are known, with all remedies. Raises Stopped once it has changed."""
        with giving_way(self.way(s)):
            return look(s.design, self.workshops.read()[1], "best known")[1]

    def way(self, s: State) -> Callable[[], None]:
        """How work for a state gives way: it waits for hands, and raises Stopped once the design has changed."""

        def asked() -> None:
            self.hand.rests()
            if self._newest.get(s.id, 0) > s.version:
                raise Stopped

        return asked

    def settled(self, s: State) -> StateOut:
        """A design with settled hours. What has been changed meanwhile is answered with as it is now, its hours not settled yet."""
        try:
            self.look(s.design, False, self.way(s))
        except Stopped:
            return self.state(self.designs.state(s.id))
        return self.state(s, False)

    def recipe(self, digest: str) -> Solid | None:
        """The recipe behind a mesh that a window asks for; one that is asked for stays at hand."""
        return self.recipes.get(digest)

    def _sums(
        self, design: Design, shop: Workshop, quick: bool, parts: frozenset[str] = frozenset()
    ) -> dict[str, float]:
        """What a design measures, as another is held against it whose hours of some parts are those of the preview."""
        a = self._look(design, shop, quick)[0]

        def work() -> dict[str, float]:
            with self.hand.moves(), self._quick, giving_way(at_once):
                return {t.key: t.trail.value for t in tally(roughly(a, parts))}

        return self._summed.make((a,), parts, work)

    def tried(self, s: State, edits: tuple[Edit, ...]) -> StateOut:
        """What a design would be after some edits, its numbers against those of now. Nothing is kept. Raises DesignError where they are refused."""
        return self._instead(s, apply(s.design, Together(edits=edits)))

    def refuse_beside(self, id: str, version: int, edits: tuple[Edit, ...]) -> None:
        """Raises DesignError where edits of cuts put one beside its part, in a design as it was answered with last. What another
        window changed meanwhile is not looked at: such an edit is not taken anyway."""
        known = self._extents.get(id)
        if known is None or known[0] != version:
            now = self.designs.state(id)
            known = (now.version, Extents.of(self.look(now.design)[0]))
        if known[0] == version:
            known[1].refuse_beside(edits)

    def beside(self, s: State, other: Design) -> tuple[StateOut, tuple[Difference, ...]]:
        """Another design, its numbers against those of this one, and what is different. Nothing is kept."""
        return self._instead(s, other), differences(*self.look(s.design), *self.look(other))

    def _instead(self, s: State, design: Design) -> StateOut:
        shop = self.workshops.read()[1]
        found = self._look(design, shop, True)
        view = _view(design, shop, found, self._sums(s.design, shop, True, rough(found[0])))
        return StateOut(
            id=s.id,
            version=s.version,
            revision=s.revision,
            said=s.said,
            can_undo=False,
            can_redo=False,
            design=design,
            view=view,
        )

    def state(self, s: State, quick: bool = True) -> StateOut:
        self._newest[s.id] = max(s.version, self._newest.get(s.id, 0))
        shop = self.workshops.read()[1]  # once: another window may change it meanwhile
        found = self._look(s.design, shop, quick)
        self._extents.put(s.id, (s.version, Extents.of(found[0])))
        kept = self.designs.kept(s.id)
        nothing: dict[str, float] = {}
        before = nothing
        if kept is not None:
            before = Faults().attempt("stage", "", lambda: self._sums(kept, shop, quick, rough(found[0])), nothing)
        return StateOut(
            id=s.id,
            version=s.version,
            revision=s.revision,
            said=s.said,
            can_undo=s.can_undo,
            can_redo=s.can_redo,
            design=s.design,
            view=_view(s.design, shop, found, before),
        )


def _view(design: Design, shop: Workshop, found: Look, before: dict[str, float]) -> View:
    return view_of(*found, before, with_all(design, shop, "best known") is found)
