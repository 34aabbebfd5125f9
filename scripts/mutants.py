"""Plant faults one at a time and see whether the tests find them.

`python scripts/mutants.py kept [COUNT]`: the faults of `tests/planted.toml`, all or COUNT of them evenly, each against the tests named
beside it. Those with a `word` on why no test finds them are only tried when all are, and count as not found.
`python scripts/mutants.py draw COUNT SEED`: faults drawn evenly from everything that can be changed in the rooms below, each against the
tests of its rule or its room; written to `.mutants/drawn.toml` as `planted.toml` keeps them.

A fault is put into the running function (its code object is replaced) in a fork of a process that has imported everything and has run
nothing: a second or two each, two at a time. Prints every survivor, and the share that was found.
"""

from __future__ import annotations

import ast
import fnmatch
import gc
import json
import os
import signal
import sys
import time
import tomllib
import types
from collections.abc import Iterator
from dataclasses import dataclass, replace
from pathlib import Path
from random import Random
from typing import Any

os.environ.setdefault("HYPOTHESIS_PROFILE", "planted")
ROOT = Path(__file__).parents[1]
SRC = ROOT / "src" / "rhombex"
DRAWN = ROOT / ".mutants" / "drawn.toml"
ROOMS = ("bench", "shell", "openings", "cuts", "hardware", "concerns", "air", "fit", "apply.py", "case")
# which tests look at what a room makes; of a rule those of its code come before
RULE = tuple(f"core/test_{x}.py::*[[]{{code}}*" for x in ("rule_numbers", "rule_limits", "concerns"))
FILES = {
    "concerns": ("told_rightly", "rule_limits"),
    "bench": ("placing", "told_rightly", "case", "document", "parts"),
    "shell": ("case", "measured", "bill"),
    "openings": ("case", "own_openings", "measured", "own_figures"),
    "cuts": ("case", "measured", "bill"),
    "hardware": ("bill", "case", "measured"),
    "air": ("advice", "case"),
    "fit": ("own_figures", "case", "measured"),
    "apply.py": ("document", "case", "parts", "own_openings", "told_rightly"),
    "case": ("case", "measured", "bill"),
}
SECONDS = 240  # a fault that hangs its tests is found
NEED = 0.85
AT_ONCE = 2
NOT_PLANTED = 77

COMPARE = {ast.Lt: ast.GtE, ast.LtE: ast.Gt, ast.Gt: ast.LtE, ast.GtE: ast.Lt, ast.Eq: ast.NotEq, ast.NotEq: ast.Eq}
ARITHMETIC = {ast.Add: ast.Sub, ast.Sub: ast.Add, ast.Mult: ast.Div, ast.Div: ast.Mult}
WORDS = {"stop": "weigh", "weigh": "advice", "advice": "stop"}


@dataclass(frozen=True)
class Fault:
    file: str
    line: int
    why: str
    source: str
    tests: tuple[str, ...]
    old: str = ""
    new: str = ""
    word: str = ""  # why no test finds it


def planted() -> list[Fault]:
    """The kept faults: what stands exactly once in its file is replaced."""
    out = []
    for f in tomllib.loads((ROOT / "tests" / "planted.toml").read_text())["fault"]:
        text = (SRC / f["file"]).read_text()
        if text.count(f["old"]) != 1:
            raise SystemExit(f"{f['file']}: {f['old']!r} stands {text.count(f['old'])} times")
        line = text[: text.index(f["old"])].count("\n") + 1
        out.append(
            Fault(
                f["file"],
                line,
                f["why"],
                text.replace(f["old"], f["new"]),
                tuple(f["tests"]),
                f["old"],
                f["new"],
                f.get("word", ""),
            )
        )
    return out


