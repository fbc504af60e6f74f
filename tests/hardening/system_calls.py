"""Kills a save, the keeping of unsaved work and its recovery at every system call they make, and lets each call fail.

    python tests/hardening/system_calls.py FOLDER

Needs `strace`, which attaches to a child that waits, counts what it asks of the system, and kills it at a chosen call,
or has that call answered by “the disk is full” or “input/output error”: nothing in the program knows. Prints one line
of JSON.
"""

import collections
import contextlib
import itertools
import os
import re
import shutil
import signal
import subprocess
import time
from collections.abc import Callable
from pathlib import Path

from farrail.errors import FarRailError, StoreError
from farrail.workbook.recovery import Autosave, left_behind
from farrail.workbook.safe_files import TEMPORARY, sweep
from farrail.workbook.store import read_file, write_file
from tests.hardening.kills import named, number_of
from tests.hardening.running import called


def at_every_call(prepare: Callable[[Path], Callable[[], None]], judge: Callable[[Path, bool], list[str]],
                  folder: Path, what: str, every: int = 1) -> tuple[int, list[str]]:  # fmt: skip
    """Kill some work at each of its system calls in turn.

    Args:
        prepare: makes what the work begins from in a folder, and returns the work.
        judge: looks at the folder afterwards; shown whether the work was killed; returns what is wrong.
        folder: where.
        what: the work's name.
        every: 3 takes each third call alone.

    Returns:
        How many kills, and what was wrong.
    """
    calls = _counted(prepare, folder / f"{what}-whole")
    turn = itertools.count()
    kills, wrong = 0, judge(folder / f"{what}-whole", False)
    for name, count in calls.items():
        for number in range(1, count + 1):
            if next(turn) % every:
                continue
            place = folder / f"{what}-{name}-{number}"
            died = _traced(prepare, place, f"{name}:signal=SIGKILL:when={number}", place.with_suffix(".log"))
            kills += died
            wrong += [f"{what}, {name} {number}: {words}" for words in judge(place, died)]
    return kills, wrong


def with_every_call_failing(
    prepare: Callable[[Path], Callable[[], None]],
    judge: Callable[[Path, bool], list[str]],
    folder: Path,
    what: str,
    every: int = 1,
) -> tuple[int, list[str]]:
    """Let each call of some work fail in turn; arguments and what is returned as in `at_every_call`.

    The work must end as done, or refused in a sentence; what it says it did is there.
    """
    fails, wrong, turn = 0, [], itertools.count()
    for name, count in _counted(prepare, folder / f"{what}-counted").items():
        if name in NOT_FILES:
            continue
        for number in range(1, count + 1):
            for error in ("ENOSPC", "EIO"):
                if next(turn) % every:
                    continue
                place = folder / f"{what}-{name}-{number}-{error}"
                _traced(prepare, place, f"{name}:error={error}:when={number}", place.with_suffix(".log"))
                fails += 1
                said = place.with_suffix(".said").read_text()
                words = [] if said in ("done", "refused") else [said]
                words += judge(place, said != "done")
                wrong += [f"{what}, {name} {number} {error}: {w}" for w in words]
    return fails, wrong


def _counted(prepare: Callable[[Path], Callable[[], None]], place: Path) -> dict[str, int]:
    log = place.with_suffix(".log")
    _traced(prepare, place, None, log)
    names = re.findall(r"^(?:\[pid +\d+\] |\d+ )?(\w+)\(", log.read_text(), re.MULTILINE)
    # Ways of leaving, and of waiting for the start: not part of the work.
    return {n: c for n, c in collections.Counter(names).items() if n not in ("exit_group", "exit", "rt_sigtimedwait")}


