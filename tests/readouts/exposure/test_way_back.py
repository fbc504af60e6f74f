"""From a metered time to the time with everything on, and back again."""

import pytest

from farrail.demo.hallan_skerry import demo_workbook
from farrail.readouts.exposure.model import Compensation
from farrail.readouts.read import read


def test_there_and_back_for_every_train() -> None:
    book, seen = demo_workbook(), 0
    for train in book.trains:
        conditions = train.conditions.model_copy(update={"metered_s": 1.0 / 60.0})
        exposure = read(train.model_copy(update={"conditions": conditions}), book.by_id).exposure
        if exposure.base_s is None or exposure.time_s is None:
            continue
        # Each stop doubles the time: the definition of the stop.
        assert exposure.time_s == pytest.approx(exposure.base_s * 2.0**exposure.total_stops, rel=1e-9)
        assert exposure.metered_from(exposure.time_s) == pytest.approx(exposure.base_s, rel=1e-9)
        seen += exposure.total_stops > 0.1
        widest = exposure.layout.first_order.own_f_number.value
        for payment in exposure.payments():
            if payment.way is Compensation.APERTURE:
                wanted = exposure.layout.first_order.f_number.value * 2.0 ** (-exposure.total_stops / 2.0)
                assert payment.after == pytest.approx(max(wanted, widest), rel=0.011)
    assert seen > 2
