"""The search itself: which pieces bridge every gap so that the length comes out, proven by an integer solver.

In each gap the pieces are edges of a walk from the joint key before it to the one behind it. A chosen set of edges
is a walk when as many enter as leave every key (but for the two ends) and every key used hangs together with the
start; the second is kept by a flow that each used key takes one unit from. Solved by OR-Tools CP-SAT on one thread,
so that the same question always has the same answer.
"""

from dataclasses import dataclass
from typing import Any

from farrail.planning.cancel import Cancel
from farrail.planning.pieces import Gap, Key, Piece, Task

# Weights that make one objective out of: fewest joints, then smallest error, then cheapest.
ERROR_WEIGHT = 1_000_000
JOINT_WEIGHT = ERROR_WEIGHT * 1_000_000
PRICE_STEPS = 100
# Room below all these for a choice between equals: two points a piece at most.
TIE_STEPS = 32
MOST_PIECES = 12
SECONDS = 20.0


@dataclass(frozen=True)
class Window:
    """Where the sum may lie, and where it should: laid distance in thousandths of a millimetre."""

    low_um: int
    high_um: int
    aim_um: int


@dataclass(frozen=True)
class Found:
    """One answer: the pieces of each gap in order with their lengths, and the laid distance they make."""

    gaps: tuple[tuple[tuple[Piece, int], ...], ...]
    laid_um: int

    @property
    def joints(self) -> int:
        """How many pieces it lays."""
        return sum(len(gap) for gap in self.gaps)

    @property
    def counts(self) -> dict[str, int]:
        """How many of each part it uses."""
        used: dict[str, int] = {}
        for gap in self.gaps:
            for piece, _ in gap:
                used[piece.part.id] = used.get(piece.part.id, 0) + 1
        return used


class Undecided(Exception):
    """The search was cancelled or ran out of time: it can be said neither that there is an answer nor that not."""


def search(
    task: Task,
    pieces: list[Piece],
    window: Window,
    *,
    excluded: list[dict[str, int]] | None = None,
    one_of: set[str] | None = None,
    nearest: bool = False,
    cancel: Cancel | None = None,
) -> Found | None:
    """Return the best answer, or None when there is provably none.

    Args:
        task: the train's gaps and fixed length.
        pieces: what may be laid.
        window: where the laid distance may lie and should.
        excluded: counts of parts of earlier answers; the new one must do without something of each.
        one_of: parts of which exactly one piece must be used (a purchase).
        nearest: smallest error before fewest joints.
        cancel: set from outside to stop.

    Raises:
        Undecided: cancelled, or out of time.
    """
    from ortools.sat.python import cp_model

    model: Any = cp_model.CpModel()
    builder = _Model(model, task, pieces, window)
    builder.exclude(excluded or [])
    if one_of is not None:
        model.add(sum(builder.used(part) for part in one_of) == 1)
    model.minimize(builder.objective(nearest=nearest))
    solver: Any = cp_model.CpSolver()
    solver.parameters.num_workers = 1
    solver.parameters.max_time_in_seconds = SECONDS
    # Linear relaxations cost more than they prune here: 0.12 s against 0.32 s at 200 pieces (benchmarks/planning.py).
    solver.parameters.linearization_level = 0
    cancel = cancel or Cancel()
    with cancel.stopping(solver.stop_search):
        status = cp_model.UNKNOWN if cancel.is_set() else solver.solve(model)
    if cancel.is_set():
        raise Undecided("The search was cancelled.")
    if status == cp_model.INFEASIBLE:
        return None
    if status != cp_model.OPTIMAL:
        raise Undecided(f"The search did not end within {SECONDS:g} seconds.")
    return builder.read(solver)