def _places(tree: ast.Module) -> Iterator[tuple[ast.AST, str]]:
    """Nodes inside functions that can be changed, with what the change would be."""
    skip: set[int] = set()
    for f in ast.walk(tree):
        if not isinstance(f, ast.FunctionDef):
            continue
        skip |= {id(x) for d in (*f.decorator_list, f.args, f.returns) if d for x in ast.walk(d)}
        for n in ast.walk(f):
            if isinstance(n, ast.JoinedStr | ast.AnnAssign | ast.Slice):
                skip |= {id(x) for x in ast.walk(n.annotation if isinstance(n, ast.AnnAssign) else n)}
    for f in tree.body:
        for g in [f] if isinstance(f, ast.FunctionDef) else f.body if isinstance(f, ast.ClassDef) else []:
            if not isinstance(g, ast.FunctionDef):
                continue
            for n in ast.walk(g):
                if id(n) in skip:
                    continue
                if isinstance(n, ast.Compare) and len(n.ops) == 1 and type(n.ops[0]) in COMPARE:
                    yield n, "turned round"
                elif isinstance(n, ast.BinOp) and type(n.op) in ARITHMETIC and not isinstance(n.left, ast.Constant):
                    yield n, "other arithmetic"
                elif isinstance(n, ast.BoolOp):
                    yield n, "and for or"
                elif isinstance(n, ast.UnaryOp) and isinstance(n.op, ast.Not):
                    yield n, "not left out"
                elif isinstance(n, ast.Constant) and type(n.value) in (int, float) and abs(n.value) > 1e-4:
                    yield n, "another number"
                elif isinstance(n, ast.Constant) and isinstance(n.value, str) and n.value in WORDS:
                    yield n, "another severity"
                elif isinstance(n, ast.Name) and n.id in ("min", "max"):
                    yield n, "min for max"


def _change(n: ast.AST) -> None:
    if isinstance(n, ast.Compare):
        n.ops = [COMPARE[type(n.ops[0])]()]
    elif isinstance(n, ast.BinOp):
        n.op = ARITHMETIC[type(n.op)]()
    elif isinstance(n, ast.BoolOp):
        n.op = ast.Or() if isinstance(n.op, ast.And) else ast.And()
    elif isinstance(n, ast.UnaryOp):
        n.op = ast.UAdd()  # +x is true where x is
    elif isinstance(n, ast.Constant) and isinstance(n.value, str):
        n.value = WORDS[n.value]
    elif isinstance(n, ast.Constant) and isinstance(n.value, int | float):
        n.value = n.value * 2 if isinstance(n.value, int) else n.value * 1.5
    elif isinstance(n, ast.Name):
        n.id = "max" if n.id == "min" else "min"


def drawn(count: int, seed: int) -> list[Fault]:
    """Faults at random, evenly over everything that can be changed, each with the tests that run its line."""
    files = sorted(
        f for r in ROOMS for f in ([SRC / "core" / r] if r.endswith(".py") else (SRC / "core" / r).rglob("*.py"))
    )
    all_ = [(f, k) for f in files for k, _ in enumerate(_places(ast.parse(f.read_text())))]
    print(f"{count} of {len(all_)} places", flush=True)
    out = []
    for file, k in Random(seed).sample(all_, count):
        text = file.read_text()
        tree = ast.parse(text)
        node, why = list(_places(tree))[k]
        _change(node)
        name, line = str(file.relative_to(SRC)), node.lineno  # type: ignore[attr-defined]
        old, new = _in_words(text, node)
        source = text.replace(old, new)
        if ast.dump(ast.parse(source)) != ast.dump(tree):
            print(f"    not to be written down: {name}:{line}")
            continue
        out.append(Fault(name, line, why, source, _tests_for(name, ast.parse(text), line), old, new))
    return out


def _tests_for(file: str, tree: ast.Module, line: int) -> tuple[str, ...]:
    """Patterns of the tests that are meant to see a fault on a line: those of the rule that it is in or that lies in its file, those of its
    room."""
    room = Path(file).relative_to("core").parts[0]
    rules = {}
    for f in tree.body:
        if isinstance(f, ast.FunctionDef):
            for d in f.decorator_list:
                if isinstance(d, ast.Call) and isinstance(d.func, ast.Name) and d.func.id == "concern":
                    rules[str(ast.literal_eval(d.args[0]))] = f
    mine = [c for c, f in rules.items() if f.lineno <= line <= (f.end_lineno or 0)] or list(rules)
    by_code = tuple(p.format(code=c) for c in mine for p in RULE)
    files = [f"core/test_{x}.py" for x in FILES[room]]
    if room in ("air", "fit", "cuts", "hardware"):
        files.append("outside")
    return (*by_code, *files)


