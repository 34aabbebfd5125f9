"""Concerns: small functions that look at an analysis and say what is wrong or worth weighing."""

from __future__ import annotations

from collections.abc import Callable, Container, Iterable, Iterator
from contextvars import ContextVar
from functools import partial, wraps
from typing import Any, Literal, ParamSpec, TypeVar

from pydantic import ValidationError

from rhombex.core.analysis import Analysis
from rhombex.core.case import Need
from rhombex.core.concerns.before_cuts import said, said_of_walls
from rhombex.core.edits import Edit
from rhombex.core.faults import reason
from rhombex.core.plain import DesignError, first_error
from rhombex.core.progress import Stopped, between_steps
from rhombex.core.shop_edits import ShopEdit
from rhombex.core.space import FACES, Face
from rhombex.core.trail import Frozen, Input, Shown, Trail

P = ParamSpec("P")
T = TypeVar("T")
Severity = Literal["stop", "weigh", "advice"]
Stop = Literal["brief", "parts", "bench", "shell", "openings", "air", "cuts", "hardware", "process", "plan"]


class Remedy(Frozen):
    """What Rhombex can do about it by itself: edits of the design or the workshop, and what they do in plain words."""

    label: str
    edits: tuple[Edit, ...]
    shop: tuple[ShopEdit, ...] = ()


class NotOffered(Frozen):
    """A remedy that would ask for more than a design can hold: its concern says so, and why."""

    label: str
    message: str


class Finding(Frozen):
    """One concern, with the measured number against its limit.

    `sense`: the measured number should be `at least` or `at most` the limit. `why`: how it was come by, with what went in and the
    limit. `key` names the finding across analyses.
    """

    code: str
    key: str
    stop: Stop
    severity: Severity
    title: str
    measured: Shown
    limit: Shown
    unit: str
    sense: Literal["at least", "at most"]
    why: Trail
    reason: str
    source: str
    subjects: tuple[str, ...]
    remedies: tuple[Remedy, ...] = ()


Rule = Callable[..., Iterator[Finding]]
RULES: dict[str, Rule] = {}
STOPS: dict[str, Stop] = {}
NEEDS: dict[str, tuple[Need, ...]] = {}  # what of a case each rule looks at
HITS: dict[
    str, Face | None
] = {}  # rules that tell of a component where something of the case is, and behind which face if always the same
Told = frozenset[
    tuple[str, Face | None]
]  # components that are told to be where something of the case is, and behind which face, if one
FIRST: set[str] = set()  # rules of what others depend on
UNLESS_TOLD: list[str] = []  # rules behind the rules: heard where no other has stopped what they are about
SHOWN_DIGITS = 2
_bare: ContextVar[bool] = ContextVar("bare", default=False)  # whether remedies that are looked for are left out
SETTLED: set[str] = set()  # rules of grams, hours and support: asked of settled figures, all others of previews as well


def searched(look: Callable[P, tuple[T, ...]]) -> Callable[P, tuple[T, ...]]:
    """What looks for remedies by trying: it finds none while findings are told without (`judge_bare`)."""

    @wraps(look)
    def unless_bare(*args: P.args, **kwargs: P.kwargs) -> tuple[T, ...]:
        return () if _bare.get() else look(*args, **kwargs)

    return unless_bare


class Maker:
    """Makes findings of one rule: code and stop are filled in."""

    def __init__(self, code: str, stop: Stop) -> None:
        self.code, self.stop = code, stop

    def __call__(
        self,
        severity: Severity,
        title: str,
        *,
        measured: float,
        limit: float,
        unit: str = "mm",
        sense: Literal["at least", "at most"] = "at least",
        how: str,
        of: tuple[Input, ...] = (),
        reason: str,
        source: str,
        subjects: tuple[str, ...],
        remedies: tuple[Remedy | NotOffered, ...] = (),
    ) -> Finding:
        for r in remedies:
            if isinstance(r, NotOffered):
                reason += f" “{r.label}” cannot be offered: {r.message}."
        return Finding(
            code=self.code,
            key=":".join((self.code, *subjects)),
            stop=self.stop,
            severity=severity,
            title=title[:1].upper() + title[1:],
            measured=measured,
            limit=limit,
            unit=unit,
            sense=sense,
            why=Trail(
                value=measured,
                unit=unit,
                formula=how,
                inputs=(*of, Input(name=f"limit: {sense}", value=limit, unit=unit, source=source)),
            ),
            reason=reason,
            source=source,
            subjects=subjects,
            remedies=tuple(r for r in remedies if isinstance(r, Remedy)),
        )


def concern(
    code: str,
    stop: Stop,
    needs: tuple[Need, ...] = (),
    hits: bool | Face = False,
    unless_told: bool = False,
    settled: bool = False,
    first: bool = False,
) -> Callable[[Callable[..., Iterator[Finding]]], Rule]:
    """Register a rule under its code. needs: what of the case it looks at; where that is missing it has nothing to say. A rule that
    needs nothing holds in any construction, and where there is no case at all. hits: it tells of a component that is where something of
    the case is, behind the face that it names where that is always the same. unless_told: it looks last and is given besides the components that such rules have stopped, which it leaves to them. settled: it judges by grams, hours or support, which only the settled level knows well.
    first: it comes before all others of its weight, since much of what they say changes once it is mended."""

    def register(f: Callable[..., Iterator[Finding]]) -> Rule:
        def rule(a: Analysis, *told: Told) -> Iterator[Finding]:
            return f(a, Maker(code, stop), *told)

        if code in RULES:
            raise ValueError(f"two rules are called {code}")
        RULES[code] = rule
        STOPS[code] = stop
        NEEDS[code] = needs
        if settled:
            SETTLED.add(code)
        if hits:
            HITS[code] = None if isinstance(hits, bool) else hits
        if unless_told:
            UNLESS_TOLD.append(code)
        if first:
            FIRST.add(code)
        return rule

    return register


