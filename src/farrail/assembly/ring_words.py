"""What is said of a ring to print."""

from farrail.assembly.ring import RingShape
from farrail.language import say


def ring_words(shape: RingShape) -> list[str]:
    """Return what a ring is, whether its joint still holds, and what printing does to it."""
    lines = [
        say(
            "A ring {inner_mm:.2f} to {outer_mm:.2f} mm across and {thickness_mm:.2f} mm thick, "
            "between {between} and {between_2}.",
            inner_mm=shape.inner_mm,
            outer_mm=shape.outer_mm,
            thickness_mm=shape.thickness_mm,
            between=shape.between[0],
            between_2=shape.between[1],
        ),
    ]
    if shape.engaged_mm is None:
        short, long = shape.usual_left_mm
        lines.append(
            say(
                "How far the thread engages is not entered. Of the usual 3 to 5 mm, {short:.2f} to {long:.2f} mm would "
                "remain beyond the ring; {needed_mm:.2f} mm must.",
                short=short,
                long=long,
                needed_mm=shape.needed_mm,
            )
        )
        if shape.holds is False:
            lines.append(say("It could not hold: take a spacer with threads of its own."))
    elif not shape.holds:
        left = max(shape.engaged_mm or 0.0, 0.0)
        lines.append(
            say(
                "Only {left:.2f} mm of the thread would hold and {needed_mm:.2f} mm must: take a "
                "spacer with threads of its own.",
                left=left,
                needed_mm=shape.needed_mm,
            )
        )
    lines.append(
        say("Printed rings compress: measure it after printing and again under load. Threads are not modelled.")
    )
    return lines
