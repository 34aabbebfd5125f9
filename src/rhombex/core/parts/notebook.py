"""The measuring notebook: caliper readings in, coordinates with their uncertainty out.

Every reading is a sum of unknown places and half diameters, so they are brought together by weighted least squares. What the
readings leave over (the residuals, each divided by its own spread) tells which reading contradicts the others.
"""

from __future__ import annotations

import math
from itertools import combinations, product
from typing import Annotated, Any, Literal

import numpy as np
from numpy.typing import NDArray
from pydantic import Field, model_validator

from rhombex.core.parts.lengths import Unit, length_mm
from rhombex.core.plain import DesignError, read_as
from rhombex.core.reference import val
from rhombex.core.trail import Frozen, Shown
from rhombex.core.words import Name

Array = NDArray[np.float64]
How = Literal["outside", "inside", "edges", "centres", "diameter", "depth"]
Along = Literal["x", "y", "straight"]
Label = Annotated[str, Field(pattern=r"^[A-Za-z0-9][A-Za-z0-9 ._-]{0,39}$")]
Typed = Annotated[str, Field(max_length=80)] | float


class Feature(Frozen):
    """A thing with a place: an edge (on x or y), a hole, or a level (on z).

    `at_mm`: where it is by definition, for a datum. `near_mm`: roughly where a hole is, wanted only where it is found by
    straight distances alone. `like`: another hole of the same diameter.
    """

    name: Label
    kind: Literal["edge", "hole", "level"]
    axis: Literal["x", "y"] | None = None
    at_mm: Annotated[float, Field(ge=-5000, le=5000)] | None = None
    near_mm: tuple[Annotated[float, Field(ge=-5000, le=5000)], Annotated[float, Field(ge=-5000, le=5000)]] | None = None
    like: Label | None = None

    @model_validator(mode="after")
    def _whole(self) -> Feature:
        if (self.kind == "edge") != (self.axis is not None):
            raise ValueError(f"feature '{self.name}': an edge has an axis, and only an edge has one")
        return self


class Reading(Frozen):
    """What the calipers said, between two features (or of one).

    `outside`: over the far rims or from an edge to the far rim. `inside`: between the near rims. `edges`: between two edges.
    `centres`: hole centre to hole centre or to an edge. `depth`: from a level up to another. Of two features the first lies
    to the left, in front or below. `value`: as typed, or several when it was repeated. `sure_mm` holds in 95 of 100.
    """

    id: Label
    how: How
    of: Annotated[tuple[Label, ...], Field(min_length=1, max_length=2)]
    along: Along = "x"
    value: Typed | Annotated[tuple[Typed, ...], Field(min_length=1, max_length=50)]
    sure_mm: Annotated[float, Field(ge=0.001, le=50)] | None = None


class Notebook(Frozen):
    name: Name = "board"
    unit: Unit = "mm"
    features: Annotated[tuple[Feature, ...], Field(min_length=1, max_length=80)]
    readings: Annotated[tuple[Reading, ...], Field(min_length=1, max_length=400)]

    @model_validator(mode="after")
    def _holds_together(self) -> Notebook:
        for what, names in (("features", [f.name for f in self.features]), ("readings", [r.id for r in self.readings])):
            twice = {n for n in names if names.count(n) > 1}
            if twice:
                raise ValueError(f"{what}: '{min(twice)}' is there twice")
        there = {f.name: f for f in self.features}
        for f in self.features:
            if f.like is not None and (there.get(f.like) is None or there[f.like].kind != "hole" or f.kind != "hole"):
                raise ValueError(f"features.{f.name}.like: there is no hole '{f.like}'")
        for f in self.features:
            seen, at = {f.name}, f
            while at.like is not None:
                at = there[at.like]
                if at.name in seen:
                    raise ValueError(
                        f"features.{f.name}.like: the holes are like one another in a ring; give one no 'like'"
                    )
                seen.add(at.name)
        for r in self.readings:
            for n in r.of:
                if n not in there:
                    raise ValueError(f"readings.{r.id}: there is no feature '{n}'")
            said = _mismatch(r, [there[n] for n in r.of])
            if said:
                raise ValueError(f"readings.{r.id}: {said}")
        return self


