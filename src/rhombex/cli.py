"""The command line: the same core as the interface. Exit 0 no stop, 1 stops remain, 2 bad input."""

from __future__ import annotations

import atexit
import gc
import json
import os
import sys
from pathlib import Path
from typing import TYPE_CHECKING, Annotated, Any, NoReturn

import typer

from rhombex.core.exchange.formats import FORMATS
from rhombex.core.plain import DesignError

if TYPE_CHECKING:  # each command imports what it needs: asking for help must not wait for all of it
    from rhombex.core.design import Design
    from rhombex.core.workshop.printer import Printer
    from rhombex.core.workshop.workshop import Workshop

MAX_DESIGN_BYTES = 20_000_000
MAX_MESH_BYTES = 400_000_000
LEVELS = ("preview", "settled", "exact")
Shop = Annotated[
    Path | None,
    typer.Option("--workshop", help="Your workshop as JSON, as the workshop page saves it; else the sample one."),
]

# what is imported and remembered stays: to look through all of it again and again for what may go takes a tenth of a second
gc.set_threshold(50_000, 20, 50)

app = typer.Typer(
    add_completion=False,
    no_args_is_help=True,
    rich_markup_mode=None,
    help="Design, check and print a custom computer case.",
)


def _fail(what: str, do: str = "") -> NoReturn:
    typer.echo(f"rhombex: {what}" + (f" {do}" if do else ""), err=True)
    raise typer.Exit(2)


def _load(path: Path) -> Any:
    try:
        if path.stat().st_size > MAX_DESIGN_BYTES:
            _fail(f"{path}: larger than {MAX_DESIGN_BYTES // 1_000_000} MB; no design is that large.")
        return json.loads(path.read_text(encoding="utf-8"))
    except OSError as e:
        _fail(f"{path}: cannot be read ({e.strerror}).")
    except (UnicodeDecodeError, json.JSONDecodeError, RecursionError) as e:
        _fail(f"{path}: not whole JSON ({e}).", "Nothing was changed.")


def _bytes(path: Path, most: int) -> bytes:
    try:
        if path.stat().st_size > most:
            _fail(f"{path}: larger than {most // 1_000_000} MB.")
        return path.read_bytes()
    except OSError as e:
        _fail(f"{path}: cannot be read ({e.strerror}).")


def _head(path: Path) -> bytes:
    try:
        with path.open("rb") as f:
            return f.read(512)
    except OSError as e:
        _fail(f"{path}: cannot be read ({e.strerror}).")


def _shop(path: Path | None) -> Workshop:
    """The workshop of a file, or the sample one."""
    from rhombex.core.workshop.sample import ARCHIVE_WORKSHOP
    from rhombex.core.workshop.workshop import read_workshop

    if path is None:
        return ARCHIVE_WORKSHOP
    try:
        return read_workshop(_load(path))
    except DesignError as e:
        _fail(f"{path}: {e}.", e.do)


def _one_of(workshop: Workshop) -> Printer:
    """The printer that stands for all where none is named: the design's usual one, else the first."""
    return workshop.printer("bench-220") or workshop.printers[0]


def _design(path: Path) -> Design:
    from rhombex.core.design import read_design

    data = _load(path)
    try:
        return read_design(data)
    except DesignError as e:
        _fail(f"{path}: {e}.", e.do)


def write_whole(path: Path, data: bytes) -> None:
    """Write a file completely or not at all: into a neighbour first, then renamed over."""
    room = path.with_name(f".{path.name}.{os.getpid()}.part")
    try:
        with room.open("wb") as f:
            f.write(data)
            f.flush()
            os.fsync(f.fileno())
        room.replace(path)
    except OSError as e:
        room.unlink(missing_ok=True)
        _fail(f"{path}: cannot be written ({e.strerror}).", "What was there before is kept.")


