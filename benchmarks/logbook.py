"""The log: what it calibrates, four trains side by side, and ten thousand observations opened and filtered."""

from typing import Any

from benchmarks.window import demo_window
from benchmarks.yardstick import measured

LEARN_WISH, COMPARE_WISH, LOG_WISH = 2.0, 1.0, 3.0
SEASON_WISH, EVENINGS = 3.0, 300
RUNS, MANY = 15, 10_000


def log_and_compare() -> list[dict[str, Any]]:
    """Time a calibration, a comparison of four trains, and the Log station with a long log."""
    from farrail.demo.hallan_skerry import demo_workbook
    from farrail.logbook.kinds.front import Darkening
    from farrail.logbook.learning.learn import learn
    from farrail.logbook.learning.model import Evidence
    from farrail.logbook.side_by_side import Column, SideBySide
    from farrail.ui.stations.log import LogStation
    from farrail.workbook.edits.log import ImportObservations, WriteDown

    book = demo_workbook()
    evidence = Evidence(book.log, book.states_by_id, book.by_id)
    train = book.train("sea-stacks")
    names = ("sea-stacks", "sea-stacks-slim", "lichen", "barnacles")

    def calibrate(_: int) -> None:
        assert learn(evidence, train)[0]

    def compare(_: int) -> None:
        assert SideBySide(tuple(Column(book.train(name), book.by_id, name) for name in names)).lines

    evenings = tuple(
        WriteDown(Darkening, "sea-stacks", f"20{10 + n % 15}-{1 + n % 12:02}-03", {"focal_mm": 28.0 + 0.03 * n})
        for n in range(EVENINGS)
    )
    full = ImportObservations(evenings).apply(book)
    season = Evidence(full.log, full.states_by_id, full.by_id)

    def calibrate_season(_: int) -> None:
        assert learn(season, train)[0]

    rows = [
        measured("what the log calibrates of a train", RUNS, calibrate, LEARN_WISH),
        measured(f"the same of {EVENINGS} evenings", RUNS, calibrate_season, SEASON_WISH),
        measured("four trains side by side", RUNS, compare, COMPARE_WISH),
    ]
    edits = tuple(
        WriteDown(Darkening, "sea-stacks", f"20{10 + n % 15}-{1 + n % 12:02}-03", {"focal_mm": 18.0 + n % 17})
        for n in range(MANY)
    )
    with demo_window(ImportObservations(edits).apply(book)) as (_, session, window):
        session.show_train("sea-stacks")
        station = window.stations.of(LogStation)

        def open_log(_: int) -> None:
            window.stations.show_station("spacing")
            station._sides.clear()
            window.stations.show_station("log")

        def narrow(turn: int) -> None:
            station.search.setText("darken 2012" if turn % 2 else "darken 2013")

        rows.append(measured("log of 10,000 opened", 5, open_log, LOG_WISH))
        rows.append(measured("log of 10,000 filtered", 6, narrow, LOG_WISH))
    return rows
