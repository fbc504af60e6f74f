"""Kills a save and the keeping of unsaved work at every step and at any moment; run in a process without Qt.

    python tests/hardening/kills.py FOLDER --times 200 --seed 1

Prints one line of JSON: how many kills, and what was found wrong.
"""

import fcntl
import os
import random
import signal
import time
from collections.abc import Callable
from functools import partial
from pathlib import Path
from typing import Any

from farrail.errors import FarRailError
from farrail.workbook.recovery import Autosave, left_behind
from farrail.workbook.safe_files import TEMPORARY, sweep
from farrail.workbook.store import read_file, write_file
from farrail.workbook.workbook import Workbook
from tests.hardening.running import called
from tests.starter import starter_workbook

# Everything the two write paths ask of the operating system, but for the bytes themselves.
CALLS = ("open", "fsync", "replace", "rename", "link", "unlink", "chmod", "chown", "utime", "mkdir", "fdopen", "close")


def named(number: int) -> Workbook:
    """Return a workbook that is shown from others by its name."""
    return starter_workbook().model_copy(update={"name": f"state {number}"})


def number_of(workbook: Workbook) -> int:
    """Return which state a workbook is."""
    return int(workbook.name.removeprefix("state "))


def killed_at(step: int, work: Callable[[], None]) -> bool:
    """Do something in a child that dies before its `step`th call, or in the midst; returns whether it died."""
    child = os.fork()
    if child == 0:
        left = [step]

        def counted(real: Any) -> Any:
            def call(*arguments: Any, **named_arguments: Any) -> Any:
                left[0] -= 1
                if left[0] < 0:
                    os.kill(os.getpid(), signal.SIGKILL)
                return real(*arguments, **named_arguments)

            return call

        for name in CALLS:
            setattr(os, name, counted(getattr(os, name)))
        fcntl.flock = counted(fcntl.flock)
        try:
            work()
        finally:
            os._exit(0)
    return os.WIFSIGNALED(os.waitpid(child, 0)[1])


def every_step_of_a_save(folder: Path) -> tuple[int, list[str]]:
    """Kill a save over an older file before each of its calls: the older or the newer state opens, without litter."""
    wrong, step = [], 0
    while True:
        place = folder / f"save-{step}"
        place.mkdir()
        file = place / "mine.farrail.json"
        for number in (0, 1, 2):
            write_file(file, named(number))
        died = killed_at(step, partial(_save, file))
        wrong += _wrong_after_save(file, {2, 3} if died else {3}, f"save, step {step}")
        if not died:
            return step, wrong
        step += 1


def every_step_of_keeping(folder: Path) -> tuple[int, list[str]]:
    """Kill the keeping of unsaved work before each of its calls: the state kept before, or the new one, is found."""
    wrong, step = [], 0
    while True:
        place = folder / f"keep-{step}"

        def work(place: Path = place) -> None:
            window = Autosave(place)
            window.keep(named(1), None)
            window.keep(named(2), None)
            (place / "kept").touch()
            window.keep(named(3), None)

        died = killed_at(step, work)
        found = [number_of(one.workbook) for one in left_behind(place)] if place.exists() else []
        if (place / "kept").exists() and found not in ([2], [3]):
            wrong.append(f"keep, step {step}: found {found}")
        if len(found) > 1 or list(place.glob(f".*{TEMPORARY}")):
            wrong.append(f"keep, step {step}: litter")
        if not died:
            return step, wrong
        step += 1


def at_any_moment(folder: Path, times: int, seed: int) -> tuple[int, list[str]]:
    """Kill a window that saves and keeps again and again, at random moments; nothing shown as saved is lost."""
    dice, wrong = random.Random(seed), []
    for turn in range(times):
        place = folder / f"any-{turn}"
        place.mkdir()
        file, told = place / "mine.farrail.json", place / "told"
        digest = write_file(file, named(0))
        child = os.fork()
        if child == 0:
            window, number = Autosave(place / "recovery"), 0
            with told.open("w", buffering=1) as said:
                while True:
                    number += 1
                    window.keep(named(number), file, digest)
                    said.write(f"kept {number}\n")
                    if number % 3 == 0:
                        digest = write_file(file, named(number), digest)
                        said.write(f"saved {number}\n")
                        window.drop()
        time.sleep(dice.uniform(0.02, 0.3))
        os.kill(child, signal.SIGKILL)
        os.waitpid(child, 0)
        lines = (
            [line.split() for line in told.read_text().splitlines() if line.count(" ") == 1] if told.exists() else []
        )
        saved = max([int(n) for what, n in lines if what == "saved"], default=0)
        last = max([int(n) for _, n in lines], default=0)
        left = [number_of(one.workbook) for one in left_behind(place / "recovery")]
        wrong += _wrong_after_save(file, set(range(saved, last + 2)), f"any moment, turn {turn}")
        newest = max([*left, number_of(read_file(file).workbook)])
        if newest < last:
            wrong.append(f"any moment, turn {turn}: {last} was kept and {newest} found")
        if any(number <= saved for number in left):
            wrong.append(f"any moment, turn {turn}: an offer of what was saved already")
    return times, wrong


def _save(file: Path) -> None:
    write_file(file, named(3))


def _wrong_after_save(file: Path, allowed: set[int], what: str) -> list[str]:
    sweep(file.parent)
    try:
        found = number_of(read_file(file).workbook)
    except (FarRailError, ValueError) as error:
        return [f"{what}: {error}"]
    wrong = [] if found in allowed else [f"{what}: state {found} instead of {sorted(allowed)}"]
    litter = [p.name for p in file.parent.iterdir() if p.name.endswith(TEMPORARY)]
    return [*wrong, *([f"{what}: litter {litter}"] if litter else [])]


def attack(folder: Path, times: int, seed: int) -> dict[str, object]:
    """Kill at every step, and so often at any moment; returns the counts and what was wrong."""
    saves, wrong = every_step_of_a_save(folder)
    keeps, more = every_step_of_keeping(folder)
    kills, still_more = at_any_moment(folder, times, seed)
    return {"steps_of_a_save": saves, "steps_of_keeping": keeps, "random_kills": kills,
            "wrong": [*wrong, *more, *still_more]}  # fmt: skip


if __name__ == "__main__":
    called(__doc__, attack, times=40, seed=1)