def _mismatch(r: Reading, of: list[Feature]) -> str:
    """What does not go together in a reading; empty where all does."""
    kinds = [f.kind for f in of]
    if r.how == "diameter":
        return "" if kinds == ["hole"] else "a diameter is of one hole"
    if len(of) != 2 or of[0].name == of[1].name:
        return "it is between two different features"
    if "level" in kinds or r.how == "depth":
        return "" if kinds == ["level", "level"] else "a depth is between two levels"
    if r.how == "edges" and kinds != ["edge", "edge"]:
        return "'edges' is between two edges"
    if r.along == "straight":
        return "" if kinds == ["hole", "hole"] else "a straight distance is between two holes; else say along x or y"
    if any(f.kind == "edge" and f.axis != r.along for f in of):
        return f"the edge does not bound {r.along}"
    return ""


class Placed(Frozen):
    """A feature found: what it has of x, y, diameter and z, and how sure each is (95 of 100)."""

    name: str
    kind: Literal["edge", "hole", "level"]
    x_mm: Shown | None = None
    y_mm: Shown | None = None
    d_mm: Shown | None = None
    z_mm: Shown | None = None
    sure_x_mm: Shown = 0.0
    sure_y_mm: Shown = 0.0
    sure_d_mm: Shown = 0.0
    sure_z_mm: Shown = 0.0
    open: tuple[Literal["x", "y", "d", "z"], ...] = ()


class Residual(Frozen):
    """What a reading leaves over: read minus fitted. `checked`: which share of a fault in it would show (its redundancy);
    `stands_out`: the residual over its own spread."""

    reading: str
    turn: int
    read_mm: Shown
    fitted_mm: Shown
    residual_mm: Shown
    sure_mm: Shown
    checked: Shown
    stands_out: Shown


class Next(Frozen):
    """What to measure next, and what it would settle."""

    how: How
    of: tuple[str, ...]
    along: Along
    expect_mm: Shown
    why: str


class OffBoard(Frozen):
    """A hole whose rim lies beyond the board's edge, and by how much."""

    hole: str
    by_mm: Shown


class Solved(Frozen):
    """`suspects`: readings that contradict the others, the worst first; where several cannot be told apart all are named.
    `fit`: root of the mean squared residual in units of its spread, about 1 where uncertainties were judged right. `lacking`: why
    it is no board yet, or nothing; `off`: holes that do not lie on it."""

    features: tuple[Placed, ...]
    residuals: tuple[Residual, ...]
    suspects: tuple[str, ...]
    hint: str
    without: tuple[Placed, ...]
    open: tuple[str, ...]
    unchecked: tuple[str, ...]
    next: Next | None
    fit: Shown
    redundancy: int
    off: tuple[OffBoard, ...] = ()
    lacking: str = ""


def read_notebook(data: Any) -> Notebook:
    """A notebook of plain data. Raises DesignError naming the field."""
    return read_as(Notebook, data, "notebook")


def _usual_sure(how: How) -> float:
    return val(f"measuring.sure.{how}")


class _Row:
    """One observed value: which reading, which repeat, how it follows from the unknowns."""

    def __init__(self, reading: Reading, turn: int, value: float, sure: float) -> None:
        self.reading, self.turn, self.value = reading, turn, value
        self.sigma = sure / val("measuring.check.coverage")