@app.command()
def scenario(name: str, out: Annotated[Path, typer.Option("--out")]) -> None:
    """Write a sample design."""
    from rhombex.core.exchange.design_json import design_json
    from rhombex.demo.scenario import SCENARIOS

    if name not in SCENARIOS:
        _fail(f"there is no scenario '{name}'.", f"There are: {', '.join(SCENARIOS)}.")
    write_whole(out, design_json(SCENARIOS[name]()).encode())


@app.command()
def check(
    file: Path,
    as_json: Annotated[bool, typer.Option("--json")] = False,
    tried: Annotated[bool, typer.Option("--try", help="Try every remedy, and say what it does.")] = False,
    workshop: Shop = None,
) -> None:
    """Say what will not fit, print, hold, stay cool or go together."""
    from rhombex.core.report import report

    design = _design(file)
    try:
        found = report(design, _shop(workshop), tried)
    except DesignError as e:
        _fail(f"{file}: {e}.", e.do)
    if as_json:
        typer.echo(json.dumps(found, indent=1, ensure_ascii=False))
    else:
        for c in found["concerns"]:
            typer.echo(f"{c['severity']:6} {c['title']}  ({c['measured']:g} {c['sense']} {c['limit']:g} {c['unit']})")
            for r in c["remedies"]:
                typer.echo(f"         - {r['label']}{_does(r['effect']) if tried else ''}")
        for key, t in found["tally"].items():
            typer.echo(f"{key:10} {t['value']:g} {t['unit']}")
    raise typer.Exit(1 if found["stops"] else 0)


def _does(effect: dict[str, Any]) -> str:
    brings = f"; brings: {', '.join(effect['new'])}" if effect["new"] else ""
    if effect["refused"]:
        return f": not possible ({effect['refused']})"
    return f": {'resolves it' if effect['clears'] else 'does not resolve it alone'}{brings}"


@app.command()
def compare(
    file: Path,
    other: Path,
    as_json: Annotated[bool, typer.Option("--json")] = False,
    workshop: Shop = None,
) -> None:
    """Say what is different between two designs."""
    from rhombex.core.looked import look
    from rhombex.core.versions import differences

    shop = _shop(workshop)
    found = differences(*look(_design(file), shop, "preview"), *look(_design(other), shop, "preview"))
    if as_json:
        rows = [d.model_dump(mode="json") for d in found]
        typer.echo(json.dumps({"differences": rows}, indent=1, ensure_ascii=False))
        return
    for d in found:
        typer.echo(f"{d.of:10} {d.what}: {d.here or '-'} -> {d.there or '-'}")


@app.command("apply")
def apply_(
    file: Path, edit: Annotated[Path, typer.Option("--edit")], out: Annotated[Path, typer.Option("--out")]
) -> None:
    """Do an edit, or a list of edits, to a design."""
    from rhombex.core.apply import apply
    from rhombex.core.edits import Edit, Together, read_edit
    from rhombex.core.exchange.design_json import design_json

    design, data = _design(file), _load(edit)
    try:
        todo: Edit = Together(edits=tuple(read_edit(e) for e in data)) if isinstance(data, list) else read_edit(data)
        changed = apply(design, todo)
    except DesignError as e:
        _fail(f"{edit}: {e}.", f"{e.kept} {e.do}")
    write_whole(out, design_json(changed).encode())


@app.command()
def constructions(file: Path, as_json: Annotated[bool, typer.Option("--json")] = False, workshop: Shop = None) -> None:
    """Say which ways there are to make the case of a design, with the numbers of each, and which is recommended."""
    from rhombex.core.choices import choices

    try:
        ways = choices(_design(file), _shop(workshop), share=None)
    except DesignError as e:
        _fail(f"{file}: {e}.", e.do)
    if as_json:
        rows = [w.model_dump(mode="json") for w in ways]
        typer.echo(json.dumps({"constructions": rows}, indent=1, ensure_ascii=False))
        return
    for w in ways:
        mark = "*" if w.recommended else "=" if w.now else " "
        typer.echo(
            f"{mark} {w.kind:18} {w.litres:6.2f} l {w.pieces:3} pieces {w.sheets:2} sheets {w.mass_g:7.0f} g {w.time_h:6.1f} h "
            f"{w.money:7.2f} EUR {w.screws:3} screws of {w.screw_kinds} kinds"
        )
        typer.echo(f"                     {w.why}." + ("" if w.suits else " Does not suit."))


