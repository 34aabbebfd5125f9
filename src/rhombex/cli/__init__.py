"""The command line: the same core as the interface. Exit 0 no stop, 1 stops remain, 2 bad input."""

from __future__ import annotations

import gc
from collections.abc import Callable

import typer

from rhombex.cli.cuts import cuts_
from rhombex.cli.designs import apply_, check, compare, scenario
from rhombex.cli.exports import export
from rhombex.cli.hardware import hardware_
from rhombex.cli.parts import component_read, measure_
from rhombex.cli.plan import estimate_, gcode_
from rhombex.cli.power import power_
from rhombex.cli.server import serve
from rhombex.cli.shell import construct, constructions

# what is imported and remembered stays: to look through all of it again and again for what may go takes a tenth of a second
gc.set_threshold(200_000, 20, 50)

app = typer.Typer(
    add_completion=False,
    no_args_is_help=True,
    rich_markup_mode=None,
    help="Design, check and print a custom computer case.",
)
component = typer.Typer(no_args_is_help=True, help="Components: read them from files.")
COMMANDS: dict[str, Callable[..., None]] = {
    "scenario": scenario,
    "check": check,
    "compare": compare,
    "apply": apply_,
    "constructions": constructions,
    "construct": construct,
    "hardware": hardware_,
    "cuts": cuts_,
    "export": export,
    "estimate": estimate_,
    "gcode": gcode_,
    "measure": measure_,
    "power": power_,
    "serve": serve,
}
for name, command in COMMANDS.items():
    app.command(name)(command)
component.command("read")(component_read)
app.add_typer(component, name="component")
app.add_typer(component, name="part", hidden=True)  # what it was called before; scripts go on
