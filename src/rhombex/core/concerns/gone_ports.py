"""What is said of ports that are not there: of a component that another one took the place of, most of all."""

from __future__ import annotations

from collections.abc import Iterator

from rhombex.core.analysis import Analysis
from rhombex.core.concerns.registry import Finding, Maker, Remedy, concern
from rhombex.core.design import Design
from rhombex.core.edits import ForgetPort
from rhombex.core.words import listed

Asked = tuple[str, str, bool]  # the port, what is asked of it, whether the case or what is in it does not work without


@concern("port-not-there", "brief")
def port_not_there(a: Analysis, say: Maker) -> Iterator[Finding]:
    """Row 8: something is asked of a port that no component has."""
    d = a.design
    unknown = {p.id for p in d.placements if d.component(p.component) is None}  # these are told by themselves
    there = {p.ref for t in a.things for p in t.ports}
    lost = [x for x in _asked(d) if x[0] not in there and _owner(x[0]) not in unknown]
    for owner in dict.fromkeys(_owner(ref) for ref, _, _ in lost):
        mine = [x for x in lost if _owner(x[0]) == owner]
        ports = list(dict.fromkeys(ref for ref, _, _ in mine))
        placed = d.placement(owner)
        whose = f"{placed.name} has no" if placed else f"There is no component “{owner}”, and no"
        names = [ref.split("/")[1] for ref in ports]
        asked = [
            f"{name.capitalize()} {listed([what for ref, what, _ in mine if ref == port])}"
            for name, port in zip(names, ports, strict=True)
        ]
        yield say(
            "stop" if any(works for _, _, works in mine) else "weigh",
            f"{whose} port {listed(names, 'or')}",
            measured=len(ports),
            limit=0,
            sense="at most",
            unit="ports",
            how="ports of which something is asked and that no component has",
            reason=f"What stood there before may have had them. {'. '.join(asked)}. None of this is in the case.",
            source="the library",
            subjects=(owner, *ports),
            remedies=(
                Remedy(
                    label=f"Leave out what is asked of {listed(names)}", edits=tuple(ForgetPort(port=p) for p in ports)
                ),
            ),
        )


def _owner(ref: str) -> str:
    return ref.split("/", 1)[0]


def _asked(d: Design) -> Iterator[Asked]:
    for ref in d.brief.needs:
        yield ref, "is wanted from outside", True
    for ref, face in d.brief.faces:
        yield ref, f"is wanted on the {face}", False
    for o in d.openings:
        yield o.port, "has an opening that a hand placed", False
    for x in d.adapters:
        yield x.port, f"has an adapter of {x.watts:g} W", True
    for lead in d.leads:
        for ref in dict.fromkeys((lead.start, lead.end)):
            yield ref, f"has the {lead.name} in it", True