def _traced(prepare: Callable[[Path], Callable[[], None]], place: Path, inject: str | None, log: Path) -> bool:
    """Do the work in a child that waits for the tracer; returns whether it was killed."""
    place.mkdir()
    work = prepare(place)
    signal.pthread_sigmask(signal.SIG_BLOCK, {signal.SIGUSR1})
    child = os.fork()
    if child == 0:
        signal.sigtimedwait({signal.SIGUSR1}, 20)
        said = "done"
        try:
            work()
        except StoreError:
            said = "refused"
        except BaseException as error:
            said = f"{type(error).__name__}: {error}"
        finally:
            signal.pthread_sigmask(signal.SIG_UNBLOCK, {signal.SIGUSR1})
            _say(place.with_suffix(".said"), said)
            os._exit(0)
    rule = [] if inject is None else ["-e", f"inject={inject}"]
    tracer = subprocess.Popen(["strace", "-q", "-o", str(log), *rule, "-p", str(child)], stderr=subprocess.DEVNULL)
    status = Path(f"/proc/{child}/status")
    while "TracerPid:\t0" in status.read_text():
        time.sleep(0.002)
    time.sleep(0.01)
    os.kill(child, signal.SIGUSR1)
    died = os.WIFSIGNALED(os.waitpid(child, 0)[1])
    tracer.wait()
    return died


def _say(path: Path, said: str) -> None:
    """Write what came of the work, past a call that fails once."""
    for _ in range(5):
        try:
            path.write_text(said)
        except OSError:
            continue
        return


def saving(place: Path) -> Callable[[], None]:
    """Three versions are; a fourth is saved."""
    file = place / "mine.farrail.json"
    for number in (0, 1, 2):
        write_file(file, named(number))

    def work() -> None:
        write_file(file, named(3))

    return work


def saved(place: Path, died: bool) -> list[str]:
    """The older or the newer version opens, and no temporary file stays after the next open."""
    sweep(place)
    try:
        found = number_of(read_file(place / "mine.farrail.json").workbook)
    except (FarRailError, ValueError) as error:
        return [str(error)]
    litter = [p.name for p in place.iterdir() if p.name.endswith(TEMPORARY)]
    return [*([] if found in ((2, 3) if died else (3,)) else [f"state {found}"]), *litter]


def keeping(place: Path) -> Callable[[], None]:
    """One state is kept; a newer one is kept over it."""

    def work() -> None:
        window = Autosave(place)
        window.keep(named(1), None)
        with contextlib.suppress(OSError):
            (place / "kept").touch()
        window.keep(named(2), None)

    return work


def kept(place: Path, died: bool) -> list[str]:
    """The state shown as kept, or the newer one, is offered, once."""
    found = [number_of(one.workbook) for one in left_behind(place)]
    told = (place / "kept").exists()
    right = found in ([1], [2]) if told and died else found == [2] if not died else found in ([], [1], [2])
    litter = [p.name for p in place.glob(f".*{TEMPORARY}")]
    return [*([] if right else [f"found {found}"]), *litter]


def recovering(place: Path) -> Callable[[], None]:
    """Left work is taken up: kept again by this window, and the leftover removed once that is on disk."""
    other = Autosave(place)
    other.keep(named(5), None)
    other.let_go()

    def work() -> None:
        left = left_behind(place)[0]
        Autosave(place).keep(left.workbook, None)
        left.path.unlink()

    return work


def recovered(place: Path, died: bool) -> list[str]:
    """The work is still offered, whenever the taking up was killed."""
    found = [number_of(one.workbook) for one in left_behind(place)]
    return [] if found in ([5], [5, 5]) else [f"found {found}"]


# What asks for memory, time or sleep: their failing is no matter of files.
NOT_FILES = ("mmap", "munmap", "brk", "futex", "madvise", "mremap", "rt_sigprocmask", "clock_gettime", "getrandom",
             "getpid", "restart_syscall", "umask")  # fmt: skip
WORKS = {"save": (saving, saved), "keep": (keeping, kept), "recover": (recovering, recovered)}


def attack(folder: Path, every: int = 1) -> dict[str, object]:
    """Kill all three at every call; returns the counts and what was wrong."""
    if shutil.which("strace") is None:
        return {"left out": "strace is not installed", "wrong": []}
    report: dict[str, object] = {}
    wrong: list[str] = []
    for what, (prepare, judge) in WORKS.items():
        report[what], more = at_every_call(prepare, judge, folder, what, every)
        wrong += more
        if what != "recover":
            report[f"{what}, each call failing"], more = with_every_call_failing(
                prepare, judge, folder, f"{what}-bad", every
            )
            wrong += more
    return {**report, "wrong": wrong}


if __name__ == "__main__":
    called(__doc__, attack, every=1)
