"""The search itself: which pieces bridge every gap so that the length comes out, proven by an integer solver.

In each gap the pieces are edges of a walk from the joint key before it to the one behind it. A chosen set of edges
is a walk when as many enter as leave every key (but for the two ends) and every key used hangs together with the
start; the second is kept by a flow that each used key takes one unit from.
"""

from collections.abc import Sequence
from dataclasses import dataclass
from typing import Any

from farrail.cancel import Cancel
from farrail.planning.pieces import Gap, Key, Piece, Task, gap_um, shim_fits
from farrail.planning.solver import Model, Solution

# Weights that make one objective out of: fewest joints, then smallest error, then cheapest.
ERROR_WEIGHT = 100_000_000
JOINT_WEIGHT = ERROR_WEIGHT * 1_000_000
# Of a purchase: what has no price counts as dearer than anything that has one; errors count up to 1 m.
UNPRICED = 1_000_000
BUY_WEIGHT = 30_000_000
PRICE_STEPS = 100
# Room below all these for a choice between equals: two points a piece at most.
TIE_STEPS = 64
MOST_PIECES = 24
MOST_PURCHASES = 3


@dataclass(frozen=True)
class Window:
    """Where the sum may be, and where it should: placed distance in thousandths of a millimetre."""

    low_um: int
    high_um: int
    aim_um: int


@dataclass(frozen=True)
class Offered:
    """Something that can be bought.

    Attributes:
        parts: the ids of what comes with it.
        price: what it costs, or each piece of a single part; None where nothing was entered.
        is_kit: whether it is bought once as a whole.
    """

    parts: tuple[str, ...]
    price: float | None
    is_kit: bool

    @property
    def price_steps(self) -> int:
        """Its price in whole hundredths; without one it is dearer than all that have one."""
        return round((UNPRICED if self.price is None else min(self.price, UNPRICED - 1)) * PRICE_STEPS)


@dataclass(frozen=True)
class Found:
    """One answer: the pieces of each gap in order with their lengths, and the placed distance they make."""

    gaps: tuple[tuple[tuple[Piece, int], ...], ...]
    laid_um: int

    @property
    def joints(self) -> int:
        """How many pieces it places."""
        return sum(len(gap) for gap in self.gaps)

    @property
    def counts(self) -> dict[str, int]:
        """How many of each part it uses."""
        used: dict[str, int] = {}
        for gap in self.gaps:
            for piece, _ in gap:
                used[piece.part.id] = used.get(piece.part.id, 0) + 1
        return used


def search(
    task: Task,
    pieces: list[Piece],
    window: Window,
    *,
    excluded: list[dict[str, int]] | None = None,
    offered: Sequence[Offered] | None = None,
    nearest: bool = False,
    most_joints: int | None = None,
    cancel: Cancel | None = None,
) -> Found | None:
    """Return the best answer, or None when there is provably none.

    Args:
        task: the train's gaps and fixed length.
        pieces: what may be placed.
        window: where the placed distance may be and should.
        excluded: counts of parts of earlier answers; the new one must do without something of each.
        offered: what may be bought, up to three pieces or kits together; the cheapest is then wanted before all else,
            then the fewest purchases.
        nearest: smallest error before fewest joints.
        most_joints: how many pieces may be placed at most.
        cancel: set from outside to stop.

    Raises:
        Undecided: cancelled, or out of time.
    """
    model = Model()
    builder = GapModel(model, task, pieces, window)
    builder.exclude(excluded or [])
    if most_joints is not None:
        builder.limit_joints(most_joints)
    model.minimize(builder.objective(nearest=nearest) if offered is None else builder.cheapest(offered))
    solution = model.solve(cancel)
    return None if solution is None else builder.read(solution)


