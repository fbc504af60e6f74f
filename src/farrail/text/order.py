"""What is written beside an adapter's drawing."""

from farrail.assembly.order import AdapterOrder, End
from farrail.parts.connections import Gender


def end_words(end: End) -> str:
    """Return an end as a turner reads it."""
    kind = "external" if end.gender is Gender.EXTERNAL else "internal"
    fit = "6g" if end.gender is Gender.EXTERNAL else "6H"
    return f"{end.thread.label}-{fit} {kind}, {end.depth_mm:.1f} deep, relief {end.relief_mm:.1f} wide"


def order_words(order: AdapterOrder) -> list[str]:
    """Return the notes of an order."""
    lines = [
        f"Adapter between {order.between[0]} and {order.between[1]}",
        f"Front: {end_words(order.front)}",
        f"Rear: {end_words(order.rear)}",
        f"Length, shoulder to shoulder: {order.length_mm:.2f} ± {order.tolerance_mm:.2f} mm",
        f"Clear bore: at least {order.bore_mm:.1f} mm; rim {order.outer_mm:.1f} mm",
        "Threads ISO metric, tolerance 6g/6H (ISO 965-1, from memory); shoulders square to the axis.",
        "Aluminium alloy; matt black inside, fine grooves or blackening against reflections; edges broken.",
        "All dimensions in mm. Check both threads on the parts themselves before it is made.",
    ]
    if order.removed_mm > 0.0:
        shift = f"{order.removed_mm:.2f} mm"
        lines.append(
            f"The filters it replaces are gone: {shift} of glass shift is left out; keep a filter, add its own."
        )
    if order.narrow:
        lines.append("The threads leave less bore than the corner's light needs: it will darken the corners a little.")
    return lines
