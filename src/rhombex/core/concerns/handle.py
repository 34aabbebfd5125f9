"""A handle: whether it has a place, bears the case, hangs it straight, and stands in nobody's way."""

from __future__ import annotations

from collections.abc import Iterator
from math import ceil, floor

from rhombex.core.advice.handle import askew_deg, gap_mm, links, load, places, seam_nm, section_mm3, spanning, stress
from rhombex.core.advice.panels import panels
from rhombex.core.analysis import Analysis
from rhombex.core.concerns.registry import Finding, Maker, Remedy, concern, searched
from rhombex.core.concerns.standing import weighed
from rhombex.core.constructions import MAGNET_KINDS
from rhombex.core.cuts.pieces import PartCuts
from rhombex.core.design import Handle
from rhombex.core.edits import CarryBy, FreeCuts, HoldByMagnets, HoldBySnaps, MoveWall, PrintPart, Set
from rhombex.core.reference import ref, val
from rhombex.core.shell.handle import HANDLE, bow_of, ground_of, outline_of, over_mm, tops_under
from rhombex.core.space import Vec2
from rhombex.core.trail import given, looked_up

OFF = Remedy(label="Take the handle off", edits=(CarryBy(handle=None),))


def _to(h: Handle, found: list[Handle]) -> tuple[Remedy, ...]:
    out = []
    for x in found:
        assert x.at_mm is not None
        way = "Turn the handle and move it" if x.runs != h.runs else "Move the handle"
        out.append(Remedy(label=f"{way} to {x.at_mm[0]:g}, {x.at_mm[1]:g}", edits=(CarryBy(handle=x),)))
    return tuple(out)


@searched
def _over_all(a: Analysis, h: Handle) -> tuple[Remedy, ...]:
    """Over an open plate a handle that spans all that stands under it."""
    edits = spanning(a, h, _over_mass(a))
    if not edits:
        return ()
    wider = sum(e.by_mm for e in edits if isinstance(e, MoveWall))
    more = f", the plate {wider:g} mm larger" if wider else ""
    return (Remedy(label=f"Let the handle span all that is under it{more}", edits=edits),)


def _over_mass(a: Analysis) -> Vec2:
    """Where a handle hangs the case straight."""
    x, y, _ = weighed(a)[1]
    return (x, y)


@concern("handle-has-no-place", "shell")
def handle_has_no_place(a: Analysis, say: Maker) -> Iterator[Finding]:
    """A handle is wished, and its feet do not stand on plain wall of one part."""
    h = a.design.shell.handle
    if h is None or a.case.handle is not None:
        return
    bow, ground = outline_of(a.case, a.things, h), ground_of(a.case)
    over, on = over_mm(a.case, bow), tops_under(a.case, bow)
    top = ground is not None
    remedies = (_to(h, places(a, h, _over_mass(a))) or _over_all(a, h)) if top else ()
    least = int(Handle.model_fields["grip_mm"].metadata[0].ge)
    short = next((g for g in range(int(h.grip_mm) - 1, least - 1, -1) if top and _fits(a, h, g)), None)
    if not remedies and short is not None:
        less = h.model_copy(update={"grip_mm": float(short), "at_mm": None})
        remedies = (Remedy(label=f"Make it {short} mm long for the hand", edits=(CarryBy(handle=less),)),)
    split = top and over <= 0
    yield say(
        "stop",
        "The handle would stand on two parts" if split else "The handle has no place on the case",
        measured=len(on) if split else over,
        limit=1 if split else 0.0,
        unit="parts" if split else "mm",
        sense="at most",
        how="parts of the case under its feet"
        if split
        else "how far its feet reach over what is plain wall under them",
        of=(given("for the hand", h.grip_mm), given("each foot", bow.foot_mm)),
        reason="Its feet stand on plain wall of one part, clear of edges, rims and corners. The case is shown without it.",
        source="geometry",
        subjects=(HANDLE,),
        remedies=(*remedies, OFF),
    )


def _fits(a: Analysis, h: Handle, grip: int) -> bool:
    tried = h.model_copy(update={"grip_mm": float(grip), "at_mm": None})
    return bow_of(a.design, a.printer, a.case, a.things, tried) is not None


