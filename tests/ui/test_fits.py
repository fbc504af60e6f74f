"""The parts that fit at what is picked: a large shelf is looked through in the background, for the joint picked now."""

from collections.abc import Callable

import pytest
from pytestqt.qtbot import QtBot

from farrail.planning.fitting import fits_at
from farrail.train.train import Side
from farrail.ui.selection import Selection
from farrail.ui.widgets.row_keys import FitKey
from farrail.ui.window import MainWindow
from farrail.workbook.workbook import Workbook


def shown(window: MainWindow) -> list[str]:
    rows = window.findings.fits.ledger.rows if window.findings.fits.isVisibleTo(window) else ()
    return [row.key.part for row in rows if isinstance(row.key, FitKey)]


@pytest.mark.after_paint
def test_a_large_shelf_is_looked_through_in_the_background(
    make_window: Callable[..., MainWindow], demo: Workbook, qtbot: QtBot
) -> None:
    copies = [part.model_copy(update={"id": f"{part.id}-{n}"}) for n in range(6) for part in demo.shelf]
    large = demo.model_copy(update={"shelf": (*demo.shelf, *copies)})
    window = make_window(large, train="witch-broom")
    session = window.session
    assert session.train is not None
    # Another joint is picked before the first answer has come: only the last one is shown.
    for index in (1, 3):
        session.select(Selection(Side.REAR, index, joint=True))
        qtbot.wait(60)
    wanted = [fit.part.id for fit in fits_at(session.train, large.by_id, Side.REAR, 3)]
    qtbot.waitUntil(lambda: shown(window) == wanted, timeout=20_000)
    assert len(wanted) > 20