@app.command()
def construct(
    file: Path,
    kind: Annotated[str, typer.Option("--as", help="a construction, as `constructions` names it")],
    out: Annotated[Path, typer.Option("--out")],
    workshop: Shop = None,
) -> None:
    """Make the case of a design another way; what is placed, cut open and fitted stays."""
    from rhombex.core.apply import apply
    from rhombex.core.choices import made_so
    from rhombex.core.edits import Together
    from rhombex.core.exchange.design_json import design_json
    from rhombex.core.shell.offers import KINDS

    if kind not in KINDS:
        _fail(f"as: there is no construction '{kind}'.", f"There are: {', '.join(KINDS)}.")
    design = _design(file)
    try:
        changed = apply(design, Together(edits=made_so(design, _shop(workshop), kind)))
    except DesignError as e:
        _fail(f"{file}: {e}.", f"Nothing was changed. {e.do}")
    write_whole(out, design_json(changed).encode())


@app.command("hardware")
def hardware_(file: Path, as_json: Annotated[bool, typer.Option("--json")] = False, workshop: Shop = None) -> None:
    """List every screwed joint with the screw in its stack, the fewest kinds of screws that serve, and what is to be bought."""
    from rhombex.core.advice.hardware import hardware_table
    from rhombex.core.analysis import analyse
    from rhombex.core.concerns import judge

    design = _design(file)
    try:
        a = analyse(design, _shop(workshop), "preview")
        found = hardware_table(a)
    except DesignError as e:
        _fail(f"{file}: {e}.", e.do)
    stops = [f for f in judge(a) if f.stop == "hardware" and f.severity == "stop"]
    if as_json:
        row = found.model_dump(mode="json") | {"concerns": [f.model_dump(mode="json") for f in stops]}
        typer.echo(json.dumps(row, indent=1, ensure_ascii=False))
    else:
        for r in found.rows:
            g = r.joint
            reach = r.reach.tool if r.reach.free else f"not reached: {r.reach.blocked_by}"
            typer.echo(f"{g.key:20} {g.count:3} x {r.screw or 'stud':22} {g.holding:15} {reach}")
        magnets = found.magnets
        for p in magnets.parts if magnets else ():
            poles = "".join(q.pole for q in p.pockets)
            lift = f"lifted with {p.held.lift_n.value:.0f} N" if p.held.lift_n else "no notch to lift it by"
            pull = f"{p.held.low_n.value:.0f} to {p.held.high_n.value:.0f} N"
            typer.echo(
                f"{p.held.part:20} {len(p.pockets):3} pairs {magnets.words if magnets else '':18} {pull:15} {poles}, {lift}"
            )
        if found.snaps and found.snaps.holds:
            h = found.snaps.holds
            bent = f"bent by {h.strain.value:.2f} % of at most {h.bears.value:.2f}"
            typer.echo(
                f"{'hooks':20} {h.count:3} of {found.snaps.wanted}, {bent}, pulled off with {h.off_n.value:.0f} N"
            )
        least = ", ".join(k.words for k in found.fewest.least)
        proof = "proven" if found.fewest.proven else "not proven"
        typer.echo(f"kinds of screws: {len(found.fewest.now)} now, least {len(found.fewest.least)} ({proof}): {least}")
        for x in found.shopping.lines:
            buy = (
                f"buy {x.packs} x {x.pack}, {x.money.value:.2f} EUR" if x.packs else "there" if x.known else "not sold"
            )
            typer.echo(f"{x.item:20} {x.size:16} {x.need:3} needed {x.have:3} there  {buy}")
        for s in found.shopping.sheets:
            bent = f", bent {s.bends} times" if s.bends else ""
            size = f"{s.size_mm[0]:.1f} x {s.size_mm[1]:.1f} x {s.thick_mm:g}"
            typer.echo(f"{s.part:20} {size:24} {s.material}{bent}, cut to size, {s.money.value:.2f} EUR")
        typer.echo(f"to buy: {found.shopping.money:.2f} EUR")
        for f in stops:
            typer.echo(f"stop   {f.title}")
    raise typer.Exit(1 if stops else 0)


