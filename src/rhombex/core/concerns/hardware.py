"""Screws and threads: worn threads, screws too long or too short."""

from __future__ import annotations

from collections.abc import Iterator

from rhombex.core.analysis import Analysis
from rhombex.core.concerns.bench import moved, up
from rhombex.core.concerns.registry import Finding, Maker, Remedy, concern
from rhombex.core.edits import Set
from rhombex.core.hardware.joints import engagement_mm, label
from rhombex.core.reference import ref, val


@concern("thread-opened-often", "hardware")
def thread_opened_often(a: Analysis, say: Maker) -> Iterator[Finding]:
    """Row 22: threads cut in plastic that will be opened more often than they bear."""
    bears = ref("fasteners.rule.pilot_reuses")
    opened = ref(f"limits.thread.{a.design.brief.opened}")
    if a.design.shell.joint_thread != "cut in plastic" or opened.value <= bears.value:
        return
    yield say(
        "stop",
        f"Lid screws cut into plastic, but the case is opened {a.design.brief.opened}",
        measured=opened.value,
        limit=bears.value,
        unit="openings",
        sense="at most",
        reason=f"A screw wears its thread in plastic each time. An insert of brass does not wear. ({opened.source}.)",
        source=str(bears),
        subjects=("lid",),
        remedies=(
            Remedy(label="Heat-set inserts for the lid", edits=(Set(path="shell.joint_thread", value="insert"),)),
            Remedy(label="It is opened only once", edits=(Set(path="brief.opened", value="once"),)),
        ),
    )


@concern("lid-screw-length", "hardware")
def lid_screw_length(a: Analysis, say: Maker) -> Iterator[Finding]:
    """Row 22: lid screws too long for their hole, or with too little thread."""
    if not a.shell.bosses:
        return
    b = a.shell.bosses[0]
    least, most = engagement_mm("M3", a.design.shell.joint_thread)
    most = min(most, b.hole_depth_mm - val("fasteners.rule.tip_clearance"))
    auto = (Remedy(label="Let the stack choose the length", edits=(Set(path="shell.lid_screw_mm", value=None),)),)
    if b.screw_mm is None:
        yield say(
            "stop",
            "No stock screw fits the lid's stack",
            measured=b.grip_mm + least,
            limit=b.grip_mm + most,
            sense="at most",
            reason=f"Between {b.grip_mm + least:.1f} and {b.grip_mm + most:.1f} mm there is no stock length.",
            source=str(ref("fasteners.rule.tip_clearance")),
            subjects=("lid",),
            remedies=(
                Remedy(
                    label="Lower the joint by 1 mm",
                    edits=(Set(path="shell.joint_mm", value=a.design.shell.joint_mm - 1),),
                ),
            ),
        )
    elif b.engagement_mm > most + 1e-6:
        yield say(
            "stop",
            f"Lid screws M3 x {b.screw_mm:g} are too long by {b.engagement_mm - most:.1f} mm",
            measured=b.engagement_mm,
            limit=most,
            sense="at most",
            reason="The tip meets the bottom of the hole before the lid is tight.",
            source=str(ref("fasteners.rule.tip_clearance")),
            subjects=("lid",),
            remedies=auto,
        )
    elif b.engagement_mm < least - 1e-6:
        rule = "insert_engagement_factor" if a.design.shell.joint_thread == "insert" else "pilot_engagement_factor"
        yield say(
            "stop",
            f"Lid screws M3 x {b.screw_mm:g} have too little thread",
            measured=b.engagement_mm,
            limit=least,
            reason="Too few turns hold; they pull out when the case is lifted by its lid.",
            source=str(ref(f"fasteners.rule.{rule}")),
            subjects=("lid",),
            remedies=auto,
        )


@concern("mount-screw-length", "hardware")
def mount_screw_length(a: Analysis, say: Maker) -> Iterator[Finding]:
    """Row 22: a component's screws: too deep into a drive, too little thread, or a head that stands proud."""
    seen: set[str] = set()
    for p in a.shell.posts:
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