def _in_words(text: str, node: ast.AST) -> tuple[str, str]:
    """The lines that a change touches, with as many before them as make them stand once in the text, and what they become."""
    lines = text.split("\n")
    first, last = node.lineno - 1, node.end_lineno - 1  # type: ignore[attr-defined]
    before = lines[first].encode()[: node.col_offset].decode()  # type: ignore[attr-defined]
    after = lines[last].encode()[node.end_col_offset :].decode()  # type: ignore[attr-defined]
    old, new = "\n".join(lines[first : last + 1]), before + ast.unparse(node) + after
    while text.count(old) > 1:
        first -= 1
        old, new = lines[first] + "\n" + old, lines[first] + "\n" + new
    return old, new


def _codes(code: types.CodeType) -> Iterator[types.CodeType]:
    yield code
    for c in code.co_consts:
        if isinstance(c, types.CodeType):
            yield from _codes(c)


def _plant(fault: Fault) -> int:
    """Put the fault's code into the functions that run; how many were changed."""
    file = str(SRC / fault.file)
    by: dict[str, list[types.CodeType]] = {}
    for c in _codes(compile(fault.source, file, "exec")):
        by.setdefault(c.co_qualname, []).append(c)
    changed = 0
    for f in gc.get_objects():
        if isinstance(f, types.FunctionType) and f.__code__.co_filename == file:
            # by name, and by place where a name stands more than once: a fault may be a line shorter than what it replaces
            alike = by.get(f.__code__.co_qualname, [])
            code = min(alike, key=lambda c: abs(c.co_firstlineno - f.__code__.co_firstlineno), default=None)
            if code is not None and code.co_freevars == f.__code__.co_freevars:
                old = f.__code__
                changed += (code.co_code, code.co_consts, code.co_names) != (old.co_code, old.co_consts, old.co_names)
                f.__code__ = code
    return changed


class _Collected:
    """A plugin that notes which tests there are."""

    def __init__(self) -> None:
        self.ids: list[str] = []

    def pytest_collection_modifyitems(self, items: list[Any]) -> None:
        self.ids = [i.nodeid.removeprefix("tests/") for i in items]

    def of(self, test: str) -> list[str]:
        return fnmatch.filter(self.ids, test) if "*" in test else [test]


class _Killer:
    """A plugin that notes which test failed first."""

    def __init__(self) -> None:
        self.test = ""

    def pytest_runtest_logreport(self, report: Any) -> None:
        if report.failed and not self.test:
            self.test = report.nodeid.removeprefix("tests/")


@dataclass
class _Trial:
    """A fault in a fork of its own, being tried."""

    fault: Fault
    pid: int
    told: int
    began: float

    def ended(self) -> tuple[str, str] | None:
        """found, SURVIVED, or not planted, and the test that found it; None while it runs."""
        done, status = os.waitpid(self.pid, os.WNOHANG)
        if not done:
            if time.monotonic() - self.began < SECONDS:
                return None
            os.kill(self.pid, signal.SIGKILL)
            os.waitpid(self.pid, 0)
            os.close(self.told)
            return "found", ""  # it hangs
        code = os.waitstatus_to_exitcode(status)
        test = os.read(self.told, 4096).decode()
        os.close(self.told)
        if code == NOT_PLANTED:
            return "not planted", ""
        return {0: "SURVIVED", 1: "found"}.get(code, "found" if code < 0 else f"SURVIVED ({code})"), test


