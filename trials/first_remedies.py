"""What becomes of new cases whose maker presses the first remedy each time: `python trials/first_remedies.py 60 [seed] [presses] [weigh]`.

Random sets of components are taken from the library, walled in one way or another, drawn round, and mended: of the first concern that has a remedy
the first is pressed, unless it leads back to where the design has been; with `weigh` also of what is to be weighed, once no stop is left. Printed: how many end without, and for the others
what is left and whether they went round."""

from __future__ import annotations

import sys
import time
from collections import Counter
from pathlib import Path
from random import Random

sys.path.insert(0, str(Path(__file__).parents[1]))

from rhombex.core.advice.walls_round import walls_round
from rhombex.core.analysis import analyse
from rhombex.core.apply import apply
from rhombex.core.choices import made_so
from rhombex.core.concerns import Finding, judge
from rhombex.core.constructions import TwoHalves
from rhombex.core.design import Design, Shell
from rhombex.core.edits import PlaceNew, Together
from rhombex.core.parts import library
from rhombex.core.plain import DesignError
from rhombex.core.shell.offers import KINDS
from rhombex.core.shop_edits import apply_shop
from rhombex.core.workshop.sample import ARCHIVE_WORKSHOP
from rhombex.core.workshop.workshop import Workshop


def some(r: Random, family: str, at_most: int, of: tuple[str, ...] = ()) -> list[str]:
    keys = [k for k, c in library().items() if c.family == family and (not of or k in of)]
    return [r.choice(keys) for _ in range(r.randint(0, at_most))]


def kit(r: Random) -> list[str]:
    """A set of components that somebody might put in one case."""
    kind = r.choice(("small", "small", "desktop", "desktop", "storage"))
    if kind == "small":
        board = r.choice(("sbc-65x30", "sbc-85x56", "carrier-cm"))
        return [
            board,
            *some(r, "cooler", 1, ("cooler-40x7", "cooler-40x11", "cooler-40x24")),
            *some(r, "fan", 1, ("fan-40x10", "fan-50x10", "fan-60x15", "fan-80x15")),
            *some(r, "drive", 2, ("drive-2.5", "drive-2.5x9", "m2-2280")),
            *some(r, "display", 1, ("display-0.96", "display-3.5", "display-5", "display-7")),
            *some(r, "button", 1),
            *some(r, "socket", 1),
        ]
    board = r.choice(("board-mini-itx", "board-mini-itx", "board-micro-atx", "board-atx"))
    fans = some(r, "fan", 2, ("fan-92x25", "fan-120x15", "fan-120x25", "fan-140x25"))
    if kind == "storage":
        return [
            board,
            r.choice(("cooler-95x37", "cooler-95x47")),
            r.choice(("supply-sfx", "supply-flex", "supply-tfx")),
            *["drive-3.5"] * r.randint(1, 4),
            *some(r, "drive", 1, ("m2-2280",)),
            *fans,
        ]
    return [
        board,
        r.choice(("cooler-95x37", "cooler-95x47", "cooler-120x67", "cooler-100x125", "cooler-125x158")),
        r.choice(("supply-sfx", "supply-sfx-l", "supply-atx", "supply-flex")),
        *some(r, "card", 1),
        *some(r, "drive", 2, ("drive-2.5", "drive-3.5", "m2-2280")),
        *fans,
        *some(r, "button", 1),
    ]


def begun(r: Random) -> tuple[Design, str]:
    """A new design with a set in it and walls round them, and what it is in words."""
    printer = r.choice([p.key for p in ARCHIVE_WORKSHOP.printers])
    d = Design(name="Set", shell=Shell(inner_mm=(120, 90, 40), construction=TwoHalves(joint_mm=32)), printer=printer)
    keys = kit(r)
    refused = []
    for key in keys:
        try:
            d = apply(d, PlaceNew(component=key))
        except DesignError as e:
            refused.append(f"{key}: {e}")
    d = apply(d, walls_round(analyse(d, ARCHIVE_WORKSHOP, "preview")))
    kind = r.choice(KINDS)
    d = apply(d, Together(edits=made_so(d, ARCHIVE_WORKSHOP, kind)))
    return d, f"{kind} on {printer}: {', '.join(keys)}" + "".join(f" (refused {x})" for x in refused)


def pressed(
    d: Design, w: Workshop, been: set[Design], told: tuple[Finding, ...]
) -> tuple[Design, Workshop, str, str] | None:
    """The first remedy of the first concern that has one which leads somewhere new: design and workshop after it, and both in words."""
    for f in told:
        if f.severity == "advice":
            continue
        for x in f.remedies:
            try:
                shop = w
                for e in x.shop:
                    shop = apply_shop(shop, e)
                then = apply(d, Together(edits=x.edits))
            except DesignError as e:
                print(f"      refused: {f.key}: {x.label}: {e}")
                continue
            if then in been and shop == w:
                print(f"      leads back: {f.key}: {x.label}")
                continue
            return then, shop, f.key, x.label
    return None


def main(n: int, seed: int, most: int, weigh: bool) -> None:
    clear = 0
    left: Counter[str] = Counter()
    for k in range(n):
        t = time.perf_counter()
        d, words = begun(Random(f"{seed}-{k}"))
        w = ARCHIVE_WORKSHOP
        print(f"{seed}-{k} {words}")
        been = {d}
        for press in range(most + 1):
            told = judge(analyse(d, w, "preview"))
            stops = [f for f in told if f.severity == "stop" or (weigh and f.severity == "weigh")]
            if press == most or not stops:
                break
            step = pressed(d, w, been, tuple(stops))
            if step is None:
                break
            d, w, key, label = step
            been.add(d)
            print(f"   {press + 1:2} {len(stops):2} open; {key}: {label}")
        clear += not stops
        left.update(f.code for f in stops)
        print(
            f"   => {len(stops)} open after {press} presses, {time.perf_counter() - t:.0f} s: {[f.key for f in stops]}",
            flush=True,
        )
    print(f"{clear} of {n} end with none open; left: {left.most_common()}")


if __name__ == "__main__":
    main(
        int(sys.argv[1]),
        int(sys.argv[2]) if len(sys.argv) > 2 else 0,
        int(sys.argv[3]) if len(sys.argv) > 3 else 25,
        "weigh" in sys.argv[4:],
    )
