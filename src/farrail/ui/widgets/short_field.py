"""A short line to type one number or time into, named for people, tests and screen readers."""

from PySide6.QtWidgets import QLineEdit


def short_field(name: str, title: str, example: str, width_px: int) -> QLineEdit:
    """Return a line to type in.

    Args:
        name: its object name.
        title: what a screen reader and the tool tip call it.
        example: what stands in it while it is empty.
        width_px: how wide it is.
    """
    field = QLineEdit()
    field.setObjectName(name)
    field.setAccessibleName(title)
    field.setToolTip(title)
    field.setPlaceholderText(example)
    field.setFixedWidth(width_px)
    return field