@concern("handle-breaks", "shell", settled=True)
def handle_breaks(a: Analysis, say: Maker) -> Iterator[Finding]:
    """Row 16: the bar of a handle breaks when the case is lifted."""
    bow, h = a.case.handle, a.design.shell.handle
    if bow is None or h is None:
        return
    pull, safety = load(weighed(a)[0]), ref("limits.carry.safety")
    found, borne = stress(a, bow, pull.value)
    limit = borne.value / safety.value
    if found.value <= limit:
        return
    remedies: list[Remedy] = []
    for more in range(ceil(h.bar_mm) + 1, 61):
        stronger = bow.model_copy(update={"bar_mm": float(more)})
        if stress(a, stronger, 1.05 * pull.value)[0].value <= limit:
            higher = h.model_copy(update={"bar_mm": float(more)})
            remedies.append(Remedy(label=f"Make the bar {more} mm high", edits=(CarryBy(handle=higher),)))
            break
    process = a.design.process_of(HANDLE)
    if process.infill < 1 and found.value * section_mm3(a, bow) / section_mm3(a, bow, 1.0) <= limit / 1.1:
        full = PrintPart(part=HANDLE, process=process.model_copy(update={"infill": 1.0}))
        remedies.append(Remedy(label="Print the handle full", edits=(full,)))
    yield say(
        "stop",
        "The handle breaks when the case is lifted",
        measured=found.value,
        limit=limit,
        unit="MPa",
        sense="at most",
        how=found.formula,
        of=(*found.inputs, looked_up("safety", safety), *borne.inputs),
        reason=f"{pull.value:.0f} N, the case lifted with a jerk, bend its bar by {found.value:.1f} MPa; {borne.value:.0f} MPa break it, and somebody's "
        "foot is under it.",
        source=f"{found.source}; {safety}",
        subjects=(HANDLE, "bar"),
        remedies=(*remedies, OFF),
    )


@concern("handle-parts-at-seam", "cuts", settled=True)
def handle_parts_at_seam(a: Analysis, say: Maker) -> Iterator[Finding]:
    """Row 16: a handle of two pieces parts where they are glued when the case is lifted."""
    bow, h = a.case.handle, a.design.shell.handle
    c = next((c for c in a.cuts if c.part == HANDLE), None)
    if bow is None or h is None or c is None:
        return
    pull, safety = load(weighed(a)[0]), ref("limits.carry.safety")
    for cut in c.cuts:
        bears, bends = seam_nm(a, bow, cut.at_mm, pull.value)
        wanted = bends.value * safety.value
        if bears.value >= wanted:
            continue
        whole = Remedy(label="Leave the handle whole", edits=(FreeCuts(part=HANDLE),))
        yield say(
            "stop",
            "The handle parts at its seam when the case is lifted",
            measured=bears.value,
            limit=wanted,
            unit="N m",
            how=bears.formula,
            of=(*bears.inputs, *bends.inputs, looked_up("safety", safety)),
            reason=f"{pull.value:.0f} N, the case lifted with a jerk, bend the seam by {bends.value:.1f} N m; its glue bears {bears.value:.1f}, and somebody's "
            "foot is under it.",
            source=f"{bends.source}; {safety}",
            subjects=(HANDLE, "seam"),
            remedies=(*((whole,) if cut.pinned else ()), *_shorter(a, h, c), OFF),
        )


def _shorter(a: Analysis, h: Handle, c: PartCuts) -> tuple[Remedy, ...]:
    """A handle that the bed takes whole, where the hand still finds room."""
    least = float(Handle.model_fields["grip_mm"].metadata[0].ge)
    grip = float(floor(h.grip_mm - c.over_mm))
    if c.over_mm <= 0 or grip < least:
        return ()
    less = h.model_copy(update={"grip_mm": grip})
    return (Remedy(label=f"Make it {grip:g} mm long for the hand", edits=(CarryBy(handle=less),)),)


@concern("handle-tears-off", "shell", settled=True)
def handle_tears_off(a: Analysis, say: Maker) -> Iterator[Finding]:
    """Row 16: what carries the case from the hand on gives way: threads, heads, or what holds the lid that the handle is on."""
    bow, h = a.case.handle, a.design.shell.handle
    if bow is None or h is None:
        return
    pull, safety = load(weighed(a)[0]), ref("limits.carry.safety")
    weakest = next(iter(links(a, bow)), None)
    wanted = pull.value * safety.value
    if weakest is None or weakest.bears_n.value >= wanted:
        return
    remedies: list[Remedy] = []
    if "magnets" in weakest.what and a.design.shell.construction.kind in MAGNET_KINDS:
        remedies.append(Remedy(label=f"Hold the {bow.top} by screws", edits=(HoldByMagnets(magnets=None),)))
    if "snaps" in weakest.what:
        remedies.append(Remedy(label=f"Hold the {bow.top} by screws", edits=(HoldBySnaps(snaps=None),)))
    if "threads in the handle" in weakest.what and h.thread == "cut in plastic":
        held = h.model_copy(update={"thread": "insert"})
        remedies.append(Remedy(label="Screw it into inserts", edits=(CarryBy(handle=held),)))
    if (
        "threads of the" in weakest.what
        and getattr(a.design.shell.construction, "joint_thread", "") == "cut in plastic"
    ):
        remedies.append(
            Remedy(
                label=f"Screw the {bow.top} into inserts",
                edits=(Set(path="shell.construction.joint_thread", value="insert"),),
            )
        )
    yield say(
        "stop" if weakest.bears_n.value < pull.value * val("limits.carry.least") else "weigh",
        f"The case comes off in the hand: {weakest.what}",
        measured=weakest.bears_n.value,
        limit=wanted,
        unit="N",
        how=f"{weakest.bears_n.formula}; wanted: mass x 9.81 x jerk x safety",
        of=(*weakest.bears_n.inputs, *pull.inputs, looked_up("safety", safety)),
        reason=f"{weakest.what[:1].upper()}{weakest.what[1:]} bear {weakest.bears_n.value:.0f} N; lifted with a jerk the case pulls with {pull.value:.0f}.",
        source=f"{weakest.bears_n.source}; {safety}",
        subjects=(HANDLE, weakest.what),
        remedies=(*remedies, OFF),
    )


