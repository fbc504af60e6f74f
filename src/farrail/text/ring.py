"""What is said of a ring to print."""

from farrail.assembly.ring import RingShape


def ring_words(shape: RingShape) -> list[str]:
    """Return what a ring is, whether its joint still holds, and what printing does to it."""
    lines = [
        f"A ring {shape.inner_mm:.2f} to {shape.outer_mm:.2f} mm across and {shape.thickness_mm:.2f} mm thick, between "
        f"{shape.between[0]} and {shape.between[1]}.",
    ]
    if shape.holds is None:
        lines.append(
            f"How deep the thread engages is not known; beyond the ring {shape.needed_mm:.2f} mm of it must hold."
        )
    elif not shape.holds:
        left = max(shape.engaged_mm or 0.0, 0.0)
        lines.append(
            f"Only {left:.2f} mm of the thread would hold and {shape.needed_mm:.2f} mm must: "
            "take a spacer with threads of its own."
        )
    lines.append("Printed rings compress: measure it after printing and again under load. Threads are not modelled.")
    return lines