@app.command("cuts")
def cuts_(
    file: Path,
    as_json: Annotated[bool, typer.Option("--json")] = False,
    together: Annotated[
        bool, typer.Option("--together", help="Look for a cheaper order to plan the parts in.")
    ] = False,
    workshop: Shop = None,
) -> None:
    """List the pieces that every part is cut into for the bed: cuts with what joins them and what they bear, prices of every place, and sizes."""
    from rhombex.core.advice.cut_order import cut_order
    from rhombex.core.advice.cuts import cuts_table
    from rhombex.core.analysis import analyse
    from rhombex.core.cuts.joins import WORDS

    design = _design(file)
    try:
        a = analyse(design, _shop(workshop), "preview")
    except DesignError as e:
        _fail(f"{file}: {e}.", e.do)
    if as_json:
        rows = []
        for part in cuts_table(a).parts:
            row = part.model_dump(mode="json")
            rows.append(row.pop("cuts") | {k: row[k] for k in ("why", "ways", "seams", "smaller")})
        order = {"order": cut_order(a).model_dump(mode="json")} if together else {}
        typer.echo(json.dumps({"parts": rows, **order}, indent=1, ensure_ascii=False))
    else:
        if together:
            o = cut_order(a)
            price = f"{o.pieces} pieces, price {o.price:.2f}"
            typer.echo(
                f"cheaper cut in this order: {', '.join(o.best)}: {price} instead of {o.pieces_now}, {o.price_now:.2f}"
                if o.edits
                else f"no other order of the parts is cheaper: {price}, {o.orders} looked at"
            )
        for table in cuts_table(a).parts:
            c = table.cuts
            size = " x ".join(f"{x:.1f}" for x in c.bbox_mm)
            typer.echo(f"{c.part}: {size} mm, {len(c.pieces)} {'piece' if len(c.pieces) == 1 else 'pieces'}")
            for x in c.cuts:
                through = f", through the {', '.join(x.crosses)}" if x.crosses else ""
                choice = next(s.choice for s in table.seams if s.cut == x)
                typer.echo(f"  cut across {x.axis} at {x.inside_mm:.1f} mm, {len(x.dowels)} {WORDS[x.joined]}{through}")
                typer.echo(f"    proposed: {choice.proposed}. {choice.why}")
            for p in c.pieces:
                fits = "fits the bed" if p.fits_bed else f"{p.over_mm:.1f} mm too large for the bed"
                typer.echo(f"  {p.name:16} {' x '.join(f'{x:.1f}' for x in p.bbox_mm)} mm, {fits}")
    raise typer.Exit(0 if all(p.fits_bed for c in a.cuts for p in c.pieces) else 1)


