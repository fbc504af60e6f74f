"""What is written beside an adapter's drawing."""

from farrail.assembly.order import CLEARANCE_MM, AdapterOrder, End
from farrail.language import say
from farrail.parts.connections import Gender


def end_words(end: End) -> str:
    """Return an end as a turner reads it."""
    kind = say("external") if end.gender is Gender.EXTERNAL else say("internal")
    fit = "6g" if end.gender is Gender.EXTERNAL else "6H"
    return say(
        "{label}-{fit} {kind}, {depth_mm:.1f} long, relief {relief_mm:.1f} wide, Ø {groove:.1f}",
        label=end.thread.label,
        fit=fit,
        kind=kind,
        depth_mm=end.depth_mm,
        relief_mm=end.relief_mm,
        groove=end.groove_mm,
    )


def callout(end: End) -> str:
    """Return an end's thread as it is written beside it in the drawing, such as M48×0.75-6H."""
    return f"{end.thread.label}-{'6g' if end.external else '6H'}"


def order_words(order: AdapterOrder) -> list[str]:
    """Return the notes of an order."""
    lines = [
        say("Adapter between {between} and {between_2}", between=order.between[0], between_2=order.between[1]),
        say("Front: {end_words}", end_words=end_words(order.front)),
        say("Rear: {end_words}", end_words=end_words(order.rear)),
        say(
            "Length, shoulder to shoulder: {length_mm:.2f} ± {tolerance_mm:.2f} mm",
            length_mm=order.length_mm,
            tolerance_mm=order.tolerance_mm,
        ),
        say(
            "Clear bore: at least {bore_mm:.1f} mm; rim {outer_mm:.1f} mm",
            bore_mm=order.bore_mm,
            outer_mm=order.outer_mm,
        ),
        say(
            "The shoulders meet before the threads end: {clearance:.1f} mm of clearance at each.",
            clearance=CLEARANCE_MM,
        ),
        say("Threads ISO metric, tolerance 6g/6H (ISO 965-1, from memory); shoulders square to the axis."),
        say("Aluminium alloy; matt black inside, fine grooves or blackening against reflections; edges broken."),
        say("All dimensions in mm. Check both threads on the parts themselves before it is made."),
    ]
    if order.removed_mm > 0.0:
        shift = say("{removed_mm:.2f} mm", removed_mm=order.removed_mm)
        lines.append(
            say(
                "The filters it replaces are gone: {shift} of glass shift is left out; keep a filter, add its own.",
                shift=shift,
            )
        )
    if order.narrow:
        lines.append(
            say("The threads leave less bore than the corner's light needs: it will darken the corners a little.")
        )
    return lines
