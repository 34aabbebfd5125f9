"""Plant faults one at a time and see whether the tests find them.

`python scripts/mutants.py kept [COUNT]`: the faults of `tests/planted.toml`, all or COUNT of them evenly, each against the tests named
beside it. Those marked with a `word` were found by no test; they are counted as such and only tried when all are.
`python scripts/mutants.py draw COUNT SEED`: faults drawn from the rooms below, each against the quickest tests that run its line
(after `python scripts/mutants.py map`, which runs the suite of the core once and notes what runs where); written to `.mutants/drawn.toml`.

A fault is put into the running function (its code object is replaced) in a fork of a process that has imported everything and has run
nothing: a second or two each. Prints every survivor, and the share that was found.
"""

from __future__ import annotations

import ast
import gc
import json
import os
import signal
import subprocess
import sys
import time
import tomllib
import types
from collections.abc import Iterator
from dataclasses import dataclass
from pathlib import Path
from random import Random
from typing import Any
from xml.etree import ElementTree

ROOT = Path(__file__).parents[1]
SRC = ROOT / "src" / "rhombex"
MAP = ROOT / ".mutants"
ROOMS = ("bench", "shell", "openings", "cuts", "hardware", "concerns", "air", "fit", "edits.py", "case.py")
# what the map is made of: the tests that look at what these rooms make and say (others take long and run everything)
MAPPED = (
    *(
        f"tests/core/test_{x}.py"
        for x in ("rule_numbers", "rule_limits", "concerns", "told_rightly", "case", "measured")
    ),
    *(f"tests/core/test_{x}.py" for x in ("bill", "placing", "advice", "own_openings", "own_figures", "effects")),
    *(f"tests/core/test_{x}.py" for x in ("document", "parts", "process")),
    "tests/outside",
)
SECONDS = 90  # a fault that hangs its tests is found
MOST_S = 60.0  # of tests tried on a drawn fault, the quickest first
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
    kept = json.loads((MAP / "runs.json").read_text())
    runs, times = kept["runs"], kept["times"]
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
        tests, spent = [], 0.0
        for t in runs.get(name, {}).get(str(line), []):
            tests.append(t)
            spent += times.get(t, 5.0) + 0.05
            if spent > MOST_S:
                break
        out.append(Fault(name, line, why, source, tuple(tests), old, new))
    return out


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
                changed += code.co_code != f.__code__.co_code or code.co_consts != f.__code__.co_consts
                f.__code__ = code
    return changed


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
        ]
    )
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


def note() -> int:
    """Run the tests of the core once, and note which of them run which line and how long each takes."""
    MAP.mkdir(exist_ok=True)
    env = {**os.environ, "COVERAGE_FILE": str(MAP / "coverage")}
    subprocess.run(
        [
            *(sys.executable, "-m", "pytest", "-q", "-n", "2", "--cov=rhombex.core", "--cov-context=test", "--cov-report="),
            *(f"--junitxml={MAP / 'times.xml'}", *MAPPED),
        ],
        cwd=ROOT,
        env=env,
        check=False,
    )  # fmt: skip
    from coverage import CoverageData

    times = {}
    for case in ElementTree.parse(MAP / "times.xml").iter("testcase"):
        times[f"{case.get('classname')}::{case.get('name')}"] = float(case.get("time", "0"))
    data = CoverageData(str(MAP / "coverage"))
    data.read()
    runs: dict[str, dict[str, list[str]]] = {}
    for file in data.measured_files():
        lines = {}
        for line, contexts in data.contexts_by_lineno(file).items():
            tests = {c.split("|")[0] for c in contexts if c}
            if tests:
                lines[str(line)] = sorted(
                    (t.removeprefix("tests/") for t in tests), key=lambda t: (times.get(_named(t), 9.0), t)
                )
        runs[str(Path(file).relative_to(SRC))] = lines
    all_tests = {t for lines in runs.values() for ts in lines.values() for t in ts}
    (MAP / "runs.json").write_text(
        json.dumps({"runs": runs, "times": {t: times.get(_named(t), 9.0) for t in all_tests}})
    )
    return 0


def _named(test: str) -> str:
    """A test's name as the report of times has it."""
    file, _, rest = test.partition("::")
    return f"tests.{file.removesuffix('.py').replace('/', '.')}::{rest}"


if __name__ == "__main__":
    match sys.argv[1:]:
        case ["map"]:
            sys.exit(note())
        case ["draw", count, seed]:
            sys.exit(run(drawn(int(count), int(seed)), MAP / "drawn.toml"))
        case ["kept"]:
            sys.exit(run(planted()))
        case ["kept", count]:
            known = [f for f in planted() if not f.word]
            sys.exit(run([known[k * len(known) // int(count)] for k in range(int(count))]))
        case _:
            sys.exit(__doc__)