class _Model:
    """Variables and constraints of one question."""

    def __init__(self, model: Any, task: Task, pieces: list[Piece], window: Window) -> None:
        self._model, self._task, self._pieces = model, task, pieces
        # uses[g][p]: how often piece p lies in gap g. Shims lie before the camera, where they are easiest to change.
        self._uses: list[dict[int, Any]] = []
        last = len(task.gaps) - 1
        for g in range(len(task.gaps)):
            here = {}
            for p, piece in enumerate(pieces):
                if piece.enters is not None or g == last:
                    here[p] = model.new_int_var(0, min(piece.stock, MOST_PIECES), f"u{g}.{p}")
            self._uses.append(here)
            self._walk(g, task.gaps[g])
        for part in {piece.part.id for piece in pieces}:
            stock = next(piece.stock for piece in pieces if piece.part.id == part)
            model.add(self.used(part) <= stock)
        self._joints = sum(v for here in self._uses for v in here.values())
        model.add(self._joints <= MOST_PIECES)
        self._length(window)

    def used(self, part: str) -> Any:
        """How many pieces of a part are laid."""
        return sum(v for here in self._uses for p, v in here.items() if self._pieces[p].part.id == part)

    def _walk(self, g: int, gap: Gap) -> None:
        model, here = self._model, self._uses[g]
        edges = {p: v for p, v in here.items() if self._pieces[p].enters is not None}
        keys: list[Key] = sorted(
            {gap.enters, gap.leaves}
            | {k for p in edges for k in (self._pieces[p].enters, self._pieces[p].leaves) if k is not None}
        )
        flows = {p: model.new_int_var(0, len(keys), f"f{g}.{p}") for p in edges}
        for p, v in edges.items():
            model.add(flows[p] <= len(keys) * v)
        for key in keys:
            leaving = [p for p in edges if self._pieces[p].enters == key]
            arriving = [p for p in edges if self._pieces[p].leaves == key]
            balance = (key == gap.enters) - (key == gap.leaves)
            model.add(sum(edges[p] for p in leaving) - sum(edges[p] for p in arriving) == balance)
            if key == gap.enters or not leaving:
                continue
            # A key that is left must be reached: it takes one unit of the flow that starts at the entry.
            visited = model.new_bool_var(f"v{g}.{key}")
            for p in leaving:
                model.add(edges[p] <= MOST_PIECES * visited)
            model.add(sum(flows[p] for p in arriving) - sum(flows[p] for p in leaving) >= visited)

    def _length(self, window: Window) -> None:
        model, total = self._model, self._task.fixed_um
        self._extra: list[tuple[int, int, Any]] = []
        for g, here in enumerate(self._uses):
            for p, v in here.items():
                piece = self._pieces[p]
                total += piece.shortest_um * v
                if piece.longest_um > piece.shortest_um:
                    reach = piece.longest_um - piece.shortest_um
                    more = model.new_int_var(0, reach * min(piece.stock, MOST_PIECES), f"x{g}.{p}")
                    model.add(more <= reach * v)
                    self._extra.append((g, p, more))
                    total += more
        self._laid = total
        model.add(total >= window.low_um)
        model.add(total <= window.high_um)
        widest = max(abs(window.high_um - window.aim_um), abs(window.low_um - window.aim_um))
        self._error = model.new_int_var(0, max(widest, 0), "error")
        model.add(self._error >= total - window.aim_um)
        model.add(self._error >= window.aim_um - total)

    def exclude(self, excluded: list[dict[str, int]]) -> None:
        """Ask for an answer that does without something each earlier one used.

        Merely another answer would mostly be an earlier one with a shim put in and a setting turned back.
        """
        for number, counts in enumerate(excluded):
            lacks = []
            for part, count in sorted(counts.items()):
                flag = self._model.new_bool_var(f"lacks{number}.{part}")
                self._model.add(self.used(part) <= count - 1).only_enforce_if(flag)
                lacks.append(flag)
            self._model.add_bool_or(lacks)

    def objective(self, *, nearest: bool) -> Any:
        """Fewest joints, then smallest error, then cheapest; or smallest error, then fewest joints."""
        if nearest:
            return self._error * (MOST_PIECES + 1) + self._joints
        price = sum(
            min(round((self._pieces[p].part.price or 0.0) * PRICE_STEPS), ERROR_WEIGHT // MOST_PIECES - 1) * v
            for here in self._uses
            for p, v in here.items()
        )
        return (self._joints * JOINT_WEIGHT + self._error * ERROR_WEIGHT + price) * TIE_STEPS + self._moved()

    def _moved(self) -> Any:
        """Between equals: a part stays in the gap it lies in, and a new one goes ahead of the filters.

        So the filter keeps near the sensor, where it may be smaller.
        """
        return sum(
            (0 if (self._pieces[p].part.id, g) in self._task.homes else 1 + (g > 0)) * v
            for g, here in enumerate(self._uses)
            for p, v in here.items()
        )

    def read(self, solver: Any) -> Found:
        """Return the answer in the order the pieces are laid."""
        extra = {(g, p): solver.value(more) for g, p, more in self._extra}
        laid, gaps = self._task.fixed_um, []
        for g, here in enumerate(self._uses):
            edges: list[tuple[Piece, int]] = []
            shims: list[tuple[Piece, int]] = []
            for p, v in here.items():
                piece, count, rest = self._pieces[p], solver.value(v), extra.get((g, p), 0)
                for _ in range(count):
                    more = min(rest, piece.longest_um - piece.shortest_um)
                    rest -= more
                    target = shims if piece.enters is None else edges
                    target.append((piece, piece.shortest_um + more))
            walk = _in_order(self._task.gaps[g].enters, edges)
            gaps.append((*walk, *sorted(shims, key=lambda s: -s[1])))
            laid += sum(length for _, length in gaps[-1])
        return Found(tuple(gaps), laid)


def _in_order(start: Key, edges: list[tuple[Piece, int]]) -> list[tuple[Piece, int]]:
    """Return the edges as one walk from a key (Hierholzer); longer pieces first where there is a choice."""
    waiting: dict[Key | None, list[tuple[Piece, int]]] = {}
    for edge in sorted(edges, key=lambda e: e[1]):
        waiting.setdefault(edge[0].enters, []).append(edge)
    stack: list[tuple[Key | None, tuple[Piece, int] | None]] = [(start, None)]
    walk: list[tuple[Piece, int]] = []
    while stack:
        key, arrived = stack[-1]
        if waiting.get(key):
            edge = waiting[key].pop()
            stack.append((edge[0].leaves, edge))
        else:
            stack.pop()
            if arrived is not None:
                walk.append(arrived)
    return walk[::-1]