class GapModel:
    """Variables and constraints of one train's gaps; several may be in one model of the solver.

    Attributes:
        joints: how many pieces are placed.
        error: by how much the aim is missed, thousandths of a millimetre.
    """

    def __init__(self, model: Model, task: Task, pieces: list[Piece], window: Window) -> None:
        self._model, self._task, self._pieces = model, task, pieces
        # uses[g][p]: how often piece p is in gap g. Shims are before the camera, where they are easiest to change.
        self._uses: list[dict[int, Any]] = []
        self._graphs: list[_Graph] = []
        last = len(task.gaps) - 1
        for g in range(len(task.gaps)):
            here = {}
            for p, piece in enumerate(pieces):
                if piece.enters is not None or (g == last and shim_fits(piece.part, task.gaps[g])):
                    here[p] = model.new_int_var(0, min(piece.stock, MOST_PIECES), f"u{g}.{p}")
            self._uses.append(here)
            self._walk(g, task.gaps[g])
        for part in {piece.part.id for piece in pieces}:
            stock = next(piece.stock for piece in pieces if piece.part.id == part)
            model.add(self.used(part) <= stock)
        self.joints = sum(v for here in self._uses for v in here.values())
        model.add(self.joints <= MOST_PIECES)
        self._length(window)

    def used(self, part: str) -> Any:
        """How many pieces of a part are placed."""
        return sum(v for here in self._uses for p, v in here.items() if self._pieces[p].part.id == part)

    def _walk(self, g: int, gap: Gap) -> None:
        """Ask for one walk from the gap's entry to its exit over pieces, and over joints that keep shoulders apart."""
        model, here = self._model, self._uses[g]
        edges = [
            _Edge(piece.enters, piece.leaves, here[p], p)
            for p, piece in enumerate(self._pieces)
            if p in here and piece.enters is not None and piece.leaves is not None
        ]
        graph = _with_joints(edges, gap, [self._pieces[e.piece] for e in edges])
        for number, joint in enumerate(graph.joints):
            joint.count = model.new_int_var(0, MOST_PIECES + 1, f"j{g}.{number}")
        edges = [*graph.edges, *graph.joints]
        self._graphs.append(graph)
        nodes = sorted({graph.entry, graph.exit} | {n for e in edges for n in (e.start, e.end)})
        flows = [model.new_int_var(0, len(nodes), f"f{g}.{number}") for number in range(len(edges))]
        for flow, edge in zip(flows, edges, strict=True):
            model.add(flow <= len(nodes) * edge.count)
        for node in nodes:
            leaving = [i for i, e in enumerate(edges) if e.start == node]
            arriving = [i for i, e in enumerate(edges) if e.end == node]
            balance = (node == graph.entry) - (node == graph.exit)
            model.add(sum(edges[i].count for i in leaving) - sum(edges[i].count for i in arriving) == balance)
            if node == graph.entry or not leaving:
                continue
            # A node that is left must be reached: it takes one unit of the flow that starts at the entry.
            visited = model.new_bool_var(f"v{g}.{node}")
            for i in leaving:
                model.add(edges[i].count <= (MOST_PIECES + 1) * visited)
            model.add(sum(flows[i] for i in arriving) - sum(flows[i] for i in leaving) >= visited)

    def _length(self, window: Window) -> None:
        model, total = self._model, self._task.fixed_um
        self._extra: list[tuple[int, int, Any]] = []
        shims = 0
        for g, here in enumerate(self._uses):
            for p, v in here.items():
                piece = self._pieces[p]
                if piece.enters is None:
                    shims += piece.shortest_um * v
                    continue
                total += piece.shortest_um * v
                if piece.longest_um > piece.shortest_um:
                    reach = piece.longest_um - piece.shortest_um
                    more = model.new_int_var(0, reach * min(piece.stock, MOST_PIECES), f"x{g}.{p}")
                    model.add(more <= reach * v)
                    self._extra.append((g, p, more))
                    total += more
        last = self._graphs[-1]
        for graph in self._graphs:
            total += sum(joint.gap_um * joint.count for joint in graph.joints if graph is not last or not joint.last)
        widest = max((joint.gap_um for joint in last.joints if joint.last), default=0)
        if widest:
            # Shims are in the last joint: they fill the gap its thread leaves before they add to it.
            most = widest + sum(p.shortest_um * min(p.stock, MOST_PIECES) for p in self._pieces if p.enters is None)
            apart = model.new_int_var(0, most, "last")
            model.add_max_equality(apart, [shims, sum(j.gap_um * j.count for j in last.joints if j.last)])
            total += apart
        else:
            total += shims
        self._laid = total
        model.add(total >= window.low_um)
        model.add(total <= window.high_um)
        widest = max(abs(window.high_um - window.aim_um), abs(window.low_um - window.aim_um))
        self.error = model.new_int_var(0, max(widest, 0), "error")
        model.add(self.error >= total - window.aim_um)
        model.add(self.error >= window.aim_um - total)

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
            return self.error * (MOST_PIECES + 1) + self.joints
        price = sum(
            min(round((self._pieces[p].part.price or 0.0) * PRICE_STEPS), ERROR_WEIGHT // MOST_PIECES - 1) * v
            for here in self._uses
            for p, v in here.items()
        )
        return (self.joints * JOINT_WEIGHT + self.error * ERROR_WEIGHT + price) * TIE_STEPS + self._moved()

    def limit_joints(self, most: int) -> None:
        """Ask for an answer of at most so many pieces."""
        self._model.add(self.joints <= most)

    def cheapest(self, offered: Sequence[Offered]) -> Any:
        """Cheapest purchase of one to three pieces or kits, then fewest of them, then fewest joints, smallest error."""
        bought, cost = [], []
        for number, one in enumerate(offered):
            price = one.price_steps
            if one.is_kit:
                flag = self._model.new_bool_var(f"kit{number}")
                for part in one.parts:
                    self._model.add(self.used(part) <= MOST_PIECES * flag)
                count: Any = flag
            else:
                count = sum(self.used(part) for part in one.parts)
            bought.append(count)
            cost.append(price * count)
        # Variables of their own bound the sums: with many offers the solver would else refuse such large weights.
        pieces = self._model.new_int_var(1, MOST_PURCHASES, "pieces")
        spent = self._model.new_int_var(0, UNPRICED * PRICE_STEPS * MOST_PURCHASES, "spent")
        self._model.add(pieces == sum(bought))
        self._model.add(spent == sum(cost))
        wanted = (spent * (MOST_PURCHASES + 1) + pieces) * BUY_WEIGHT
        # Where the pieces go between equals is left open: asked for too, it made the search fifty times as long.
        return wanted + self.joints * 1_000_000 + self.error

    def _moved(self) -> Any:
        """Between equals: a part stays in the gap it is in, and a new one goes ahead of the filters.

        So the filter keeps near the sensor, where it may be smaller.
        """
        return sum(
            (0 if (self._pieces[p].part.id, g) in self._task.homes else 1 + (g > 0)) * v
            for g, here in enumerate(self._uses)
            for p, v in here.items()
        )

    def read(self, solver: Solution) -> Found:
        """Return the answer in the order the pieces are placed."""
        extra = {(g, p): solver.value(more) for g, p, more in self._extra}
        gaps = []
        for g, (here, graph) in enumerate(zip(self._uses, self._graphs, strict=True)):
            steps: list[Step] = [
                (joint.start, joint.end, None) for joint in graph.joints for _ in range(solver.value(joint.count))
            ]
            ends = {edge.piece: (edge.start, edge.end) for edge in graph.edges}
            shims: list[tuple[Piece, int]] = []
            for p, v in here.items():
                piece, rest = self._pieces[p], extra.get((g, p), 0)
                for _ in range(solver.value(v)):
                    more = min(rest, piece.longest_um - piece.shortest_um)
                    rest -= more
                    laid = (piece, piece.shortest_um + more)
                    if p in ends:
                        steps.append((*ends[p], laid))
                    else:
                        shims.append(laid)
            walk = _in_order(graph.entry, steps)
            gaps.append((*walk, *sorted(shims, key=lambda s: -s[1])))
        return Found(tuple(gaps), solver.value(self._laid))


@dataclass
class _Edge:
    """A step of a walk: a piece placed, or (`piece` −1) a joint closed whose shoulders stay `gap_um` apart."""

    start: Key
    end: Key
    count: Any
    piece: int = -1
    gap_um: int = 0
    last: bool = False


@dataclass(frozen=True)
class _Graph:
    """Where a gap's walk runs: pieces as edges, joints between them where a thread may bottom."""

    edges: list[_Edge]
    joints: list[_Edge]
    entry: Key
    exit: Key


Step = tuple[Key, Key, tuple[Piece, int] | None]


def _with_joints(edges: list[_Edge], gap: Gap, pieces: list[Piece]) -> _Graph:
    """Return the walk's graph; a joint key at which no thread can bottom stays one node.

    At the others each engagement that arrives and each that goes on is a node of its own, and every pair is joined by
    an edge as long as the gap it leaves.
    """
    arriving: dict[Key, set[int | None]] = {gap.enters: {gap.enters_um}}
    leaving: dict[Key, set[int | None]] = {}
    for edge, piece in zip(edges, pieces, strict=True):
        arriving.setdefault(edge.end, set()).add(piece.leaves_um)
        leaving.setdefault(edge.start, set()).add(piece.enters_um)
    ends = {key: set(found) for key, found in leaving.items()}
    ends.setdefault(gap.leaves, set()).add(gap.leaves_um)
    split = {
        key for key, found in arriving.items()
        if any(gap_um(key, a, b) for a in found for b in ends.get(key, ()))
    }  # fmt: skip

    def after(key: Key, depth: int | None) -> Key:
        return (*key, "after", str(depth)) if key in split else key

    def before(key: Key, depth: int | None) -> Key:
        return (*key, "before", str(depth)) if key in split else key

    placed = [
        _Edge(before(e.start, p.enters_um), after(e.end, p.leaves_um), e.count, e.piece)
        for e, p in zip(edges, pieces, strict=True)
    ]
    joints = []
    for key in sorted(split):
        for a in arriving[key]:
            joints += [_Edge(after(key, a), before(key, b), 0, gap_um=gap_um(key, a, b)) for b in leaving.get(key, ())]
            if key == gap.leaves:
                end = (*key, "exit", "")
                joints.append(_Edge(after(key, a), end, 0, gap_um=gap_um(key, a, gap.leaves_um), last=True))
    exit_key = (*gap.leaves, "exit", "") if gap.leaves in split else gap.leaves
    return _Graph(placed, joints, after(gap.enters, gap.enters_um), exit_key)


def _in_order(start: Key, steps: list[Step]) -> list[tuple[Piece, int]]:
    """Return the pieces as one walk from a node (Hierholzer); longer pieces first where there is a choice."""
    waiting: dict[Key, list[Step]] = {}
    for step in sorted(steps, key=lambda s: 0 if s[2] is None else s[2][1]):
        waiting.setdefault(step[0], []).append(step)
    stack: list[tuple[Key, tuple[Piece, int] | None]] = [(start, None)]
    walk: list[tuple[Piece, int]] = []
    while stack:
        node, arrived = stack[-1]
        if waiting.get(node):
            step = waiting[node].pop()
            stack.append((step[1], step[2]))
        else:
            stack.pop()
            if arrived is not None:
                walk.append(arrived)
    return walk[::-1]