@app.command()
def export(
    file: Path,
    out: Annotated[Path, typer.Option("--out")],
    formats: Annotated[str, typer.Option("--formats")] = ",".join(FORMATS),
    components: Annotated[bool, typer.Option("--components", help="As simple solids in the STEP of the case.")] = False,
    only: Annotated[list[str] | None, typer.Option("--only", help="This piece alone; may be said again.")] = None,
    workshop: Shop = None,
) -> None:
    """Write files of every piece, of plates and the whole case, drawings, the bill of materials and the design into a folder."""
    wanted = tuple(f.strip() for f in formats.split(",") if f.strip())
    unknown = [f for f in wanted if f not in FORMATS]
    if unknown or not wanted:
        _fail(f"formats: '{formats}' is not known.", f"Take some of {', '.join(FORMATS)}.")
    from rhombex.core.analysis import analyse
    from rhombex.core.exchange.package import ExportError, package

    design = _design(file)
    try:
        a = analyse(design, _shop(workshop))
        missing = [n for n in only or () if n not in {p.name for p in a.pieces}]
        if missing:
            _fail(f"only: there is no piece '{missing[0]}'.", f"Its pieces are {', '.join(p.name for p in a.pieces)}.")
        files = package(a, wanted, components=components, only=only or ())  # type: ignore[arg-type]
    except (DesignError, ExportError) as e:
        _fail(f"{file}: {e}.", "No file was written.")
    try:
        out.mkdir(parents=True, exist_ok=True)
    except OSError as e:
        _fail(f"{out}: cannot be made ({e.strerror}).")
    for name, data in files.items():
        write_whole(out / name, data)
    typer.echo(f"{len(files)} files in {out}")
    from rhombex.core.concerns import judge

    raise typer.Exit(1 if any(f.severity == "stop" for f in judge(a)) else 0)


@app.command("estimate")
def estimate_(
    file: Path,
    printer: Annotated[Path | None, typer.Option("--printer", help="A printer as JSON; see docs/examples.")] = None,
    process: Annotated[Path | None, typer.Option("--process", help="A process as JSON; see docs/examples.")] = None,
    level: Annotated[str, typer.Option("--level", help="preview, settled or exact")] = "settled",
    as_json: Annotated[bool, typer.Option("--json")] = False,
    workshop: Shop = None,
) -> None:
    """Say what a mesh (STL, 3MF) or the parts of a design take: hours with their interval, grams, metres, by feature."""
    from rhombex.core.advice.report import design_report, mesh_report
    from rhombex.core.design import Process, read_process
    from rhombex.core.exchange.solid_mesh import read_solid
    from rhombex.core.workshop.printer import read_printer

    if level not in LEVELS:
        _fail(f"level: '{level}' is not known.", f"Take {', '.join(LEVELS)}.")
    try:
        machine = read_printer(_load(printer)) if printer else None
        how = read_process(_load(process)) if process else None
        head = _head(file)
        if head.lstrip()[:1] == b"{":
            found = design_report(_design(file), _shop(workshop), machine, how, level)  # type: ignore[arg-type]
        else:
            mesh = read_solid(_bytes(file, MAX_MESH_BYTES))
            found = mesh_report(file.stem, mesh, how or Process(), machine or _one_of(_shop(workshop)), level)  # type: ignore[arg-type]
    except DesignError as e:
        _fail(f"{file}: {e}.", e.do)
    if as_json:
        typer.echo(json.dumps(found, indent=1, ensure_ascii=False))
        return
    for part in found["parts"]:
        typer.echo(
            f"{part['name']:16} {part['time_s'] / 3600:6.2f} h ({part['time_low_s'] / 3600:.2f} to "
            f"{part['time_high_s'] / 3600:.2f})  {part['mass_g']:7.1f} g  {part['filament_m']:6.1f} m"
        )
        for k in part["by_feature"]:
            typer.echo(f"    {k['kind']:20} {k['time_s'] / 60:8.1f} min {k['mass_g']:7.1f} g")


