"""Close-up: the reach picture and asking, each against placing the same combinations one by one."""

import statistics
import time
from typing import Any

from farrail.demo.hallan_skerry import demo_workbook
from farrail.parts.kinds.cameras import Camera
from farrail.parts.kinds.closer import CloseUpLens, ExtensionTube
from farrail.parts.kinds.lenses import CameraLens
from farrail.planning.ask import Wish, answer_at, ask, laid
from farrail.planning.combinations import combinations_of
from farrail.planning.reach import DRIVES, reach_of
from farrail.readouts.read import read

ROUNDS, LAID_ONE_BY_ONE = 15, 40


def reach_and_ask() -> list[dict[str, Any]]:
    """Time the reach of 2 lenses × subsets of 4 close-up lenses × subsets of 3 tubes, and a question to the demo."""
    workbook = demo_workbook()
    camera = workbook.by_id["skua-full"]
    assert isinstance(camera, Camera)
    narrow = {
        key: part for key, part in workbook.by_id.items()
        if key in ("brae-50", "skua-full") or isinstance(part, ExtensionTube)
        or (isinstance(part, CloseUpLens) and not part.achromat)
    }  # fmt: skip
    lens = workbook.by_id["brae-50"]
    assert isinstance(lens, CameraLens)
    narrow["second"] = lens.model_copy(update={"id": "second"})
    found = combinations_of(narrow, camera, 8.0)
    reach = [_timed(lambda: reach_of(combinations_of(narrow, camera, 8.0))) for _ in range(ROUNDS)]
    whole = combinations_of(workbook.by_id, camera, 8.0)
    asked = [_timed(lambda: ask(Wish(18.0, 90.0, 2.0), workbook.by_id, camera, 8.0)) for _ in range(ROUNDS)]
    train = workbook.train("lichen")

    def one_by_one() -> None:
        for combination in whole[:: len(whole) // LAID_ONE_BY_ONE][:LAID_ONE_BY_ONE]:
            close = read(laid(answer_at(combination, 0.5), train), workbook.by_id).close_up
            for focus_position in DRIVES:
                close.at(float(focus_position))

    each = _timed(one_by_one) / LAID_ONE_BY_ONE
    return [
        {
            "what": f"reach picture, {len(found)} combinations", "value": 1000 * statistics.median(reach),
            "unit": "ms", "wish": "<= 50", "met": statistics.median(reach) <= 0.05,
            "note": f"slowest {1000 * max(reach):.1f} ms; laid one by one {1000 * each * len(found):.0f} ms",
        },
        {
            "what": f"asking over {len(whole)} combinations", "value": statistics.median(asked), "unit": "s",
            "wish": "<= 0.3", "met": statistics.median(asked) <= 0.3,
            "note": f"slowest {max(asked):.2f} s; laid one by one {each * len(whole):.1f} s",
        },
    ]  # fmt: skip


def _timed(work: Any) -> float:
    start = time.perf_counter()
    work()
    return time.perf_counter() - start