class _Model:
    """Unknowns of a notebook and how readings follow from them."""

    def __init__(self, book: Notebook) -> None:
        self.book = book
        self.features = {f.name: f for f in book.features}
        self.names: list[tuple[str, str]] = []  # feature, coordinate
        self.fixed: dict[tuple[str, str], float] = {}
        self.column: dict[tuple[str, str], int] = {}
        for f in book.features:
            for c in {"edge": (f.axis,), "hole": ("x", "y", "d"), "level": ("z",)}[f.kind]:
                assert c is not None
                if c == "d" and f.like is not None:
                    continue
                if f.at_mm is not None and f.kind != "hole":
                    self.fixed[f.name, c] = f.at_mm
                else:
                    self.names.append((f.name, c))
        for axis in ("x", "y", "z"):
            self._datum(axis)
        self.names = [n for n in self.names if n not in self.fixed]
        self.column = {n: i for i, n in enumerate(self.names)}

    def _datum(self, axis: str) -> None:
        """An axis on which nothing is fixed begins at its first edge or level, else at its first hole."""
        if any(c == axis for _, c in self.fixed):
            return
        mine = [n for n in self.names if n[1] == axis]
        mine.sort(key=lambda n: self.features[n[0]].kind == "hole")
        if mine:
            self.fixed[mine[0]] = 0.0

    def root(self, hole: str) -> str:
        """The hole whose diameter stands for this one's."""
        while (like := self.features[hole].like) is not None:  # a notebook has no ring of them
            hole = like
        return hole

    def _add(self, row: Array, name: str, c: str, by: float) -> float:
        """Add `by` x coordinate to a row; returns the constant part."""
        key = (self.root(name), "d") if c == "d" else (name, c)
        if key in self.fixed:
            return by * self.fixed[key]
        row[self.column[key]] += by
        return 0.0

    def linear(self, how: How, of: tuple[str, ...], along: str) -> tuple[Array, float]:
        """A reading along an axis as a row of coefficients and a constant."""
        row = np.zeros(len(self.names))
        if how == "diameter":
            return row, self._add(row, of[0], "d", 1.0)
        kinds = [self.features[n].kind for n in of]
        axis = "z" if "level" in kinds else along
        constant = self._add(row, of[1], axis, 1.0) + self._add(row, of[0], axis, -1.0)
        half = {"outside": 0.5, "inside": -0.5}.get(how, 0.0)
        for name, kind in zip(of, kinds, strict=True):
            if kind == "hole" and half:
                constant += self._add(row, name, "d", half)
        return row, constant

    def predict(self, how: How, of: tuple[str, ...], along: str, x: Array) -> tuple[float, Array]:
        """The value a reading would have at x, and its derivatives."""
        if along != "straight" or how in ("diameter", "depth"):
            row, constant = self.linear(how, of, along)
            return float(row @ x) + constant, row
        (rx, cx), (ry, cy) = self.linear("centres", of, "x"), self.linear("centres", of, "y")
        dx, dy = float(rx @ x) + cx, float(ry @ x) + cy
        far = max((dx * dx + dy * dy) ** 0.5, 1e-9)
        row = (dx * rx + dy * ry) / far
        constant = 0.0
        half = {"outside": 0.5, "inside": -0.5}.get(how, 0.0)
        extra = np.zeros_like(row)
        if half:
            for name in of:
                constant += self._add(extra, name, "d", half)
        return far + float(extra @ x) + constant, row + extra

    def start(self) -> Array:
        x = np.zeros(len(self.names))
        for i, (name, c) in enumerate(self.names):
            near = self.features[name].near_mm
            if near is not None and c in "xy":
                x[i] = near["xy".index(c)]
        return x


def _rows(book: Notebook) -> list[_Row]:
    rows = []
    for r in book.readings:
        sure = r.sure_mm if r.sure_mm is not None else _usual_sure(r.how)
        values = r.value if isinstance(r.value, tuple) else (r.value,)
        for k, v in enumerate(values):
            try:
                mm = length_mm(v, book.unit)
            except ValueError as e:
                raise DesignError(f"readings.{r.id}.value", str(e), "Write it as 61.47, 2 7/16 in or 85+2*3.") from None
            if mm < 0:
                raise DesignError(f"readings.{r.id}.value", f"a reading is not below zero, but this is {mm:g}")
            rows.append(_Row(r, k, mm, sure))
    return rows


