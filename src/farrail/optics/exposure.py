"""Light in stops: density, transmission and stops; shutter times, exact and as engraved.

A density D passes 10^−D, which is D/log10 2 stops; densities, and stops, of filters one behind the other add
(definitions). Engraved times stand for exact powers of two in thirds of a stop (ISO 2720 series; from memory).
"""

import math

from farrail.errors import BadInput
from farrail.language import N_, say

DENSITY_SOURCE = N_("transmission 10^−D; stops D/log10 2 (definitions)")
TIME_SOURCE = N_("time × 2^stops; engraved times mean exact powers of two in thirds of a stop")
STOPS_PER_DENSITY = 1.0 / math.log10(2.0)
# Cameras time themselves up to here; beyond it the shutter is held open by hand.
LONGEST_TIMED_S = 30.0
LONGEST_S = 24 * 3600.0
THIRDS = 3

# As engraved, from the shortest: thirds of a stop below a second, then above.
_BELOW_A_SECOND = """
    1/16000 1/12800 1/10000 1/8000 1/6400 1/5000 1/4000 1/3200 1/2500 1/2000 1/1600 1/1250 1/1000 1/800 1/640 1/500
    1/400 1/320 1/250 1/200 1/160 1/125 1/100 1/80 1/60 1/50 1/40 1/30 1/25 1/20 1/15 1/13 1/10 1/8 1/6 1/5 1/4 0.3
    0.4 0.5 0.6 0.8
"""
_FROM_A_SECOND = "1 1.3 1.6 2 2.5 3.2 4 5 6 8 10 13 15 20 25 30"
ENGRAVED = {
    **{-1 - number: text for number, text in enumerate(reversed(_BELOW_A_SECOND.split()))},
    **dict(enumerate(_FROM_A_SECOND.split())),
}


def stops_of_density(density: float) -> float:
    """Return the stops an optical density takes.

    Raises:
        BadInput: a density below 0 or above 10.
    """
    if not (math.isfinite(density) and 0.0 <= density <= 10.0):
        raise BadInput("A density of {density:g} cannot be used; give 0 (clear) to 10.", density=density)
    return density * STOPS_PER_DENSITY


def density_of_stops(stops: float) -> float:
    """Return the optical density that takes so many stops.

    Raises:
        BadInput: fewer than 0 stops, or more than 33.
    """
    if not (math.isfinite(stops) and 0.0 <= stops <= 33.0):
        raise BadInput("{stops:g} stops cannot be used; give 0 to 33.", stops=stops)
    return stops / STOPS_PER_DENSITY


def density_of_transmission(transmission: float) -> float:
    """Return the optical density that passes a fraction of the light.

    Raises:
        BadInput: nothing passes, or more than all.
    """
    if not (math.isfinite(transmission) and 1e-10 <= transmission <= 1.0):
        raise BadInput(
            "A transmission of {transmission:g} % cannot be used; give above 0 and at most 100 %.",
            transmission=100.0 * transmission,
        )
    return -math.log10(transmission) + 0.0


def transmission_of_density(density: float) -> float:
    """Return the fraction of light an optical density passes."""
    stops_of_density(density)
    return math.pow(10.0, -density)


def exact_time_s(time_s: float) -> float:
    """Return the power of two in thirds of a stop that an engraved time stands for; others stay as they are.

    1/60 s stands for 2^−6 = 1/64 s, 15 s for 16 s.
    """
    thirds = round(THIRDS * math.log2(time_s))
    engraved = ENGRAVED.get(thirds)
    if engraved is not None and math.isclose(parse_time_s(engraved), time_s, rel_tol=1e-9):
        return float(2.0 ** (thirds / THIRDS))
    return time_s


def longer_time_s(base_s: float, stops: float) -> float:
    """Return the time that lets so many stops more in (fewer with a negative number).

    Raises:
        BadInput: a time of zero or less, or one beyond a day.
    """
    if not (math.isfinite(base_s) and 0.0 < base_s <= LONGEST_S):
        raise BadInput("A time of {base_s:g} s cannot be used; give above 0 and at most a day.", base_s=base_s)
    if not (math.isfinite(stops) and -33.0 <= stops <= 33.0):
        raise BadInput("{stops:g} stops cannot be used; give at most 33 either way.", stops=stops)
    time_s = base_s * math.pow(2.0, stops)
    if time_s > LONGEST_S:
        raise BadInput(
            "With {stops:g} stops {base_s:g} s become {time_s:.0f} hours; open the aperture, "
            "raise the ISO, or take a filter off.",
            stops=stops,
            base_s=base_s,
            time_s=time_s / 3600.0,
        )
    return time_s


def held_by_hand(time_s: float) -> bool:
    """Return whether a time is longer than cameras keep by themselves; 30 s stands for 32."""
    return time_s > exact_time_s(LONGEST_TIMED_S) * 1.01


def time_words(time_s: float) -> str:
    """Return a time as a camera or a watch shows it: as engraved up to 30 s, then minutes and seconds."""
    engraved = ENGRAVED.get(round(THIRDS * math.log2(time_s)))
    # The longest time a camera keeps is engraved 30 and is 32; what is beyond is counted by a watch.
    if engraved is not None and not held_by_hand(time_s):
        return f"{engraved} s"
    if time_s < 1.0:
        return say("1/{time_s:.0f} s", time_s=1.0 / time_s)
    whole = round(time_s)
    hours, minutes, seconds = whole // 3600, whole % 3600 // 60, whole % 60
    if hours:
        return say("{hours} h {minutes:02d} min", hours=hours, minutes=minutes)
    return say("{minutes} min {seconds:02d} s", minutes=minutes, seconds=seconds) if minutes else f"{seconds} s"


def parse_time_s(text: str) -> float:
    """Return a shutter time in seconds, from ``1/60``, ``0.5``, ``2 s``, ``2 min`` or ``1 min 30 s``.

    Raises:
        BadInput: anything else.
    """
    units = {"h": 3600.0, "min": 60.0, "m": 60.0, "s": 1.0, '"': 1.0, "": 1.0}
    bad = BadInput("“{text}” is no time; write 1/60, 0.5, 2 s or 1 min 30 s.", text=text.strip()[:40])
    words = _words(text.replace(",", "."))
    if not words:
        raise bad
    total = 0.0
    for number, unit in words:
        above, _, below = number.partition("/")
        try:
            value = float(above) / (float(below) if below else 1.0)
        except (ValueError, ZeroDivisionError):
            raise bad from None
        if unit not in units or (len(words) > 1 and not unit):
            raise bad
        total += value * units[unit]
    if not (math.isfinite(total) and 0.0 < total <= LONGEST_S):
        raise bad
    return total


def _words(text: str) -> list[tuple[str, str]]:
    """Split a text into numbers, each with the unit behind it."""
    import re

    found = re.findall(r"([0-9][0-9./]*)\s*([a-z\"]*)", text.strip().lower())
    rest = re.sub(r"([0-9][0-9./]*)\s*([a-z\"]*)", "", text.strip().lower()).strip()
    return [] if rest else found
