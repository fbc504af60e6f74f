"""A count-down for exposures held open by hand; it runs on while other stations are in front."""

import math
import time
from collections.abc import Callable

from PySide6.QtCore import QTimer, Signal
from PySide6.QtWidgets import QApplication, QHBoxLayout, QPushButton, QStyle, QWidget

from farrail.language import N_, say
from farrail.optics.exposure import time_words
from farrail.ui.theme.fonts import STRONG, font
from farrail.ui.widgets.plain import Label

TICK_MS = 200
FLASHES = 12
FLASH_MS = 350
OPEN_WITH_IT = N_("counts down; open the shutter with it")


class Countdown(QWidget):
    """Minutes and seconds left, with a button that starts and stops; it sounds and flashes at the end."""

    # The time is over: how long it was, in seconds.
    ended = Signal(float)

    def __init__(self, parent: QWidget | None = None, now: Callable[[], float] = time.monotonic) -> None:
        """Make a count-down with nothing to count; `now` says seconds that never jump."""
        super().__init__(parent)
        self._now = now
        self._offered: float | None = None
        self._interval = ""
        self._length = 0.0
        self._ends: float | None = None
        self._flashes = 0
        # How long was counted last, until the next begins: its end is shown in words, not by a colour alone.
        self._over_s: float | None = None
        self._clock = Label()
        self._clock.setObjectName("countdown_clock")
        self._clock.setFont(font(19, STRONG))
        self._word = Label()
        self._word.setObjectName("countdown_word")
        self._word.setProperty("role", "steel")
        self._word.setWordWrap(True)
        self.button = QPushButton(say("Start"))
        self.button.setObjectName("countdown_start")
        self.button.clicked.connect(self._press)
        row = QHBoxLayout(self)
        row.setContentsMargins(0, 0, 0, 0)
        row.setSpacing(12)
        row.addWidget(self.button)
        row.addWidget(self._clock)
        row.addWidget(self._word, 1)
        self._ticker, self._flasher = QTimer(self), QTimer(self)
        self._ticker.setInterval(TICK_MS)
        self._ticker.timeout.connect(self.tick)
        self._flasher.setInterval(FLASH_MS)
        self._flasher.timeout.connect(self._flash)
        self._show()

    @property
    def running(self) -> bool:
        """Whether it counts."""
        return self._ends is not None

    def offer(self, seconds: float | None, interval: str = "") -> None:
        """Offer what to count next; one that runs is left alone.

        Args:
            seconds: the time, or the typical one of an interval; None for nothing.
            interval: the interval in words.
        """
        self._offered, self._interval = seconds, interval
        if not self.running:
            self._show()

    def _press(self) -> None:
        if self.running:
            self._ends = None
            self._ticker.stop()
        elif self._offered is not None:
            self._flasher.stop()
            self._set_mark(False)
            self._over_s = None
            self._length = self._offered
            self._ends = self._now() + self._length
            self._ticker.start()
        self._show()

    def tick(self) -> None:
        """Look at the clock."""
        if self._ends is not None and self._now() >= self._ends:
            self._ends = None
            self._ticker.stop()
            self._flashes = FLASHES
            if self._moving():
                self._flasher.start()
            else:
                self._set_mark(True)
            QApplication.beep()
            QApplication.alert(self.window())
            self._over_s = self._length
            self.ended.emit(self._length)
        self._show()

    def _moving(self) -> bool:
        """Whether the desktop wants anything to move."""
        return self.style().styleHint(QStyle.StyleHint.SH_Widget_Animation_Duration, None, self) > 0

    def _flash(self) -> None:
        self._flashes -= 1
        self._set_mark(self._flashes % 2 == 1)
        if self._flashes <= 0:
            self._flasher.stop()
            self._set_mark(False)

    def _set_mark(self, on: bool) -> None:
        self._clock.setProperty("role", "stop" if on else "")
        self._clock.style().unpolish(self._clock)
        self._clock.style().polish(self._clock)

    def _show(self) -> None:
        self.button.setText(say("Stop") if self.running else say("Start"))
        self.button.setEnabled(self.running or self._offered is not None)
        if self._ends is not None:
            # A begun second counts, so that zero is shown when all is over and not before.
            left = math.ceil(max(self._ends - self._now(), 0.0) - 1e-9)
            self._clock.setText(f"{left // 60}:{left % 60:02d}")
            self._word.setText(say("out of {time_words}", time_words=time_words(self._length)))
        elif self._offered is not None:
            whole = round(self._offered)
            self._clock.setText(f"{whole // 60}:{whole % 60:02d}")
            ready = say("typical; it may need {interval}", interval=self._interval) if self._interval else OPEN_WITH_IT
            self._word.setText(
                str(ready if self._over_s is None else say("over: {time_words}", time_words=time_words(self._over_s)))
            )
        else:
            self._clock.setText("")
            self._word.setText(
                say("A count-down for times past 30 s.")
                if self._over_s is None
                else say("over: {time_words}", time_words=time_words(self._over_s))
            )