class _Fit:
    """Least squares over some of the rows: unknowns, their cofactors, what stays open."""

    def __init__(self, model: _Model, rows: list[_Row], start: Array) -> None:
        self.model, self.rows = model, rows
        x = start.copy()
        curved = any(r.reading.along == "straight" and r.reading.how not in ("diameter", "depth") for r in rows)
        if curved:
            # what the axes tell comes first, so that straight distances begin near
            plain = [r for r in rows if r.reading.along != "straight" or r.reading.how in ("diameter", "depth")]
            x = self._step(plain, x) if plain else x
        for _ in range(60 if curved else 1):
            new = self._step(rows, x)
            moved = float(np.abs(new - x).max()) if len(x) else 0.0
            x = new
            if moved < 1e-10:
                break
        self.x = x
        self.a, self.left, self.sigma = self._system(rows, x)
        scaled = self.a / self.sigma[:, None]
        u, s, vt = (
            np.linalg.svd(scaled, full_matrices=True) if len(x) else (np.eye(len(rows)), np.zeros(0), np.zeros((0, 0)))
        )
        floor = 1e-9 * (s[0] if len(s) else 1.0)
        rank = int((s > floor).sum())
        self.rank = rank
        self.null = vt[rank:]
        self.q = (vt[:rank].T / s[:rank] ** 2) @ vt[:rank]
        hat = (u[:, :rank] ** 2).sum(axis=1)
        self.redundancy = np.clip(1.0 - hat, 0.0, 1.0)
        self.free = len(rows) - rank

    def _system(self, rows: list[_Row], x: Array) -> tuple[Array, Array, Array]:
        a = np.zeros((len(rows), len(x)))
        left = np.zeros(len(rows))
        for i, r in enumerate(rows):
            value, a[i] = self.model.predict(r.reading.how, r.reading.of, r.reading.along, x)
            left[i] = r.value - value
        return a, left, np.array([r.sigma for r in rows])

    def _step(self, rows: list[_Row], x: Array) -> Array:
        a, left, sigma = self._system(rows, x)
        if len(x) == 0:
            return x
        by, *_ = np.linalg.lstsq(a / sigma[:, None], left / sigma, rcond=1e-11)
        return np.asarray(x + by)

    @property
    def stands_out(self) -> Array:
        """Residuals over their own spread; 0 where nothing checks the reading."""
        ok = self.redundancy > val("measuring.check.unchecked")
        spread = self.sigma * np.sqrt(np.where(ok, self.redundancy, 1.0))
        return np.asarray(np.where(ok, self.left / spread, 0.0))

    def is_open(self, i: int) -> bool:
        return bool(len(self.null)) and float(np.abs(self.null[:, i]).max()) > 1e-6

    def placed(self) -> tuple[Placed, ...]:
        m = self.model
        k = val("measuring.check.coverage")
        grow = max(1.0, self.fit)  # readings that scatter more than they were said to make all less sure
        out = []
        for f in m.book.features:
            values: dict[str, Any] = {}
            open_ = []
            for c in {"edge": (f.axis,), "hole": ("x", "y", "d"), "level": ("z",)}[f.kind]:
                assert c is not None
                key = (m.root(f.name), "d") if c == "d" else (f.name, c)
                if key in m.fixed:
                    values[f"{c}_mm"] = m.fixed[key]
                    continue
                i = m.column[key]
                if self.is_open(i):
                    open_.append(c)
                    continue
                values[f"{c}_mm"] = float(self.x[i])
                values[f"sure_{c}_mm"] = k * grow * float(max(self.q[i, i], 0.0)) ** 0.5
            out.append(Placed(name=f.name, kind=f.kind, open=tuple(open_), **values))
        return tuple(out)

    @property
    def fit(self) -> float:
        return float(((self.left / self.sigma) ** 2).sum() / self.free) ** 0.5 if self.free > 0 else 0.0


def _candidates(book: Notebook) -> list[tuple[How, tuple[str, ...], Along]]:
    """Readings that calipers could take and that were not taken."""
    taken = {(r.how, r.of, "x" if r.how in ("diameter", "depth") else r.along) for r in book.readings}
    out: list[tuple[How, tuple[str, ...], Along]] = []
    for f in book.features:
        if f.kind == "hole":
            out.append(("diameter", (f.name,), "x"))
    for a, b in combinations(book.features, 2):
        if a.kind == b.kind == "level":
            out.append(("depth", (a.name, b.name), "x"))
        elif "level" not in (a.kind, b.kind):
            axes: tuple[Literal["x", "y"], ...] = ("x", "y")
            for axis, how in product(axes, ("outside", "inside")):
                if all(f.kind == "hole" or f.axis == axis for f in (a, b)):
                    both = a.kind == b.kind == "edge"
                    if both and how == "inside":
                        continue
                    out.append(("edges" if both else how, (a.name, b.name), axis))  # type: ignore[arg-type]
    return [c for c in out if c not in taken and (c[0], c[1][::-1], c[2]) not in taken][:600]