@app.command("gcode")
def gcode_(
    file: Path,
    printer: Annotated[Path | None, typer.Option("--printer")] = None,
    as_json: Annotated[bool, typer.Option("--json")] = False,
    workshop: Shop = None,
) -> None:
    """Say what a file of G-code takes on a printer: time, filament, extents, temperatures, changes."""
    from rhombex.core.exchange.gcode import read_gcode
    from rhombex.core.workshop.printer import read_printer

    try:
        machine = read_printer(_load(printer)) if printer else _one_of(_shop(workshop))
        with file.open("rb") as stream:
            found = read_gcode(stream, machine)
    except OSError as e:
        _fail(f"{file}: cannot be read ({e.strerror}).")
    except DesignError as e:
        _fail(f"{file}: {e}.", e.do)
    if as_json:
        typer.echo(found.model_dump_json(indent=1))
    else:
        typer.echo(f"{found.time_s / 3600:.2f} h, {found.filament_m:.2f} m, {found.layers} layers, {found.lines} lines")
        for note in found.notes:
            typer.echo(f"- {note}")


component = typer.Typer(no_args_is_help=True, help="Components: read them from files.")
app.add_typer(component, name="component")
app.add_typer(component, name="part", hidden=True)  # what it was called before; scripts go on


@component.command("read")
def component_read(
    file: Path,
    unit: Annotated[
        str | None, typer.Option("--unit", help="mm, cm, in, m, thou or ft, for files that name none")
    ] = None,
    library: Annotated[Path | None, typer.Option("--library", help="The .emp that belongs to an .emn")] = None,
    layer: Annotated[list[str] | None, typer.Option("--layer", help="Only these layers of a DXF")] = None,
    seconds: Annotated[
        float, typer.Option("--seconds", help="Most work that a file may take, s; by its size if not said")
    ] = 0.0,
    as_kind: Annotated[str | None, typer.Option("--as", help="What a STEP file holds: board or body")] = None,
    as_json: Annotated[bool, typer.Option("--json")] = False,
) -> None:
    """Say what is recognised in a STEP, DXF, IDF, STL, 3MF, OBJ, PLY or GLB file: board, holes, connectors and their edges."""
    from rhombex.core.exchange.recognise import MOST_BYTES, recognise
    from rhombex.core.parts.recognised import UNIT_MM
    from rhombex.core.parts.report import component_report
    from rhombex.jobs.apart import apart, seconds_for

    if unit is not None and unit not in UNIT_MM:
        _fail(f"unit: '{unit}' is not known.", f"Take one of {', '.join(UNIT_MM)}.")
    if as_kind not in (None, "board", "body"):
        _fail(f"as: '{as_kind}' is not known.", "Take board or body.")
    beside = library or file.with_suffix(".emp")
    emp = None
    if file.suffix.lower() in (".emn", ".idf") and (library or beside.exists()):
        emp = _bytes(beside, MOST_BYTES)
    data = _bytes(file, MOST_BYTES)
    try:
        found, _ = apart(
            recognise,
            data,
            file.name,
            unit,
            emp,
            tuple(layer or ()),
            as_kind,
            seconds=seconds or seconds_for(len(data)),
        )
    except DesignError as e:
        _fail(f"{file}: {e}.", e.do)
    if as_json:
        typer.echo(json.dumps(component_report(found), indent=1, ensure_ascii=False))
        return
    typer.echo(f"{found.kind} {' x '.join(f'{x:.2f}' for x in found.size_mm)} mm, {found.turned}, up: {found.up}")
    for h in found.holes:
        typer.echo(f"  hole {h.d_mm:6.2f} at {h.at[0]:8.2f} {h.at[1]:8.2f}")
    for f in found.found:
        over = f"  over the {f.edge} edge by {f.overhang_mm:.2f}" if f.edge else ""
        typer.echo(f"  {f.name:24} {' x '.join(f'{b - a:.2f}' for a, b in zip(f.lo, f.hi, strict=True))}{over}")
    for note in found.notes:
        typer.echo(f"- {note}")


