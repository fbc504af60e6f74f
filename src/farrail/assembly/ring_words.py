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
    if shape.holds is None:
        lines.append(
            say(
                "The thread engagement is not known; {needed_mm:.2f} mm of it must remain beyond the ring.",
                needed_mm=shape.needed_mm,
            )
        )
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