_ORDER: dict[Severity, int] = {"stop": 0, "weigh": 1, "advice": 2}


def judge(a: Analysis) -> tuple[Finding, ...]:
    """All findings, worst first; of equal weight what others depend on, then in the order of the work. A rule that breaks is told as one that could not
    look, and silences only itself."""
    return _judged(a, RULES)


def _judged(a: Analysis, codes: Container[str]) -> tuple[Finding, ...]:
    found: list[Finding] = []
    known = said_of_walls(a, _bare.get())
    for code in RULES:
        if code not in UNLESS_TOLD and code in codes:
            found += known[code] if code in known else _heard(code, a, known)
    for code in UNLESS_TOLD:
        found += heard(code, a, told_to_hit(a, found)) if code in codes else ()
    return tuple(sorted(found, key=lambda f: (_ORDER[f.severity], f.code not in FIRST)))


def told_to_hit(a: Analysis, found: Iterable[Finding]) -> Told:
    """The components that are stopped for being where something of the case is, and behind which face of it, where that is known. One that is stopped
    for anything else, a screw too long or another component in its place, is looked at all the same. Of a component whose post is in another one, the
    other one is: where the first stands is not what is wrong."""
    things = {t.id for t in a.things}
    told: set[tuple[str, Face | None]] = set()
    for f in (f for f in found if f.severity == "stop" and f.code in HITS):
        face = HITS[f.code] or next((x for x in FACES if x in f.subjects), None)
        who = f.subjects[-1:] if things.issuperset(f.subjects) else f.subjects
        told |= {(x, face) for x in who if x in things}
    return frozenset(told)


def judge_bare(a: Analysis) -> tuple[Finding, ...]:
    """All findings without the remedies that take a search: for who asks what there is, and not what to do about it."""
    before = _bare.set(True)
    try:
        return judge(a)
    finally:
        _bare.reset(before)


def with_remedies(a: Analysis, bare: tuple[Finding, ...]) -> tuple[Finding, ...]:
    """What was found of an analysis without remedies, with them, as `judge` finds it: rules that had nothing to say are not asked again."""
    return _judged(a, {f.code if f.code in RULES else f.subjects[0] for f in bare})


def heard(code: str, a: Analysis, *told: Told) -> list[Finding]:
    """What one rule says; nothing where the case lacks what it needs. One that breaks is told as one that could not look."""
    return _heard(code, a, {} if told else said_of_walls(a, _bare.get()), *told)


def _heard(code: str, a: Analysis, known: dict[str, tuple[Any, ...]], *told: Told) -> list[Finding]:
    """`known`: what rules said of the same walls."""
    found: list[Finding] = []
    between_steps()
    try:
        found += _seen(code, a, *told) if told else said(code, known, partial(_seen, code), a)
    except Stopped:  # nothing broke
        raise
    except Exception as e:  # whatever broke it, the other rules are heard
        found.append(_could_not_look(code, e))
    return found


def _seen(code: str, a: Analysis, *told: Told) -> Iterator[Finding]:
    for need in NEEDS[code]:
        if not a.case.has(need):
            return
    for f in RULES[code](a, *told):
        if f.severity == "advice" or seen_beyond(f):
            yield f
        elif abs(f.measured - f.limit) > 2 * 10**-SHOWN_DIGITS:  # else it is as good as its limit
            raise ValueError(f"it says “{f.title}”, and {f.measured:g} of {f.sense} {f.limit:g} {f.unit} denies it")


def seen_beyond(f: Finding) -> bool:
    """Whether a number is on the wrong side of its limit as both are shown, in hundredths: 56.0 against 56.0 is no concern."""
    measured, limit = round(f.measured, SHOWN_DIGITS), round(f.limit, SHOWN_DIGITS)
    return measured < limit if f.sense == "at least" else measured > limit


def _could_not_look(code: str, e: Exception) -> Finding:
    message, kind = reason(e)
    return Maker("rule-broke", STOPS[code])(
        "weigh",
        f"The rule “{code.replace('-', ' ')}” could not look",
        measured=0,
        limit=1,
        unit="",
        how="0: it broke, 1: it looked",
        reason=f"{message[:1].upper()}{message[1:]}. All other rules did look. What this one would say is not known: do not take "
        "silence for approval." + (f" ({kind})" if kind else ""),
        source="Rhombex itself",
        subjects=(code,),
    )


def offered(label: str, build: Callable[[], tuple[Edit, ...]]) -> tuple[Remedy | NotOffered, ...]:
    """A remedy; one that would do more than a design can hold is told as such; none where it would do nothing."""
    try:
        edits = build()
    except ValidationError as e:
        return (NotOffered(label=label, message=first_error(e)[1]),)
    except DesignError as e:
        return (NotOffered(label=label, message=e.message),)
    return (Remedy(label=label, edits=edits),) if edits else ()
