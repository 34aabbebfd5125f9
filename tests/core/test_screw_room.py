"""In which order walls are tried that may give the screws of a case their room."""

from __future__ import annotations

from rhombex.core.analysis import analyse
from rhombex.core.concerns.screw_room import GROWTHS, _by_one, _Tried
from rhombex.core.design import Design
from rhombex.core.space import Face
from rhombex.core.workshop.sample import ARCHIVE_WORKSHOP


class Told(_Tried):
    """Every way gives so many screws of four a place as a table says, in place of making a case for it: none a place now."""

    table: dict[tuple[float, Face], int]
    asked: list[tuple[float, tuple[Face, ...]]]

    def _anew(self, by: float, walls: tuple[Face, ...]) -> tuple[int, int]:
        self.asked.append((by, walls))
        return max((n for (least, w), n in self.table.items() if w in walls and by >= least), default=0), 4


def told(d: Design, table: dict[tuple[float, Face], int]) -> Told:
    screws = Told(analyse(d, ARCHIVE_WORKSHOP, "none"), 0)
    screws.table, screws.asked, screws.looked = table, [], {"back", "left"}
    return screws


def test_walls_without_a_port_come_first_then_the_nearest(good_wren: Design) -> None:
    """4 mm at the back, which a port looks through, leave its plug behind; 2 mm do not."""
    screws = told(good_wren, {(4.0, "back"): 4, (7.0, "top"): 4, (10.0, "right"): 4, (15.0, "left"): 3})
    ways = [(leaves, by, r.label) for leaves, by, r in _by_one(screws)]
    assert ways == [
        (False, 7.0, "Make the case 7 mm higher"),
        (False, 10.0, "Make the case 10 mm wider on the right"),
        (True, 4.0, "Make the case 4 mm deeper at the back"),
    ]
    assert (15.0, ("right",)) in screws.asked and len(set(screws.asked)) == len(screws.asked)


def test_two_walls_that_leave_no_port_behind_are_enough(good_wren: Design) -> None:
    screws = told(good_wren, {(2.0, "back"): 4, (4.0, "right"): 4, (7.0, "top"): 4})
    assert [(leaves, by) for leaves, by, _ in _by_one(screws)] == [(False, 2.0), (False, 4.0)]
    assert not any(GROWTHS[1] < by < GROWTHS[-1] for by, _ in screws.asked)
