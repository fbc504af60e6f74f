"""Several edits that are one step."""

from dataclasses import dataclass

from farrail.language import N_, Text
from farrail.workbook.history import Edit
from farrail.workbook.workbook import Workbook


@dataclass(frozen=True)
class Several:
    """Edits made one after another, undone together."""

    edits: tuple[Edit, ...]
    label: Text = N_("Edit")
    merge_key: str | None = None

    def apply(self, workbook: Workbook) -> Workbook:
        """Return the workbook after all of them."""
        for edit in self.edits:
            workbook = edit.apply(workbook)
        return workbook
