"""How often a stop can be mended by one press: `python trials/remedies.py 300 [seed]`. Random moves of *Wren*'s parts and of a Mini-ITX set;
for each stop, whether one of its remedies clears it without a new stop."""

from __future__ import annotations

import sys
from collections import Counter
from pathlib import Path
from random import Random

sys.path.insert(0, str(Path(__file__).parents[1]))

from rhombex.core.analysis import analyse
from rhombex.core.apply import apply
from rhombex.core.concerns import judge
from rhombex.core.constructions import TwoHalves
from rhombex.core.design import Design, Shell
from rhombex.core.edits import FitCavity, Move, PlaceNew, Together
from rhombex.core.plain import DesignError
from rhombex.core.shop_edits import apply_shop
from rhombex.core.workshop.sample import ARCHIVE_WORKSHOP
from rhombex.demo.scenario import wren
from tests.conftest import mended


def itx() -> Design:
    """A Mini-ITX board with a low cooler, a small supply and a fan, walled in."""
    d = Design(
        name="Set", shell=Shell(inner_mm=(260, 260, 110), construction=TwoHalves(joint_mm=98)), printer="bench-300"
    )
    for key in ("board-mini-itx", "cooler-95x37", "supply-sfx", "fan-120x15"):
        d = apply(d, PlaceNew(component=key))
    return apply(d, FitCavity())


def moved(d: Design, r: Random) -> Design:
    """One to three things somewhere else."""
    for _ in range(r.randint(1, 3)):
        p = r.choice(d.placements)
        by = [r.gauss(0, 18), r.gauss(0, 18), r.choice([0, 0, r.gauss(0, 4)])]
        try:
            d = apply(d, Move(id=p.id, to_mm=tuple(round(a + b, 1) for a, b in zip(p.at_mm, by, strict=True))))  # type: ignore[arg-type]
        except DesignError:
            continue
    return d


def main(n: int, seed: int) -> None:
    r = Random(seed)
    starts = [mended(wren()), itx()]
    stops: Counter[str] = Counter()
    good: Counter[str] = Counter()
    bare: Counter[str] = Counter()
    first: Counter[str] = Counter()
    for k in range(n):
        d = moved(starts[k % 2], r)
        before = judge(analyse(d, ARCHIVE_WORKSHOP, "preview"))
        had = {f.key for f in before if f.severity == "stop"}
        for f in before:
            if f.severity != "stop":
                continue
            stops[f.code] += 1
            bare[f.code] += not f.remedies
            for i, x in enumerate(f.remedies):
                shop = ARCHIVE_WORKSHOP
                try:
                    for e in x.shop:
                        shop = apply_shop(shop, e)
                    after = judge(analyse(apply(d, Together(edits=x.edits)), shop, "preview"))
                except DesignError:
                    continue
                now = {g.key for g in after if g.severity == "stop"}
                if f.key not in {g.key for g in after} and not now - had:
                    good[f.code] += 1
                    first[f.code] += i == 0
                    break
    for code in sorted(stops):
        print(
            f"{code:24} {stops[code]:5} stops, {good[code]:5} mended, {first[code]:5} by the first, {bare[code]:5} with none"
        )
    total = sum(stops.values())
    print(f"{total} stops of {n} designs: {sum(good.values())} mended by one press, {sum(good.values()) / total:.1%}")


if __name__ == "__main__":
    main(int(sys.argv[1]), int(sys.argv[2]) if len(sys.argv) > 2 else 1)