@app.command("measure")
def measure_(file: Path, as_json: Annotated[bool, typer.Option("--json")] = False) -> None:
    """Turn caliper readings into coordinates, and name the reading that contradicts the others. See docs/formats.md."""
    from rhombex.core.parts.notebook import read_notebook, solve

    try:
        found = solve(read_notebook(_load(file)))
    except DesignError as e:
        _fail(f"{file}: {e}.", e.do)
    if as_json:
        typer.echo(found.model_dump_json(indent=1))
    else:
        for p in found.without or found.features:
            known = [(c, getattr(p, f"{c}_mm"), getattr(p, f"sure_{c}_mm")) for c in "xydz"]
            typer.echo(f"{p.name:12} " + "  ".join(f"{c} {v:.3f} ±{u:.3f}" for c, v, u in known if v is not None))
        if found.hint:
            typer.echo(found.hint)
        if found.next is not None:
            n = found.next
            typer.echo(f"Measure next: {n.how} of {' and '.join(n.of)} along {n.along}: {n.why}.")
    raise typer.Exit(1 if found.suspects else 0)


@app.command("power")
def power_(file: Path, as_json: Annotated[bool, typer.Option("--json")] = False, workshop: Shop = None) -> None:
    """Say what every component takes by rail, what feeds it, and whether supplies, rails, slots and plugs bear it."""
    from rhombex.core.analysis import analyse
    from rhombex.core.concerns import judge
    from rhombex.core.power.draws import budget

    design = _design(file)
    try:
        a = analyse(design, _shop(workshop), "preview")
        found = budget(design, a.things)
    except DesignError as e:
        _fail(f"{file}: {e}.", e.do)
    codes = ("supply-too-small", "rail-over-rating", "plug-over-limit", "nothing-feeds", "plugs-missing")
    concerns = [f for f in judge(a) if f.code in codes]
    if as_json:
        row = found.model_dump(mode="json") | {"concerns": [f.model_dump(mode="json") for f in concerns]}
        typer.echo(json.dumps(row, indent=1, ensure_ascii=False))
    else:
        for x in found.branches:
            w = x.watts
            typer.echo(
                f"{x.name:20} {x.rail:6} {w.idle:7.1f} {w.typical:7.1f} {w.peak:7.1f} W  from {x.source or 'nothing'}"
            )
        for s in found.sources:
            typer.echo(f"{s.name}: {s.watts.peak:.1f} of {s.rating_w:g} W, margin {s.margin:.0%}")
        for c in found.cables:
            typer.echo(f"cable {c.plug}: {c.source} to {c.component}")
        for f in concerns:
            typer.echo(f"{f.severity:6} {f.title}")
    raise typer.Exit(1 if any(f.severity == "stop" for f in concerns) else 0)


@app.command()
def serve(
    host: Annotated[str, typer.Option()] = "127.0.0.1",
    port: Annotated[int, typer.Option(min=0, max=65535)] = 8137,
    data: Annotated[Path, typer.Option("--data")] = Path("data"),
    demo: Annotated[bool, typer.Option(help="Start with the sample designs where there are none.")] = False,
    name: Annotated[
        list[str] | None,
        typer.Option(help="A name or address that it is called by; once for each.", show_default=False),
    ] = None,
    password_file: Annotated[
        Path | None, typer.Option(help="A file that holds the password; else RHOMBEX_PASSWORD.", show_default=False)
    ] = None,
) -> None:
    """Start Rhombex for the browser. Only this machine reaches it, unless another --host and a password are given."""
    from rhombex.web.server import run

    password = os.environ.get("RHOMBEX_PASSWORD", "")
    if password_file is not None:
        password = _bytes(password_file, 10_000).decode("utf-8", "replace").strip()
        if not password:
            _fail(f"{password_file}: it is empty; a password is wanted.")
    code = run(host, port, data, demo, tuple(name or ()), password)
    sys.stdout.flush()
    sys.stderr.flush()
    if code:
        sys.exit(code)
    # A job that is still at work in the mesh kernel as the interpreter ends would be unwound through it, which aborts; and what the kernel prints then
    # is no use to anybody. All is kept: what is left to do is done, and the process ends.
    atexit._run_exitfuncs()
    os._exit(0)


if __name__ == "__main__":
    app()
