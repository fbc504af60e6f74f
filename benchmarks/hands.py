"""Every edit and drag of a hand, in every station, until all that follows it is painted; in yardsticks.

One yardstick y is a million additions in the same minute: machines are shared, and ratios hold where times do not.
"""

from collections.abc import Iterator
from typing import Any

from benchmarks.window import demo_window
from benchmarks.yardstick import measured

STEPS = 120
WISH, LONG_WISH = 0.065, 0.2
TWELVE = ("shim-0-2", "shim-0-2", "shim-0-5", "shim-1-0", "helix-13", "kittiwake-rotator", "spacer-2")


def edits_of_twelve_parts() -> list[dict[str, Any]]:
    """Edit a length in a train of twelve parts with each station in front."""
    return list(_edits(TWELVE, 12, WISH))


def edits_of_sixty_parts() -> list[dict[str, Any]]:
    """Edit a length in a train of sixty parts with each station in front."""
    return list(_edits(TWELVE * 7 + TWELVE[:6], 60, LONG_WISH))


def _edits(parts: tuple[str, ...], count: int, wish: float) -> Iterator[dict[str, Any]]:
    from farrail.parts.origin import Origin
    from farrail.parts.provenance import Reading
    from farrail.ui.gc_control import Tidying
    from farrail.ui.stations.registry import STATIONS
    from farrail.workbook.edits.laying import LayPart
    from farrail.workbook.edits.shelf import SetReading

    with demo_window() as (app, session, window):
        session.show_train("witch-broom")
        for part in parts:
            if len(session.train.rear_train) < count:
                session.do(LayPart("witch-broom", part, 3))
        assert len(session.train.rear_train) == count
        tidying = Tidying(lambda: [session])  # as the program does once its window is
        for kind in STATIONS:
            window.stations.show_station(kind.key)
            app.processEvents()

            def edit(step: int) -> None:
                reading = Reading(value=8.7 + 0.001 * step, origin=Origin.MEASURED)
                session.do(SetReading("spacer-8-7", "path_length_mm", reading))
                app.processEvents()

            tidying.sweep()
            yield measured(f"edit, {count} parts, {kind.title} in front", STEPS, edit, wish)


def drags() -> list[dict[str, Any]]:
    """Drag what can be dragged in Light, Front and Close-up."""
    from farrail.train.train import Side
    from farrail.ui.gc_control import Tidying
    from farrail.ui.selection import Selection

    rows = []
    with demo_window() as (app, session, window):
        tidying = Tidying(lambda: [session])
        light, front, close = window.light.slider, window.front, window.close_up
        for train, picked, label in (
            ("lantern-reversed", -1, "aperture, decentred train"),
            ("witch-broom", 2, "length, centred train"),
            ("lantern-reversed", 3, "length, decentred train"),
        ):
            window.stations.show_station("light")
            session.show_train(train)
            if picked >= 0:
                session.select(Selection(Side.REAR, picked))
            app.processEvents()
            light.what.setCurrentIndex(min(max(picked, 0), 1))
            tidying.sweep()
            rows.append(_drag(app, session, light.slider, f"dragging {label}", -60, 1, own=True))
        for train, station, slider, label in (
            ("sea-stacks", "front", front.turn, "turning the holder"),
            ("sea-stacks", "front", front.zoom, "zooming"),
            ("barnacles", "close_up", close.focus, "focusing close"),
        ):
            session.show_train(train)
            window.stations.show_station(station)
            front.wait()
            close.wait()
            app.processEvents()
            tidying.sweep()
            rows.append(_drag(app, session, slider, label, slider.minimum(), 7))
    return rows


def _drag(
    app: Any, session: Any, slider: Any, label: str, start: int, stride: int, *, own: bool = False
) -> dict[str, Any]:
    span = slider.maximum() - start

    def step(number: int) -> None:
        slider.setValue(start + (stride * number) % span)
        app.processEvents()

    if own:
        slider.setSliderDown(True)
    else:
        session.begin_drag()
    row = measured(label, STEPS, step, WISH)
    if own:
        slider.setSliderDown(False)
    else:
        session.end_drag()
    app.processEvents()
    return row
