"""Screws and threads: worn threads, screws too long or too short."""

from __future__ import annotations

from collections.abc import Iterator

from rhombex.core.analysis import Analysis
from rhombex.core.case import Joint, one_of_each
from rhombex.core.concerns.bench import moved, up
from rhombex.core.concerns.registry import Finding, Maker, Remedy, concern
from rhombex.core.edits import Set
from rhombex.core.fit.joints import engagement_mm
from rhombex.core.parts.threads import label
from rhombex.core.reference import ref, val


@concern("thread-opened-often", "hardware", needs=("joints",))
def thread_opened_often(a: Analysis, say: Maker) -> Iterator[Finding]:
    """Row 22: threads cut in plastic that will be opened more often than they bear."""
    bears = ref("fasteners.rule.pilot_reuses")
    opened = ref(f"limits.thread.{a.design.brief.opened}")
    if opened.value <= bears.value:
        return
    for j in one_of_each(tuple(j for j in a.case.joints if j.opened and j.holding == "cut in plastic")):
        yield say(
            "stop",
            f"{j.name.capitalize()} screws cut into plastic, but the case is opened {a.design.brief.opened}",
            measured=opened.value,
            limit=bears.value,
            unit="openings",
            sense="at most",
            reason=f"A screw wears its thread in plastic each time. An insert of brass does not wear. ({opened.source}.)",
            source=str(bears),
            subjects=(j.name,),
            remedies=(
                Remedy(label=f"Heat-set inserts for the {j.name}", edits=(Set(path=j.thread_path, value="insert"),)),
                Remedy(label="It is opened only once", edits=(Set(path="brief.opened", value="once"),)),
            ),
        )


@concern("lid-screw-length", "hardware", needs=("joints",))
def lid_screw_length(a: Analysis, say: Maker) -> Iterator[Finding]:
    """Row 22: screws of the case too long for their hole, or with too little thread."""
    for j in one_of_each(a.case.joints):
        yield from _length_of(a, j, say)


def _length_of(a: Analysis, j: Joint, say: Maker) -> Iterator[Finding]:
    least, most = engagement_mm(j.thread, j.holding)
    most = min(most, j.hole_depth_mm - val("fasteners.rule.tip_clearance"))
    auto = (Remedy(label="Let the stack choose the length", edits=(Set(path=j.screw_path, value=None),)),)
    words = f"{j.name.capitalize()} screws {label(j.thread)}"
    if j.screw_mm is None:
        yield say(
            "stop",
            f"No stock screw fits the {j.name}'s stack",
            measured=j.grip_mm + least,
            limit=j.grip_mm + most,
            sense="at most",
            reason=f"Between {j.grip_mm + least:.1f} and {j.grip_mm + most:.1f} mm there is no stock length.",
            source=str(ref("fasteners.rule.tip_clearance")),
            subjects=(j.name,),
            remedies=tuple(
                Remedy(
                    label="Lower the joint by 1 mm",
                    edits=(Set(path=s.path, value=round(s.at_mm - a.case.cavity.lo[2] - 1, 3)),),
                )
                for s in a.case.seams
                if j.holds in s.parts and s.axis == 2
            ),
        )
    elif j.engagement_mm > most + 1e-6:
        yield say(
            "stop",
            f"{words} x {j.screw_mm:g} are too long by {j.engagement_mm - most:.1f} mm",
            measured=j.engagement_mm,
            limit=most,
            sense="at most",
            reason=f"The tip meets the bottom of the hole before the {j.name} is tight.",
            source=str(ref("fasteners.rule.tip_clearance")),
            subjects=(j.name,),
            remedies=auto,
        )
    elif j.engagement_mm < least - 1e-6:
        rule = "insert_engagement_factor" if j.holding == "insert" else "pilot_engagement_factor"
        yield say(
            "stop",
            f"{words} x {j.screw_mm:g} have too little thread",
            measured=j.engagement_mm,
            limit=least,
            reason=f"Too few turns hold; they pull out when the case is lifted by its {j.name}.",
            source=str(ref(f"fasteners.rule.{rule}")),
            subjects=(j.name,),
            remedies=auto,
        )


@concern("mount-screw-length", "hardware", needs=("mounts",))
def mount_screw_length(a: Analysis, say: Maker) -> Iterator[Finding]:
    """Row 22: a component's screws: too deep into a drive, too little thread, or a head that stands proud."""
    seen: set[str] = set()
    for p in a.case.mounts:
        if p.of in seen:
            continue
        t = next(x for x in a.things if x.id == p.of)
        if p.holding == "through":
            mount = next(m.mount for m in t.mounts if m.mount.name == p.mount)
            head = val(f"fasteners.{p.thread}.head_k")
            if p.head_depth_mm < head:
                seen.add(p.of)
                by = up(head + 0.3 - p.head_depth_mm)
                yield say(
                    "stop",
                    f"The screw heads under {t.name} stand proud of the floor",
                    measured=p.head_depth_mm,
                    limit=head,
                    reason=f"An {label(p.thread)} head is {head:g} mm high; floor and pad are too thin to sink it.",
                    source="ISO 4762 head height",
                    subjects=(p.of,),
                    remedies=(Remedy(label=f"Raise {t.name} by {by:g} mm", edits=(moved(t, (0, 0, by)),)),),
                )
            elif mount.depth_limit_mm is not None and p.engagement_mm > mount.depth_limit_mm + 1e-6:
                seen.add(p.of)
                yield say(
                    "stop",
                    f"The screws reach too deep into {t.name}",
                    measured=p.engagement_mm,
                    limit=mount.depth_limit_mm,
                    sense="at most",
                    reason="They meet the inside of the drive.",
                    source=mount.source,
                    subjects=(p.of,),
                    remedies=(Remedy(label=f"Raise {t.name} by 1 mm", edits=(moved(t, (0, 0, 1.0)),)),),
                )
            continue
        most = p.hole_depth_mm - val("fasteners.rule.tip_clearance")
        if p.screw_mm is not None and p.engagement_mm > most + 1e-6:
            seen.add(p.of)
            by = up(p.engagement_mm - most)
            yield say(
                "stop",
                f"The screws of {t.name} are too long for its posts",
                measured=p.engagement_mm,
                limit=most,
                sense="at most",
                reason="The tip meets the bottom of the hole; the board stays loose.",
                source=str(ref("fasteners.rule.tip_clearance")),
                subjects=(p.of, "screws"),
                remedies=(Remedy(label=f"Raise {t.name} by {by:g} mm", edits=(moved(t, (0, 0, by)),)),),
            )