@concern("handle-hangs-askew", "shell", settled=True)
def handle_hangs_askew(a: Analysis, say: Maker) -> Iterator[Finding]:
    """A case whose mass is not under its handle hangs askew."""
    bow, h = a.case.handle, a.design.shell.handle
    mass, centre = weighed(a)
    if bow is None or h is None or mass <= 0:
        return
    limit, angle = ref("limits.carry.hangs"), askew_deg(bow, centre)
    if angle <= limit.value:
        return
    better = [
        x
        for x in places(a, h, _over_mass(a))
        if (lo := a.case.cavity.lo)
        and x.at_mm is not None
        and askew_deg(
            bow.model_copy(update={"middle": (x.at_mm[0] + lo[0], x.at_mm[1] + lo[1], bow.middle[2])}), centre
        )
        < limit.value
    ]
    yield say(
        "weigh",
        "The case hangs askew from its handle",
        measured=angle,
        limit=limit.value,
        unit="deg",
        sense="at most",
        how="atan(centre of mass beside the handle / how far it is under the hand)",
        of=(given("mass", mass / 1000, "kg"), given("height of the centre", centre[2])),
        reason=f"{mass / 1000:.2f} kg have their centre beside the handle: the case turns by {angle:.0f} degrees until it hangs under it.",
        source=str(limit),
        subjects=(HANDLE, "askew"),
        remedies=_to(h, better) or _over_all(a, h),
    )


@concern("handle-bends-top", "shell", settled=True)
def handle_bends_top(a: Analysis, say: Maker) -> Iterator[Finding]:
    """Row 26: the wall that a handle is on gives way when the case hangs from it."""
    bow = a.case.handle
    ground = ground_of(a.case)
    if bow is None or ground is None:
        return
    top = next((p for p in panels(a) if p.face == ground.face.id and p.part == bow.top), None)
    if top is None:
        return
    pull, push, limit = load(weighed(a)[0]), ref("limits.standing.push"), ref("limits.standing.bend")
    bent = top.bend.value * pull.value / push.value
    if bent <= limit.value:
        return
    # a twentieth to spare: a thicker top weighs more, and a core of infill gives less than the cube
    thick = ceil(ground.face.thick_mm * (1.05 * bent / limit.value) ** (1 / 3) * 11.0) / 10
    path, name = ("shell.floor_mm", bow.top) if ground.open_plate else ("shell.lid_mm", "top")
    thicker = Remedy(label=f"Make the {name} {thick:g} mm thick", edits=(Set(path=path, value=thick),))
    yield say(
        "weigh",
        f"The {name} gives way when the case is lifted",
        measured=bent,
        limit=limit.value,
        sense="at most",
        how="middle of a plate held at its edges that the whole case hangs from",
        of=(*top.bend.inputs, *pull.inputs),
        reason=f"{pull.value:.0f} N, the case lifted with a jerk, bend it by {bent:.1f} mm: joints open, and what is under it is pulled at.",
        source=top.bend.source,
        subjects=(HANDLE, bow.top, "bends"),
        remedies=(*((thicker,) if thick <= 20 and a.case.part(bow.top).sheet is None else ()), OFF),
    )


@concern("handle-in-the-way", "shell")
def handle_in_the_way(a: Analysis, say: Maker) -> Iterator[Finding]:
    """Row 5: a handle whose feet stand over a fan or an opening, or whose screws' heads meet what is right under the top."""
    bow, h = a.case.handle, a.design.shell.handle
    if bow is None or h is None:
        return
    gap, who = gap_mm(a, bow)
    wanted = ref("limits.gap.wall")
    if gap >= wanted.value:
        return
    yield say(
        "stop" if gap < 0 else "weigh",
        f"The handle stands in the way of {who}" if gap < 0 else f"The handle is close to {who}",
        measured=gap,
        limit=wanted.value,
        how="from its feet to the nearest opening, fan or whatever stands beside them, or from a screw's head to what is right under it",
        reason="A foot over an opening closes it, none stands in a component; a head in a component keeps the lid from closing.",
        source=str(wanted),
        subjects=(HANDLE, next((t.id for t in a.things if t.name == who), who)),
        remedies=(*(_to(h, places(a, h, _over_mass(a))) or _over_all(a, h)), OFF),
    )
