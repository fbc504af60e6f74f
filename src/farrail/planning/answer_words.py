"""Answers of a close-up search in words: numbers, or intervals where a lens is not wholly known."""

import math

from farrail.language import say
from farrail.planning.ask import Answer
from farrail.quantities import between, number


def distance_words(answer: Answer) -> str:
    """Return an answer's working distance as a bare number, or its interval."""
    if answer.ends is not None and answer.ends.distance_mm is not None:
        low, high = (say("{mm:.0f length}", mm=max(end, 0.0)) for end in answer.ends.distance_mm)
        if low != high:
            return between(low, high)
    return "–" if math.isnan(answer.distance_mm) else say("{mm:.0f length}", mm=answer.distance_mm)


def stops_words(answer: Answer) -> str:
    """Return the light an answer costs, or its interval."""
    if answer.ends is not None:
        low, high = (number(end, 1) for end in answer.ends.stops)
        if low != high:
            return between(low, high)
    return number(answer.stops, 1)


def f_number_words(answer: Answer) -> str:
    """Return an answer's effective f-number, or its interval."""
    if answer.ends is not None:
        low, high = (say("{n:.3g}", n=end) for end in answer.ends.f_number)
        if low != high:
            return say("{low} to {high}", low=low, high=high)
    return say("{n:.3g}", n=answer.effective_f_number)
