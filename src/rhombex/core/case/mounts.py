"""What components of a case stand on, hang on or are held by."""

from __future__ import annotations

from typing import Literal

from rhombex.core.case.joints import Joint
from rhombex.core.parts.component import Thread
from rhombex.core.space import Box, Frame, Vec2, Vec3
from rhombex.core.trail import Frozen


class Mount(Frozen):
    """What a component's mounting point stands on, from the floor of part `part` up to z `top_mm`.

    On a floor of bought sheet, which is only drilled: `nut`, a standoff of `standoff_mm` whose stud goes through the sheet into a nut under it; or `through`.

    `insert` / `cut in plastic`: the screw comes from above. `through`: from below, its head sunk into the floor. `nut from below`: from above, right through
    to a nut in a pocket of the underside, `pocket_mm` deep and `pocket_d_mm` across its corners, whose ceiling is bridged in steps of `bridge_mm`, a layer. `clamps`: boards above
    on printed standoffs that the same screw holds, from below up. `stud`: what stands in the post is a bought standoff's, of one that stands on the board, or
    of one of `standoff_mm` that carries it. `slot`: the way
    in which a captive nut's slot is open. `beside`: of a component without holes, that the post stands beside: it carries the edge at `top_mm`, rises by
    `step_mm` round it, and the screw's head holds it down.
    """

    of: str
    mount: str
    part: str
    at: Vec2
    top_mm: float
    thread: Thread
    holding: Literal["insert", "cut in plastic", "captive nut", "nut from below", "nut", "through"]
    od_mm: float
    hole_mm: float
    hole_depth_mm: float
    head_d_mm: float
    head_depth_mm: float
    grip_mm: float
    screw_mm: float | None
    engagement_mm: float
    clamps: tuple[str, ...] = ()
    stud: bool = False
    slot: Vec3 | None = None
    beside: Box | None = None
    step_mm: float = 0.0
    pocket_mm: float = 0.0
    pocket_d_mm: float = 0.0
    bridge_mm: float = 0.0
    standoff_mm: float = 0.0

    @property
    def passed_mm(self) -> float:
        """What the screw passes before the post: all that stands on it."""
        return self.grip_mm - (self.top_mm - self.pocket_mm if self.pocket_mm else 0.0)

    @property
    def open_below_mm(self) -> float:
        """Diameter of what is open in the underside, a sunk head or a nut's pocket; 0 where nothing is."""
        return self.head_d_mm if self.holding == "through" else self.pocket_d_mm

    @property
    def box(self) -> Box:
        """The box round the post and the standoff on it, from z = 0 to its tip."""
        (x, y), r = self.at, self.od_mm / 2
        return Box((x - r, y - r, 0.0), (x + r, y + r, self.top_mm + self.step_mm + self.standoff_mm))


class Prop(Frozen):
    """A post under the free end of a component, from the floor of a part up to `top_mm`: nothing is screwed to it."""

    of: str
    part: str
    at: Vec2
    top_mm: float
    d_mm: float

    @property
    def box(self) -> Box:
        """The box round it."""
        (x, y), r = self.at, self.d_mm / 2
        return Box((x - r, y - r, 0.0), (x + r, y + r, self.top_mm))


FrameSide = Literal["left", "bottom", "right", "top"]  # of a display's frame, as its face is seen from outside


class Bracket(Frozen):
    """What presses a display to its wall by its frame, screwed to a boss `high_mm` high on the inside of face `face`; one body of the part `part`.

    `frame`: at the edge of the display's frame on the wall's inside, x away from the display, y into the room. The flange lies `reach_mm` over the wall,
    `gap_mm` is between the edge and what rises beside it, `off_mm` between the edge and the screw, foot and boss are `wide_mm` wide, and `strip_mm` are left for a strip of foam under the flange. `ramp`: where the boss prints lying, the way down along the face,
    in which a slope carries it. `rooms`: what boss, foot and the screw's head take, and the flange over the frame.
    """

    of: str
    part: str
    face: str
    side: FrameSide
    frame: Frame
    gap_mm: float
    off_mm: float
    high_mm: float
    reach_mm: float
    wide_mm: float
    strip_mm: float
    ramp: Vec2 | None
    rooms: tuple[Box, ...]
    screw: Joint


class Hook(Frozen):
    """What the free end of a component rests on where a wall is near: a wedge inside face `face`, screwed to its part `on` from outside; one body of its own,
    the part `part`. `frame`: at the middle of its upper edge on the wall's inside, x into the room, y up. Its top reaches `reach_mm` into the room, is `tip_mm`
    thick there, and from there its underside goes down to the wall at 45 degrees; `wide_mm` along the wall. `room`: what it takes."""

    of: str
    part: str
    on: str
    face: str
    frame: Frame
    reach_mm: float
    tip_mm: float
    wide_mm: float
    room: Box
    screws: tuple[Joint, Joint]


class FanSlots(Frozen):
    """What holds a fan of one of several thicknesses (`takes_mm`) inside `face`: two rails screwed to the part `on` from outside, along axis `along` of the face, and two
    bars through their slots; the four bodies of the part `part`. `lo_mm` to `hi_mm`: the fan there, `own_mm` thick now; a rail is `rail_mm` wide, `gap_mm` beside all that it
    holds. `rooms`: what rails, bars and heads of bars take."""

    of: str
    part: str
    on: str
    face: str
    along: int
    lo_mm: Vec2
    hi_mm: Vec2
    rail_mm: float
    gap_mm: float
    own_mm: float
    takes_mm: tuple[float, ...]
    rooms: tuple[Box, ...]
    screws: tuple[Joint, ...]
