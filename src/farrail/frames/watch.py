"""What long work asks and says on its way: whether the answer is still wanted, and how far it is."""

from collections.abc import Callable
from dataclasses import dataclass

from farrail.cancel import Stopped, never


def _untold(share: float) -> None:
    """Say no one."""


@dataclass(frozen=True)
class Watch:
    """The one who waits for an answer.

    Attributes:
        stopped: asked now and then whether the answer is no longer wanted.
        told: shown what share of the whole is done.
        begin: what share was done before this piece of work.
        end: what share is done after it.
    """

    stopped: Stopped = never
    told: Callable[[float], None] = _untold
    begin: float = 0.0
    end: float = 1.0

    def reached(self, share: float) -> None:
        """Say that a share of this piece of work is done."""
        self.told(self.begin + (self.end - self.begin) * min(max(share, 0.0), 1.0))

    def part(self, begin: float, end: float) -> "Watch":
        """Return the watch of a part of this piece of work, from one share of it to another."""
        wide = self.end - self.begin
        return Watch(self.stopped, self.told, self.begin + wide * begin, self.begin + wide * end)


UNWATCHED = Watch()