def _in_order(c: tuple[How, tuple[str, ...], Along], fit: _Fit) -> tuple[How, tuple[str, ...], Along]:
    """The lower one first, so that the reading comes out above zero."""
    how, of, along = c
    if len(of) == 2 and fit.model.predict("centres" if how != "depth" else how, of, along, fit.x)[0] < 0:
        return how, (of[1], of[0]), along
    return c


def _next(fit: _Fit, rivals: list[int], book: Notebook) -> Next | None:
    """The reading that would settle most: which of two readings is wrong, else what is open, else what is unchecked."""
    m = fit.model
    options = [_in_order(c, fit) for c in _candidates(book)]
    if not options:
        return None
    rows = [m.predict(*c, fit.x) for c in options]
    spread = np.array([_usual_sure(c[0]) for c in options]) / val("measuring.check.coverage")
    if rivals:
        ways = [_Fit(m, [r for k, r in enumerate(fit.rows) if k != i], fit.x).x for i in rivals[:2]]
        if len(ways) == 1:
            ways.append(fit.x)
        apart = np.array([abs(m.predict(*c, ways[0])[0] - m.predict(*c, ways[1])[0]) for c in options])
        score = apart / spread
        k = int(score.argmax())
        if score[k] > 0.5:
            names = " or ".join(f"'{fit.rows[i].reading.id}'" for i in rivals[:2])
            why = f"it would differ by {apart[k]:.2f} mm according to which is wrong: {names}"
            if len(rivals) == 1:
                why = f"it would differ by {apart[k]:.2f} mm if {names} is wrong"
            return _as_next(options[k], m.predict(*options[k], ways[0])[0], why)
    if len(fit.null):
        score = np.array([float(np.linalg.norm(fit.null @ row)) for _, row in rows])
        k = int(score.argmax())
        if score[k] > 1e-6:
            return _as_next(options[k], 0.0, "without it a place stays open")
    weak = fit.redundancy < val("measuring.check.unchecked")
    if weak.any():
        # how far a candidate's row reaches into the unchecked readings
        reach = np.abs(np.array([row for _, row in rows]) @ fit.q @ (fit.a[weak] / fit.sigma[weak, None]).T).max(axis=1)
        var = np.array([float(row @ fit.q @ row) for _, row in rows])
        score = reach / np.sqrt(var + spread**2)
        k = int(score.argmax())
        name = fit.rows[int(np.flatnonzero(weak)[0])].reading.id
        if score[k] > 1e-6:
            return _as_next(options[k], rows[k][0], f"nothing checks '{name}' yet")
    return None


def _as_next(c: tuple[How, tuple[str, ...], Along], expect: float, why: str) -> Next:
    return Next(how=c[0], of=c[1], along=c[2], expect_mm=expect, why=why)


