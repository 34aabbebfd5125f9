"""What a case stands on that stands on a side: feet that are stuck on near the corners of that wall, each on one part of it."""

from __future__ import annotations

from rhombex.core.case import Case
from rhombex.core.design import Design
from rhombex.core.shell.feet import in_corners, inset_mm
from rhombex.core.space import OUTWARD, Vec2


def with_stance(design: Design, case: Case) -> Case:
    """The case as it stands: on the feet of its floor, or on its side, with feet there where it wants some."""
    on = design.shell.stands_on
    if on == "bottom":
        return case
    return case.model_copy(update={"stands_on": on, "wall_feet": _feet_of_wall(design, case)})


def _feet_of_wall(design: Design, case: Case) -> tuple[Vec2, ...]:
    """Places on the face that a case stands on, (u, v): near its corners, clear of the heads of screws, and never on two parts at once, which a foot would
    glue together. None where no wall stands there, or where what closes it lies behind the cheeks that hold it."""
    on = design.shell.stands_on
    face = next((f for f in case.faces if f.id == on and f.whole), None)
    if face is None or case.foot is None or not design.shell.feet or design.shell.recess_mm(on) > 0:
        return ()
    broad, axis = case.foot.d_mm, next(k for k in range(3) if OUTWARD[on][k])
    reach = broad / 2 + 1
    heads = [(face.on(j.at), j.head_d_mm) for j in case.screws if j.along[axis] == -OUTWARD[on][axis]]

    def free(u: float, v: float) -> bool:
        parts = set(case.behind(on, u - reach, v - reach, u + reach, v + reach))
        return len(parts) == 1 and all((u - a[0]) ** 2 + (v - a[1]) ** 2 > (reach + head / 2) ** 2 for a, head in heads)

    return tuple(in_corners(free, face.size_mm, inset_mm(design, broad), reach))