def _start(fault: Fault) -> _Trial:
    ours, theirs = os.pipe()
    pid = os.fork()
    if pid == 0:
        quiet = os.open(os.devnull, os.O_WRONLY)
        os.dup2(quiet, 1)
        os.dup2(quiet, 2)
        import pytest

        if not _plant(fault):
            os._exit(NOT_PLANTED)
        killer = _Killer()
        args = ["-x", "-q", "-p", "no:cacheprovider", "-p", "no:xdist", "-p", "no:benchmark"]
        code = int(pytest.main([*args, *(str(ROOT / "tests" / t) for t in fault.tests)], plugins=[killer]))
        os.write(theirs, killer.test.encode())
        os._exit(code)
    os.close(theirs)
    return _Trial(fault, pid, ours, time.monotonic())


def run(faults: list[Fault], keep: Path | None = None) -> int:
    sys.path.insert(0, str(ROOT))
    os.environ["CI"] = "true"
    import pytest

    # import everything, run nothing: kernels that have run hold threads, and a fork would break them
    tests = sorted({t.split("::")[0] for f in faults for t in f.tests})
    collected = _Collected()
    pytest.main(
        [
            "--collect-only",
            "-q",
            "-q",
            "-p",
            "no:cacheprovider",
            "-p",
            "no:xdist",
            *(str(ROOT / "tests" / t) for t in tests),
        ],
        plugins=[collected],
    )
    faults = [replace(f, tests=tuple(dict.fromkeys(x for t in f.tests for x in collected.of(t)))) for f in faults]
    gc.collect()
    found, tried, survivors = 0, 0, []
    told: dict[int, str] = {}
    left = [(k, f) for k, f in enumerate(faults) if f.tests]
    for k, fault in enumerate(faults):
        if not fault.tests:
            tried += 1
            survivors.append(k)
            told[k] = _as_toml(fault, None)
            print(f"{k:3} SURVIVED (no test runs it)  {fault.file}:{fault.line} {fault.why}", flush=True)
    running: dict[int, _Trial] = {}
    while left or running:
        while left and len(running) < AT_ONCE:
            k, fault = left.pop(0)
            running[k] = _start(fault)
        for k, trial in list(running.items()):
            if (end := trial.ended()) is None:
                continue
            del running[k]
            word, test = end
            if word != "not planted":
                tried += 1
                found += word == "found"
                told[k] = _as_toml(trial.fault, test if word == "found" else None)
                if word != "found":
                    survivors.append(k)
            f, took = trial.fault, time.monotonic() - trial.began
            print(f"{k:3} {word:9} {took:5.1f} s  {f.file}:{f.line} {f.why} {test}", flush=True)
            if keep:
                keep.write_text("\n".join(told[i] for i in sorted(told)))
        time.sleep(0.02)
    print(f"{found} of {tried} found ({found / max(tried, 1):.0%}); survivors: {sorted(survivors)}")
    return 0 if found >= NEED * tried else 1


def _as_toml(fault: Fault, test: str | None) -> str:
    """A fault as `planted.toml` keeps it: with the test that finds it, or a word on why none does."""
    lines = ["[[fault]]", f'file = "{fault.file}"', f"old = {_quoted(fault.old)}", f"new = {_quoted(fault.new)}"]
    lines.append(f'why = "{fault.why}"')
    lines.append(f"tests = {json.dumps([test] if test else list(fault.tests[:1]))}")
    if test is None:
        lines.append('word = "?"')
    return "\n".join(lines) + "\n"


def _quoted(text: str) -> str:
    return f"'''\n{text}'''" if "\n" in text else f"'{text}'" if "'" not in text else json.dumps(text)


if __name__ == "__main__":
    match sys.argv[1:]:
        case ["draw", count, seed]:
            sys.exit(run(drawn(int(count), int(seed)), DRAWN))
        case ["kept"]:
            sys.exit(run(planted()))
        case ["kept", count]:
            known = [f for f in planted() if not f.word]
            sys.exit(run([known[k * len(known) // int(count)] for k in range(int(count))]))
        case _:
            sys.exit(__doc__)