def solve(book: Notebook) -> Solved:
    """Coordinates of all features by weighted least squares, with residuals and what contradicts what.

    A reading whose residual is beyond `measuring.check.suspect` of its spread is suspected, the worst one first (data
    snooping, one at a time). Raises DesignError for a value that cannot be read.
    """
    model = _Model(book)
    rows = _rows(book)
    fit = _Fit(model, rows, model.start())
    out = fit.stands_out
    worst = int(np.abs(out).argmax()) if len(out) else 0
    limit = val("measuring.check.suspect")
    rivals: list[int] = []
    if len(out) and abs(out[worst]) > limit:
        order = np.argsort(-np.abs(out))
        rivals = [int(i) for i in order if abs(out[i]) >= val("measuring.check.alike") * abs(out[worst])]
    without: tuple[Placed, ...] = ()
    hint = ""
    if rivals:
        rest = _Fit(model, [r for k, r in enumerate(rows) if k != rivals[0]], fit.x)
        without = rest.placed()
        first = rows[rivals[0]]
        ids = list(dict.fromkeys(rows[i].reading.id for i in rivals))
        believed = model.predict(first.reading.how, first.reading.of, first.reading.along, rest.x)[0]
        if len(ids) == 1:
            plain = abs(out[worst]) > val("measuring.check.sure_of_it")
            hint = (
                f"'{ids[0]}' {'contradicts' if plain else 'stands out from'} the others: it reads {first.value:.2f} mm, they "
                f"make it {believed:.2f}. {'Measure it again.' if plain else 'It may be chance; measure it again.'}"
            )
        else:
            hint = (
                "One of these is wrong, and these readings cannot tell which: " + ", ".join(f"'{i}'" for i in ids) + "."
            )
    suspects = tuple(dict.fromkeys(rows[i].reading.id for i in rivals))
    placed = fit.placed()
    open_ = tuple(f"{c} of {p.name}" for p in placed for c in p.open)
    if open_ and not hint:
        hint = f"Not determined yet: {', '.join(open_[:6])}."
    weak = fit.redundancy < val("measuring.check.unchecked")
    ordered = [int(i) for i in np.argsort(-np.abs(out))] if rivals else []
    return Solved(
        features=placed,
        residuals=tuple(
            Residual(
                reading=r.reading.id,
                turn=r.turn,
                read_mm=r.value,
                fitted_mm=r.value - fit.left[i],
                residual_mm=fit.left[i],
                sure_mm=r.sigma * val("measuring.check.coverage"),
                checked=fit.redundancy[i],
                stands_out=out[i],
            )
            for i, r in enumerate(rows)
        ),
        suspects=suspects,
        hint=hint,
        without=without,
        open=open_,
        unchecked=tuple(dict.fromkeys(r.reading.id for r, w in zip(rows, weak, strict=True) if w)),
        next=_next(fit, ordered[:2], book),
        fit=fit.fit,
        redundancy=fit.free,
        off=off_board(without or placed),
        lacking=lacking(without or placed),
    )


def outline_mm(placed: tuple[Placed, ...]) -> tuple[float, float, float, float] | None:
    """The board's outermost edges, x0, y0, x1, y1, mm; None until two are known along x and two along y."""
    xs = [p.x_mm for p in placed if p.kind == "edge" and p.x_mm is not None]
    ys = [p.y_mm for p in placed if p.kind == "edge" and p.y_mm is not None]
    return None if len(xs) < 2 or len(ys) < 2 else (min(xs), min(ys), max(xs), max(ys))


def off_board(placed: tuple[Placed, ...]) -> tuple[OffBoard, ...]:
    """Holes that reach beyond the edges by more than they are uncertain."""
    ends = outline_mm(placed)
    if ends is None:
        return ()
    x0, y0, x1, y1 = ends
    out = []
    for p in placed:
        if p.kind == "hole" and p.x_mm is not None and p.y_mm is not None:
            r = (p.d_mm or 0.0) / 2
            by = max(x0 - (p.x_mm - r), p.x_mm + r - x1, y0 - (p.y_mm - r), p.y_mm + r - y1)
            if by > max(p.sure_x_mm, p.sure_y_mm, p.sure_d_mm / 2):
                out.append(OffBoard(hole=p.name, by_mm=by))
    return tuple(out)


def lacking(placed: tuple[Placed, ...]) -> str:
    """What keeps the readings from being a board, in words; nothing where they are one."""
    if outline_mm(placed) is None:
        return "two edges along x and two along y make a board"
    if off := off_board(placed):
        told = ", ".join(f"hole {o.hole} reaches {o.by_mm:.2f} mm beyond its edge" for o in off)
        return f"{told}: a hole lies on the board"
    nowhere = [p.name for p in placed if p.kind == "hole" and (p.x_mm is None or p.y_mm is None)]
    return f"where hole {', '.join(nowhere)} lies is not determined yet" if nowhere else ""


def true_reading(
    how: How, of: tuple[str, ...], along: str, at: dict[str, dict[str, float]], features: dict[str, Feature]
) -> float:
    """What faultless calipers would read on features whose coordinates are known (for stand-ins and tests), mm, never below 0."""
    if how == "diameter":
        return at[of[0]]["d"]
    a, b = at[of[0]], at[of[1]]
    kinds = [features[n].kind for n in of]
    if "level" in kinds:
        return abs(b["z"] - a["z"])
    axes = ("x", "y") if along == "straight" else (along,)
    far = math.hypot(*(b[c] - a[c] for c in axes))
    half = {"outside": 0.5, "inside": -0.5}.get(how, 0.0)
    return max(0.0, far + half * sum(p["d"] for p, k in zip((a, b), kinds, strict=True) if k == "hole"))
